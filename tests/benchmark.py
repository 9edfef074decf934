"""What './spark bench' prints: times and ratios of this machine. Nothing here passes or fails."""

import os
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("YOUNG_SPARK_DATA", tempfile.mkdtemp(prefix="young-spark-bench-"))

from playwright.sync_api import Page, sync_playwright

from tests.browser.conftest import CHROMIUM, FLAGS, Site, check_in, field
from tests.core.test_coverage import TRIALS, covered
from tests.core.test_entry_table import UNDERSTOOD, context
from young_spark.core.entry import understand

KEYS = 60
# from the key's own time stamp to the frame after the one in which the figure stands in the page
PAINTED = """() => {
  window.painted = []
  let pressed = null
  addEventListener('keydown', (e) => { pressed = { at: e.timeStamp, text: document.querySelector('.field').value + e.key } }, true)
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


def main() -> None:
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        site = Site(Path(folder))
        site.start()
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        page = browser.new_page(base_url=site.address, viewport={"width": 1280, "height": 800})
        page.goto(site.entry)
        times, plain = key_to_verdict(page), plain_request(page)
        browser.close()
        print(
            f"key pressed to verdict painted, {len(times)} keys: median {statistics.median(times):.0f} ms, p95 {percentile(times, 0.95):.0f} ms (aim 100)"
        )
        print(f"  p95 is {percentile(times, 0.95) / plain:.1f} times the smallest request ({plain:.1f} ms)")
        print(f"second start until the address is printed: {start_up(site):.1f} s")
        site.stop()
    print(f"loading the core: {core_import():.2f} s")
    texts = [(text, context(line)) for text, line, *_ in UNDERSTOOD]
    began = time.perf_counter()
    for text, where in texts:
        understand(text, where)
    print(f"understanding a text: {(time.perf_counter() - began) / len(texts) * 1e3:.2f} ms, mean of {len(texts)}")
    print("share of 4000 simulated readings whose stated 95 % interval holds the truth (93–98 % wanted):")
    for trial in TRIALS:
        shares = ", ".join(f"{quantity} {share:.1%}" for quantity, share in covered(trial, 4000, seed=5).items())
        print(f"  {trial.__name__.replace('_', ' '):32} {shares}")


if __name__ == "__main__":
    main()
