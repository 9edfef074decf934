"""Files as benches really make them: right, or honestly silent, and never sure and wrong."""

import dataclasses

import numpy as np
import pytest

from tests.core.real_files import FILES, NONE, Bound, RealFile
from tests.core.records_by_rule import Made
from tests.core.traces_by_rule import trace
from young_spark.core.analysis import Options, analyse
from young_spark.core.captures import read
from young_spark.core.ground import CoreError

pytestmark = pytest.mark.long

KNOWN = {field.name for field in dataclasses.fields(Options)}
FAR = 2.0  # half-widths of 95 %: a figure further off than that was sure and wrong
ROUNDING = 0.02  # of a bound
RECORDS = 150
TOLD = 2.7  # figures of each
TRACES, TOLD_OF_A_TRACE = 240, 1.6


def went(file: RealFile, folder) -> tuple[str, str]:
    """How a file went: right, missed, unsaid, or wrong; and why."""
    options = Options(**{k: v for k, v in file.options.items() if k in KNOWN})
    try:
        path = file.write(folder, np.random.default_rng(1))
        analysis = analyse(read(path, envelope=bool(file.options.get("envelope"))), options)
    except CoreError as refusal:
        return ("missed" if file.wanted else "right"), str(refusal)
    got = {r.quantity: r for r in reversed(analysis.readings)}
    wrong = [f"{q}: {got[q].value} ± {got[q].uncertainty}, is {t}" for q, t in file.truth.items()
             if q in got and not holds(got[q], t)]  # fmt: skip
    if wrong:
        return "wrong", "; ".join(wrong)
    missing = [q for q in file.wanted if q not in got or got[q].value is None]
    if missing:
        return "missed", ", ".join(missing)
    remarks = [*analysis.remarks, *(remark for r in analysis.readings for remark in r.remarks)]
    unsaid = file.remark and not any(file.remark.lower() in remark.lower() for remark in remarks)
    return ("unsaid" if unsaid else "right"), f"nothing says '{file.remark}'" if unsaid else ""


def holds(reading, truth) -> bool:
    if reading.value is None:
        return True
    if truth == NONE:
        return reading.bound is not None
    value = truth.value if isinstance(truth, Bound) else truth
    if reading.bound is not None:
        side = 1 if reading.bound == "upper" else -1
        return side * (reading.value - value) > -ROUNDING * abs(value)
    low, high = reading.interval or (reading.value - reading.uncertainty, reading.value + reading.uncertainty)
    room = FAR * max(high - reading.value, reading.value - low)
    return abs(value - reading.value) <= room + 1e-12 * abs(value)


def test_no_real_file_gives_a_figure_that_is_sure_and_wrong(tmp_path):
    table = []
    for n, file in enumerate(FILES):
        folder = tmp_path / str(n)
        folder.mkdir()
        table.append((*went(file, folder), file.name))
    for how, why, name in table:
        print(f"{how:7} {name}{': ' + why if why else ''}")
    assert len(table) >= 80
    assert [(name, why) for how, why, name in table if how == "wrong"] == []
    assert [(name, why) for how, why, name in table if how in {"missed", "unsaid"}] == []


def not_right(seed: int, readings, truth) -> tuple[list[tuple[object, ...]], int]:
    """What of a record's figures was sure and wrong, and how many were said."""
    got = {r.quantity: r for r in reversed(readings) if r.value is not None}
    wrong = [(seed, name, got[name].value, got[name].uncertainty, true)
             for name, true in truth.items() if name in got and not holds(got[name], true)]  # fmt: skip
    return wrong, len(got.keys() & truth.keys())


def test_records_put_together_by_rule_are_right_or_silent():
    made = [(seed, Made(seed)) for seed in range(RECORDS)]
    found = [not_right(seed, analyse(m.capture, m.options).readings, m.truth) for seed, m in made]
    assert [wrong for each, _ in found for wrong in each] == []
    assert sum(said for _, said in found) > TOLD * RECORDS  # silence would be right, and worth nothing


def test_traces_put_together_by_rule_are_right_or_silent():
    made = [(seed, trace(seed)) for seed in range(TRACES)]
    found = [not_right(seed, analyse(t.capture, t.options).readings, t.truth) for seed, t in made]
    assert [wrong for each, _ in found for wrong in each] == []
    assert sum(said for _, said in found) > TOLD_OF_A_TRACE * TRACES
