"""A stretch of sound as it is heard: figures of known truth, and none where samples were lost."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from young_spark.core.analysis import listened
from young_spark.core.analysis.by_kind import CannotAnalyse
from young_spark.core.captures import Waveform

RATE = 48_000


def sound(tone_hz=1000.0, amplitude=0.25, second=0.05, noise=0.002, seconds=1.0, seed=1):
    at = np.arange(round(RATE * seconds)) / RATE
    tone = np.sin(2 * np.pi * tone_hz * at) + second * np.sin(4 * np.pi * tone_hz * at + 1)
    return amplitude * tone + np.random.default_rng(seed).normal(0, noise, at.size)


def heard(values):
    return listened(Waveform("audio", RATE, np.asarray(values)), 0.0)


def figures(values):
    return {r.quantity: r.value for r in heard(values).readings}


@settings(max_examples=25)
@given(
    tone_hz=st.floats(300, 3000),
    amplitude=st.floats(0.02, 0.7),
    second=st.floats(0.01, 0.1),
    below=st.floats(25, 50),
    seed=st.integers(0, 1000),
)
def test_tone_sinad_distortion_and_level_are_those_of_the_sound(tone_hz, amplitude, second, below, seed):
    noise = amplitude / math.sqrt(2) * 10 ** (-below / 20)
    found = heard(sound(tone_hz, amplitude, second, noise, seed=seed))
    values = {r.quantity: r.value for r in found.readings}
    rest = (amplitude * second) ** 2 / 2 + noise**2
    everything = amplitude**2 / 2 + rest
    assert values["audio_frequency"] == pytest.approx(tone_hz, abs=0.05)
    assert values["sinad"] == pytest.approx(10 * math.log10(everything / rest), abs=0.3)
    assert values["audio_distortion"] == pytest.approx(100 * second, rel=0.1, abs=0.15)
    assert found.level_db == pytest.approx(10 * math.log10(2 * everything), abs=0.05 + found.level_within_db)
    assert not found.clipped


@pytest.mark.parametrize("lost_s", [0.005, 0.01, 0.04])
@pytest.mark.parametrize("at_s", [0.13, 0.5, 0.88])
def test_where_samples_were_lost_there_is_no_figure(lost_s, at_s):
    whole = sound(seconds=1.1, tone_hz=1013.0)
    begin, length = round(at_s * RATE), round(lost_s * RATE)
    silent = whole[:RATE].copy()
    silent[begin : begin + length] = 0
    skipped = np.delete(whole, slice(begin, begin + length))[:RATE]
    assert figures(whole[:RATE])["sinad"] is not None
    if lost_s >= 0.01:  # what is shorter hides in a part
        assert set(figures(silent).values()) == {None}
    turned = 1013.0 * length / RATE % 1
    if 0.05 < turned < 0.95:  # whole cycles less are no harm
        assert set(figures(skipped).values()) == {None}


def test_a_tone_that_drifts_is_still_one_tone():
    at = np.arange(RATE) / RATE
    assert figures(0.3 * np.sin(2 * np.pi * (1000 * at + 0.5 * at**2)))["audio_frequency"] == pytest.approx(
        1000.5, abs=0.1
    )


def test_noise_alone_has_a_level_and_no_tone_and_silence_has_neither():
    noise = heard(np.random.default_rng(2).normal(0, 0.01, RATE))
    assert noise.level_db == pytest.approx(20 * math.log10(0.01 * math.sqrt(2)), abs=0.2)
    assert {r.value for r in noise.readings} == {None}
    assert heard(np.zeros(RATE)).level_db is None


def test_what_fills_the_scale_is_clipped_and_what_is_no_sound_is_refused():
    assert heard(np.clip(sound(amplitude=1.4), -1, 1)).clipped
    with pytest.raises(CannotAnalyse, match="no sound"):
        listened(Waveform("scope", 1e6, np.zeros(4000)), 0.0)
    with pytest.raises(CannotAnalyse, match="at most 10 s"):
        heard(np.zeros(11 * RATE))


def test_the_clock_that_heard_it_is_in_the_spread_of_the_tone_and_of_nothing_else():
    at = np.arange(int(RATE)) / RATE
    wave = Waveform(
        "audio", RATE, 0.3 * np.sin(2 * np.pi * 1000 * at) + np.random.default_rng(5).normal(0, 1e-3, at.size)
    )
    known, card = ({r.quantity: r for r in listened(wave, ppm).readings if r.value is not None} for ppm in (0.0, 100.0))
    tone = card["audio_frequency"]
    assert tone.uncertainty == pytest.approx(math.hypot(known["audio_frequency"].uncertainty, 0.1), rel=1e-6)
    assert "its clock is taken as right to 100 ppm" in tone.remarks
    assert card["sinad"] == known["sinad"]
