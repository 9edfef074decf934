"""The sums done in the head, against closed forms and worked values."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_spark.core.entry import EntryContext, understand
from young_spark.core.figure import sums
from young_spark.core.ground import OutOfDomain
from young_spark.core.measures.quick_sums import QUICK_SUMS

levels = st.floats(-120, 70)
powers = st.floats(1e-9, 1e5)


@pytest.mark.parametrize(
    ("watts", "dbm"), [(1, 30), (100, 50), (4, 36.0206), (1e-3, 0), (4e-9, -53.979), (1500, 61.7609)]
)
def test_watts_and_dbm_of_the_trade(watts, dbm):
    assert sums.dbm_from_watts(watts) == pytest.approx(dbm, abs=1e-3)
    assert sums.watts_from_dbm(dbm) == pytest.approx(watts, rel=1e-4)


def test_one_microvolt_is_minus_107_dbm_and_as_emf_six_decibels_less():
    assert sums.dbm_from_microvolts(1) == pytest.approx(-106.9897, abs=1e-4)
    assert sums.dbm_from_microvolts(1, emf=True) == pytest.approx(-113.0103, abs=1e-4)
    assert sums.microvolts_from_dbm(-73) == pytest.approx(50.06, abs=0.01)  # the usual S-meter reference


@given(levels)
def test_decibels_come_back(level):
    assert sums.dbm_from_watts(sums.watts_from_dbm(level)) == pytest.approx(level, abs=1e-9)
    assert sums.dbm_from_microvolts(sums.microvolts_from_dbm(level)) == pytest.approx(level, abs=1e-9)


@given(powers, st.floats(5, 600))
def test_scope_volts_are_the_power_of_a_sine(watts, ohms):
    """P = Vrms²/R with Vrms = Vpp/(2√2), worked the other way round."""
    vpp = math.sqrt(watts * ohms) * 2 * math.sqrt(2)
    assert sums.watts_from_peak_to_peak(vpp, ohms) == pytest.approx(watts, rel=1e-9)
    assert sums.watts_from_peak(vpp / 2, ohms) == pytest.approx(watts, rel=1e-9)


@pytest.mark.parametrize(("load", "swr"), [(75, 1.5), (25, 2.0), (150, 3.0), (60, 1.2)])
def test_swr_of_a_resistive_load_is_the_impedance_ratio(load, swr):
    rho = (load - 50) / (load + 50)  # closed form on a 50 Ω line; swr column worked by hand
    assert sums.swr_from_powers(80.0, 80.0 * rho**2) == pytest.approx(swr, rel=1e-12)


@given(st.floats(1.0, 50))
def test_swr_reflection_and_return_loss_come_back(swr):
    rho = sums.reflection_from_swr(swr)
    assert sums.swr_from_reflection(rho) == pytest.approx(swr, rel=1e-9)
    if rho > 0:
        assert sums.reflection_from_return_loss(sums.return_loss_from_reflection(rho)) == pytest.approx(rho, rel=1e-9)


def test_directivity_of_30_db_hides_an_swr_between_1_03_and_1_17():
    rho, leak = sums.reflection_from_swr(1.10), sums.reflection_from_return_loss(30)
    assert (sums.swr_from_reflection(rho - leak), sums.swr_from_reflection(rho + leak)) == pytest.approx(
        (1.03, 1.17), abs=0.005
    )


@given(st.floats(0.01, 1.0), st.floats(-0.15, 0.15), st.floats(1, 1000))
def test_each_detector_gives_back_the_depth_of_a_simulated_envelope(depth, shift, carrier):
    """Envelope (1+s)(1) + m·cos, integrated over a cycle by a sum of our own."""
    n = 720
    envelope = [(1 + shift) + depth * math.cos(2 * math.pi * k / n) for k in range(n)]
    mean_power = carrier * sum(e * e for e in envelope) / n
    assert sums.depth_from_mean_needle(carrier, mean_power, 100 * shift) == pytest.approx(100 * depth, rel=1e-6)
    assert sums.depth_from_peak_needle(carrier, carrier * max(envelope) ** 2) == pytest.approx(
        100 * (shift + depth), rel=1e-6, abs=1e-9
    )
    average_needle = carrier * (sum(envelope) / n) ** 2
    assert sums.shift_from_average_needle(carrier, average_needle) == pytest.approx(100 * shift, abs=1e-6)


def test_two_equal_tones_read_pep_half_and_0_405():
    n = 3600
    envelope = [abs(math.cos(math.pi * k / n)) for k in range(n)]  # of two equal tones, crest 1
    mean, average = sum(e * e for e in envelope) / n, (sum(envelope) / n) ** 2
    assert sums.pep_from_two_tone_needle(100 * mean, "true_mean") == pytest.approx(100, rel=1e-3)
    assert sums.pep_from_two_tone_needle(100 * average, "average_envelope") == pytest.approx(100, rel=1e-3)


def test_ppm_percent_and_hertz():
    assert sums.hz_from_ppm(50, 27.2e6) == pytest.approx(1360)  # 0.005 % at 27.2 MHz is 1.36 kHz
    assert sums.ppm_from_hz(1360, 27.2e6) == pytest.approx(50)


def test_one_sideband_six_decibels_down_is_full_depth():
    assert sums.depth_from_sideband(6.0206) == pytest.approx(100, abs=1e-3)
    assert sums.depth_from_max_min(2.1, 0.15) == pytest.approx(100 * 1.95 / 2.25)


def test_feeder_loss_hides_a_bad_aerial():
    assert sums.return_loss_at_aerial(14, 2) == 10
    with pytest.raises(OutOfDomain, match="more would be no aerial"):
        sums.return_loss_at_aerial(3, 2)


def test_a_refusal_names_the_figure_and_what_was_allowed():
    with pytest.raises(OutOfDomain, match=r"reflected power is 12 W; expected 0 to 10 W; is the sensor reversed"):
        sums.swr_from_powers(10.0, 12.0)
    with pytest.raises(OutOfDomain):
        sums.dbm_from_watts(math.nan)


@pytest.mark.parametrize("quick", QUICK_SUMS, ids=lambda q: q.id)
def test_every_quick_sum_answers_with_its_working_and_refuses_nonsense_in_words(quick):
    lines = quick.answer(*(f.start for f in quick.fields))
    assert lines and all("=" in line.working and math.isfinite(line.value) for line in lines)
    for line in lines:  # what a sum hands to the field, the field understands
        assert line.field_text is None or understand(line.field_text, EntryContext()).chosen == 0, line.field_text
    for nonsense in (0.0, -5.0, 1e300, math.nan):
        try:
            quick.answer(*(nonsense for _ in quick.fields))
        except (OutOfDomain, OverflowError, ZeroDivisionError):
            continue
