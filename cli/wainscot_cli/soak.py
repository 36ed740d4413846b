"""Pull the plug, again and again, while a practice works: nothing that was acknowledged may be lost.

Three people write at once: one changes the title of a case, one puts down days, one cooks. Each keeps what the server has
acknowledged. The server is killed in the middle of it, started again on the same data, and asked for all of it.
"""

import http.client
import http.cookiejar
import json
import os
import random
import signal
import socket
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from keeping.folder import DATABASE, check_database

from .paths import SERVER
from .serving import DEMO_PASSWORD, DEMO_USER, environment

# A busy machine takes its time; what has ended does not come any more.
START_SECONDS = 240.0
# An answer that is cut off: at the connection, in its middle, or within its text.
HTTP_PROBLEMS = (OSError, http.client.HTTPException, ValueError)


@dataclass
class Soaked:
    """What came of it. acknowledged: writes the server said it had; lost: those that were not there afterwards, in words;
    refused: answers that were neither taken nor cut off."""

    kills: int = 0
    acknowledged: int = 0
    lost: list[str] = field(default_factory=list)
    refused: list[str] = field(default_factory=list)


class Server:
    """The application over a data folder, which can be killed."""

    def __init__(self, data: Path, before: Callable[[], None] | None = None) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self._port = int(probe.getsockname()[1])
        self._data, self._before = data, before
        self.address = f"http://127.0.0.1:{self._port}"
        self._process: subprocess.Popen[bytes] | None = None

    def start(self, limits: Callable[[], None] | None = None) -> None:
        """Serve, and wait until it answers. limits: set in the process before it begins."""
        self._process = subprocess.Popen(
            [sys.executable, "-m", "config.server", str(self._port)],
            cwd=SERVER, env=environment(self._data, False), stderr=subprocess.DEVNULL,
            start_new_session=True, preexec_fn=limits,
        )  # fmt: skip
        until = time.monotonic() + START_SECONDS
        while time.monotonic() < until and self._process.poll() is None:
            try:
                urllib.request.urlopen(f"{self.address}/healthz", timeout=10).close()  # noqa: S310
                return
            except HTTP_PROBLEMS:
                threading.Event().wait(0.05)
        raise RuntimeError("the application did not start")

    def kill(self) -> None:
        """No goodbye: the whole group goes at once, as when the plug is pulled."""
        if self._process is not None:
            os.killpg(self._process.pid, signal.SIGKILL)
            self._process.wait(60)
            self._process = None


class Caller:
    """Somebody who is signed in. A connection that is cut raises one of HTTP_PROBLEMS."""

    def __init__(self, address: str) -> None:
        self._address = address
        self._cookies = http.cookiejar.CookieJar()
        self._open = urllib.request.build_opener(
            urllib.request.HTTPCookieProcessor(self._cookies)
        ).open
        self.send("GET", "session")
        who = {"username": DEMO_USER, "password": DEMO_PASSWORD}
        status, said = self.send("POST", "session/sign-in", who)
        if status != 200:
            raise RuntimeError(str(said))

    def send(self, method: str, path: str, body: object = None) -> tuple[int, Any]:
        """Ask; the status and what was said."""
        token = next((c.value for c in self._cookies if c.name == "csrftoken"), "") or ""
        request = urllib.request.Request(  # noqa: S310
            f"{self._address}/api/{path}",
            None if body is None else json.dumps(body).encode(),
            {"Content-Type": "application/json", "X-CSRFToken": token, "Referer": self._address},
            method=method,
        )
        try:
            with self._open(request, timeout=30) as answer:
                return answer.status, json.loads(answer.read() or b"null")
        except urllib.error.HTTPError as error:
            return error.code, json.loads(error.read() or b"null")


class Writer:
    """Somebody who writes until the connection is cut, and knows what was acknowledged."""

    def __init__(self, what: str) -> None:
        self.what = what
        self.acknowledged: list[str] = []
        self.sent = ""
        self.refused: list[str] = []

    def work(self, caller: Caller, stop: threading.Event) -> None:
        """Write one thing after another."""
        while not stop.is_set():
            try:
                status, said = self.write(caller)
            except HTTP_PROBLEMS:
                return
            if status in (200, 201):
                self.acknowledged.append(self.sent)
            elif status != 503:
                self.refused.append(f"{self.what}: {status} {said}")
                return

    def write(self, caller: Caller) -> tuple[int, Any]:
        """One write; `sent` names it."""
        raise NotImplementedError

    def missing(self, caller: Caller) -> list[str]:
        """What was acknowledged and is not there."""
        raise NotImplementedError


class Titles(Writer):
    """Changes one field over and over, as the browser saves it: the last one acknowledged stands, or the one in flight."""

    def __init__(self, case: int, title: str) -> None:
        super().__init__("title")
        self._case, self._was, self._n = case, title, 0

    def write(self, caller: Caller) -> tuple[int, Any]:
        self._n += 1
        self.sent = f"title {self._n}"
        change = {"path": "title", "value": self.sent, "was": self._was}
        status, said = caller.send("PATCH", f"cases/{self._case}", {"changes": [change]})
        if status == 200:
            self._was = self.sent
        return status, said

    def missing(self, caller: Caller) -> list[str]:
        stored = str(caller.send("GET", f"cases/{self._case}")[1]["title"])
        fine = stored in (self._was, self.sent)
        self._was = stored
        return [] if fine else [f"title is {stored!r}, acknowledged was {self.acknowledged[-1:]}"]


class Days(Writer):
    """Puts down one day after another; each stays."""

    def __init__(self, case: int, first: date) -> None:
        super().__init__("day")
        self._case, self._first, self._n = case, first, 0

    def write(self, caller: Caller) -> tuple[int, Any]:
        self._n += 1
        on = self._first + timedelta(days=self._n % 300)
        self.sent = f"soak-day-{self._n:06d}"
        entry = {"date": on.isoformat(), "note": self.sent}
        return caller.send(
            "POST", f"cases/{self._case}/follow-entries", {"key": self.sent, "entry": entry}
        )

    def missing(self, caller: Caller) -> list[str]:
        text = json.dumps(caller.send("GET", f"cases/{self._case}/follow")[1])
        return [f"{key} was acknowledged" for key in self.acknowledged if key not in text]


class Cooking(Writer):
    """Cooks: one entry of a batch after another; each stays."""

    def __init__(self, batch: int) -> None:
        super().__init__("cooking")
        self._batch, self._n = batch, 0

    def write(self, caller: Caller) -> tuple[int, Any]:
        self._n += 1
        self.sent = f"soak-entry-{self._n:06d}"
        entry = {"key": self.sent, "kind": "note", "text": self.sent}
        return caller.send("POST", f"batches/{self._batch}/entries", {"entries": [entry]})

    def missing(self, caller: Caller) -> list[str]:
        text = json.dumps(caller.send("GET", f"batches/{self._batch}/cook")[1])
        return [f"{key} was acknowledged" for key in self.acknowledged if key not in text]


def writers_of(caller: Caller) -> list[Writer]:
    """The three, on cases of the demo."""
    rows = caller.send("GET", "cases")[1]["rows"]
    title = str(caller.send("GET", f"cases/{rows[0]['id']}")[1]["title"])
    batches = [
        batch["id"]
        for row in rows
        for batch in caller.send("GET", f"cases/{row['id']}/kitchen")[1].get("batches", [])
    ]
    first = date.today() - timedelta(days=320)
    found: list[Writer] = [Titles(rows[0]["id"], title), Days(rows[1]["id"], first)]
    return [*found, *(Cooking(batch) for batch in batches[:1])]


def soak(data: Path, kills: int, seed: int, told: Callable[[str], None] = lambda _: None) -> Soaked:
    """Kill a server over demo data so often. Raises FolderError when the database is damaged by it, RuntimeError when it does
    not start again."""
    rng = random.Random(seed)  # noqa: S311
    server, done = Server(data), Soaked()
    server.start()
    writers: list[Writer] = []
    try:
        while done.kills < kills:
            caller = Caller(server.address)
            writers = writers or writers_of(caller)
            for writer in writers:
                done.lost += writer.missing(caller)
            if done.lost:
                break
            _work_until_killed(server, writers, rng)
            done.kills += 1
            check_database(data / DATABASE)
            server.start()
            done.acknowledged = sum(len(w.acknowledged) for w in writers)
            told(f"kill {done.kills} of {kills}: {done.acknowledged} acknowledged, none lost")
        caller = Caller(server.address)
        for writer in writers:
            done.lost += writer.missing(caller)
            done.refused += writer.refused
    finally:
        server.kill()
    return done


def _work_until_killed(server: Server, writers: list[Writer], rng: random.Random) -> None:
    """Everybody writes; after a number of acknowledgements drawn by lot the server is killed."""
    stop = threading.Event()
    # Signed in before the work: a sign-in is no write that is looked for.
    threads = [
        threading.Thread(target=writer.work, args=(Caller(server.address), stop))
        for writer in writers
    ]
    goal = sum(len(w.acknowledged) for w in writers) + rng.randint(3, 25)
    for thread in threads:
        thread.start()
    until = time.monotonic() + 30
    while sum(len(w.acknowledged) for w in writers) < goal and time.monotonic() < until:
        threading.Event().wait(rng.uniform(0.001, 0.01))
    server.kill()
    stop.set()
    for thread in threads:
        thread.join(30)


def run_soak(kills: int, seed: int) -> int:
    """Soak a demo installation of its own; 0 when nothing was lost."""
    import tempfile

    from .serving import prepare

    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "data"
        prepare(data, demo=True)
        done = soak(data, kills, seed, lambda line: print(line, flush=True))
    report: Mapping[str, object] = {
        "kills": done.kills, "acknowledged": done.acknowledged, "lost": done.lost, "refused": done.refused,
    }  # fmt: skip
    print(json.dumps(report, indent=1))
    return 1 if done.lost or done.refused else 0
