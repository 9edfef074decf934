"""The first minute on the bench: a figure, its sum, its word; typed text outlives reloads and a stopped server."""

import re
import signal

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import Site, check_in, field, open_page, take
from tests.prepared import demo_workshop

pytestmark = pytest.mark.browser


def test_the_first_figure_gives_its_sum_its_spread_and_what_was_missed(page):
    page.goto("/")
    expect(field(page)).to_be_focused()
    page.keyboard.type("-6dbm +20db +20db")
    understood = page.get_by_test_id("understood")
    expect(understood).to_contain_text("2.5 W")
    expect(understood).to_contain_text("−6 dBm + 40 dB path = +34 dBm = 2.51 W")
    page.keyboard.press("Control+A")
    page.keyboard.type("4w el 1000")
    expect(page.locator("[data-guard=lowest_tenth]")).to_contain_text("A 5 W element would do")
    page.keyboard.press("Enter")
    line = page.locator("[data-line=reading]").last
    expect(line).to_contain_text("Carrier power")
    expect(field(page)).to_have_value("")
    page.reload()
    expect(page.locator("[data-line=reading]").last).to_contain_text("4 W ± 48")


def test_a_model_to_judge_by_gives_a_verdict_in_words_before_there_is_a_job(page):
    page.goto("/")
    page.get_by_label("judge it as").select_option(label="Tarnbeck M27")
    field(page).fill("2.6w")
    expect(page.get_by_test_id("understood").locator("[data-verdict=fail]")).to_contain_text("Outside")
    field(page).fill("3.8w el 5")
    expect(page.get_by_test_id("understood").locator("[data-verdict=pass_close]")).to_contain_text("Within, only just")


def test_an_unclear_figure_asks_and_tab_walks_through_its_senses(page):
    page.goto("/")
    field(page).fill("3.8")
    expect(page.get_by_role("status").filter(has_text="3.8: which of these?")).to_be_visible()
    page.keyboard.press("Enter")
    expect(field(page)).to_have_value("3.8")
    volts = page.get_by_role("button", name="supply voltage 3.80 V")
    while volts.get_attribute("aria-pressed") != "true":
        page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(page.locator("[data-line=reading]").last).to_contain_text("Supply voltage")


def test_a_question_is_answered_with_one_key(page):
    page.goto("/")
    field(page).fill("3.8")
    first = page.locator(".senses .chip").first
    expect(first).to_contain_text("1 carrier power 3.80 W")
    page.keyboard.press("Enter")
    page.keyboard.press("1")
    expect(page.locator("[data-line=reading]").last).to_contain_text("Carrier power")
    expect(field(page)).to_have_value("")


def test_a_place_alone_moves_the_hand_and_the_next_figure_stands_there(page):
    check_in(page, "Tarnbeck M27, places: weak")
    stood = page.locator("[data-line]").count()
    field(page).fill("q7 base")
    expect(page.locator(".reading .say")).to_have_text("Now at Q7 base")
    page.keyboard.press("Enter")
    expect(field(page)).to_have_value("")
    expect(page.locator("[data-line]")).to_have_count(stood)
    expect(page.locator(".chips").get_by_role("button", name="Q7 base")).to_be_visible()
    take(page, "0.68v")
    expect(page.locator("[data-line=reading]").last).to_contain_text("Volts DC")
    expect(page.locator("[data-line=reading]").last).to_contain_text("Q7 base")


def test_backspace_takes_the_last_line_back_and_it_can_be_put_back(page):
    page.goto("/")
    take(page, "13.7v")
    page.keyboard.press("Backspace")
    line = page.locator("[data-line=reading]").last
    expect(line).to_contain_text("taken back: retaken")
    line.get_by_role("button", name="Supply voltage").click()
    line.get_by_role("button", name="Put it back").click()
    expect(line).not_to_contain_text("taken back")


def test_a_loose_line_is_pinned_to_a_job(page):
    check_in(page, "Tarnbeck M27, pinning: weak")
    page.goto("/")
    take(page, "swr 3.8/0.2")
    line = page.locator("[data-line=reading]").last
    line.get_by_role("button", name="SWR").click()
    line.get_by_role("button", name="Pin to a job").click()
    page.get_by_role("menuitem", name="Tarnbeck M27, pinning").click()
    expect(page.get_by_role("menuitem")).to_have_count(0)
    page.get_by_role("link", name="pinning").first.click()
    expect(page.locator("[data-line=reading]").filter(has_text="SWR")).to_have_count(1)


def test_sums_show_their_working_and_a_table_its_row_and_both_go_into_the_field(page):
    page.goto("/")
    expect(field(page)).to_be_focused()
    page.keyboard.press("=")
    sheet = page.get_by_role("dialog", name="Look up")
    sheet.get_by_role("button", name="A reading behind pads and couplers").click()
    sheet.get_by_label("Reading, dBm").fill("-4,5")
    expect(sheet).to_contain_text("−4.5 dBm + 20 + 20 + 0 dB = 35.5 dBm")
    sheet.get_by_role("button", name="Into the field").last.click()
    expect(field(page)).to_have_value("3.548w")
    sheet.wait_for(state="hidden")
    page.keyboard.press("Escape")
    page.keyboard.press("=")
    page.keyboard.type("ch 19 harm")
    expect(sheet.get_by_role("row", name="54.37 MHz")).to_be_visible()
    page.keyboard.press("Enter")
    expect(field(page)).to_have_value("h2 ")
    sheet.wait_for(state="hidden")
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()


def test_single_keys_find_a_job(page):
    page.goto("/")
    expect(field(page)).to_be_focused()
    page.keyboard.press("/")
    page.keyboard.type("dairy")
    status = page.get_by_role("status")
    expect(status).to_have_text("1 job with “dairy”")
    held = []
    page.route(re.compile(r"/api/shelf\?find=dairyx"), lambda route: held.append(route))
    page.keyboard.type("x")
    expect(page).to_have_url(re.compile("dairyx$"))
    expect(status).to_have_text("1 job with “dairy”")  # nobody has counted the others yet
    for route in held:
        route.continue_()
    expect(status).to_have_text("0 jobs with “dairyx”")
    page.keyboard.press("Backspace")
    page.get_by_role("link", name="Fellgate 40F dairy co-op").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Fellgate 40F")


@pytest.fixture
def own_site(tmp_path):
    with Site(demo_workshop(tmp_path / "data")) as running:
        yield running


def test_nothing_typed_is_lost_when_the_page_reloads_or_the_server_is_killed(browser, own_site):
    context, page = open_page(browser, own_site, None)
    page.goto(own_site.entry)
    field(page).fill("27.18498M half typed")
    page.reload()
    expect(field(page)).to_have_value("27.18498M half typed")
    check_in(page, "Tarnbeck M27, marshal 40: weak")
    field(page).fill("found lead")
    slip = page.url
    own_site.stop(signal.SIGKILL)
    field(page).fill("found lead pinched under the bracket")
    page.keyboard.press("Enter")
    pending = page.locator("[data-line=pending]")
    expect(pending).to_contain_text("the server is not reached; it is sent as soon as it is back")
    field(page).fill("standby 120ma")  # the hand goes on
    own_site.start()
    expect(pending).to_have_count(0)
    expect(page.locator("[data-line=found]")).to_have_count(1)
    expect(field(page)).to_have_value("standby 120ma")
    page.goto(slip)
    expect(page.locator("[data-line=found]")).to_have_count(1)
    context.close()


def test_a_second_start_is_quick_changes_nothing_and_ctrl_c_ends_it(browser, own_site):
    context, page = open_page(browser, own_site, None)
    page.goto(own_site.entry)
    take(page, "12.9v")
    shown = page.locator("[data-line]").count()
    context.close()
    assert own_site.stop() < 3
    own_site.start()
    context, page = open_page(browser, own_site, None)
    page.goto(own_site.entry)
    expect(page.locator("[data-line]")).to_have_count(shown)
    context.close()
