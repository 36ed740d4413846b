"""Serve the application: `python -m config.server PORT [ADDRESS]`, to this machine alone unless another address of it is
given. Whoever comes from outside comes through a proxy (deploy/)."""

import signal
import sys
from types import FrameType

HERE = "127.0.0.1"
# A page asks for some things at once, and some of them wait for a write.
THREADS = 16
# Who sends half of a request holds a connection, and none of the threads; an idle one is closed after a minute.
MOST_CONNECTIONS = 2000
IDLE_SECONDS = 60
# Far over what a request may hold, which is refused in words by the application.
MOST_BYTES = 64_000_000


def serve(port: int, address: str = HERE) -> None:
    """Serve until ended by a signal. What is under way is answered first."""
    # Here, for the processes that jobs run in read this file too.
    import waitress

    from config.wsgi import application, told_at_start

    if said := told_at_start():
        print(f"  {said}", flush=True)
    signal.signal(signal.SIGTERM, _end)
    waitress.serve(
        application, host=address, port=port, threads=THREADS, ident="",
        connection_limit=MOST_CONNECTIONS, channel_timeout=IDLE_SECONDS, cleanup_interval=10,
        max_request_body_size=MOST_BYTES, asyncore_use_poll=True,
        # The application reads them itself, from as many proxies as it was told of (people.guard).
        clear_untrusted_proxy_headers=False, _quiet=True,
    )  # fmt: skip


def _end(number: int, frame: FrameType | None) -> None:
    raise SystemExit(0)


if __name__ == "__main__":
    serve(int(sys.argv[1]), *sys.argv[2:3])
