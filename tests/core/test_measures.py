"""Measures against sums of our own: the figure, the bounds that make its spread, and what is said with it."""

import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.core.test_entry_table import context
from young_spark.core.entry import Earlier, understand
from young_spark.core.figure import Accuracy, Conditions, Instrument, Measured


def first(text: str, line: str | None = None, **chips: object) -> Measured:
    found = understand(text, context(line, **chips))
    assert found.chosen is not None, found.question
    return found.meanings[0].readings[0]


def with_instrument(instrument: Instrument, text: str, **chips: object) -> Measured:
    where = context(None, instrument=instrument.id, **chips).model_copy(
        update={"instruments": {instrument.id: instrument}}
    )
    return understand(text, where).meanings[0].readings[0]


def own(kind: str, functions: dict[str, Accuracy], **more: object) -> Instrument:
    return Instrument(id="mine", name="My meter", kind=kind, functions=functions, typical=False, **more)


@given(st.sampled_from([5.0, 10.0, 25.0, 100.0, 1000.0]), st.floats(0.05, 1.0), st.sampled_from([0.0, 10.0, 20.0]))
def test_five_percent_of_the_element_is_the_spread_of_a_wattmeter_whatever_it_reads(element, share, pad):
    reading = round(element * share, 4)
    found = first(f"{reading}w el {element:g}" + (f" +{pad:g}db" if pad else ""))
    assert found.value == pytest.approx(reading * 10 ** (pad / 10))
    scale = 0.05 * element * 10 ** (pad / 10)
    if not pad:
        assert found.uncertainty == pytest.approx(0.95 * scale)
    else:  # the pad's typical 0.2 dB joins, and the sum of both bounds is never passed
        most = (reading + 0.05 * element) * 10 ** ((pad + 0.2) / 10) - found.value
        assert 0.95 * scale <= found.uncertainty <= most


def test_an_own_accuracy_and_detector_stand_for_the_class_ones():
    mine = own("wattmeter", {"power": Accuracy(percent_of_full_scale=2)}, detector="peak")
    found = with_instrument(mine, "4w el 5")
    assert found.uncertainty == pytest.approx(0.95 * 0.1) and not any("typical" in r for r in found.remarks)
    assert with_instrument(mine, "swing 4 -> 9w").value == pytest.approx(50)
    late = mine.model_copy(update={"overdue": True})
    assert "My meter: calibration overdue" in with_instrument(late, "4w el 5").remarks


def test_a_test_set_has_no_elements_and_is_asked_for_none():
    found = first("4.0w", instrument="test_set")
    assert found.uncertainty == pytest.approx(0.95 * 0.32, rel=0.05) and not any("element" in r for r in found.remarks)


def test_an_instrument_without_a_known_accuracy_gives_a_figure_and_no_verdict():
    found = understand("efficiency 52%", context()).meanings[0].readings[0]
    assert found.uncertainty is None and any("no accuracy is known" in r for r in found.remarks)


@pytest.mark.parametrize(
    ("text", "chips", "remark"),
    [
        ("1.2w el 25", {}, "a 2.5 W element would read this in its upper two thirds"),
        ("3.8w", {}, "element not stated: 5 W assumed"),
        ("3.8w +20db", {}, "path loss as marked, typical bound"),
        ("mod 2/0/1", {}, "trough reaches zero: overmodulated"),
        ("trough 100%", {}, "trough reaches zero: overmodulated"),
        ("mod 2.1/0.15", {}, "symmetrical envelope assumed"),
        ("swr 50/0.01", {}, "directivity"),
        ("h2 -62", {}, "path not corrected at the harmonic"),
        ("h2 <-74", {}, "at most, not a number"),
        ("beat 27.184/1000 usb", {}, "else it is an image"),
        ("none", {}, "nothing seen: a bound, not a figure"),
    ],
)
def test_what_must_be_known_is_said_with_the_figure(text, chips, remark):
    line = "carrier_power" if text == "none" else None
    assert any(remark in r for r in first(text, line, **chips).remarks)


@pytest.mark.parametrize(
    ("text", "chips", "reason"),
    [
        ("6w el 5", {}, "beyond the 5 W element's scale"),
        ("own 4w", {}, "indication only"),
        ("27.185M", {"modulation": "on"}, "modulated carrier"),
    ],
)
def test_a_figure_taken_wrongly_is_kept_and_not_judged(text, chips, reason):
    found = first(text, **chips)
    assert found.value is not None and reason in found.not_judged


@given(st.floats(0.01, 0.95), st.floats(1, 500))
def test_swr_and_return_loss_agree_with_the_reflection_of_a_simulated_load(rho, forward):
    text = f"swr {forward:.6f}/{forward * rho**2:.9f}"
    assume("e" not in text)
    readings = {r.quantity: r for r in understand(text, context()).meanings[0].readings}
    assert readings["swr"].value == pytest.approx((1 + rho) / (1 - rho), rel=1e-3)
    assert readings["forward_power"].value == pytest.approx(forward, rel=1e-6)
    loss = readings["return_loss"]
    leak = 10 ** (-25 / 20)
    if loss.bound is None:
        assert rho > leak * 0.99
        assert loss.value == pytest.approx(-20 * math.log10(rho), rel=1e-3)
        assert loss.uncertainty < 40
    else:  # a better aerial than the coupler and its scale can tell: only "at least"
        assert loss.bound == "lower" and loss.value <= -20 * math.log10(rho + leak) + 0.05
        assert rho < leak * 2 or forward * rho**2 < 1, "the doubt of a scale's small figures adds to the coupler's"


def test_a_good_aerial_is_not_told_better_than_the_directivity_allows():
    """1.10 through 30 dB lies between 1.03 and 1.17; the powers themselves are made sharp here."""
    sharp = own("wattmeter", {"power": Accuracy(percent_of_reading=1e-6)}, directivity_db=30)
    rho = 0.1 / 2.1
    found = with_instrument(sharp, f"swr 100/{100 * rho**2:.9f}")
    assert found.interval == pytest.approx((1.03, 1.17), abs=0.005)


@given(st.floats(0.2, 1.1), st.floats(0.2, 1.0))
def test_depths_of_an_unequal_envelope(up, down):
    text = f"mod {1 + up:.6f}/{max(1 - down, 0):.6f}/1"
    readings = {r.quantity: r.value for r in understand(text, context()).meanings[0].readings}
    assert readings["am_depth_positive"] == pytest.approx(100 * up, abs=1e-3)
    assert readings["am_depth_negative"] == pytest.approx(100 * down, abs=1e-3)
    assert readings["am_depth"] == pytest.approx(50 * (up + down), abs=1e-3)


@given(st.floats(-2000, 2000), st.integers(1, 40))
def test_counter_and_beat_give_the_same_error(error, channel):
    where = context(channel=channel)
    assigned = where.assigned_hz()
    counted = understand(f"{(assigned + error) / 1e6:.7f}M", where).meanings[0].readings[0]
    dial = assigned / 1e6 - 0.003
    tone = assigned + error - dial * 1e6
    beaten = understand(f"beat {dial:.6f}/{tone:.2f} usb", where).meanings[0].readings[0]
    assert counted.value == pytest.approx(error, abs=0.06)
    assert beaten.value == pytest.approx(error, abs=0.6)
    assert beaten.uncertainty > counted.uncertainty  # a dial knows less than a counter


@given(st.floats(1, 50), st.floats(1.2, 2.0))
def test_pep_from_the_scope_is_the_square_of_the_heights_and_carries_the_carriers_doubt(carrier, ratio):
    known = Earlier(
        quantity="carrier_power",
        value=carrier,
        uncertainty=0.05 * carrier,
        conditions=Conditions(),
        phase="as_received",
    )
    where = context().model_copy(update={"earlier": (known,)})
    found = understand(f"pep {3 * ratio:.5f}/3", where).meanings[0].readings[0]
    assert found.value == pytest.approx(carrier * ratio**2, rel=1e-4)
    assert found.uncertainty > 0.05 * found.value


@pytest.mark.parametrize(("detector", "pep"), [("peak", 50), ("true_mean", 100), ("average_envelope", 123.37)])
def test_two_tones_on_each_detector(detector, pep):
    assert first("2tone 50w el 100", detector=detector).value == pytest.approx(pep, rel=1e-4)
    assert first("2tone 50w").value is None


def test_none_is_at_most_the_floor_of_what_is_fitted_and_corrected_by_the_path():
    assert first("none", "carrier_power", element_w=10.0).value == pytest.approx(0.2)
    assert first("none", "carrier_power", element_w=10.0, pad_db=20.0).value == pytest.approx(20)
    found = first("none", "supply_current")
    assert (found.bound, found.value) == ("upper", 0.001)


def test_weak_is_a_reading_without_a_figure():
    found = first("weak", "carrier_power")
    assert (found.value, found.reason) == (None, "not_measured")
