"""Tables that fill themselves: which figures stand side by side, what follows from them, what stands out. Sums by
hand."""

import pytest

from young_spark.core.figure import Conditions, Verdict, format_value, quantity
from young_spark.core.gear import PlanRow
from young_spark.core.job import ReadingFact, tables


def facts(*told):
    """Readings in order: quantity, value, conditions, and the number of the line that says them."""
    made = []
    for n, (name, value, where, *more) in enumerate(told):
        line, phase, verdict, row = (*more, *(str(n), "as_left", None, None)[len(more) :])
        made.append(
            ReadingFact(
                id=str(n), line=line, order=n, quantity=name, phase=phase, plan_row=row, value=value, verdict=verdict,
                conditions=Conditions(**where), figure=format_value(value, quantity(name).unit),
            )
        )  # fmt: skip
    return made


def cells(table):
    return {row.where: [c.now if c else None for c in row.cells] for row in table.rows}


def watts(*pairs):
    return facts(*(("carrier_power", w, {"frequency_hz": mhz * 1e6, "mode": "cw"}) for mhz, w in pairs))


def test_one_figure_makes_no_table_and_two_do():
    assert tables(watts((7.1, 98))) == ()
    (table,) = tables(watts((14.2, 96), (7.1, 98)))
    assert (table.id, [c.name for c in table.columns]) == ("bands", ["Carrier power"])
    assert cells(table) == {"7.1 MHz": ["98 W"], "14.2 MHz": ["96 W"]} and [r.at for r in table.rows] == [7.1, 14.2]
    assert table.says == ("Carrier power: 96 W to 98 W, 0.1 dB apart",)


def test_a_band_that_stands_out_is_pointed_at_and_a_slope_is_not():
    (table,) = tables(watts((3.7, 101), (7.1, 99), (14.2, 98), (28.5, 44)))
    assert table.says[1] == "28.5 MHz stands out by −3.5 dB: its filter, coil or switch"  # 10 log 44/99
    assert [row.cells[0].stands_out for row in table.rows] == ["", "", "", "−3.5 dB from the others"]
    (even,) = tables(watts((3.7, 100), (7.1, 80), (14.2, 64), (28.5, 51)))
    assert len(even.says) == 1 and not any(row.cells[0].stands_out for row in even.rows)


def test_all_low_alike_is_said_where_the_plan_says_what_is_due():
    rows = tuple(PlanRow(id=f"p{n}", quantity="carrier_power", ask="key", expected=100.0) for n in range(3))
    low = facts(
        *(
            ("carrier_power", 40 + n, {"frequency_hz": (n + 1) * 7e6}, f"l{n}", "as_left", None, f"p{n}")
            for n in range(3)
        )
    )
    assert "All low alike: supply, drive or the meter" in tables(low, rows)[0].says[-1]
    assert not any("alike" in said for said in tables(watts((7, 99), (14, 98), (21, 97)), rows)[0].says)


def test_drive_and_output_of_an_amplifier_with_gain_and_efficiency():
    here = {"frequency_hz": 14.2e6}
    (table,) = tables(
        facts(
            ("drive_power", 20, here, "a"),
            ("carrier_power", 320, here, "a"),
            ("plate_current", 0.25, here, "a"),
            ("plate_voltage", 2500, {}, "a"),
            ("drive_power", 60, here, "b"),
            ("carrier_power", 800, here, "b"),
            ("plate_current", 0.6, here, "b"),
            ("plate_voltage", 2300, {}, "b"),
        )
    )  # fmt: skip
    assert (table.id, [r.where for r in table.rows]) == ("drive", ["20 W", "60 W"])
    names = [c.name for c in table.columns]
    assert names[-2:] == ["Gain", "Efficiency"] and table.columns[-1].worked_out.startswith("output over plate volts")
    gain, efficiency = names.index("Gain"), names.index("Efficiency")
    assert [row.cells[gain].value for row in table.rows] == pytest.approx([12.0412, 11.2494], abs=1e-4)
    assert [row.cells[efficiency].value for row in table.rows] == pytest.approx([51.2, 57.971], abs=1e-3)
    assert table.rows[0].begins == "20 W in " and table.rows[0].cells[gain].line == ""


def test_channels_with_power_and_frequency_before_and_after_and_the_worst_verdict():
    told = facts(
        ("carrier_power", 2.0, {"channel": 1, "mode": "am"}, "a", "as_received", Verdict.FAIL),
        ("carrier_power", 3.9, {"channel": 1, "mode": "am"}, "b", "as_left", Verdict.PASS),
        ("carrier_power", 3.8, {"channel": 40, "mode": "am"}, "c", "as_left", Verdict.FAIL_CLOSE),
        ("frequency_error", 60, {"channel": 1}, "d"), ("frequency_error", -40, {"channel": 40}, "e"),
        ("am_depth", 90, {"channel": 19, "mode": "am"}, "f"),
    )  # fmt: skip
    (table,) = tables(told)
    assert [c.name for c in table.columns] == ["Carrier power", "Frequency error"]
    first = table.rows[0].cells[0]
    assert (first.before, first.now, first.line, first.verdict) == ("2 W", "3.9 W", "b", Verdict.PASS)
    assert table.verdict is Verdict.FAIL_CLOSE and table.rows[1].begins == "ch40 "


def test_parts_against_what_is_marked_on_them_and_electrodes_of_a_part():
    caps = facts(
        ("capacitance", 61e-6, {"place": "C7", "marked": 100e-6}), ("esr", 4.2, {"place": "C7"}),
        ("capacitance", 46e-6, {"place": "C12", "marked": 47e-6}), ("esr", 0.3, {"place": "C12"}),
        ("dc_voltage", 0.65, {"place": "Q7 base"}), ("dc_voltage", 12.9, {"place": "Q7 collector"}),
        ("dc_voltage", 0.0, {"place": "Q8 base"}), ("dc_voltage", 13.1, {"place": "Q8 collector"}),
    )  # fmt: skip
    parts, electrodes = tables(caps)
    assert electrodes.title == "Electrodes: volts DC"
    assert [r.where for r in parts.rows] == ["C7", "C12"] and parts.columns[-1].name == "Of what is marked"
    assert [row.cells[-1].now for row in parts.rows] == ["61 %", "98 %"]
    assert parts.says == ("1 of 2 below 80 % of what is marked on them",)
    assert [c.name for c in electrodes.columns] == ["base", "collector"]
    assert cells(electrodes) == {"Q7": ["650 mV", "12.9 V"], "Q8": ["0 V", "13.1 V"]}


def test_what_a_repair_made_stale_is_how_it_came_in_and_nothing_is_claimed_of_now():
    told = facts(
        ("carrier_power", 2.0, {"channel": 1, "mode": "am"}, "a", "as_received", Verdict.FAIL),
        ("carrier_power", 2.1, {"channel": 40, "mode": "am"}, "b", "as_received", Verdict.FAIL),
        ("carrier_power", 3.9, {"channel": 1, "mode": "am"}, "c", "as_left", Verdict.PASS),
    )  # fmt: skip
    (table,) = tables(told, (), {"0": "a repair came after it", "1": "a repair came after it"})
    assert [(r.cells[0].before, r.cells[0].now) for r in table.rows] == [("2 W", "3.9 W"), ("2.1 W", "")]


def test_states_settings_modes_and_times_make_their_tables_and_no_figure_stands_in_two():
    told = facts(
        ("supply_current", 0.2, {"state": "receive"}), ("supply_current", 1.3, {"state": "transmit"}),
        ("carrier_power", 4.6, {"channel": 20, "power_setting": "high", "mode": "fm"}),
        ("carrier_power", 1.0, {"channel": 20, "power_setting": "low", "mode": "fm"}),
        ("carrier_power", 4.5, {"channel": 1, "power_setting": "high", "mode": "fm"}),
    )  # fmt: skip
    channels, states = tables(told)
    assert [r.where for r in states.rows] == ["receive", "transmit"]
    assert cells(channels) == {"channel 1": ["4.5 W"], "channel 20": ["4.6 W"]}
    fades = facts(*(("carrier_power", w, {"channel": 19, "after_s": s, "mode": "am"}) for s, w in ((0, 4), (60, 2.5))))
    assert [r.where for r in tables(fades)[0].rows] == ["at once", "after 60 s"]
    squelch = facts(
        ("squelch_open", -119, {"setting": "1"}), ("squelch_close", -121, {"setting": "1"}),
        ("squelch_open", -110, {"setting": "5"}), ("squelch_close", -114, {"setting": "5"}),
    )  # fmt: skip
    (table,) = tables(squelch)
    assert [row.cells[-1].now for row in table.rows] == ["2 dB", "4 dB"] and table.columns[-1].name == "Hysteresis"


def test_a_table_is_not_called_within_while_a_cell_was_not_read_as_it_is_now():
    """A repair made one band stale, which was outside: what is well elsewhere says nothing of it."""
    left = [
        ("carrier_power", 101.0, {"frequency_hz": 3.7e6, "mode": "cw"}, "a", "as_left", Verdict.PASS),
        ("carrier_power", 44.0, {"frequency_hz": 28.5e6, "mode": "cw"}, "b", "as_received", Verdict.FAIL),
    ]
    again = ("carrier_power", 99.0, {"frequency_hz": 28.5e6, "mode": "cw"}, "c", "as_left", Verdict.PASS)
    (before,), (after,) = tables(facts(*left), (), {"1": "repair"}), tables(facts(*left, again), (), {"1": "repair"})
    assert (before.verdict, after.verdict) == (None, Verdict.PASS)


def test_a_sentence_says_which_figures_of_a_column_it_is_of():
    """Two of four bands were read again: how far those lie apart says nothing of the others."""
    came_in = [
        ("carrier_power", w, {"frequency_hz": hz, "mode": "cw"}, f"a{n}", "as_received", None)
        for n, (hz, w) in enumerate(((3.7e6, 101.0), (7.1e6, 99.0), (14.2e6, 98.0), (28.5e6, 44.0)))
    ]
    again = [
        ("carrier_power", w, {"frequency_hz": hz, "mode": "cw"}, f"b{n}", "as_left", None)
        for n, (hz, w) in enumerate(((3.7e6, 102.0), (7.1e6, 101.0)))
    ]
    stale = {str(n): "repair" for n in range(len(came_in))}
    (two,), (one,) = tables(facts(*came_in, *again), (), stale), tables(facts(*came_in, again[0]), (), stale)
    assert two.says[0] == "Carrier power, the 2 of 4 that were read again: 101 W to 102 W, 0.0 dB apart"
    assert one.says[0].startswith("Carrier power, as it came in: 44 W to 99 W")
