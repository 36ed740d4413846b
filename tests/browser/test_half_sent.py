"""Who sends a request slowly, or never to its end, holds up nobody."""

import socket
import urllib.request
from urllib.parse import urlsplit

from steps import PATIENCE

# Far more than the threads that answer.
MANY = 100
HALVES = (
    b"GET /api/session HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Slow: ",
    b"POST /api/session/sign-in HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Length: 900\r\n\r\n{",
    b"",
)


def test_many_half_sent_requests_hold_up_no_whole_one(demo: str) -> None:
    where = urlsplit(demo)
    opened = [
        socket.create_connection((where.hostname, where.port), timeout=PATIENCE / 1000)
        for _ in range(MANY)
    ]
    try:
        for n, one in enumerate(opened):
            one.sendall(HALVES[n % len(HALVES)])
        for _ in range(5):
            with urllib.request.urlopen(f"{demo}/api/session", timeout=PATIENCE / 1000) as answer:  # noqa: S310
                assert answer.status == 200
        # Sent to its end late, one is answered all the same.
        late = opened[0]
        late.sendall(b"yes\r\nConnection: close\r\n\r\n")
        assert late.recv(40).startswith(b"HTTP/1.1 200")
    finally:
        for one in opened:
            one.close()
