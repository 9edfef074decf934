"""One job from check-in to hand-back with nothing but the keyboard: a fault, a repair, a proof gone stale and
measured again."""

import io

import pytest
from PIL import Image
from playwright.sync_api import Page, TimeoutError, expect

from tests.browser.conftest import check_in, field, on_the_slip, take
from tests.server.test_whole_repairs import TOLD, is_as_a_colleague_would_write

pytestmark = [pytest.mark.browser, pytest.mark.long]


FOCUSED = (
    "() => { const e = document.activeElement; return e.tagName + ' ' + "
    "(e.getAttribute('aria-label') ?? e.textContent ?? '') }"
)


def tab_to(page: Page, element: str) -> None:
    """Press Tab until an element has the focus: its tag and the beginning of its accessible name, as 'BUTTON Find'."""
    for _ in range(200):
        if page.evaluate(FOCUSED).startswith(element):
            return
        page.keyboard.press("Tab")
    raise AssertionError(f"Tab never reached {element!r}")


def stands_in(page: Page, part: str) -> None:
    """The part that the work stands in, which nobody pressed."""
    parts = page.get_by_role("group", name="Parts of the job")
    expect(parts.locator("[aria-pressed=true]")).to_contain_text(part)


def typed(page: Page, text: str) -> None:
    page.keyboard.type(text)
    page.keyboard.press("Enter")
    on_the_slip(page)


def test_a_unit_goes_from_check_in_to_a_printed_report_without_a_mouse(page):
    page.goto("/")
    tab_to(page, "INPUT What came in?")
    page.keyboard.type("Tarnbeck M27, marshal 51: nobody hears me")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Tarnbeck M27")
    expect(field(page)).to_be_focused()

    for text in ("wish keep the long lead", "found case dented", "120ma", "0.25a", "0.62a"):
        typed(page, text)
    expect(page.locator(".now")).to_contain_text("Carrier power")

    typed(page, "0.9..1.2w")
    expect(page.locator("[data-line=reading]").last).to_contain_text("900 mW … 1.2 W")
    expect(page.locator("[data-line=reading]").last.locator("[data-verdict=fail]")).to_be_visible()
    typed(page, "27.18512M")
    page.keyboard.type("turned VR3 2.6k -> 1.9k")
    expect(page.get_by_text("No fault is found yet")).to_be_visible()
    page.keyboard.press("Escape")
    typed(page, "stage Final weak base sees almost nothing")
    tab_to(page, "BUTTON Where next")
    page.keyboard.press("Enter")
    tab_to(page, "SUMMARY Mark a stage by hand")
    page.keyboard.press("Enter")
    expect(page.locator(".stages .seen-weak")).to_have_text("weak")
    tab_to(page, "BUTTON Line")
    page.keyboard.press("Enter")
    page.keyboard.press(".")

    stands_in(page, "Find")
    typed(page, "did Q9 -> same type, driver, bad, 4.60, 20 min")

    stands_in(page, "Fix")
    for text in (
        "tx 1.10a",
        "3.8w",
        "27.18509M",
        "mod 3.95/0.14/2.05",
        "3.8w",
        "3.7w",
        "dev 1.9k",
        "h2 -66 loss 20/20.4",
    ):
        typed(page, text)
    expect(page.locator(".now")).to_contain_text("Proven: hand it back.")

    typed(page, "turned VR5 final bias 60 -> 62")
    expect(page.get_by_text("To measure again")).to_be_visible()
    tab_to(page, "BUTTON Prove")  # a part that folded when the work left it is jumped to
    page.keyboard.press("Enter")
    page.keyboard.press(".")
    stale = page.locator("[data-line=reading].doubtful")
    expect(stale.first).to_contain_text("counts no more: adjustment after it")
    for text in ("tx 1.12a", "3.8w", "mod 3.95/0.14/2.05", "3.8w", "3.7w", "h2 -66 loss 20/20.4"):
        typed(page, text)
    expect(page.locator(".now")).to_contain_text("Proven: hand it back.")
    typed(page, "advice keep it off the quad bike's rack")

    page.keyboard.press("Escape")
    tab_to(page, "A Hand back")
    page.keyboard.press("Enter")
    report = page.get_by_role("article")
    expect(report).to_contain_text("You told us: “nobody hears me”.")
    expect(report).to_contain_text("Q9 replaced by same type: it was bad.")
    expect(report).to_contain_text("and none is outside a limit")
    expect(report.get_by_role("row", name="Carrier power AM · channel 19")).to_contain_text("900 mW … 1.2 W")
    tab_to(page, "BUTTON Case dented.")
    page.keyboard.press("Enter")
    page.keyboard.press("Control+A")
    page.keyboard.type("The case was dented at the rear.")
    page.keyboard.press("Enter")
    expect(report).to_contain_text("The case was dented at the rear.")
    tab_to(page, "BUTTON Hand it back")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Onto the bench again")).to_be_visible()
    for name, begins in (
        ("PDF", b"%PDF-"),
        ("One HTML file", b"<!doctype html>"),
        ("Readings as CSV", b"time,by,item"),
    ):
        with page.expect_download() as download:
            page.get_by_role("link", name=name).click()
        with open(download.value.path(), "rb") as file:
            assert file.read(15).startswith(begins)


def says(page: Page, text: str) -> None:
    """Type a text and take it; a second Enter keeps one that is asked about as it is."""
    page.keyboard.type(text)
    page.keyboard.press("Enter")
    try:
        page.wait_for_function("() => document.querySelector('input.field').value === ''", timeout=5_000)
    except TimeoutError:
        page.keyboard.press("Enter")
    on_the_slip(page)


BY_KEYBOARD = [told for told in TOLD if told["name"].split()[1] in {"AM", "valve", "UHF", "mobile"}]


@pytest.mark.parametrize("told", BY_KEYBOARD, ids=lambda t: t["name"])
def test_a_whole_repair_by_keyboard_ends_in_the_report_of_a_colleague(page, told):
    page.goto("/")
    tab_to(page, "INPUT What came in?")
    page.keyboard.type(told["check_in"])
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text(told["check_in"].split(",")[0])
    expect(field(page)).to_be_focused()
    for text in told["texts"]:
        says(page, text)
    job = page.url.rsplit("/", 1)[1]
    is_as_a_colleague_would_write(page.request.get(f"/api/jobs/{job}/report").json(), told)


def test_a_picture_stands_on_its_line_and_opens_large(page):
    check_in(page, "Tarnbeck M27, pictures: dented")
    out = io.BytesIO()
    Image.new("RGB", (800, 500), (90, 120, 80)).save(out, "JPEG")
    page.get_by_label("Picture").set_input_files(
        {"name": "dent at the rear.jpg", "mimeType": "image/jpeg", "buffer": out.getvalue()}
    )
    line = page.locator("[data-line=picture]")
    expect(line).to_contain_text("dent at the rear")
    line.get_by_role("button").last.click()
    large = page.get_by_role("dialog", name="dent at the rear")
    assert large.get_by_role("img").evaluate("image => image.decode().then(() => image.naturalWidth)") == 800
    page.keyboard.press("Escape")
    expect(large).to_be_hidden()
    page.get_by_label("Picture").set_input_files({"name": "x.jpg", "mimeType": "image/jpeg", "buffer": b"no picture"})
    expect(page.get_by_text("That is not a whole JPEG, PNG or WebP picture.")).to_be_visible()


def test_chips_hold_and_a_changed_cover_is_an_event_of_the_slip(page):
    check_in(page, "Tarnbeck M27, chips: weak")
    page.get_by_role("button", name="Prove").click()
    page.get_by_role("button", name="more", exact=True).click()
    page.get_by_role("button", name="pad", exact=True).click()
    page.get_by_role("menuitem", name="10 dB", exact=True).click()
    take(page, "tx 1.1a")
    field(page).fill("0.38w")
    expect(page.get_by_test_id("understood")).to_contain_text("380 mW at the meter + 10 dB path = 3.8 W")
    page.keyboard.press("Enter")
    expect(page.locator("[data-line=reading]")).to_have_count(2)
    page.get_by_role("button", name="covers", exact=True).click()
    page.get_by_role("menuitem", name="off").click()
    expect(page.locator("[data-line=changed]")).to_contain_text("covers off")
    expect(page.locator("[data-line=reading].doubtful")).to_contain_text("covers changed after it: off")


def test_a_line_is_replaced_with_the_old_one_struck_through(page):
    check_in(page, "Tarnbeck M27, replacing: weak")
    take(page, "1.2a")
    line = page.locator("[data-line=reading]").first
    line.get_by_role("button", name="Supply current").click()
    line.get_by_role("button", name="Replace it").click()
    expect(field(page)).to_have_value("1.2a")
    page.locator(".chip", has_text="misread").click()
    take(page, "0.12a")
    expect(line).to_contain_text("taken back: misread")
    expect(page.locator("[data-line=reading]").last).to_contain_text("120 mA")


def test_who_is_at_the_bench_changes_by_a_tap_and_a_reader_only_reads(page):
    page.context.clear_cookies(name="sessionid")  # signing out ends a session, and the other tests share one
    page.goto("/")
    page.get_by_role("button", name="Wren").click()
    expect(field(page)).to_be_visible()
    page.get_by_role("button", name="Wren").click()
    page.get_by_role("menuitem", name="Someone else at the bench").click()
    page.get_by_role("button", name="Race desk").click()
    field(page).fill("3.8w")
    expect(page.get_by_test_id("understood")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.locator("[data-line=pending]")).to_contain_text("on its way")


def test_the_far_view_holds_the_figure_and_its_word_and_the_hand_goes_on_typing(page):
    check_in(page, "Tarnbeck M27, far: weak")
    page.get_by_role("button", name="Find").click()
    expect(page.locator(".now")).to_contain_text("Carrier power")
    field(page).press("F2")
    page.keyboard.type("2.6w el 5")
    big = page.locator(".reading .big")
    expect(big).to_contain_text("2.60 W")
    assert big.bounding_box()["height"] > 160 and page.locator(".side").is_hidden()
    page.keyboard.press("Enter")
    expect(page.locator("[data-line=reading]").last).to_contain_text("Outside")
    expect(page.locator(".now")).to_contain_text("Frequency error")
    page.keyboard.press("F2")
    expect(page.locator(".side")).to_be_visible()


def test_a_foot_switch_takes_the_figure(page):
    check_in(page, "Tarnbeck M27, foot: weak")
    field(page).press("?")
    page.get_by_role("button", name="Space: take what is typed").click()
    page.keyboard.press("F9")
    expect(page.get_by_role("button", name="F9: take what is typed")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    field(page).fill("120ma")
    page.locator("h1").click()
    page.keyboard.press("F9")
    expect(page.locator("[data-line=reading]")).to_contain_text("120.0 mA")
