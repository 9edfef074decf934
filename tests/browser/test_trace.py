"""A whole trace by keyboard against the simulated unit: from the complaint to the part, the repair, and what it
makes stale."""

import re

import pytest
from playwright.sync_api import expect

from tests.bench.probing import seen_at
from tests.browser.conftest import beside, check_in, take
from tests.server.conftest import picture_bytes
from young_spark.bench.simulator.insides import opened
from young_spark.core.trace import shipped_chain

pytestmark = [pytest.mark.browser, pytest.mark.long]
GONE = "driver_open"


@pytest.fixture
def unit(site):
    """The simulated mobile with its driver gone; whole again afterwards."""
    site.hands(keyed=False, kind="mobile", fault="healthy", inside=GONE)
    yield site.hands
    site.hands(keyed=False, inside="whole")


def test_from_the_complaint_to_the_repair_with_the_keyboard(page, unit):
    circuit, chain = opened("cb-am-mobile", (GONE,), hot=False), shipped_chain("cb-am-mobile")
    check_in(page, "Tarnbeck M27, trace: no output")
    page.get_by_role("group", name="Parts of the job").get_by_role("button", name="Find").click()
    beside(page, "Where next")
    card = page.get_by_role("region", name="Where next")
    card.get_by_label("Symptom").fill("no output")
    card.get_by_label("Symptom").press("Enter")
    expect(card.locator("[data-probe]")).to_be_visible()
    assert unit(keyed=True)["out"]["carrier_w"] < 0.02
    take(page, "none")
    unit(keyed=False)
    page.keyboard.press("F4")
    expect(page.get_by_role("list", name="As the signal goes").get_by_role("listitem").first).to_be_visible()
    # what was read takes the place of what the complaint said of the same look; only then is it the one to doubt
    expect(page.locator(".seen")).to_contain_text("none (under 20 mW)")
    page.get_by_role("button", name="doubt it: Power into the load: none").click()
    expect(page.locator(".seen")).to_contain_text("doubted here: counts no more")
    page.get_by_role("button", name="count it again: Power into the load").click()
    expect(page.locator(".seen")).not_to_contain_text("doubted here")
    looked = 0
    while page.locator(".settled").count() == 0 and looked < 14:
        probe = chain.by_probe[page.locator("[data-probe]").first.get_attribute("data-probe")]
        seen = page.locator(".seen li").count()
        page.keyboard.press(str(1 + probe.answers.index(seen_at(circuit, probe.id))))
        expect(page.locator(".seen li")).to_have_count(seen + 1)
        looked += 1
    expect(page.get_by_role("heading", name="It is the driver")).to_be_visible()
    page.get_by_role("link", name=re.compile("back to the slip")).click()
    expect(page.locator("[data-line=found]")).to_have_count(looked)
    take(page, "did Q9 driver -> same type, driver, bad, 1.50, 25 min")
    unit(inside="whole")
    assert unit(keyed=True)["points"]["driver"] != "0 mW"
    unit(keyed=False)
    page.keyboard.press("F4")
    expect(page.locator(".seen")).to_contain_text("counts no more: a repair came after it")
    # it transmits again: the trace is closed with the cause that was proven
    page.get_by_role("group", name="Changed since, look again").get_by_role("button", name="Power into the load").press(
        "Enter"
    )
    expect(page.locator("[data-probe=output]")).to_be_visible()
    page.keyboard.press("1")
    expect(page.locator(".seen")).to_contain_text("Power into the load: good")
    page.get_by_role("button", name="Close it, no cause proven").click()
    expect(page.get_by_text("Closed.")).to_be_visible()


def test_a_closed_job_is_practised_to_its_cause(page):
    page.goto("/practice")
    page.get_by_role("group", name="Exercises").get_by_role("link", name="hardly gets out").click()
    for n in range(5):
        choices = page.get_by_role("list", name="Where would you look now?")
        choices.get_by_role("button").first.click()
        answers = page.get_by_role("group", name="What will it show?").get_by_role("button")
        answers.first.click()
        expect(page.get_by_role("status").filter(has_text=", which ")).to_be_visible()
        page.keyboard.press("Enter")
        expect(page.get_by_role("list", name="What was seen").get_by_role("listitem")).to_have_count(n + 1)
    expect(page.get_by_role("heading", name="It was: collector choke of the driver loose")).to_be_visible()
    expect(page.get_by_text("foretold 1 answers of 5")).to_be_visible()


def begin_trace(page, words, symptom="no output"):
    check_in(page, words)
    beside(page, "Where next")
    card = page.get_by_role("region", name="Where next")
    card.get_by_label("Symptom").fill(symptom)
    card.get_by_label("Symptom").press("Enter")
    card.locator("[data-probe]").wait_for()
    return card


def elsewhere(page, what):
    page.get_by_label("I probed elsewhere").select_option(label=what)
    page.locator(".probe h3").click()  # the keys answer the card, not the list


def test_a_board_is_pinned_by_hand_and_by_keys_and_the_card_shows_the_place(page, tmp_path):
    begin_trace(page, "Beckside 12, board: no output")
    file = tmp_path / "driver.jpg"
    file.write_bytes(picture_bytes())
    page.locator("input[type=file]").first.set_input_files(file)
    expect(page.locator("[data-line=picture]")).to_be_visible()
    page.get_by_role("link", name="Fill the screen").click()
    page.get_by_role("list", name="As the signal goes").wait_for()
    board = page.get_by_role("region", name="Board")
    board.get_by_label("Use a picture as board").select_option(index=1)
    elsewhere(page, "RF at the base of the final")
    board.get_by_role("button", name="pin “RF at the base of the final”").click()
    area = board.locator(".board")
    box = area.bounding_box()
    page.mouse.click(box["x"] + 0.25 * box["width"], box["y"] + 0.5 * box["height"])
    pin = board.locator(".pin.next")
    expect(pin).to_have_attribute("style", re.compile("left: 25"))
    expect(page.get_by_role("img", name="RF at the base of the final on the component side")).to_be_visible()
    pin.focus()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    expect(pin).to_have_attribute("style", re.compile("left: 2[78]"))
    board.get_by_label("Name of the pin").fill("base of Q9")
    board.get_by_label("Name of the pin").press("Tab")
    expect(page.get_by_role("img", name="base of Q9 on the component side")).to_be_visible()
    board.get_by_role("button", name="it is the solder side").click()
    expect(page.get_by_role("img", name="base of Q9 on the solder side")).to_be_visible()
    page.reload()
    elsewhere(page, "RF at the base of the final")
    expect(page.get_by_role("img", name="base of Q9 on the solder side")).to_be_visible()


def test_a_lethal_point_is_confirmed_by_name_and_what_is_foretold_is_held_against_the_answer(page):
    begin_trace(page, "Hollin Linear 400, hazard: no output")
    page.get_by_role("link", name="Fill the screen").click()
    page.get_by_role("list", name="As the signal goes").wait_for()
    elsewhere(page, "High tension by a rated probe")
    answers = page.get_by_role("group", name="What did it show?")
    expect(page.get_by_text("A safe probe still tells something")).to_be_visible()
    expect(answers).to_have_count(0)
    page.keyboard.press("1")  # not before the hazard is confirmed
    page.get_by_role("button", name="High voltage that kills is here.").click()
    expect(page.locator(".seen li")).to_have_count(1)  # the complaint, and no look
    answers.get_by_role("button", name="good").click()
    expect(page.locator(".seen")).to_contain_text("High tension by a rated probe: good")
    page.get_by_role("button", name="other …").click()
    page.get_by_label("What was seen instead").fill("wanders")
    page.keyboard.press("Enter")
    expect(page.locator(".seen")).to_contain_text(": wanders")
    page.get_by_role("button", name="foretell first").click()
    what = page.locator(".probe h3").inner_text()
    expect(page.get_by_text("healthy:")).to_have_count(0)
    page.get_by_role("group", name="What will it show?").get_by_role("button").nth(1).click()
    answers.get_by_role("button").first.click()
    expect(page.get_by_role("status").filter(has_text="Foretold")).to_contain_text(", and it was ")
    expect(page.locator(".seen")).to_contain_text(what)
    page.get_by_role("button", name="foretell first").click()


def test_a_hidden_fault_is_looked_for_by_keyboard_and_ends_with_both_prices(page):
    page.goto("/practice")
    hidden = page.get_by_role("region", name="A hidden fault")
    hidden.get_by_label("In which set").select_option("cb-am-mobile")
    hidden.get_by_role("button", name="Hide one often met").focus()
    page.keyboard.press("Enter")
    told = hidden.get_by_role("list", name="At check-in")
    expect(told.get_by_role("listitem").first).to_be_visible()

    hidden.get_by_label("Where would you look now?").focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(hidden.get_by_role("list", name="Looked at").get_by_role("listitem")).to_have_count(1)
    before = hidden.get_by_text("So far").inner_text()
    hidden.get_by_role("button", name="A hint, 3 min").click()
    expect(hidden.get_by_text("with 1 hint")).to_be_visible()
    assert hidden.get_by_text("So far").inner_text() != before

    page.reload()  # it hides where it hid
    expect(hidden.get_by_role("list", name="Looked at").get_by_role("listitem")).to_have_count(1)
    hidden.get_by_label("It sits in").select_option(index=1)
    hidden.get_by_role("button", name="Say so").click()
    expect(hidden.get_by_role("heading", name=re.compile("^(Yes|No): "))).to_be_visible()
    expect(hidden.get_by_role("status")).to_contain_text("this program pays")
