"""The real application in its own process, driven with Debian's Chromium."""

import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import BrowserContext, Page, Request, expect
from playwright.sync_api import TimeoutError as PlaywrightTimeout
from steps import PATIENCE, enter
from wainscot_cli.serving import prepare

ROOT = Path(__file__).resolve().parents[2]
CLOCK = ROOT / "tests" / "support" / "clock.py"
AXE = ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def _serve(data: Path, port: int = 0, days_later: int = 0) -> tuple[subprocess.Popen[bytes], str]:
    """The application over data that is prepared already. days_later: its clock is ahead by so many."""
    port = port or _free_port()
    program = [str(CLOCK)] if days_later else ["-m", "config.server"]
    process = subprocess.Popen(
        [sys.executable, *program, str(port)],
        cwd=ROOT / "server",
        env={
            **os.environ, "WAINSCOT_DATA": str(data), "DJANGO_SETTINGS_MODULE": "config.settings",
            "DAYS_LATER": str(days_later),
        },
        stderr=subprocess.DEVNULL,
        start_new_session=True,
    )  # fmt: skip
    address = f"http://127.0.0.1:{port}"
    # What has ended does not come any more.
    until = time.monotonic() + PATIENCE / 1000
    while time.monotonic() < until and process.poll() is None:
        try:
            urllib.request.urlopen(f"{address}/api/session", timeout=10).close()  # noqa: S310
            return process, address
        except OSError:
            time.sleep(0.1)
    process.kill()
    raise RuntimeError("the application did not start")


@pytest.fixture(scope="session")
def empty_data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """An installation before anybody set it up, to be copied: its database and index take a while."""
    made = tmp_path_factory.mktemp("empty-data")
    prepare(made, demo=False)
    return made


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory: pytest.TempPathFactory, empty_data: Path) -> Path:
    """The demo data as they are at the beginning, to be copied: entering them takes half a minute."""
    made = tmp_path_factory.mktemp("demo-data") / "data"
    shutil.copytree(empty_data, made)
    prepare(made, demo=True)
    return made


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory, demo_data: Path) -> Iterator[str]:
    """Address of an application with the demo data."""
    data = tmp_path_factory.mktemp("demo") / "data"
    shutil.copytree(demo_data, data)
    process, address = _serve(data)
    yield address
    process.terminate()
    process.wait(PATIENCE / 1000)


@pytest.fixture
def fresh(tmp_path: Path, empty_data: Path) -> Iterator[str]:
    """Address of an application that nobody has set up."""
    shutil.copytree(empty_data, tmp_path / "data")
    process, address = _serve(tmp_path / "data")
    yield address
    process.terminate()
    process.wait(PATIENCE / 1000)


class Machine:
    """An application with the demo data of its own, whose power can be cut."""

    def __init__(self, data: Path) -> None:
        self.data = data
        self._process, self.address = _serve(data)

    def cut(self) -> None:
        """No goodbye: the whole group is killed, as when the plug is pulled."""
        os.killpg(self._process.pid, signal.SIGKILL)
        self._process.wait(PATIENCE / 1000)

    def back(self, days_later: int = 0) -> None:
        """The same data at the same address."""
        port = int(self.address.rpartition(":")[2])
        self._process, _ = _serve(self.data, port, days_later)

    def off(self) -> None:
        """Shut down in order."""
        self._process.terminate()
        self._process.wait(PATIENCE / 1000)


@pytest.fixture
def machine(tmp_path: Path, demo_data: Path) -> Iterator[Machine]:
    shutil.copytree(demo_data, tmp_path / "data")
    made = Machine(tmp_path / "data")
    yield made
    made.off()


@pytest.fixture
def served() -> Iterator[Callable[[Path], str]]:
    """Serve a data folder till the end of the test; its address."""
    processes = []

    def begin(data: Path) -> str:
        process, address = _serve(data)
        processes.append(process)
        return address

    yield begin
    for process in processes:
        process.terminate()
        process.wait(PATIENCE / 1000)


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    return {
        **browser_type_launch_args,
        "executable_path": "/usr/bin/chromium",
        "args": ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
    }  # fmt: skip


expect.set_options(timeout=PATIENCE)


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any]) -> dict[str, Any]:
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}}


@pytest.fixture
def context(context: BrowserContext) -> BrowserContext:
    context.set_default_timeout(PATIENCE)
    return context


class Asked:
    """What a page asks for, to be told when it does not come."""

    def __init__(self, page: Page) -> None:
        self._page = page
        self._open: list[str] = []
        self._said: list[str] = []
        page.on("request", lambda asked: self._open.append(asked.url))
        page.on("requestfinished", lambda asked: self._close(asked.url))
        page.on("requestfailed", self._failed)
        page.on("console", lambda told: self._said.append(told.text))

    def _close(self, url: str) -> None:
        if url in self._open:
            self._open.remove(url)

    def _failed(self, asked: Request) -> None:
        self._close(asked.url)
        self._said.append(f"{asked.url}: {asked.failure}")

    def told(self) -> str:
        """Requests without an answer, those that failed, and what stands on the page."""
        return f"waits for {self._open}, told {self._said}, shows {self._page.content()[:2000]}"


@pytest.fixture
def signed_in(page: Page, demo: str) -> Page:
    """A page at the case list; any script error or refused request for a script fails the test."""
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    # Signing in by its page is tested in test_entry; here it would take a fifth of the time of all tests.
    enter(page.request, demo)
    asked = Asked(page)
    page.goto(f"{demo}/cases")
    try:
        page.get_by_role("heading", name="Cases").wait_for()
    except PlaywrightTimeout as error:
        raise AssertionError(f"No cases: {asked.told()}") from error
    yield page  # type: ignore[misc]
    assert errors == []


@pytest.fixture
def axe() -> Callable[[Page], list[str]]:
    """Serious findings of axe on a page."""

    def run(page: Page) -> list[str]:
        page.evaluate(AXE.read_text())
        result = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
        return [
            f"{v['id']}: {v['nodes'][0]['html'][:120]}"
            for v in result["violations"]
            if v["impact"] in {"serious", "critical"}
        ]

    return run
