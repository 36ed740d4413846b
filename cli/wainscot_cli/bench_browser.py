"""Measure what is felt: from a key to the repainted wall, and from an address to a page that can be used,
in Chromium against the real server, beside an empty repaint in the same window."""

import os
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any

from .bench_timing import quantiles
from .paths import ROOT
from .serving import DEMO_PASSWORD, DEMO_USER, prepare

if TYPE_CHECKING:
    from playwright.sync_api import Browser, Page

LINES = 25
KEYS = 60
STARTS = 7

# The time from a key to the frame after the figures have changed; and of a frame in which nothing does.
_MEASURE = """
() => {
  const painted = (then) => requestAnimationFrame(() => {
    const channel = new MessageChannel();
    channel.port1.onmessage = then;
    channel.port2.postMessage(0);
  });
  window.taken = [];
  window.empty = [];
  const dot = document.body.appendChild(document.createElement('div'));
  dot.style.cssText = 'position:fixed;width:1px;height:1px;top:0;left:0';
  let from = null;
  addEventListener('keydown', (event) => { from = event.timeStamp; }, true);
  const seen = new MutationObserver(() => {
    if (from === null) return;
    const start = from;
    from = null;
    painted(() => window.taken.push(performance.now() - start));
  });
  // The grams of a line come with the wall, in one drawing.
  window.watch = (box) => {
    seen.disconnect();
    const grams = box.closest('tr').children[3];
    seen.observe(grams, { subtree: true, childList: true, characterData: true });
    box.setSelectionRange(0, box.value.length - 2);  // its unit stays
  };
  window.drawn = () => new Promise(painted);
  window.repaint = () => new Promise((done) => {
    const start = performance.now();
    dot.style.background = dot.style.background === 'red' ? 'blue' : 'red';
    painted(() => { window.empty.push(performance.now() - start); done(); });
  });
}
"""


@contextmanager
def _serving(data: Path) -> Iterator[str]:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    prepare(data, demo=True)
    process = subprocess.Popen(
        [sys.executable, "-m", "config.server", str(port)],
        cwd=ROOT / "server",
        env={**os.environ, "WAINSCOT_DATA": str(data), "DJANGO_SETTINGS_MODULE": "config.settings"},
        stderr=subprocess.DEVNULL,
    )  # fmt: skip
    try:
        for _ in range(200):
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{port}/api/session").close()
                break
            except OSError:
                time.sleep(0.1)
        yield f"http://127.0.0.1:{port}"
    finally:
        process.terminate()
        process.wait(10)


def bench_browser() -> dict[str, Any]:
    """Quantiles in ms. Raises ImportError where Playwright is not installed."""
    from playwright.sync_api import sync_playwright

    with (
        tempfile.TemporaryDirectory() as data,
        _serving(Path(data)) as address,
        sync_playwright() as play,
    ):
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        result = measured(browser, address)
        browser.close()
    return result


def measured(
    browser: "Browser", address: str, keys: int = KEYS, starts: int = STARTS
) -> dict[str, Any]:
    """What is felt of an application with the demo data. keys: lines that are typed in; starts: of the first page."""
    # What is measured is put into the page, which lets no script in.
    page = browser.new_context(viewport={"width": 1280, "height": 800}, bypass_csp=True).new_page()
    page.goto(address)
    page.get_by_label("Name").fill(DEMO_USER)
    page.get_by_label("Password").fill(DEMO_PASSWORD)
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Sign out").wait_for()
    recipe = _recipe(page)
    return {
        "lines": LINES,
        **_keys(page, address + recipe, keys),
        "first_page": _starts(page, address, starts),
    }


def _recipe(page: "Page") -> str:
    """The address of a new recipe of 25 plain foods in a demo case."""
    made: str = page.evaluate(
        """async (count) => {
          const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
          const send = (method, path, body) => fetch(path, {
            method, body: JSON.stringify(body),
            headers: { 'Content-Type': 'application/json', 'X-CSRFToken': token },
          }).then((r) => r.json());
          const first = (await (await fetch('/api/cases')).json()).rows[0];
          const { foods } = await (await fetch('/api/library')).json();
          const plain = foods.filter((f) => f.id.startsWith('usda:') && !f.derived);
          const step = Math.floor(plain.length / count);
          const made = await send('POST', `/api/cases/${first.id}/recipes`, { name: 'Long' });
          const changes = Array.from({ length: count }, (_, i) => ({
            path: `lines.l${i}`, was: null,
            value: { food: plain[i * step].id, quantity: `${30 + i} g` },
          }));
          await send('PATCH', `/api/recipes/${made.id}`, { changes });
          return `/cases/${first.id}/recipes/${made.id}`;
        }""",
        LINES,
    )
    return made


def _keys(page: "Page", address: str, keys: int) -> dict[str, Any]:
    page.goto(address)
    page.locator("[data-board]").first.wait_for()
    page.wait_for_load_state("networkidle")
    page.evaluate(_MEASURE)
    for i in range(keys):
        # Another line each time: no amount stands beside the same others twice, none was asked before.
        box = page.locator(f"[data-line='{i % LINES}']")
        box.focus()
        box.evaluate("(box) => window.watch(box)")
        # What going to a line shows is drawn before somebody types in it.
        page.evaluate("window.drawn().then(window.drawn)")
        for key in (str(1 + i // LINES), "7"):
            before = page.evaluate("window.taken.length")
            page.keyboard.press(key)
            page.wait_for_function(f"window.taken.length > {before}")
        page.evaluate("window.repaint()")
    # The first of them warm up.
    taken = sorted(page.evaluate("window.taken")[keys // 6 :])
    empty = sorted(page.evaluate("window.empty")[keys // 6 :])
    return {"key_to_wall": quantiles(taken), "empty_repaint": quantiles(empty)}


def _starts(page: "Page", address: str, starts: int) -> dict[str, Any]:
    """From the address to the desk, nothing kept by the browser."""
    taken, sent, shifts = [], 0, []
    client = page.context.new_cdp_session(page)
    client.send("Network.enable")
    client.send("Network.setCacheDisabled", {"cacheDisabled": True})
    page.add_init_script(
        "window.shift = 0; new PerformanceObserver((list) => { for (const e of list.getEntries()) "
        "if (!e.hadRecentInput) window.shift += e.value; }).observe({ type: 'layout-shift', buffered: true });"
    )
    for _ in range(starts):
        page.goto("about:blank")
        start = time.perf_counter()
        page.goto(address)
        page.get_by_role("link", name="Juniper", exact=True).first.wait_for()
        taken.append((time.perf_counter() - start) * 1000)
        page.wait_for_load_state("networkidle")
        sent = page.evaluate(
            "[...performance.getEntriesByType('resource'), ...performance.getEntriesByType('navigation')]"
            ".filter((e) => e.startTime < 1500).reduce((sum, e) => sum + e.transferSize, 0)"
        )
        shifts.append(page.evaluate("window.shift"))
    return {
        "usable": quantiles(sorted(taken)), "sent_kb": round(sent / 1000),
        "layout_shift": round(max(shifts), 4),
    }  # fmt: skip
