"""Every view: readable by everyone (axe), in light and dark, and never scrolled sideways."""

import json
import urllib.request
from pathlib import Path

import pytest
from playwright.sync_api import Page

from tests.browser.conftest import ROOT, Site, beside, check_in, field, open_page, take

pytestmark = [pytest.mark.browser, pytest.mark.long]
AXE = (ROOT / "web/node_modules/axe-core/axe.min.js").read_text()
SIZES = ((1280, 800), (390, 844), (834, 1112))


def first_job(page: Page, words: str) -> str:
    shelf = page.evaluate("words => fetch('/api/shelf?find=' + encodeURIComponent(words)).then(r => r.json())", words)
    return next(job["id"] for group in ("on_the_bench", "waiting", "handed_back") for job in shelf[group])


def views(page: Page):
    """Each view, brought to the state in which it has most to show."""
    page.goto("/")
    field(page).fill("swr 3.8/0.3")
    page.get_by_test_id("understood").wait_for()
    yield "bench"
    field(page).fill("")
    page.keyboard.press("=")
    page.get_by_role("dialog", name="Look up").get_by_text("Volts rms").wait_for()
    page.evaluate("Promise.all(document.getAnimations().map(moving => moving.finished))")
    yield "sums"
    for name, words in (
        ("received", "marshal 30"),
        ("stale", "mountain rescue"),
        ("locked", "HL-400"),
        ("proven", "marshal 21"),
    ):
        page.goto(f"/job/{first_job(page, words)}")
        page.locator("[data-line]").first.wait_for()
        yield name
    page.goto(f"/job/{first_job(page, 'quad')}/hand-back")
    page.get_by_role("article").wait_for()
    yield "hand back"
    page.goto("/practice")
    page.get_by_role("group", name="Exercises").get_by_role("link").first.click()
    page.get_by_text("Where would you look now?").wait_for()
    yield "practice"
    for address in ("/shelf", "/library", "/library?room=limits", "/library?room=chains", "/instruments"):
        page.goto(address)
        page.locator("h2").first.wait_for()
        yield address
    page.locator("[data-instrument=bench-wattmeter] button").first.click()
    page.get_by_role("button", name="Try it").click()
    yield "an instrument"
    page.goto("/library?room=chains")
    page.get_by_role("button", name="correct 27 MHz AM mobile").click()
    page.get_by_role("button", name="What is looked at").click()
    yield "a chain row by row"
    job = first_job(page, "marshal 30")
    page.goto(f"/job/{job}/watch")
    page.get_by_role("button", name="Watch it").wait_for()
    yield "watch"
    page.goto(f"/job/{first_job(page, 'HL-400')}/path")
    page.get_by_role("button", name="Sampler and analyser").click()
    page.locator(".node[data-state=too_high]").click()
    yield "path"
    page.goto(f"/job/{job}/trace")
    if page.get_by_role("button", name="Trace it").or_(page.locator("[data-probe]")).first.inner_text() == "Trace it":
        page.get_by_role("button", name="Trace it").click()
    page.locator("[data-probe]").wait_for()
    yield "where next"
    page.goto(f"/job/{job}/turn")
    page.get_by_label("Adjuster").fill("L14")
    yield "turn"
    check_in(page, "Birkrigg valve linear 800 W, marshal 73: low out")
    beside(page, "Set up")
    page.get_by_role("button", name="Begin: Tuning up").click()
    page.locator("[aria-current=step]").wait_for()
    yield "set up"
    take(page, "6.3")
    take(page, "sibling filament 6.2v")
    beside(page, "Compare")
    page.get_by_role("region", name="Compare").get_by_text("sibling").first.wait_for()
    yield "compare"


WIDER = (
    "() => Math.max(...[document.documentElement, document.body, "
    "document.querySelector('.body')].map(e => e.scrollWidth - e.clientWidth))"
)


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_every_view_is_readable_and_none_scrolls_sideways(browser, site, signed_in, scheme):
    """One walk a scheme; each view is looked at by axe, then at every size."""
    context, page = open_page(browser, site, signed_in, color_scheme=scheme)
    found, wide = {}, {}
    for name in views(page):
        page.evaluate(AXE)
        result = page.evaluate("() => axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa']})")
        found[name] = [
            (v["id"], n["target"], n.get("failureSummary", "")[:160]) for v in result["violations"] for n in v["nodes"]
        ]
        for width, height in (*SIZES[1:], SIZES[0]):  # the walk goes on at the first
            page.set_viewport_size({"width": width, "height": height})
            if (extra := page.evaluate(WIDER)) > 0:
                wide[name, width] = extra
    context.close()
    assert {name: bad for name, bad in found.items() if bad} == {}
    assert wide == {}


def test_the_page_has_a_nonce_and_asks_nothing_of_the_world(site: Site):
    with urllib.request.urlopen(site.address) as answer:
        policy, text = answer.headers["Content-Security-Policy"], answer.read().decode()
    nonce = text.split('name="csp-nonce" content="')[1].split('"')[0]
    assert (
        f"'nonce-{nonce}'" in policy
        and "unsafe" not in policy
        and answer.headers["Cache-Control"].find("no-store") >= 0
    )
    built = Path(ROOT / "web/dist/.vite/manifest.json")
    assert json.loads(built.read_text())["index.html"]["file"] in text
