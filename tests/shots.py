"""Makes the pictures of docs/screenshots from the demo data, at 1280×800."""

import tempfile
from pathlib import Path

from playwright.sync_api import Page, Playwright, sync_playwright

from tests.browser.conftest import CHROMIUM, FLAGS, ROOT, Site, beside, check_in, field, take
from tests.browser.test_looks import first_job

FOLDER = ROOT / "docs" / "screenshots"


def slip_of(page: Page, words: str) -> None:
    page.goto(f"/job/{first_job(page, words)}")
    page.locator("[data-line]").first.wait_for()


def bench(page: Page) -> None:
    page.goto("/")
    page.get_by_label("judge it as").select_option(label="Tarnbeck M27")
    field(page).fill("2.6w el 5")


def received(page: Page) -> None:
    slip_of(page, "marshal 30")
    field(page).fill("mod 2.1/0.15/1.1")


def proven(page: Page) -> None:
    slip_of(page, "quad")


def looked_up(page: Page) -> None:
    """A search over every table, beside the slip."""
    slip_of(page, "marshal 30")
    page.wait_for_timeout(400)
    page.evaluate("document.activeElement.blur()")  # a draft that was kept has the hand
    page.keyboard.press("=")
    page.get_by_label("Find in every table").fill("harmonics ch 19")
    page.get_by_role("row", name="54.37 MHz").wait_for()


def path(page: Page) -> None:
    """An amplifier on a bench that is too small for it: the red node, and what is asked by name."""
    page.goto(f"/job/{first_job(page, 'HL-400')}/path")
    page.get_by_role("button", name="Sampler and analyser").click()
    page.locator(".node[data-state=too_high]").click()


def in_find(page: Page) -> None:
    """Go to the second part of the job, and wait until its first line is the current one."""
    page.get_by_role("group", name="Parts of the job").get_by_role("button", name="Find").click()
    page.locator(".now").get_by_text("Carrier power").first.wait_for()


def tracing(page: Page) -> None:
    """Where next on the slip, in full, and settled, one picture after the other."""
    check_in(page, "Tarnbeck M27, marshal 21: no transmit since a lamp was changed")
    for text in ("found receive fine", "found fuse good"):
        take(page, text)
    beside(page, "Where next")
    page.get_by_role("button", name="Trace it").click()
    page.locator("[data-probe]").wait_for()
    page.wait_for_timeout(400)
    picture(page, "where-next-slip")
    page.keyboard.press("F4")
    page.locator(".whole-chain").wait_for()
    for n in range(16):
        if page.locator(".settled").count():
            break
        probe = page.locator("[data-probe]").get_attribute("data-probe")
        page.keyboard.press(str(DEAD_RAIL.get(probe or "", 1)))
        page.wait_for_function("p => document.querySelector('[data-probe]')?.dataset.probe !== p", arg=probe)
        if n == 1:
            page.wait_for_timeout(400)
            picture(page, "where-next")


# the switched transmit rail is dead: which answer each probe then gives
DEAD_RAIL = {
    "heard_beside": 3,
    "tx_rail_v": 3,
    "tx_rail_ohms": 2,
    "output": 3,
    "current_tx": 3,
    "speech": 3,
    "mixer_rf": 3,
    "buffer_rf": 3,
    "driver_rf": 3,
}


def shelf(page: Page) -> None:
    page.goto("/shelf")


def hand_back(page: Page) -> None:
    page.goto(f"/job/{first_job(page, 'quad')}/hand-back")


def library(page: Page) -> None:
    page.goto("/library")


def on_the_live_bench(page: Page, site: Site) -> None:
    """The pictures that need hands at the simulated unit, in the order of the work."""
    check_in(page, "Tarnbeck M27, marshal 44: weak since it fell off the trailer")
    job = page.url.rpartition("/")[2]
    take(page, "standby 120ma")  # nothing is to be keyed that was not powered yet
    in_find(page)
    page.locator("[data-word=KEY]").wait_for()
    site.hands(fault="fading", keyed=True, warm=0, channel=19, mode="am")  # what moves is not taken for a carrier
    page.locator(".work.far").wait_for()
    page.keyboard.press("F2")
    page.get_by_test_id("live-figure").wait_for()
    page.wait_for_timeout(300)
    site.hands(keyed=False, fault="weak", warm=0)
    page.locator("[data-word=KEY]").wait_for()
    site.hands(keyed=True, tone=False)
    page.locator(".taken").wait_for()
    page.wait_for_timeout(400)
    picture(page, "live-far-view")
    site.hands(keyed=False, fault="healthy")
    trace_of_the_bench(page, site, job)
    site.hands(keyed=False, tone=False, load_swr=1.08, drive_core=-4.0)
    page.goto(f"/job/{job}/turn")
    page.get_by_label("Adjuster").fill("L14")
    page.get_by_role("button", name="carrier power").click()
    page.get_by_role("button", name="the most").click()
    page.get_by_role("button", name="Turn it").click()
    site.hands(keyed=True)
    page.get_by_test_id("turn-now").filter(has_text="W").wait_for()
    for _ in range(10):
        site.hands(turn=0.5)
        page.wait_for_timeout(300)
    picture(page, "turn")
    page.get_by_role("button", name="Stop, write nothing down").click()
    site.hands(keyed=False, drive_core=0.0, fault="intermittent")
    page.goto(f"/job/{job}/watch")
    page.get_by_role("button", name="Watch it").click()
    page.get_by_role("group", name="What did the hands do?").wait_for()
    site.hands(keyed=True)
    for hand in ("", "tap", "", "tap", "tap"):
        page.wait_for_timeout(3500)
        if hand:
            site.hands(tap=True)
            page.keyboard.press("1")
    page.wait_for_timeout(3000)
    picture(page, "watch")
    site.hands(keyed=False, fault="healthy")
    page.get_by_role("button", name="End the watch").click()
    page.goto("/instruments")
    page.locator("[data-instrument=bench-wattmeter] button").first.click()
    for read in ("4.96", "4.93", "4.95"):
        page.get_by_label("The standard gives").fill("5")
        page.get_by_label("It reads").fill(read)
        page.get_by_role("button", name="Check it").click()
        page.wait_for_timeout(400)
    site.hands(line="modulation-meter", fault_of_line="refuse")
    page.get_by_text("nothing listens at its address").wait_for()
    picture(page, "instruments")
    site.hands(line="modulation-meter", fault_of_line="none")


def trace_of_the_bench(page: Page, site: Site, job: str) -> None:
    """A spectrum under its mask, corrected by the path."""
    page.goto(f"/job/{job}/path")
    page.get_by_role("button", name="Sampler and analyser").click()
    page.goto(f"/job/{job}")
    beside(page, "Records")
    offers = page.get_by_role("group", name="Take a trace")
    site.hands(keyed=True, tone=True, load_swr=1.08)
    page.locator(".work.far").wait_for()
    page.keyboard.press("F2")
    offers.get_by_role("button", name="Beside the carrier").click()
    page.get_by_role("img", name="Plot of Beside the carrier.csv").wait_for()
    page.evaluate("document.querySelector('[aria-label=Records]').scrollIntoView()")
    page.wait_for_timeout(600)
    picture(page, "record-spectrum")


def picture(page: Page, name: str) -> None:
    page.screenshot(path=FOLDER / f"{name}.png")


def a_record(page: Page, name: str, write) -> None:
    """A record handed in to a job of the demo, its plot and figures in view."""
    received(page)
    with tempfile.TemporaryDirectory() as folder:
        page.get_by_label("Picture or record").set_input_files(write(Path(folder)))
        page.get_by_role("img", name=f"Plot of {name}").wait_for()
    page.evaluate("document.querySelector('[aria-label=Records]').scrollIntoView()")


def set_up(page: Page) -> None:
    """A valve linear that is tuned up, past the dip of its plate current."""
    check_in(page, "Valve linear 800 W, marshal 8: low out")
    beside(page, "Set up")
    page.get_by_role("button", name="Begin: Tuning up").click()
    for text in ("6.3", "idle 105ma", "1.6", "1.4", "1.5", "1.4", "ip 520ma", "ip 440ma", "ip 460ma"):
        take(page, text)


def compared(page: Page) -> None:
    """A unit of a known model after its repair, with a sibling on the bench."""
    check_in(page, "Tarnbeck M27, sn TB-1044, marshal 9: weak")
    for text in (
        "ch19 1.9w", "ch1 2.0w", "ch40 1.7w", "ch19 err +60hz", "sibling ch19 3.8w", "sibling ch19 err -20hz",
        "replaced q9 driver, bad", "ch19 3.7w", "ch1 3.8w", "ch40 3.6w",
    ):  # fmt: skip
        take(page, text)
    beside(page, "Compare")


def tables(page: Page) -> None:
    """A set that was low on one band, before and after."""
    check_in(page, "HF 100 W base, marshal 9: low on 10 m")
    for text in (
        "80m 101w 40m 99w 20m 98w 10m 44w", "c7 61uf of 100uf", "c12 46uf of 47uf", "q7 b .65 c 12.9", "q8 b 0 c 13.1",
        "did k9 cleaned, 10 min", "80m 102w 40m 101w",
    ):  # fmt: skip
        take(page, text)
    beside(page, "Tables")
    page.get_by_role("button", name="type Carrier power at 14.2 MHz").click()


VIEWS = {
    "bench": bench, "slip-received": received, "slip-proven": proven,
    "path": path, "where-next-settled": tracing, "shelf": shelf, "hand-back": hand_back, "library": library,
    "look-up": looked_up, "tables": tables, "set-up": set_up, "compare": compared,
}  # fmt: skip


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright, Site(Path(folder)) as site:
        take_pictures(playwright, site)


def take_pictures(playwright: Playwright, site: Site) -> None:
    """Every view in its turn; each begins where its own function says."""
    browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, base_url=site.address, reduced_motion="reduce"
    )
    page = context.new_page()
    page.goto(site.entry)
    for name, show in VIEWS.items():
        show(page)
        page.wait_for_timeout(900)
        picture(page, name)
    page = context.new_page()
    page.goto("/")
    on_the_live_bench(page, site)
    browser.close()


if __name__ == "__main__":
    main()
