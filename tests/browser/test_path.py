"""The path in front of a person: built with taps, the red node and its cure, a hazard said by name, readings at the
socket."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import beside, check_in, field, figures, take

pytestmark = pytest.mark.browser


def nodes(page):
    return page.get_by_role("list", name="From the unit to the instruments").locator(".node")


def test_a_bench_is_built_the_red_node_cured_and_readings_go_by_it(page):
    check_in(page, "Tarnbeck M27, path: weak")
    page.get_by_role("button", name="Find").click()
    beside(page, "Path")
    page.get_by_role("button", name="Wattmeter and load").click()
    expect(page.get_by_role("heading", name="Everything stands it")).to_be_visible()
    expect(nodes(page)).to_have_count(3)
    # an analyser straight behind the wattmeter takes the place of the load, and sees far too much
    nodes(page).nth(1).click()
    page.get_by_label("The part", exact=True).get_by_role("button", name="spectrum analyser").click()
    expect(page.get_by_role("heading", name=re.compile("would see more than it stands"))).to_be_visible()
    expect(page.locator(".node[data-state=too_high]")).to_have_count(1)
    sentence = page.locator(".guarded li")
    expect(sentence).to_contain_text(
        "+42.0 dBm would reach spectrum analyser, which stands +20.0 dBm: put a 50 dB pad more before it"
    )
    # the pad that cures the input does not stand the power: it is said as well
    nodes(page).nth(1).click()
    page.get_by_label("The part", exact=True).get_by_role("button", name="power pad").click()
    expect(page.locator(".guarded li")).to_have_count(0)
    page.get_by_label("loss, dB").fill("50")
    page.get_by_label("loss, dB").press("Tab")
    expect(page.get_by_role("heading", name="Everything stands it")).to_be_visible()
    page.get_by_label("Keep this bench as").fill("Pad and analyser")
    page.get_by_label("Keep this bench as").press("Enter")
    expect(page.get_by_role("button", name="Pad and analyser")).to_be_visible()
    field(page).fill("-14dbm")
    expect(page.locator(".reading .sum")).to_contain_text("power pad 50 dB")
    take(page, "-14dbm")
    expect(figures(page, "Carrier power")).to_contain_text(re.compile(r"4\.\d+ W"))
    # the chip changes the path
    page.get_by_role("button", name=re.compile("^path:")).click()
    page.get_by_role("menuitem", name="40 dB").click()
    field(page).fill("-15dbm")
    expect(page.locator(".reading .sum")).to_contain_text("power pad 40 dB")
    expect(page.locator(".reading .sum")).not_to_contain_text("50 dB")
    field(page).fill("")


def test_no_load_stops_the_key_until_somebody_says_so_by_name(page, site):
    check_in(page, "Tarnbeck M27, no load: weak")
    take(page, "standby 120ma")  # nothing is to be keyed that was not powered yet
    page.get_by_role("button", name="Find").click()
    expect(page.locator("[data-word=KEY]")).to_be_visible()
    beside(page, "Path")
    page.get_by_role("button", name="cable", exact=True).click()
    expect(page.get_by_role("heading", name="Not yet: the line ends in nothing")).to_be_visible()
    expect(page.locator("[data-word=KEY]")).to_have_count(0)
    page.get_by_role("button", name="I know, and I say so by name").click()
    expect(page.locator(".guarded")).to_contain_text("confirmed by")
    expect(page.locator("[data-word=KEY]")).to_be_visible()
    page.get_by_role("button", name="Take the path off").click()
    expect(page.get_by_role("heading", name="What hangs on the unit?")).to_be_visible()
