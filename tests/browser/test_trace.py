"""A whole trace by keyboard against the simulated unit: from the complaint to the part, the repair, and what it makes stale."""

import re

import pytest
from playwright.sync_api import expect

from tests.bench.probing import seen_at
from tests.browser.conftest import check_in, take
from young_spark.bench.simulator.circuit import BUILDS, Circuit
from young_spark.core.chain_file import shipped_chain

pytestmark = pytest.mark.browser
GONE = "driver_open"


@pytest.fixture
def unit(site):
    """The simulated mobile with its driver gone; whole again afterwards."""
    site.hands(keyed=False, kind="mobile", fault="healthy", inside=GONE)
    yield site.hands
    site.hands(keyed=False, inside="whole")


def test_from_the_complaint_to_the_repair_with_the_keyboard(page, unit):
    circuit, chain = Circuit(BUILDS["cb-am-mobile"], (GONE,)), shipped_chain("cb-am-mobile")
    check_in(page, "Tarnbeck M27, trace: no output")
    page.get_by_role("group", name="Parts of the job").get_by_role("button", name="Find").click()
    card = page.get_by_role("region", name="Where next")
    card.get_by_label("Symptom").fill("no output")
    card.get_by_label("Symptom").press("Enter")
    expect(card.locator("[data-probe]")).to_be_visible()
    assert unit(keyed=True)["out"]["carrier_w"] < 0.02
    take(page, "none")
    unit(keyed=False)
    page.get_by_role("link", name="the whole chain").click()
    expect(page.get_by_role("list", name="As the signal goes").get_by_role("listitem").first).to_be_visible()
    expect(page.locator(".seen")).to_contain_text("from the slip")
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
    page.get_by_role("link", name="Where next", exact=True).click()
    expect(page.locator(".seen")).to_contain_text("counts no more: a repair came after it")
    # it transmits again: the trace is closed with the cause that was proven
    page.get_by_label("I probed elsewhere").select_option(label="Power into the load")
    page.locator(".probe h3").click()  # the number keys answer the probe that is shown, not the one advised
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
