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
from playwright.sync_api import Page
from wainscot_cli.serving import DEMO_PASSWORD, DEMO_USER, prepare

ROOT = Path(__file__).resolve().parents[2]
AXE = ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def _serve(data: Path, port: int = 0) -> tuple[subprocess.Popen[bytes], str]:
    """The application over data that is prepared already."""
    port = port or _free_port()
    process = subprocess.Popen(
        [
            sys.executable, "-m", "gunicorn", "--workers", "1", "--threads", "16",
            "--bind", f"127.0.0.1:{port}", "--no-control-socket", "config.wsgi",
        ],
        cwd=ROOT / "server",
        env={**os.environ, "WAINSCOT_DATA": str(data), "DJANGO_SETTINGS_MODULE": "config.settings"},
        stderr=subprocess.DEVNULL,
        start_new_session=True,
    )  # fmt: skip
    address = f"http://127.0.0.1:{port}"
    for _ in range(150):
        try:
            urllib.request.urlopen(f"{address}/api/session", timeout=2).close()  # noqa: S310
            return process, address
        except OSError:
            time.sleep(0.1)
    process.kill()
    raise RuntimeError("the application did not start")


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo data as they are at the beginning, to be copied: entering them takes half a minute."""
    made = tmp_path_factory.mktemp("demo-data")
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
    process.wait(10)


@pytest.fixture
def fresh(tmp_path: Path) -> Iterator[str]:
    """Address of an application that nobody has set up."""
    prepare(tmp_path / "data", demo=False)
    process, address = _serve(tmp_path / "data")
    yield address
    process.terminate()
    process.wait(10)


class Machine:
    """An application with the demo data of its own, whose power can be cut."""

    def __init__(self, data: Path) -> None:
        self._data = data
        self._process, self.address = _serve(data)

    def cut(self) -> None:
        """No goodbye: the whole group is killed, as when the plug is pulled."""
        os.killpg(self._process.pid, signal.SIGKILL)
        self._process.wait(10)

    def back(self) -> None:
        """The same data at the same address."""
        port = int(self.address.rpartition(":")[2])
        self._process, _ = _serve(self._data, port)

    def off(self) -> None:
        """Shut down in order."""
        self._process.terminate()
        self._process.wait(10)


@pytest.fixture
def machine(tmp_path: Path, demo_data: Path) -> Iterator[Machine]:
    shutil.copytree(demo_data, tmp_path / "data")
    made = Machine(tmp_path / "data")
    yield made
    made.off()


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    return {
        **browser_type_launch_args,
        "executable_path": "/usr/bin/chromium",
        "args": ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
    }  # fmt: skip


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any]) -> dict[str, Any]:
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}}


@pytest.fixture
def signed_in(page: Page, demo: str) -> Page:
    """A page at the case list; any script error or refused request for a script fails the test."""
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.set_default_timeout(15_000)
    page.goto(demo)
    page.get_by_label("Name").fill(DEMO_USER)
    page.get_by_label("Password").fill(DEMO_PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Desk").wait_for()
    page.get_by_role("link", name="Cases").click()
    page.get_by_role("heading", name="Cases").wait_for()
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
