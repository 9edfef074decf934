"""A receiver that streams IQ: figures of its stretches against the simulated unit, and what it must not give."""

import math

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from young_spark.bench.iq_session import IqSession
from young_spark.bench.open_line import LineFault
from young_spark.bench.poller import Address, Heard, LineState, Poller
from young_spark.bench.simulator.iq_receiver import REFERENCE_PPM, TONE_HZ
from young_spark.core.live import StreamClock, Tuning, definitions, figures_of_stretch, reference_error_ppm, samples_of

RATE, BESIDE = 240_000, 30_000.0
CHANNEL_19 = 27.185e6


def stretch(
    *,
    off_hz,
    depth=0.0,
    deviation_hz=0.0,
    amplitude=0.3,
    noise=0.004,
    own=0.01,
    seed=1,
    seconds=0.25,
    other_hz=0.0,
    other_db=-400.0,
):
    """Bytes as a receiver 30 kHz under the carrier sends them, made here and nowhere else; another sender may stand
    `other_hz` beside where the carrier is due."""
    chance, times = np.random.default_rng(seed), np.arange(round(seconds * RATE)) / RATE
    tone = 2 * math.pi * TONE_HZ * times
    turned = 2 * math.pi * (BESIDE + off_hz) * times - deviation_hz / TONE_HZ * np.cos(tone)
    heard = amplitude * (1 + depth * np.sin(tone)) * np.exp(1j * turned)
    heard = heard + amplitude * 10 ** (other_db / 20) * np.exp(2j * math.pi * (BESIDE + other_hz) * times)
    heard = heard + noise * (chance.standard_normal(len(times)) + 1j * chance.standard_normal(len(times))) + own
    pairs = np.stack([heard.real, heard.imag], axis=1).ravel()
    return np.clip(np.round(127.5 + 127.5 * pairs), 0, 255).astype(np.uint8).tobytes()


def figures(mode=None, ppm=0.0, **of_it):
    return figures_of_stretch(
        samples_of(stretch(**of_it)), Tuning(CHANNEL_19 - BESIDE, BESIDE, RATE, ppm, mode)
    ).figures


@settings(max_examples=12, deadline=None)
@given(st.floats(-1500, 1500), st.floats(0.1, 0.95), st.sampled_from([None, "am"]), st.integers(1, 99))
@example(-1438.8930851018254, 0.95, None, 24)  # a line of its noise in the troughs
def test_depth_and_frequency_of_an_am_carrier(off, depth, mode, seed):
    found = figures(mode, off_hz=off, depth=depth, seed=seed)
    assert found["frequency"] == pytest.approx(CHANNEL_19 + off, abs=0.5)
    assert found["depth"] == pytest.approx(100 * depth, abs=0.6)
    assert found["deviation"] in {0, None}  # none, or none that can be told from its noise


def test_an_am_carrier_of_common_depths_does_not_deviate():
    for depth in (0.3, 0.6, 0.9):
        assert figures(None, off_hz=70, depth=depth, seed=3)["deviation"] == 0


@settings(max_examples=12, deadline=None)
@given(st.floats(-1500, 1500), st.floats(300, 5000), st.sampled_from([None, "fm"]), st.integers(1, 99))
def test_deviation_and_frequency_of_an_fm_carrier(off, deviation, mode, seed):
    found = figures(mode, off_hz=off, deviation_hz=deviation, seed=seed)
    assert found["frequency"] == pytest.approx(CHANNEL_19 + off, abs=0.5)
    assert found["deviation"] == pytest.approx(deviation, rel=0.01, abs=15)
    assert found["depth"] == 0


def beside(**of_it):
    return figures_of_stretch(samples_of(stretch(**of_it)), Tuning(CHANNEL_19 - BESIDE, BESIDE, RATE)).beside


def level_at(found, off_hz):
    """The strongest within two bands of an offset."""
    n = round((off_hz + found.reach_hz) / (2 * found.reach_hz) * (len(found.levels_db) - 1))
    return max(found.levels_db[n - 2 : n + 3])


@settings(max_examples=12, deadline=None)
@given(st.floats(-1500, 1500), st.floats(0.1, 0.9), st.integers(1, 99))
def test_beside_an_am_carrier_stand_its_two_sidebands_each_at_a_quarter_of_the_depth_squared(off, depth, seed):
    """A sine of depth m puts m²/4 of the carrier's power into each sideband, of the whole 1 + m²/2."""
    found = beside(off_hz=off, depth=depth, seed=seed)
    whole = 1 + depth**2 / 2
    assert found.carrier_hz == pytest.approx(CHANNEL_19 + off, abs=0.5) and len(found.levels_db) == 401
    assert level_at(found, 0) == pytest.approx(10 * math.log10(1 / whole), abs=0.4)
    for side in (-TONE_HZ, TONE_HZ):
        assert level_at(found, side) == pytest.approx(10 * math.log10(depth**2 / 4 / whole), abs=0.5)
    assert level_at(found, 7500) < -55  # noise of 0.4 % in 240 kHz, in a band of 150 Hz


def test_a_second_sender_beside_shows_and_no_carrier_shows_nothing():
    found = beside(off_hz=50, other_hz=10_050, other_db=-40)
    assert level_at(found, 10_000) == pytest.approx(-40, abs=0.5) and level_at(found, -10_000) < -55
    assert beside(off_hz=0, amplitude=0.0) is None


def test_a_bare_carrier_is_not_modulated_and_noise_is_no_carrier():
    assert figures(off_hz=70) == {"frequency": pytest.approx(CHANNEL_19 + 70, abs=0.1), "depth": 0, "deviation": 0}
    for seed in range(20):  # of itself it hears much in the middle of its band
        assert set(figures(off_hz=0, amplitude=0.0, own=0.003 * seed, seed=seed).values()) == {None}
    assert set(figures("usb", off_hz=700).values()) == {None}, "a sideband has no carrier to tell of"


@settings(max_examples=15, deadline=None)
@given(st.floats(0.0005, 0.05), st.sampled_from(["am", "fm"]), st.integers(1, 99))
@example(0.0234375, "fm", 40)  # a line of the noise was taken for hum beside the tone
def test_a_feeble_carrier_is_told_right_or_not_at_all(amplitude, kind, seed):
    of_it = {"depth": 0.6} if kind == "am" else {"deviation_hz": 2000}
    found = figures(off_hz=111, amplitude=amplitude, seed=seed, **of_it)
    assert found["frequency"] is None or found["frequency"] == pytest.approx(CHANNEL_19 + 111, abs=1)
    depth, deviation = (60, 0) if kind == "am" else (0, 2000)
    assert found["depth"] is None or found["depth"] == pytest.approx(depth, abs=1)
    assert found["deviation"] is None or found["deviation"] == pytest.approx(deviation, abs=60)


def test_a_stretch_at_the_rails_gives_no_figure():
    with pytest.raises(OverflowError):
        figures(off_hz=0, amplitude=1.4)


@given(st.floats(-80, 80), st.floats(-5, 5), st.floats(1e6, 5e8))
def test_a_reference_that_was_held_against_a_standard_reads_it_right(true_ppm, known_ppm, standard):
    """What the receiver reads of the standard, with what was known of it before, gives the whole error."""
    told = standard - BESIDE
    read = standard - told * (true_ppm - known_ppm) * 1e-6
    found = reference_error_ppm(known_ppm, standard, read)
    assert found == pytest.approx(true_ppm, abs=0.02 + abs(true_ppm - known_ppm) * (2 * BESIDE / standard + 1e-3))


@given(st.integers(-90, 90), st.lists(st.floats(0, 0.2), min_size=40, max_size=80), st.integers(20, 99))
def test_a_stream_that_is_only_late_is_whole_and_one_with_a_gap_is_not(ppm, delays, lost_at):
    """Blocks of 20 ms: some are late for a while, as a busy network makes them; one may never come."""
    clock, count, at, lost = StreamClock(RATE), 0, 0.0, lost_at < len(delays)
    for n, late in enumerate((*[0.0] * 20, *delays[20:], *[0.0] * 90)):
        if n == lost_at and lost:
            continue
        count += round(0.02 * RATE * (1 + ppm * 1e-6))
        at = max(at, n * 0.02 + (late if n % 25 < 10 else 0.0))
        clock.heard(count, at)
    # one that comes while it is late anyway may be told twice; never is none told, nor one where there was none
    assert clock.losses in ({1, 2} if lost else {0})
    assert clock.is_whole(lost_at * RATE // 50 - RATE // 10, count) is not lost
    assert clock.is_whole(count - RATE // 4, count)


class Ear:
    """A session on the simulated receiver, opened anew where it was closed."""

    def __init__(self, bench, ppm=REFERENCE_PPM):
        self.session = IqSession(f"IQ::127.0.0.1::{bench.simulated.ports['iq-receiver']}",
                                 definitions()["plain-iq-stream"], ppm)  # fmt: skip

    def hears(self, fits, most=40):
        for _ in range(most):
            try:
                if not self.session.is_open:
                    self.session.open()
                *_, values = self.session.values()
            except LineFault as fault:
                values = {"fault": fault.sentence}
            if fits(values):
                return values
        raise AssertionError(values)


@pytest.mark.long
def test_it_hears_what_the_unit_sends_and_its_own_error_is_taken_off(bench):
    ear = Ear(bench)
    ear.session.tune(CHANNEL_19, "am")
    ear.hears(lambda v: v.get("frequency", 0) is None)
    bench.hands(keyed=True, tone=True)
    bench.until_it_stands()
    found = ear.hears(lambda v: v.get("depth"))
    out = bench.simulated.unit.output()
    assert found["frequency"] == pytest.approx(out.frequency_hz, abs=3)
    assert found["depth"] == pytest.approx(100 * out.depth, abs=1)
    bench.hands(mode="fm")
    ear.session.tune(CHANNEL_19, "fm")
    assert ear.hears(lambda v: v.get("deviation"))["deviation"] == pytest.approx(1850, abs=25)
    ear.session.close()


@pytest.mark.long
def test_overdriven_and_with_gaps_it_says_so_and_gives_nothing(bench):
    ear = Ear(bench)
    ear.session.tune(CHANNEL_19, None)
    bench.hands(keyed=True)
    ear.hears(lambda v: v.get("frequency"))
    for fault, sentence in (
        ("overload", "overload"),
        ("time-out", "its stream stopped"),
        ("refuse", "nothing listens"),
    ):
        bench.fault("iq-receiver", fault)
        ear.hears(lambda v, told=sentence: v.get("fault", "").startswith(told))
        bench.fault("iq-receiver", "none")
        ear.hears(lambda v: v.get("frequency"))
    bench.fault("iq-receiver", "loses samples")
    told = "its samples come with gaps"
    ear.hears(lambda v: v.get("fault", "").startswith(told) or "were lost" in ear.session.error())
    ear.session.close()


@pytest.mark.long
def test_a_poller_asks_it_like_any_other_line(bench):
    bench.hands(keyed=True)
    definition = definitions()["plain-iq-stream"]
    address = Address("dongle", "Dongle", f"IQ::127.0.0.1::{bench.simulated.ports['iq-receiver']}", definition, 14.2)
    poller = Poller(address, lambda found: bench.heard.append((0.0, found)))
    poller.tune(CHANNEL_19, "am")
    poller.set_rhythm(0.1)
    bench.pollers.append(poller)
    poller.start()
    assert bench.wait(lambda f: isinstance(f, LineState) and f.connected).identity.startswith("IQ stream")
    bench.wait(lambda f: isinstance(f, Heard) and f.values.get("frequency"))
