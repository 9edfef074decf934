"""Whole repairs, typed as technicians type, each against the report that a colleague would have written; and repairs
put together by rule, against their table."""

import math
import re
import tomllib
import uuid
from pathlib import Path

import pytest

from tests.server.repairs_by_rule import repair_by_rule
from tests.server.test_dialogues import Hand
from young_spark.server.jobs.services import check_in

TOLD = tomllib.loads((Path(__file__).parent / "repairs.toml").read_text())["repair"]
PREFIX = {"p": 1e-12, "n": 1e-9, "µ": 1e-6, "m": 1e-3, "k": 1e3, "M": 1e6}
WORKED_OUT = {
    "Gain", "Efficiency", "Carrier frequency", "Return loss", "Depth, crest", "Depth, trough", "Power flatness",
    "Dissipation", "Power fade", "Time constant of the fall", "Steady power",
}  # fmt: skip


FIGURE = re.compile(r"(?:at (?:most|least) |about )?([−+-]?[\d.,]+)(?: ?([pnµmkM])?(?:Hz|W|V|A|Ω|F|dBm|dBc|dB|%|S|s))?")


def value_of(figure: str | None) -> float | str | None:
    """A figure of the report in its plain unit, or the result in words that it is."""
    if figure is None:
        return None
    found = FIGURE.match(figure)
    if found is None:
        return figure
    number = float(found[1].replace("−", "-").replace(",", ""))
    return number * PREFIX.get(found[2] or "", 1.0)


def is_meant(row: dict, wanted: list[str]) -> bool:
    name, where = wanted[:2]
    at = f"{row['where']} {row['item']}".lower()
    return row["name"] == name and all(re.search(rf"\b{re.escape(w.lower())}(?![.\d])", at) for w in where.split())


def agrees(figure: str | None, wanted: str) -> bool:
    have = value_of(figure)
    if wanted == "-":
        return figure is None
    try:
        due = float(wanted)
    except ValueError:
        return figure is not None and (wanted in figure or (wanted == "none" and "at most" in figure))
    return isinstance(have, float) and have == pytest.approx(due, rel=0.012, abs=1e-9)


@pytest.mark.parametrize("told", TOLD, ids=lambda t: t["name"])
def test_a_whole_repair_ends_in_the_report_of_a_colleague(bench, wren, told):
    job = check_in(actor=wren, job_id=uuid.uuid4(), words=told["check_in"])
    hand = Hand(bench, job.pk)
    for text in told["texts"]:
        hand.says(text)
    is_as_a_colleague_would_write(bench.get(f"/api/jobs/{job.pk}/report").json(), told)


def is_as_a_colleague_would_write(report: dict, told: dict) -> None:
    """Every figure at its place, before and after right, nothing beside, and the words that must be said."""
    rows, missing = [r for r in report["compared"] if r["name"] not in WORKED_OUT], []
    for line in told["rows"]:
        wanted = [part.strip() for part in line.split("|")]
        found = [
            r for r in rows if is_meant(r, wanted) and agrees(r["before"], wanted[2]) and agrees(r["after"], wanted[3])
        ]
        if found:
            rows.remove(found[0])
        else:
            missing.append(line)
    besides = [" | ".join((r["name"], r["where"], str(r["before"]), str(r["after"]))) for r in rows]
    assert (missing, besides) == ([], [])
    words = " ".join(s["text"] for section in report["sections"] for s in section["sentences"])
    words += " ".join(f"{p['words']} {p['cost'] or 0:.2f}" for p in report["parts"])
    assert not [w for w in told.get("says", []) if w.lower() not in words.lower()], words
    assert not [w for w in told.get("never", []) if w.lower() in words.lower()], words


BY_RULE = 40  # repairs
OF_REPAIRS = {"Power step", "Condition", *WORKED_OUT}
IN_DBM = "Sensitivity for 10 dB S+N/N"  # typed in microvolts across 50 Ω


@pytest.mark.parametrize("seed", range(BY_RULE))
def test_repairs_put_together_by_rule_end_in_their_table(bench, wren, seed):
    """No figure is missing, none stands elsewhere, none is there that nobody read."""
    repair = repair_by_rule(seed)
    job = check_in(actor=wren, job_id=uuid.uuid4(), words=f"{repair.unit}, marshal 3: weak")
    hand = Hand(bench, job.pk)
    for text in repair.texts:
        hand.says(text)
    rows = [r for r in bench.get(f"/api/jobs/{job.pk}/report").json()["compared"] if r["name"] not in OF_REPAIRS]
    missing = []
    for (name, place), both in repair.rows.items():
        there = [r for r in rows if is_meant(r, [name, place])]
        of_both = [[r for r in there if is_read(r[side], name, value)] for side, value in zip(SIDES, both, strict=True)]
        if any(value is not None and not found for value, found in zip(both, of_both, strict=True)):
            missing.append((name, place, *both))
        made_up = [r for r, side in ((r, s) for r in there for s in SIDES) if not is_known(r[side], name, both)]
        missing += [(name, place, r["before"], r["after"]) for r in made_up]
        rows = [r for r in rows if not any(r in found for found in of_both)]
    assert (missing, [(r["name"], r["where"], r["before"], r["after"]) for r in rows]) == ([], []), repair.texts


SIDES = ("before", "after")


def is_read(figure: str | None, name: str, typed: float | None) -> bool:
    if typed is None:
        return False
    due = 20 * math.log10(typed * 1e-6 / math.sqrt(50e-3)) if name == IN_DBM else typed
    have = value_of(figure)
    return isinstance(have, float) and have == pytest.approx(due, rel=0.012)


def is_known(figure: str | None, name: str, both: tuple[float | None, float | None]) -> bool:
    """Whether a side of a row is empty, or one of the two figures that were typed."""
    return figure is None or any(is_read(figure, name, typed) for typed in both)
