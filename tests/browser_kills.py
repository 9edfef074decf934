"""A browser that types and sends without a pause is killed at random moments: what its page showed as taken is not
lost."""

import contextlib
import os
import random
import re
import time
from pathlib import Path

from playwright.sync_api import Error, Page, Playwright

from tests.browser.conftest import CHROMIUM, FLAGS, Site, check_in, field
from tests.processes import kill_below


def browser_kills(playwright: Playwright, site: Site, cookies: list, folder: Path, count: int, seed: int = 3) -> str:
    """So many kills of a browser, each begun again on the store that the one before left; as a line to print."""
    dice, profile, address = random.Random(seed), folder / "profile", "/"
    shown: set[str] = set()
    for kill in range(count + 1):  # the last one only looks
        context = playwright.chromium.launch_persistent_context(
            profile, executable_path=CHROMIUM, args=FLAGS, base_url=site.address
        )
        context.add_cookies(cookies)
        page = context.new_page()
        page.goto(address)
        if kill == 0:
            check_in(page, "Tarnbeck M27, browser killed: weak")
            address = page.url
        field(page).wait_for()
        if kill < count:
            shown |= _type_until(page, kill, time.monotonic() + dice.uniform(0.3, 2.0))
            assert kill_below(os.getpid(), f"--user-data-dir={profile}")
        else:
            page.wait_for_timeout(2000)
            there = _taken(page)
        with contextlib.suppress(Error):
            context.close()
    lost, doubled = shown - set(there), len(there) - len(set(there))
    return f"{count} kills of a browser: {len(shown)} lines shown as taken, {len(lost)} lost, {doubled} doubled"


def _type_until(page: Page, kill: int, ended: float) -> set[str]:
    shown: set[str] = set()
    n = 0
    while time.monotonic() < ended:
        n += 1
        field(page).fill(f"note kill {kill} line {n} ends")
        page.keyboard.press("Enter")
        shown |= set(_taken(page))
    return shown


def _taken(page: Page) -> list[str]:
    """The notes that the page shows as taken, without those that still wait to be sent."""
    texts = page.locator("[data-line=note]").all_inner_texts()
    return [found[0] for text in texts if (found := re.search(r"kill \d+ line \d+ ends", text))]
