"""How well a record's level and frequency are known: the instrument's own accuracy where it has one, in decibels."""

import math

import pytest

from young_spark.core.analysis.instrument_doubt import UNTIL_TOLD, doubts_of, said
from young_spark.core.figure import Accuracy, Instrument, default_for


def bench(typical=False, **functions):
    one = Instrument(id="one", name="Larch SA", kind="analyser", typical=typical, overdue=True, functions=functions)
    return lambda function: one if function in functions else default_for(function)


@pytest.mark.parametrize(
    ("kind", "functions", "expected"),
    [
        ("spectrum", {"level": Accuracy(db=0.6)}, {"level_uncertainty_db": 0.6}),
        ("scope", {"voltage_rf": Accuracy(percent_of_reading=2)}, {"level_uncertainty_db": 20 * math.log10(1.02)}),
        ("fade", {"power": Accuracy(percent_of_reading=2)}, {"level_uncertainty_db": 10 * math.log10(1.02)}),
        ("baseband", {"level": Accuracy(db=0.5), "frequency": Accuracy(ppm=0.2)},
         {"level_uncertainty_db": 0.5, "reference_ppm": 0.2}),
        # a share of full scale is no share of what is read, and a file does not tell the scale
        ("fade", {"power": Accuracy(percent_of_full_scale=5)}, {}),
    ],
)  # fmt: skip
def test_an_instruments_own_accuracy_is_taken(kind, functions, expected):
    doubts = doubts_of(kind, bench(**functions))
    own = {d.option: d.value for d in doubts if d.why != UNTIL_TOLD}
    assert own == pytest.approx(expected)
    assert all("the accuracy of Larch SA; Larch SA: calibration overdue" in d.why for d in doubts if d.option in own)
    assert {d.option for d in doubts} == {d.option for d in doubts_of(kind, default_for)}


def test_what_nobody_told_is_typical_and_says_so():
    assert said(doubts_of("baseband", default_for)) == (
        "taken as known to 1 dB in level and 1 ppm in frequency: typical, until it is told",
    )
    assert doubts_of("spectrum", bench(typical=True, level=Accuracy(db=0.1)))[0].why == UNTIL_TOLD
    assert doubts_of("envelope", default_for) == () == said(())
