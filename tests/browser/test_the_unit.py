"""What is known of the unit: a model said later, another item, a ceiling, a lock, a unit that came back, two at one
slip."""

import re

import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.browser.conftest import beside, check_in, field, open_page, take
from tests.browser.test_looks import first_job

pytestmark = pytest.mark.browser


def test_a_model_said_later_lays_the_plan_and_judges_from_then_on(page):
    check_in(page, "Little grey set, nobody: weak")
    page.get_by_role("button", name="Find").click()
    take(page, "2.6w")
    expect(page.locator("[data-line=reading]")).not_to_contain_text("Outside")
    beside(page, "Unit")
    page.get_by_label("Model").select_option(label="Tarnbeck M27")
    expect(page.get_by_role("list", name="Still open")).to_contain_text("Peak deviation")
    take(page, "2.6w el 5")
    expect(page.locator("[data-line=reading]").last).to_contain_text("Outside")
    beside(page, "Known")
    expect(page.get_by_text("Known of this model")).to_be_visible()


def test_a_unit_that_was_repaired_teaches_the_next_one_by_keyboard(page):
    check_in(page, "Birkrigg C40 27 MHz AM mobile, marshal 61: weak")
    for text in (
        "standby 110ma",
        "replaced c41 100u 16v, bad, 0.30",
        "ch19 3.7w",
        "> c41 dries out beside the heatsink",
    ):
        take(page, text)
    beside(page, "Unit")
    name = page.get_by_label("Keep it as")
    name.fill("Birkrigg C40")
    name.press("Enter")
    expect(page.get_by_text("kept", exact=True)).to_be_visible()
    check_in(page, "Birkrigg C40, marshal 62: weak too")
    beside(page, "Known")
    expect(page.get_by_text("C41 failed in job")).to_be_visible()
    expect(page.get_by_text("c41 dries out beside the heatsink")).to_be_visible()
    page.goto("/library?room=models")
    page.get_by_label("Find in models").fill("c40")
    page.get_by_label("Find in models").press("Tab")
    page.keyboard.press("Enter")
    sheet = page.get_by_role("article")
    expect(sheet.get_by_role("heading", name="Birkrigg C40 this shop")).to_be_visible()
    due = sheet.get_by_label("Due: Carrier power AM · channel 19 · 13.2 V")
    expect(due).to_have_value("3.7")
    due.fill("3.8")
    due.press("Enter")
    expect(
        sheet.get_by_role("link", name="marshal 62", exact=False).or_(sheet.get_by_role("link", name="C40")).first
    ).to_be_visible()
    page.reload()
    expect(sheet.get_by_label("Due: Carrier power AM · channel 19 · 13.2 V")).to_have_value("3.8")


def test_a_board_is_pinned_on_the_models_sheet_and_found_on_the_slip_of_the_next_unit(page, tmp_path):
    Image.new("RGB", (600, 400), "#244").save(tmp_path / "main board.png")
    page.goto("/library?room=kinds&of=cb-am-mobile")
    page.get_by_label("Copy it under the name").fill("Birkrigg C60")
    page.get_by_label("Copy it under the name").press("Enter")
    boards = page.get_by_role("region", name="Boards")
    boards.get_by_label("Picture of a board").set_input_files(tmp_path / "main board.png")
    expect(boards.get_by_label("What the board is")).to_have_value("main board")
    boards.get_by_role("button", name="put a pin").press("Enter")
    boards.get_by_alt_text("component side").click(position={"x": 100, "y": 80})
    boards.get_by_role("button", name="pin 1").focus()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    name = boards.get_by_label("Name of the pin")
    name.fill("TP2")
    name.press("Enter")
    boards.get_by_role("button", name="TP2").focus()
    look = "Supply at the set's own plug while keyed"
    boards.get_by_label("What is looked at there").select_option(label=look)
    expect(boards.get_by_role("listitem")).to_contain_text("12 to 14.6 V due")
    page.reload()
    expect(boards.get_by_role("listitem")).to_contain_text("TP2 Supply at the set's own plug")
    with page.expect_download() as packed:
        page.get_by_role("link", name="with its boards").click()
    packed.value.save_as(tmp_path / "c60.zip")
    page.get_by_label("A model's open file").set_input_files(tmp_path / "c60.zip")
    expect(page.get_by_role("region", name="What it would change")).to_contain_text("It is what stands here already.")
    check_in(page, "Birkrigg C60, marshal 78: dead")
    take(page, "standby 120ma")
    beside(page, "Where next")
    page.get_by_role("button", name="Trace it").press("Enter")
    page.get_by_role("link", name="Fill the screen").press("Enter")
    page.get_by_label("I probed elsewhere").select_option(label=look)
    expect(page.get_by_role("img", name="TP2 on the component side")).to_be_visible()


def test_a_limit_is_edited_row_by_row_with_the_verdict_that_would_change(page):
    check_in(page, "Tarnbeck M27, marshal 77: weak")
    page.get_by_role("group", name="Parts of the job").get_by_role("button", name="Find").press("Enter")
    take(page, "3.7w ch19 am")
    page.goto("/library?room=limits&of=sheet-tarnbeck-m27")
    page.get_by_role("button", name="Copy and edit Tarnbeck").press("Enter")
    low = page.get_by_label("Carrier: at least")
    expect(low).to_have_value("3.6")
    low.fill("9")
    low.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("low 9 is above high 4")
    low.fill("2")
    low.press("Enter")
    changes = page.get_by_role("status").filter(has_text="What would change")
    expect(changes).to_contain_text("Carrier: at least 2 W, was 3.6 W")
    expect(changes).to_contain_text("Carrier power 3.7 W would be Within")
    page.get_by_role("button", name="as text").press("Enter")
    expect(page.get_by_label("The profile's text")).to_have_value(re.compile(r"low = 2\n"))
    page.get_by_role("button", name="row by row").press("Enter")
    page.get_by_role("button", name="Judge by this from now on").press("Enter")
    expect(page.get_by_role("region", name="Tarnbeck M27, service sheet")).to_contain_text("2 W to 4 W")
    page.get_by_role("button", name="Edit this shop's copy").press("Enter")
    page.get_by_role("button", name="Back to the shipped one").press("Enter")
    expect(page.get_by_role("region", name="Tarnbeck M27, service sheet")).to_contain_text("3.6 W to 4 W")


def test_a_table_fills_itself_by_keyboard_and_begins_its_own_next_row(page):
    check_in(page, "HF 100 W base, Mara: low on 10 m")
    take(page, "80m 101w 40m 99w 20m 98w 10m 44w")
    table = page.get_by_role("region", name="Over bands")
    expect(table.get_by_role("row")).to_have_count(6)  # the plan wants 15 m too, and nobody read it
    expect(table.get_by_role("row", name="21.2 MHz")).to_contain_text("not read")
    expect(table).to_contain_text("28.5 MHz stands out by −3.5 dB: its filter, coil or switch.")
    take(page, "did k9 cleaned 10 min")
    beside(page, "Tables")
    table.get_by_role("button", name="type at 28.5 MHz").press("Enter")
    expect(field(page)).to_have_value("28.5 MHz ")
    field(page).press_sequentially("97w")
    field(page).press("Enter")
    expect(table.get_by_role("row", name="28.5 MHz")).to_contain_text("came in 44.0 W ± 2.4")
    expect(table.get_by_role("row", name="28.5 MHz")).to_contain_text("97 W")
    goes_down_its_column_by_keyboard(page, table)
    take(page, "c7 61uf of 100uf")
    take(page, "c12 46uf of 47uf")
    expect(page.get_by_role("region", name="Parts")).to_contain_text("1 of 2 below 80 % of what is marked on them.")
    page.get_by_role("link", name="Hand back").click()
    expect(page.get_by_role("region", name="Over bands")).to_contain_text("came in 44.0 W ± 2.4")


def goes_down_its_column_by_keyboard(page, table) -> None:
    """Cell after cell: the field begins each, an arrow leaves one out, Escape ends it."""
    table.get_by_role("button", name="type down Carrier power").press("Enter")
    for where, watts in (("3.7 MHz", "102w"), ("7.1 MHz", "101w")):
        expect(field(page)).to_have_value(f"{where} cw carrier power ")
        expect(table.locator("td[data-typed=true]")).to_have_count(1)
        field(page).press_sequentially(watts)
        field(page).press("Enter")
    for watts in ("102 W", "101 W"):
        expect(table).to_contain_text(watts)
    field(page).press("ArrowDown")
    expect(field(page)).not_to_have_value("14.2 MHz cw carrier power ")
    field(page).press("ArrowUp")
    expect(field(page)).to_have_value("14.2 MHz cw carrier power ")
    field(page).press("Escape")
    expect(field(page)).to_have_value("")
    expect(table.locator("td[data-typed=true]")).to_have_count(0)


def test_each_item_of_a_job_has_a_slip_of_its_own(page):
    check_in(page, "Beckside 12 base, items: hum")
    beside(page, "Unit")
    page.get_by_label("Another item of this job").fill("desk microphone")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="desk microphone").click()
    take(page, "found screen of the lead broken")
    page.get_by_role("button", name="Beckside 12 base").click()
    expect(page.locator("[data-line=found]")).to_have_count(0)
    page.get_by_role("button", name="desk microphone").click()
    expect(page.locator("[data-line=found]")).to_have_count(1)


def test_serial_owner_and_ceiling_are_kept_and_passing_the_ceiling_stops_the_hand(page):
    check_in(page, "Tarnbeck M27, costs: dead")
    beside(page, "Unit")
    for label, value in (("Serial number", "TB-COST-1"), ("Owner", "marshal 60"), ("Owner's ceiling of cost", "5")):
        page.get_by_label(label, exact=True).fill(value)
        page.get_by_label(label, exact=True).press("Tab")
    expect(page.locator(".head")).to_contain_text("serial TB-COST-1")
    take(page, "did Q17 -> same type, final, bad, 6.40, 30 min")
    expect(page.get_by_text("Over the owner's ceiling of 5: stop, and ask the owner.")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Owner", exact=True)).to_have_value("marshal 60")


def test_a_unit_that_is_not_safe_says_so_until_it_is(page):
    check_in(page, "Hollin Linear 400, lock: bang")
    take(page, "lock bleeder open")
    banner = page.get_by_role("alert").filter(has_text="Not safe to power: bleeder open")
    expect(banner).to_be_visible()
    expect(page.get_by_text("High voltage kills").first).to_be_visible()
    take(page, "unlock bleeder replaced, tested at 3 kV")
    expect(banner).to_have_count(0)


def test_a_unit_that_came_back_shows_its_watch_note_first(page):
    page.goto("/")
    page.goto(f"/job/{first_job(page, 'two days on the hill')}")
    side = page.get_by_role("complementary", name="Bench side")
    expect(side.locator("section").first).to_contain_text("It was here before: job 3")
    expect(side).to_contain_text("flex the board at L14 before anything else")
    expect(side).to_contain_text("Carrier power, AM · channel 19 · 13.2 V: left at 3.80 W ± 0.24, now 1.3 W … 2.9 W")


def test_two_at_one_slip_see_each_others_lines_and_overwrite_nothing(browser, site, signed_in, page):
    check_in(page, "Tarnbeck M27, shared: weak")
    context, other = open_page(browser, site, signed_in)
    other.goto(page.url)
    field(other).fill("half a thought of the other")
    take(page, "found lead pinched")
    expect(other.locator("[data-line=found]")).to_contain_text("lead pinched")
    expect(field(other)).to_have_value("half a thought of the other")
    take(other, "note seen here too")
    expect(page.locator("[data-line=note]")).to_contain_text("seen here too")
    context.close()


def test_a_wish_is_ticked_off_and_a_part_that_arrives_frees_the_job(page):
    check_in(page, "Tarnbeck M27, waits: weak")
    take(page, "wish keep the beep")
    page.get_by_role("checkbox", name="done").check()
    take(page, "wait Q12, due Friday")
    expect(page.locator(".head")).to_contain_text("waits for Q12, due Friday")
    page.get_by_role("checkbox", name="settled").check()
    expect(page.locator(".head")).not_to_contain_text("waits for")
    page.reload()
    expect(page.get_by_role("checkbox", name="done")).to_be_checked()


def test_a_unit_is_set_up_step_by_step_with_the_keyboard(page):
    check_in(page, "Birkrigg valve linear 800 W, marshal 71: tune it up")
    page.get_by_role("button", name="Set up").press("Enter")
    page.get_by_role("button", name="Begin: Tuning up").press("Enter")
    steps = page.get_by_role("region", name="Set up")
    expect(steps.get_by_text("No step yet")).to_be_visible()  # the filament is read before anything is keyed
    take(page, "6.3")
    now = steps.locator("[aria-current=step]")
    expect(now).to_contain_text("Bias of the valves")
    take(page, "60ma")
    take(page, "idle 105ma")
    expect(now).to_contain_text("Input network")
    for text in ("1.6", "1.4", "1.5", "1.4"):
        take(page, text)
    expect(now).to_contain_text("Plate tuning")
    for text in ("ip 520ma", "ip 440ma"):
        take(page, text)
    expect(now).to_contain_text("Still getting better: go on")
    take(page, "ip 460ma")
    expect(now).to_contain_text("You passed it: best 440 mA, back a little.")
    take(page, "ip 440ma")
    expect(now).to_contain_text("Load capacitor")
    for text in ("20m 610w", "20m 660w", "20m 640w", "20m 660w"):
        take(page, text)
    expect(now).to_contain_text("Plate tuning, on the output")
    for text in ("20m 660w", "20m 640w", "20m 668w", "20m 650w", "20m 668w"):
        take(page, text)
    expect(now).to_contain_text("Load capacitor")
    expect(now).to_contain_text("round 2")
    now.get_by_role("button", name="leave it as it is").press("Enter")
    expect(steps.get_by_role("status")).to_have_text("Through: 4 of 5 stand right, 1 left out.")
    steps.get_by_role("button", name="End it").press("Enter")
    expect(page.locator("[data-line=note]").last).to_contain_text("Tuning up ended: 4 of 5 stand right")


def test_an_exit_test_is_counted_by_one_key_each_and_says_what_it_rules_out(page):
    check_in(page, "Birkrigg AM mobile 4 W, marshal 72: cuts out")
    for text in ("ch19 3.8w", "resoldered the collector choke", "ch19 3.9w"):
        take(page, text)
    test = page.get_by_role("region", name="Exit test")
    test.get_by_role("button", name="tapped").press("Enter")
    held = test.get_by_role("button", name="It held")
    for _ in range(21):
        held.press("Enter")
    expect(test.get_by_role("status")).to_have_text("21 held")
    expect(field(page)).to_have_value("tapped 21 times ok")
    expect(page.get_by_text("would have shown")).to_be_visible()
    field(page).press("Enter")
    expect(page.locator("[data-line=found]").last).to_contain_text("tapped 21 times ok")
    test.get_by_role("button", name="it failed").press("Enter")
    field(page).press("Enter")
    expect(page.locator("[data-line=found]").last).to_contain_text("it failed at the last")
