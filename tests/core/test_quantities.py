"""How a figure is written for a person, and what the core refuses about names."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_spark.core.figure import QUANTITIES, format_figure, format_value, quantity
from young_spark.core.figure.quantities import scaled_unit
from young_spark.core.ground import UnknownName

UNITS = {"W", "dB", "s", "Hz", "%", "dBc", "1", "V", "A", "dBm", "°C", "Ω", "F", "H", "S"}


@pytest.mark.parametrize(
    ("value", "unit", "words"),
    [
        (3.8, "W", "3.8 W"), (0.25, "A", "250 mA"), (27.18498e6, "Hz", "27.18498 MHz"), (1500.0, "W", "1500 W"),
        (4e-9, "W", "4 nW"), (-20.0, "Hz", "−20 Hz"),
        (0.0, "W", "0 W"), (1360.0, "Hz", "1.36 kHz"), (470e-6, "F", "470 µF"), (2200.0, "Ω", "2.2 kΩ"),
        (1.5, "1", "1.5"), (-62.25, "dBc", "−62.25 dBc"),
        (2400.0, "V", "2400 V"), (12_500.0, "V", "12.5 kV"), (1e-15, "F", "0.001 pF"), (999.9999, "Hz", "1 kHz"),
    ],
)  # fmt: skip
def test_a_value_reads_as_the_trade_says_it(value, unit, words):
    assert format_value(value, unit) == words


@pytest.mark.parametrize(
    ("name", "value", "uncertainty", "bound", "words"),
    [
        ("carrier_power", 19.266, 1.04, None, "19.3 W ± 1.0"), ("carrier_power", 3.8, 0.2375, None, "3.80 W ± 0.24"),
        ("carrier_power", 0.02, None, "upper", "at most 20 mW"),
        ("frequency_error", -20.0, 26.9, None, "−20 Hz ± 27"),
        ("frequency_error", 1200.0, 26.9, None, "+1.200 kHz ± 0.027"),
        ("supply_current", 0.32, 0.0049, None, "320 mA ± 5"),
        ("harmonic_2", -74.0, None, "upper", "at most −74 dBc"), ("swr", 1.403, 0.5, None, "1.4 ± 0.5"),
        ("return_loss", 22.9, None, "lower", "at least 22.9 dB"),
        ("carrier_frequency", 27.18498e6, 27.0, None, "27.184980 MHz ± 27 Hz"),
        ("carrier_power", None, None, None, "no figure"), ("sinad", 21.0, 0.0, None, "21 dB"),
        ("frequency_error", -2.3e-5, 1e-3, None, "0 mHz ± 10"), ("carrier_power", 0.9, 1.4, None, "0.9 W ± 1.4"),
    ],
)  # fmt: skip
def test_the_decimals_follow_the_uncertainty(name, value, uncertainty, bound, words):
    assert format_figure(name, value, uncertainty, bound) == words


@given(st.floats(1e-14, 1e12), st.sampled_from(["W", "Hz", "A", "V", "Ω", "F", "s"]))
def test_no_figure_is_shown_with_an_exponent_and_scaling_loses_nothing(value, unit):
    factor, shown = scaled_unit(value, unit)
    assert shown.endswith(unit) and value / factor * factor == pytest.approx(value, rel=1e-12)
    assert "e" not in format_value(value, unit).split()[0]


@given(st.floats(1e-3, 1e3), st.floats(1e-3, 1e2))
def test_what_is_shown_lies_within_a_tenth_of_the_uncertainty_of_the_figure(value, uncertainty):
    shown, unit, *_ = format_figure("carrier_power", value, uncertainty).split()
    factor = {"kW": 1e3, "W": 1.0, "mW": 1e-3, "µW": 1e-6}[unit]
    assert abs(float(shown) * factor - value) <= 0.2 * uncertainty + 1e-12


def test_the_table_of_quantities_is_whole():
    assert len(QUANTITIES) >= 85 and {q.unit for q in QUANTITIES.values()} == UNITS
    assert all(f"harmonic_{n}" in QUANTITIES for n in range(2, 11))
    with pytest.raises(UnknownName, match="did you mean 'carrier_power'"):
        quantity("carier_power")
    with pytest.raises(UnknownName, match=r"no quantity is called 'zzz'$"):
        quantity("zzz")
