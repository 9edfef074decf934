"""Makes the pictures of docs/screenshots from the demo data, at 1280×800."""

import tempfile
from pathlib import Path

from playwright.sync_api import Page, Playwright, sync_playwright

from tests.browser.conftest import CHROMIUM, FLAGS, ROOT, Site, field
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


def at_work(page: Page) -> None:
    slip_of(page, "Q17")
    field(page).fill("stage Final dead collector at supply, no RF")


def stale(page: Page) -> None:
    slip_of(page, "mountain rescue")


def proven(page: Page) -> None:
    slip_of(page, "quad")


def far(page: Page) -> None:
    slip_of(page, "TB-27-0007")
    field(page).press("F2")
    page.keyboard.type("13.1v")


def sums(page: Page) -> None:
    slip_of(page, "hill farm")
    field(page).press("=")
    sheet = page.get_by_role("dialog", name="Sums")
    sheet.get_by_role("button", name="What the needle means on audio").click()
    sheet.get_by_text("True-mean meter").wait_for()


def shelf(page: Page) -> None:
    page.goto("/shelf")


def hand_back(page: Page) -> None:
    page.goto(f"/job/{first_job(page, 'quad')}/hand-back")


def library(page: Page) -> None:
    page.goto("/library")


VIEWS = {
    "bench": bench, "slip-received": received, "slip-at-work": at_work, "slip-stale-proof": stale, "slip-proven": proven, "sums": sums,
    "far-view": far, "shelf": shelf, "hand-back": hand_back, "library": library,
}  # fmt: skip


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        site = Site(Path(folder))
        site.start()
        try:
            take_pictures(playwright, site)
        finally:
            site.stop()


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
        page.screenshot(path=FOLDER / f"{name}.png")
    state = context.storage_state()
    for name, options in (
        ("dark", {"color_scheme": "dark"}),
        ("phone", {"viewport": {"width": 390, "height": 844}}),
    ):
        other = browser.new_context(
            **{
                "viewport": {"width": 1280, "height": 800},
                "base_url": site.address,
                "storage_state": state,
                **options,
            }
        )
        page = other.new_page()
        page.goto("/")
        received(page)
        page.wait_for_timeout(900)
        page.screenshot(path=FOLDER / f"slip-{name}.png")
    browser.close()


if __name__ == "__main__":
    main()
