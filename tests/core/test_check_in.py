"""The line that a unit comes in by, as hands type it."""

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


@given(st.text(max_size=80))
def test_no_word_of_a_line_is_dropped(line):
    """Words that lead (owner, with, serial number) are all that is not kept."""
    found = check_in(f"A set {line}")
    kept = " ".join(found.model_dump().values())
    missing = [w for w in line.replace(":", " ").split() if w.isalnum() and w not in kept]
    leads = "owner is belongs belonging to from for customer cust came comes with including incl plus and its"
    assert {w.lower() for w in missing} <= {*leads.split(), *["serial", "no", "number", "ser", "sn"]}
