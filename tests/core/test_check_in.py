"""The line that a unit comes in by, as hands type it."""

import random
import re
import tomllib
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_spark.core.gear import kind_named
from young_spark.core.job import check_in

LINES = tomllib.loads((Path(__file__).parent / "corpus" / "check_in.toml").read_text())["lines"]


@pytest.mark.parametrize("line", LINES, ids=lambda line: line["text"])
def test_each_part_is_what_it_was_meant_as(line):
    found = check_in(line["text"])
    meant = {name: line.get(name, "") for name in ("unit", "owner", "complaint", "came_with", "serial")}
    assert found.model_dump() == meant


@pytest.mark.parametrize("line", [x for x in LINES if "kind" in x], ids=lambda line: line["text"])
def test_the_kind_is_read_from_the_line(line):
    assert (kind_named(check_in(line["text"]).unit) or kind_named(line["text"])) == line["kind"]


def test_a_mistyped_word_decides_as_it_was_meant_and_stays_as_it_was_typed():
    found = check_in("tueb amplifier 800W, no ouput, ownr Dale")
    assert (found.unit, found.complaint, kind_named(found.unit)) == ("tueb amplifier 800W", "no ouput", "valve-linear")
    twice = check_in("valve linear 400W, valev soft")
    assert (twice.unit, twice.complaint) == ("valve linear 400W", "valve soft")  # what was typed rightly stays so


UNITS = {
    "cb-am-mobile": ("27 MHz AM mobile", "cb radio AM only", "40 channel AM CB"),
    "cb-am-ssb-mobile": ("CB AM/SSB mobile", "27 MHz SSB base", "CB base station SSB"),
    "cb-valve-base": ("valve CB base", "tube CB base station"),
    "ten-metre-mobile": ("10m mobile", "10 m export mobile"),
    "uhf-cb": ("UHF CB 5W", "uhf cb handheld"),
    "vhf-uhf-fm-mobile": ("2m FM mobile", "dual band mobile 50W", "VHF FM mobile 25W"),
    "hf-solid-state": ("HF transceiver 100W", "160-10m transceiver", "HF rig 100 W"),
    "hf-hybrid": ("hybrid HF transceiver", "HF transceiver valve PA"),
    "valve-linear": ("valve linear", "two-valve linear 400W", "tube amplifier 800W"),
    "transistor-linear": ("transistor linear 100W", "mobile linear 100W"),
    "valve-am-transmitter": ("AM plate modulated transmitter", "valve AM tx 80m"),
    "marine-vhf": ("marine VHF 25W", "boat radio VHF"),
    "licence-free-446": ("446 handheld", "PMR446 handheld"),
}
CALLED = ("", "", "Aske M27, ", "Tarnbeck 88 FX ", "Corran TX-9, ", "Hollin 210 ")
OWNERS = ("Dale", "Mrs Ash", "the farm shop", "club station", "marshal 14", "taxi rank", "J. Brook", "Beck Farm")
LED = ("{}", "owner {}", "from {}", "for {}", "belongs to {}", "cust {}", "customer: {}", "owner: {}")
WITH = ("", "", "mic", "mic and power lead", "bracket, mic", "manual")
WRONG = (
    "no output", "dead", "weak on transmit", "blows fuses", "no tx on LSB", "arcs on tune", "off frequency",
    "only 1 watt", "was dropped", "power fades after a minute", "not heard by the repeater",
    "receives fine, no transmit", "drifts",
)  # fmt: skip


def line_by_rule(seed: int) -> tuple[str, str, dict[str, str]]:
    """A line put together of its parts in one of the ways in which hands do, the kind, and the parts."""
    one = random.Random(seed).choice
    kind = one(list(UNITS))
    unit, owner, came, wrong = one(CALLED) + one(UNITS[kind]), one(("", *OWNERS)), one(WITH), one(WRONG)
    serial = one(("", "", "04217"))
    line = unit + (one((", s/n ", " sn ", " serial ", ", serial no ")) + serial if serial else "")
    line += f", {one(LED).format(owner)}" if owner else ""
    line += f", {one(('with', 'comes with', 'came with'))} {came}" if came else ""
    line += one((": ", ", ", " - ", "; ", ". ", ", fault: ")) + wrong
    return line, kind, {"unit": unit, "owner": owner, "complaint": wrong, "came_with": came, "serial": serial}


def test_a_line_put_together_by_rule_comes_apart_again():
    wrong = []
    for seed in range(400):
        line, kind, parts = line_by_rule(seed)
        found = check_in(line)
        if found.model_dump() != parts or kind_named(found.unit) != kind:
            wrong.append((line, found, kind_named(found.unit)))
    assert not wrong, wrong


@given(st.text(max_size=80))
def test_no_word_of_a_line_is_dropped(line):
    """Words that lead (owner, with, serial number) are all that is not kept."""
    found = check_in(f"A set {line}")
    kept = " ".join(found.model_dump().values())
    glued = re.compile(r"^(?:serial|ser|s/?n)(?=\d{3})", re.IGNORECASE)  # 'SN04217'
    missing = [w for w in line.replace(":", " ").split() if w.isalnum() and glued.sub("", w) not in kept]
    leads = "owner is belongs belonging to from for customer cust came comes with including incl plus and its"
    assert {w.lower() for w in missing} <= {*leads.split(), *["serial", "no", "number", "ser", "sn"]}
