"""Looking up: tables worked out against closed forms worked another way, markings against their own writing, searches
against what a hand means by them, and every row as the field takes it."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_spark.core.entry import EntryContext, understand
from young_spark.core.figure import sums
from young_spark.core.gear import Model, Plug, PlugPin, models
from young_spark.core.ground import OutOfDomain, shipped
from young_spark.core.judging import channel_plans
from young_spark.core.reference import Shelf, asked, look_up, table_names, whole_table
from young_spark.core.reference.codes import letter_value, ring_value, three_figures
from young_spark.core.reference.worked import Cables

RINGS = ["black", "brown", "red", "orange", "yellow", "green", "blue", "violet", "grey", "white"]
SHELF = Shelf(
    plans=channel_plans(),
    plan="us-27mhz",
    models={
        "aske": models()["tarnbeck-m27"].model_copy(
            update={
                "maker": "Aske",
                "name": "3",
                "plugs": (Plug(name="microphone", pins=(PlugPin(pin="5", carries="key"),)),),
            }
        )
    },
    elements=(("Bench wattmeter", 10.0), ("Bench wattmeter", 100.0)),
)


def chain(*parts):
    """The ABCD matrix of parts in a row: ('series', Ω) or ('shunt', Ω)."""
    total = np.eye(2)
    for kind, ohm in parts:
        total = total @ (np.array([[1, ohm], [0, 1]]) if kind == "series" else np.array([[1, 0], [1 / ohm, 1]]))
    return total


@given(st.floats(0.1, 60))
def test_a_pad_is_matched_and_loses_what_it_says(loss):
    between, to_ground = sums.pi_pad(loss)
    arm, foot = sums.tee_pad(loss)
    for matrix in (
        chain(("shunt", to_ground), ("series", between), ("shunt", to_ground)),
        chain(("series", arm), ("shunt", foot), ("series", arm)),
    ):
        (a, b), (c, d) = matrix
        assert (a * 50 + b) / (c * 50 + d) == pytest.approx(50, rel=1e-6)
        transmitted = 2 / (a + b / 50 + c * 50 + d)
        assert -20 * np.log10(transmitted) == pytest.approx(loss, rel=1e-6)


@pytest.mark.parametrize("cable", shipped("cables", Cables)["coaxial"].cables, ids=lambda c: c.name)
def test_a_cable_loses_what_is_stated_more_above_and_in_proportion_to_its_length(cable):
    for mhz, loss in cable.loss:
        assert cable.loss_db(mhz * 1e6, 100) == pytest.approx(loss)
    of = [cable.loss_db(mhz * 1e6, 10) for mhz in np.geomspace(1, 1000, 60)]
    assert np.all(np.diff(of) > 0) and cable.loss_db(27e6, 50) == pytest.approx(5 * cable.loss_db(27e6, 10))
    # between a clad conductor whose copper is thinner than the skin, and nothing but dielectric
    assert all(1.3 < high / low < 10 for low, high in zip(of[:-20], of[20:], strict=True))
    with pytest.raises(OutOfDomain):
        cable.loss_db(2e9, 1)


def test_wires_of_the_standard():
    rows = {r.cells[0]: r.cells for r in whole_table("wires", asked("5m"), SHELF).rows}
    # ASTM B258: 10 is 2.588 mm (5.26 mm², 3.277 mΩ/m), 18 is 1.024 mm (0.823 mm², 20.95 mΩ/m)
    assert rows["AWG 10"][1:4] == ("5.3 mm²", "3.3 mΩ/m", "0.33 V")
    assert rows["AWG 18"][1:3] == ("0.82 mm²", "21 mΩ/m")
    assert rows["1.5 mm²"][4] == "15 A"


@given(st.integers(10, 99), st.integers(0, 9), st.sampled_from([("gold", "5 %"), ("brown", "1 %"), ("red", "2 %")]))
def test_rings_say_their_value(figures, power, tolerance):
    tens, ones = divmod(figures, 10)
    ohms, said = ring_value((RINGS[tens], RINGS[ones], RINGS[power], tolerance[0]))
    assert (ohms, said) == (pytest.approx(figures * 10.0**power), tolerance[1])
    five = ring_value((RINGS[tens], RINGS[ones], "black", RINGS[power], tolerance[0]))
    assert five == (pytest.approx(figures * 10.0 ** (power + 1)), tolerance[1])


@pytest.mark.parametrize(
    ("code", "farads", "tolerance"),
    [
        ("104k", 100e-9, "10 %"),
        ("472", 4.7e-9, ""),
        ("221j", 220e-12, "5 %"),
        ("100", 10e-12, ""),
        ("829d", 8.2e-12, "0.5 pF"),
        ("105", 1e-6, ""),
    ],
)
def test_three_figures_of_a_capacitor(code, farads, tolerance):
    picofarads, said = three_figures(code)
    assert (picofarads * 1e-12, said) == (pytest.approx(farads), tolerance)


def test_letters_in_the_place_of_a_point_and_what_is_no_marking():
    assert [letter_value(c) for c in ("4k7", "r47", "10m", "220r", "k", "47")] == [4700, 0.47, 10e6, 220, None, None]
    assert ring_value(("black", "red", "red")) is None and ring_value(("gold", "red", "red")) is None
    assert three_figures("14.5") is None and three_figures("1045") is None


@pytest.mark.parametrize(
    ("typed", "table", "holds"),
    [
        ("rg58 145 mhz 20m", "cables", "4 dB"),
        ("harmonics ch 19", "harmonics", "54.37 MHz"),
        ("channel 9", "us-27mhz", "27.06500 MHz"),
        ("27.185MHz", "us-27mhz", "19"),
        ("yellow violet red gold", "marking", "4.7 kΩ"),
        ("gold red violet yellow", "marking", "4.7 kΩ"),
        ("104k", "marking", "100 nF"),
        ("4k7", "marking", "4.7 kΩ"),
        ("to-220 mosfet", "packages", "drain"),
        ("to92 regulator", "packages", "output"),
        ("swr 2", "reflection", "9.5 dB"),
        ("element 8w", "elements", "10 W, Bench wattmeter"),
        ("\u221273 dBm", "levels", "50.1 µV"),
        ("mic pin 5", "plugs", "key"),
        ("fuse red", "fuses", "10 A"),
        ("awg 14", "wires", "2.1 mm²"),
        ("100w scope input", "pad-to-use", "at least 23 dB; 30 dB leaves +20 dBm"),
        ("88.5", "subtones", "88.5 Hz"),
        ("x7r", "capacitor-codes", "loses capacitance under volts"),
        ("s9", "s-meter", "50.1 µV"),
    ],
)
def test_a_search_opens_at_what_was_meant(typed, table, holds):
    name, found, _ = look_up(asked(typed), SHELF)[0]
    assert name == table and any(holds in cell for cell in found.rows[0].cells), found.rows[0].cells


@given(st.text(max_size=40))
def test_whatever_is_typed_is_an_answer_or_none(typed):
    for _, table, _ in look_up(asked(typed), SHELF):
        assert table.rows


@pytest.mark.parametrize("table", [t.id for t in table_names(SHELF)])
def test_the_field_understands_every_row(table):
    """A row is a figure, be it one that is asked of which quantity it is, a channel or a note; one that ends in a space
    waits for the figure behind it."""
    behind = {"harmonics": "-60dbc", "s-meter": "-73dbm", "plugs": "5v", "pads": "before the scope"}
    for row in whole_table(table, asked(""), SHELF).rows:
        text = row.field_text
        said = understand(text + (behind[table] if text.endswith(" ") else ""), EntryContext())
        assert said.meanings or (said.question is None and (said.story or said.sets)), text


def test_a_model_file_with_plugs_reads_back():
    assert Model.model_validate(SHELF.models["aske"].model_dump()).plugs[0].pins[0].carries == "key"
