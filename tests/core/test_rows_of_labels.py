"""Rows of figures, each with its own label: whatever order, separator and unit a hand leaves out, a row that is taken
has every figure at its own label, and at no other. Texts are drawn, not chosen."""

from collections.abc import Mapping
from dataclasses import dataclass

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import understand
from young_spark.core.figure import Conditions

PROFILE = settings(max_examples=60, deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow])


@dataclass(frozen=True)
class Row:
    """What a row may be of: a kind of gear and its line, the unit, the labels with what each sets, sizes of figures."""

    kind: str
    line: str
    quantity: str
    unit: str
    labels: Mapping[str, tuple[str, object]]
    least: float
    most: float
    decimals: int = 1


WATTS_BY_CHANNEL = Row(
    "cb-am-mobile", "power-am-1", "carrier_power", "w", {f"ch{n}": ("channel", n) for n in (1, 9, 20, 40)}, 2.1, 4.4
)
WATTS_BY_MODE = Row(
    "cb-am-fm-mobile", "power-am-19", "carrier_power", "w", {"am": ("mode", "am"), "fm": ("mode", "fm")}, 2.1, 4.4
)
AMPS_BY_SETTING = Row(
    "vhf-uhf-fm-mobile", "current-transmit", "supply_current", "a",
    {"hi": ("power_setting", "high"), "mid": ("power_setting", "mid"), "lo": ("power_setting", "low")}, 1.1, 9.9,
)  # fmt: skip
WATTS_BY_BAND = Row(
    "hf-solid-state", "power-14m2", "carrier_power", "w",
    {"3.7": ("frequency_hz", 3.7e6), "7.1": ("frequency_hz", 7.1e6), "14.2": ("frequency_hz", 14.2e6),
     "21.2": ("frequency_hz", 21.2e6)}, 61, 119, 0,
)  # fmt: skip
MICROVOLTS_BY_BAND = Row(
    "hf-solid-state", "harmonic-2-14m2", "sensitivity_10db_sn", "uv",
    {"3.7": ("frequency_hz", 3.7e6), "7.1": ("frequency_hz", 7.1e6), "14.2": ("frequency_hz", 14.2e6)}, 0.12, 0.9, 2,
)  # fmt: skip
VOLTS_BY_ELECTRODE = Row(
    "cb-am-mobile", "power-am-1", "dc_voltage", "v",
    {f"q7 {short}": ("place", f"Q7 {name}") for short, name in (("b", "base"), ("c", "collector"), ("e", "emitter"))},
    0.3, 13.4,
)  # fmt: skip
AMPS_BY_STATE = Row(
    "cb-am-fm-mobile", "current-transmit", "supply_current", "a",
    {"tx": ("state", "transmit"), "rx": ("state", "receive"), "standby": ("state", "standby")}, 0.21, 0.55, 2,
)  # fmt: skip
ROWS = [
    WATTS_BY_CHANNEL, WATTS_BY_MODE, AMPS_BY_SETTING, WATTS_BY_BAND, MICROVOLTS_BY_BAND, VOLTS_BY_ELECTRODE,
    AMPS_BY_STATE,
]  # fmt: skip


def _drawn(data: st.DataObject, row: Row) -> tuple[list[tuple[str, float]], str]:
    """Labels with their figures, and the text that a hand makes of them."""
    labels = data.draw(st.lists(st.sampled_from(sorted(row.labels)), min_size=2, max_size=4, unique=True))
    figures = data.draw(
        st.lists(
            st.floats(row.least, row.most).map(lambda x: round(x, row.decimals)),
            min_size=len(labels), max_size=len(labels), unique=True,
        )
    )  # fmt: skip
    leads, between = data.draw(st.booleans()), data.draw(st.sampled_from([" ", ", "]))
    every = data.draw(st.booleans())  # each figure with its unit, or the first only
    front, rest = data.draw(st.sampled_from([("", ""), ("rx ", " 10db") if row.unit == "uv" else ("", "")]))
    typed = [f"{x:g}{row.unit if every or n == 0 else ''}" for n, x in enumerate(figures)]
    parts = [f"{a} {x}" if leads else f"{x} {a}" for a, x in zip(labels, typed, strict=True)]
    return list(zip(labels, figures, strict=True)), f"{front}{between.join(parts)}{rest}"


def _figure(quantity: str, value: float | None) -> float | None:
    """As it was typed: microvolts of a level in dBm into 50 Ω."""
    if value is None or not quantity.startswith("sensitivity_"):
        return value
    return float(10 ** ((value + 106.9897) / 20))


@pytest.mark.parametrize("row", ROWS, ids=lambda row: f"{row.quantity} {next(iter(row.labels))}")
@PROFILE
@given(st.data())
def test_a_row_that_is_taken_has_each_figure_at_its_own_label(row, data):
    pairs, text = _drawn(data, row)
    meant = understand(text, ground_of_kind(row.kind, row.line))
    if meant.chosen is None:
        return  # it was asked: nothing is filed
    meaning = meant.meanings[meant.chosen]
    read = [(r, meaning.conditions_of(n)) for n, r in enumerate(meaning.readings) if r.method != "worked out"]
    assert {r.quantity for r, _ in read} == {row.quantity}, text
    found = [(_key(conditions, row), _figure(r.quantity, r.value)) for r, conditions in read]
    told = [(row.labels[label][1], x) for label, x in pairs]
    assert [at for at, _ in found] == [at for at, _ in told], text
    assert [x for _, x in found] == pytest.approx([x for _, x in told], rel=1e-3), text


def _key(conditions: Conditions, row: Row) -> object:
    return getattr(conditions, next(iter(row.labels.values()))[0])


@pytest.mark.parametrize("row", ROWS, ids=lambda row: f"{row.quantity} {next(iter(row.labels))}")
def test_a_row_with_every_unit_is_taken(row):
    labels = list(row.labels)[:2]
    text = ", ".join(f"{label} {row.most - n * 0.1:g}{row.unit}" for n, label in enumerate(labels))
    assert understand(text, ground_of_kind(row.kind, row.line)).chosen is not None, text
