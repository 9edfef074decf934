"""What './spark bench' prints: times and ratios of this machine. Nothing here passes or fails."""

import argparse
import math
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

os.environ.setdefault("YOUNG_SPARK_DATA", tempfile.mkdtemp(prefix="young-spark-bench-"))

import numpy as np
from playwright.sync_api import Page, Playwright, sync_playwright

from tests.bench.following import SEQUENCES
from tests.bench.following import tally as set_up_tally
from tests.bench.keydowns import tally
from tests.bench.streaming import streaming
from tests.browser.conftest import CHROMIUM, FLAGS, Site, check_in, field
from tests.browser_kills import browser_kills
from tests.core import records
from tests.core.corpus_score import breath_of, verdict
from tests.core.fuzz import fuzz
from tests.core.test_coverage import TRIALS, covered
from tests.core.test_entry_table import UNDERSTOOD, context
from tests.core.test_record_coverage import RECORDS
from tests.core.test_record_coverage import covered as record_covered
from tests.core.tracing_trials import tracing_lines
from tests.kills import kills
from tests.load import load
from tests.long_texts import long_texts
from tests.soak import soak
from young_spark.core.analysis import Options, analyse
from young_spark.core.captures import Baseband
from young_spark.core.entry import understand

KEYS = 60
PARTS = (
    "quick",
    "measuring",
    "tracing",
    "capture",
    "setting-up",
    "long-texts",
    "stream",
    "kills",
    "load",
    "shop",
    "soak",
)
NOISY = 1000  # a share of 95 % of so many is told to 0.7 %
# from the key's own time stamp to the frame after the one in which the figure stands in the page
PAINTED = """() => {
  window.painted = []
  let pressed = null
  addEventListener('keydown', (e) => { pressed = { at: e.timeStamp,
    text: document.querySelector('.field').value + e.key } }, true)
  new MutationObserver(() => {
    if (pressed === null) return
    const shown = document.querySelector('[data-testid=understood]')
    if (!shown?.textContent.includes(`${pressed.text} W at the meter`) || !shown.querySelector('[data-verdict]')) return
    const { at } = pressed
    pressed = null
    requestAnimationFrame(() => setTimeout(() => window.painted.push(performance.now() - at)))
  }).observe(document.body, { subtree: true, childList: true, characterData: true })
}"""


def percentile(values: list[float], share: float) -> float:
    return sorted(values)[min(len(values) - 1, round(share * len(values)))]


def key_to_verdict(page: Page) -> list[float]:
    """Times in ms from a key to its painted verdict, on a slip with a plan and limits."""
    check_in(page, "Tarnbeck M27, bench: timed")
    page.get_by_role("button", name="Find").click()
    page.locator(".now").get_by_text("Carrier power").first.wait_for()
    page.evaluate(PAINTED)
    for n in range(KEYS):
        field(page).fill(f"{2 + n // 10}.{n % 10}")
        page.wait_for_timeout(60)
        page.keyboard.press(str(1 + n % 9))
        page.wait_for_function("n => window.painted.length > n", arg=n)
    return page.evaluate("() => window.painted")


# from an instrument's answer to the frame after the one in which its figure stands in the page; either may be heard of
# first
LIVE = """() => {
  window.delays = []
  let due = null, told = null, stands = null, painted = { shown: null, since: 0 }
  const match = () => {
    if (due === null || painted.shown !== due.shown || painted.since < 1000 * due.at) return
    window.delays.push(painted.since - 1000 * due.at)
    due = null
  }
  new EventSource('/api/events?bench=1').addEventListener('live', (e) => {
    const power = JSON.parse(e.data).values.power
    if (power === undefined || power.shown === told) return
    told = power.shown
    due = power
    match()
  })
  new MutationObserver(() => {
    const shown = document.querySelector('.live-values dd')?.textContent
    if (shown === stands) return
    stands = shown
    requestAnimationFrame(() => setTimeout(() => {
      painted = { shown, since: Date.now() }
      match()
    }))
  }).observe(document.body, { subtree: true, childList: true, characterData: true })
}"""


def live_delay(page: Page, site: Site) -> list[float]:
    """Times in ms from the wattmeter's answer to its figure on the slip, while the figure moves."""
    page.locator("[data-word=KEY]").wait_for()
    page.evaluate(LIVE)
    site.hands(fault="fading", keyed=True, warm=0)
    page.wait_for_timeout(8_000)
    site.hands(keyed=False, fault="healthy", warm=0)
    return page.evaluate("window.delays")


ENTERED = "() => { addEventListener('keydown', (e) => { if (e.key === 'Enter') window.entered = Date.now() }, true) }"
STANDS = """(words) => {
  window.stands = null
  const look = () => { if (window.stands === null &&
      document.querySelector('.slip, main').textContent.includes(words)) window.stands = Date.now() }
  window.looking?.disconnect()
  window.looking = new MutationObserver(look)
  window.looking.observe(document.body, { subtree: true, childList: true, characterData: true })
}"""


def seen_by_another(page: Page, other: Page) -> list[float]:
    """Times in ms from Enter in one browser to the line in another one."""
    check_in(page, "Tarnbeck M27, bench: two hands")
    other.goto(page.url)
    field(other).wait_for()
    page.evaluate(ENTERED)
    times = []
    for n in range(12):
        field(page).fill(f"note told {n} ends")
        other.evaluate(STANDS, f"told {n} ends")
        page.keyboard.press("Enter")
        other.wait_for_function("() => window.stands !== null")
        times.append(other.evaluate("window.stands") - page.evaluate("window.entered"))
    return times


def plain_request(page: Page) -> float:
    """Median time in ms of the smallest request there is: what the machine and the stack cost by themselves."""
    once = "async () => { const t = performance.now(); await fetch('/api/me'); return performance.now() - t }"
    return statistics.median(page.evaluate(once) for _ in range(30))


def start_up(site: Site) -> float:
    site.stop()
    began = time.monotonic()
    site.start()
    return time.monotonic() - began


def core_import() -> float:
    began = time.monotonic()
    subprocess.run([sys.executable, "-c", "import young_spark.core.entry"], check=True)
    return time.monotonic() - began


def big_shop(playwright: Playwright, folder: Path) -> None:
    """Every page of a shop with ten thousand jobs, the search while one types, and typing on a slip of it."""
    subprocess.run([sys.executable, "-m", "tests.big", str(folder)], check=True)
    began = time.monotonic()
    with Site(folder) as site:
        print(f"  start until the address is printed: {time.monotonic() - began:.1f} s (aim 5)")
        _used(playwright, site)


def _used(playwright: Playwright, site: Site) -> None:
    browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
    page = browser.new_context(base_url=site.address, viewport={"width": 1280, "height": 800}).new_page()
    page.goto(site.entry)
    page.goto("/shelf")
    page.locator(".jobs a").first.wait_for()
    slip = page.locator(".jobs a").nth(3).get_attribute("href")
    pages = {
        "/": "input.field",
        "/shelf": ".jobs a",
        slip: "[data-line]",
        f"{slip}/hand-back": "article",
        f"{slip}/turn": "h1",
        f"{slip}/watch": ".begin-watch",
        "/library": "h3",
        "/instruments": "[data-instrument]",
    }
    for address, usable in pages.items():
        times = opened(page, address, usable)
        print(
            f"  {address.replace(slip, '/job'):16} usable after {statistics.median(times):.0f} ms, "
            f"slowest {max(times):.0f} ms (aim 1000)"
        )
    print(
        f"  search while one types: median {statistics.median(found := searched(page)):.0f} ms, "
        f"slowest {max(found):.0f} ms (aim 150)"
    )
    times = key_to_verdict(page)
    print(
        f"  key pressed to verdict painted: median {statistics.median(times):.0f} ms, p95 "
        f"{percentile(times, 0.95):.0f} ms (aim 100)"
    )
    browser.close()


# from the begin of a navigation to the frame after the one in which what the page is for stands there
USABLE = """(() => {
  window.usable = null
  const look = () => {
    if (document.querySelector(%r) === null) return
    looking.disconnect()
    requestAnimationFrame(() => setTimeout(() => { window.usable = performance.now() }))
  }
  const looking = new MutationObserver(look)
  looking.observe(document, { subtree: true, childList: true })
})()"""


def opened(page: Page, address: str, usable: str) -> list[float]:
    """Times in ms to open a page five times, each in a tab of its own."""
    times = []
    for _ in range(5):
        tab = page.context.new_page()
        tab.add_init_script(USABLE % usable)
        tab.goto(address, wait_until="commit")
        tab.wait_for_function("() => window.usable !== null", timeout=60_000)
        times.append(tab.evaluate("window.usable"))
        tab.close()
    return times


FOUND = """() => {
  window.found = []
  let pressed = null
  addEventListener('keydown', (e) => { pressed = e.timeStamp }, true)
  new MutationObserver(() => {
    const words = document.querySelector('.find').value
    if (pressed === null || !document.querySelector('[role=status]')?.textContent.includes(`“${words}”`)) return
    const at = pressed
    pressed = null
    requestAnimationFrame(() => setTimeout(() => window.found.push(performance.now() - at)))
  }).observe(document.body, { subtree: true, childList: true, characterData: true })
}"""


def searched(page: Page) -> list[float]:
    """Times in ms from a key in the search to the painted list."""
    page.goto("/shelf")
    page.locator(".jobs a").first.wait_for()
    page.evaluate(FOUND)
    page.keyboard.press("/")
    count = 0
    for words in ("marshal 71", "dairy co-op", "tb-27-0021-9", "pinched"):
        page.locator(".find").fill("")
        page.wait_for_timeout(300)
        for letter in words:
            page.keyboard.press(letter)
            if letter == " ":
                page.wait_for_timeout(200)
                page.evaluate("window.found.length")
                count = page.evaluate("window.found.length")
                continue
            page.wait_for_function("n => window.found.length > n", arg=count)
            count = page.evaluate("window.found.length")
            page.wait_for_timeout(60)
    return page.evaluate("window.found")


def _run(*words: str) -> None:
    subprocess.run([sys.executable, *words], stdout=subprocess.DEVNULL, check=True)


def measuring() -> None:
    """Records: how often the stated interval holds the truth, and what an analysis costs against transforms of its
    length."""
    print(f"share of {NOISY} noisy records whose stated 95 % interval holds the truth (93–98 % wanted):", flush=True)
    with ProcessPoolExecutor() as several:
        for trial, shares in zip(
            RECORDS, several.map(partial(record_covered, seeds=NOISY, start=1000), RECORDS), strict=True
        ):
            told = ", ".join(f"{quantity} {share:.1%}" for quantity, share in shares.items())
            print(f"  {trial.__name__.replace('_', ' '):20} {told}", flush=True)
    rng = np.random.default_rng(2)
    made = {
        "am": records.am(rng, rate=192_000, seconds=1.0),
        "fm": records.fm(rng, rate=192_000, seconds=1.0, clip=2.0)[0],
    }
    for mode, aim in (("am", 25), ("fm", 12)):
        capture = Baseband(192_000.0, 27.185e6, made[mode].astype(np.complex64))
        options = Options(mode=mode, nominal_hz=27.185e6, full_scale_dbm=40.0)
        costs = [fastest(lambda c=capture, o=options: analyse(c, o)), fastest(lambda m=mode: np.fft.fft(made[m]))]
        print(
            f"{mode} analysis of 1 s at 192 kS/s: {1e3 * costs[0]:.0f} ms, {costs[0] / costs[1]:.1f} "
            f"transforms of its length (aim {aim})"
        )
    with tempfile.TemporaryDirectory() as name:
        small = Path(name) / "small.csv"
        rows = "\n".join(f"{n / 1e6:.7f},{math.sin(0.17 * n):.5f}" for n in range(5000))
        small.write_text(f"time_s,volts\n{rows}\n")
        whole = fastest(lambda: _run("-m", "young_spark.cli", "analyse", str(small), "--json"))
        print(
            f"analyse of a small file, start and all: {whole:.2f} s (aim 0.7), "
            f"{whole / fastest(lambda: _run('-c', 'import numpy')):.1f} times the start with numpy "
            "alone"
        )
        times = {}
        for megabytes in (8, 64):
            x = records.am(np.random.default_rng(3), rate=1e6, seconds=megabytes / 8)
            file = records.write_sigmf(Path(name) / f"m{megabytes}", x, rate=1e6, centre=27.185e6)
            command = [sys.executable, "-m", "young_spark.cli", "analyse", str(file), "--mode", "am", "--json"]
            began = time.monotonic()
            used = subprocess.run(
                ["/usr/bin/env", "python3", "-c", PEAK, *command], capture_output=True, text=True, check=True
            ).stdout
            times[megabytes] = time.monotonic() - began
            print(
                f"a record of {megabytes} MB: {times[megabytes]:.1f} s, at most {int(used) / 1024:.0f} MB "
                "in memory (aim below 1000)"
            )
        print(f"  eight times the record costs {times[64] / times[8]:.1f} times as much")
    print(fuzz(10_000, seed=9))


# runs a command and prints the most memory that it held, in kB
PEAK = (
    "import resource, subprocess, sys; subprocess.run(sys.argv[1:], "
    "stdout=subprocess.DEVNULL, check=True); "
    "print(resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss)"
)


def fastest(work: Callable[[], object]) -> float:
    """Shortest of seven runs, in s."""
    times = []
    for _ in range(7):
        began = time.perf_counter()
        work()
        times.append(time.perf_counter() - began)
    return min(times)


def main() -> None:
    options = argparse.ArgumentParser(prog="./spark bench")
    options.add_argument("--kills", type=int, default=50)
    options.add_argument("--load-s", type=float, default=60)
    options.add_argument("--soak-s", type=float, default=1800)
    options.add_argument("--only", action="append", choices=PARTS)
    wanted = options.parse_args()
    with tempfile.TemporaryDirectory() as folder:
        parts: dict[str, Callable[[], object]] = {
            "quick": quick, "measuring": measuring, "tracing": tracing, "capture": lambda: print(tally(500)),
            "setting-up": setting_up, "long-texts": lambda: print(long_texts()),
            "stream": lambda: print(streaming(Path(folder))),
            "kills": lambda: print(kills(wanted.kills, Path(folder) / "killed", seed=11)),
            "load": lambda: print(load(8, wanted.load_s, Path(folder) / "loaded")),
            "shop": lambda: shop(Path(folder) / "big"),
            "soak": lambda: print(soak(wanted.soak_s, Path(folder) / "soaked")),
        }  # fmt: skip
        for part in PARTS:
            if part in (wanted.only or PARTS[:-1]):  # half an hour only where it is asked for
                parts[part]()
                sys.stdout.flush()


def tracing() -> None:
    print("300 faults traced on each chain, drawn by their shares, answers wrong at their rates:", flush=True)
    for line in tracing_lines(300, seed=5):
        print(line, flush=True)


def setting_up() -> None:
    for kind in SEQUENCES:
        total = set_up_tally(kind, 100, rounds=True)
        print(total, *total.outside, sep="\n", flush=True)


def shop(folder: Path) -> None:
    print("a shop of ten thousand jobs:", flush=True)
    with sync_playwright() as playwright:
        big_shop(playwright, folder)


def quick() -> None:
    """What needs no large shop."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright, Site(Path(folder)) as site:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        page = browser.new_page(base_url=site.address, viewport={"width": 1280, "height": 800})
        page.goto(site.entry)
        times, plain = key_to_verdict(page), plain_request(page)
        field(page).fill("")
        delays = live_delay(page, site)
        cookies = page.context.cookies()
        second = browser.new_context(base_url=site.address)
        second.add_cookies(cookies)
        between = seen_by_another(page, second.new_page())
        browser.close()
        killed = browser_kills(playwright, site, cookies, Path(folder), 12)
        print(
            f"key pressed to verdict painted, {len(times)} keys: median "
            f"{statistics.median(times):.0f} ms, p95 {percentile(times, 0.95):.0f} ms (aim 100)"
        )
        print(f"  p95 is {percentile(times, 0.95) / plain:.1f} times the smallest request ({plain:.1f} ms)")
        print(
            f"instrument's answer to figure painted, {len(delays)} changes: median "
            f"{statistics.median(delays):.0f} ms, p95 {percentile(delays, 0.95):.0f} ms, slowest "
            f"{max(delays):.0f} ms (aim 200)"
        )
        print(
            f"a line of one browser in another: median {statistics.median(between):.0f} ms, slowest "
            f"{max(between):.0f} ms (aim 1000)"
        )
        print(killed)
        print(f"second start until the address is printed: {start_up(site):.1f} s")
    print(f"loading the core: {core_import():.2f} s")
    texts = [(text, context(line)) for text, line, *_ in UNDERSTOOD]
    began = time.perf_counter()
    for text, where in texts:
        understand(text, where)
    print(f"understanding a text: {(time.perf_counter() - began) / len(texts) * 1e3:.2f} ms, mean of {len(texts)}")
    for name, of in (("own", "330 texts of our own"), ("shared", "720 shared texts")):
        found = Counter(verdict(text, breath_of(text))[0] for text in texts(name))
        shares = ", ".join(f"{word} {found[word] / sum(found.values()):.1%}" for word in ("right", "asked", "wrong"))
        print(f"what a hand types, {of}: {shares} (aim 97 %, 2 %, 0)")
    print("share of 4000 simulated readings whose stated 95 % interval holds the truth (93–98 % wanted):")
    for trial in TRIALS:
        shares = ", ".join(f"{quantity} {share:.1%}" for quantity, share in covered(trial, 4000, seed=5).items())
        print(f"  {trial.__name__.replace('_', ' '):32} {shares}")


if __name__ == "__main__":
    main()
