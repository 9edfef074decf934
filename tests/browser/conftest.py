"""The real application as a process of its own, and Chromium to drive it."""

import json
import os
import re
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from http.cookiejar import CookieJar
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, Locator, Page, expect, sync_playwright
from playwright.sync_api import Error as PlaywrightError

from tests.prepared import demo_workshop

ROOT = Path(__file__).resolve().parents[2]
CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


expect.set_options(timeout=60_000)  # patience on a busy machine; nothing here measures time


class Site:
    """The demo on a data folder and a port of its own; it can be killed and started again."""

    def __init__(self, data: Path) -> None:
        self.data = data
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.process: subprocess.Popen[str] | None = None
        self.entry = ""

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        """Start and wait for the printed address."""
        command = [sys.executable, "-m", "young_spark.cli", "demo", "--data", str(self.data), "--port", str(self.port)]
        self.process = subprocess.Popen(
            command, cwd=ROOT, stdout=subprocess.PIPE, text=True, env={**os.environ, "PYTHONPATH": str(ROOT)}
        )
        assert self.process.stdout is not None
        for line in self.process.stdout:
            if found := re.search(r"http://\S+/enter/\S+", line):
                self.entry = found[0]
                return
        raise RuntimeError("the demo ended before it printed an address")

    def hands(self, **what: object) -> dict[str, object]:
        """What hands do to the simulated unit; waits until its bench is there."""
        for _ in range(600):
            try:
                port = json.loads((self.data / "simulated-bench.json").read_text())["control"]
                request = urllib.request.Request(
                    f"http://127.0.0.1:{port}/do", json.dumps(what).encode(), {"Content-Type": "application/json"}
                )
                with urllib.request.urlopen(request, timeout=60) as answer:
                    return json.loads(answer.read())
            except (OSError, ValueError):
                time.sleep(0.1)
        raise RuntimeError("the simulated bench is not reached")

    def __enter__(self) -> "Site":
        self.start()
        return self

    def __exit__(self, *failure: object) -> None:
        """Nothing is left running, whatever happened in between."""
        if self.process is not None and self.process.poll() is None:
            self.stop()

    def stop(self, how: signal.Signals = signal.SIGINT) -> float:
        """End it; returns how long that took, in s."""
        assert self.process is not None
        began = time.monotonic()
        self.process.send_signal(how)
        self.process.wait(timeout=60)
        self.process.stdout.close()
        return time.monotonic() - began


@pytest.fixture(scope="session")
def site(tmp_path_factory):
    with Site(demo_workshop(tmp_path_factory.mktemp("demo"))) as running:
        yield running


@pytest.fixture(scope="module")
def engine():
    with sync_playwright() as playwright:
        yield playwright.chromium


@pytest.fixture(scope="module")
def browser(engine):
    browser = engine.launch(executable_path=CHROMIUM, args=FLAGS)
    yield browser
    browser.close()


def _until_all_answer(opener: urllib.request.OpenerDirector, site: Site) -> None:
    """Wait until every instrument of the simulated bench answers: what is captured depends on who is there."""
    for _ in range(600):
        with opener.open(f"{site.address}/api/bench", timeout=60) as answer:
            bench = json.load(answer)
        if bench["talking"] and len(bench["connected"]) == bench["talking"]:
            return
        time.sleep(0.1)
    raise RuntimeError(f"these do not answer: {bench['faults']}")


@pytest.fixture(scope="session")
def signed_in(site, tmp_path_factory):
    """The cookies of a browser that came in by the printed address, which works once."""
    jar = CookieJar()
    opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
    opener.open(site.entry, timeout=60).close()
    _until_all_answer(opener, site)
    cookies = [
        {
            "name": cookie.name,
            "value": cookie.value,
            "domain": "127.0.0.1",
            "path": cookie.path,
            "expires": cookie.expires or -1,
            "httpOnly": cookie.has_nonstandard_attr("HttpOnly"),
            "secure": cookie.secure,
            "sameSite": "Lax",
        }
        for cookie in jar
    ]
    file = tmp_path_factory.mktemp("browser") / "state.json"
    file.write_text(json.dumps({"cookies": cookies, "origins": []}))
    return file


OPEN: list[
    tuple[Page, list[str]]
] = []  # pages of the test that runs, each with what went wrong on its way to the server


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item, call):
    """What stood on the pages of a test that failed, beside why it failed."""
    report = yield
    if report.when == "call" and report.failed:
        for page, troubles in OPEN:
            report.sections.append((f"page {page.url}", _shown(page) + "\n" + "\n".join(troubles)))
    if report.when == "teardown":
        OPEN.clear()
    return report


def pytest_terminal_summary(terminalreporter):
    """A test that passed only when it was run again is told in full: it found something, or it is badly written."""
    for report in terminalreporter.stats.get("rerun", []):
        terminalreporter.section(f"run again: {report.nodeid}")
        terminalreporter.write_line(report.longreprtext)
        for title, text in report.sections:
            terminalreporter.write_line(f"-- {title}\n{text}")


def _shown(page: Page) -> str:
    try:
        told = page.evaluate(
            "() => [document.activeElement?.outerHTML.slice(0, 200), JSON.stringify(localStorage), "
            "document.body.innerText.slice(0, 3000)]"
        )
    except PlaywrightError as gone:
        return str(gone)
    return "\n".join(str(part) for part in told)


def open_page(browser: Browser, site: Site, state: Path | None, **options: object) -> tuple[BrowserContext, Page]:
    """A page that fails the test on any error of its console."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, storage_state=state, base_url=site.address, **options
    )
    context.set_default_timeout(60_000)
    page = context.new_page()
    page.on("pageerror", lambda error: pytest.fail(f"script error: {error}"))
    troubles: list[str] = []
    page.on("requestfailed", lambda r: troubles.append(f"{r.method} {r.url}: {r.failure}"))
    page.on(
        "response", lambda r: troubles.append(f"{r.request.method} {r.url}: {r.status}") if r.status >= 400 else None
    )
    OPEN.append((page, troubles))
    return context, page


@pytest.fixture
def page(browser, site, signed_in):
    context, page = open_page(browser, site, signed_in)
    refused: list[str] = []
    page.on("console", lambda m: refused.append(m.text) if "Content Security Policy" in m.text else None)
    yield page
    context.close()
    assert not refused, refused


def beside(page: Page, word: str) -> None:
    """Have the bench side show another thing."""
    page.get_by_role("navigation", name="Beside the slip").get_by_role("button", name=word, exact=True).click()


def heard(page: Page, answers: int) -> None:
    """Wait until the wattmeter has answered so many times to what it was asked from now on: on a busy machine answers
    of before a hand moved still wait in the line."""
    page.evaluate(
        """async answers => {
          const at = async () => (await (await fetch('/api/bench')).json()).values.power?.at ?? 0
          for (let last = Date.now() / 1000; answers > 0; ) {
            const now = await at()
            if (now > last) [last, answers] = [now, answers - 1]
            await new Promise(later => setTimeout(later, 20))
          }
        }""",
        answers,
    )


def field(page: Page):
    return page.get_by_role("textbox", name="What did you read?")


def check_in(page: Page, words: str) -> None:
    """Check a unit in on the bench and land on its slip."""
    page.goto("/")
    page.get_by_label("What came in?").fill(words)
    page.keyboard.press("Enter")
    page.get_by_role("heading", level=1, name=words.split(",")[0]).wait_for()


def take(page: Page, text: str) -> None:
    """Type a text and take it, as a hand does: wait for what was understood, press Enter, see it on the slip."""
    page.locator("ol[aria-busy=true]").wait_for(state="detached")
    field(page).fill(text)
    page.keyboard.press("Enter")
    on_the_slip(page)


def on_the_slip(page: Page) -> None:
    """Wait until what was taken stands on the slip and the field is free again."""
    page.wait_for_function(
        "() => document.querySelector('input.field').value === '' && !document.querySelector('[data-line=pending]')"
    )


def figures(page: Page, name: str) -> Locator:
    """Lines of the slip with figures of that name."""
    return page.locator("[data-line=reading]").filter(has_text=name)
