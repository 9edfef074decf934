"""What a record sounds like: the tone that was sent, at the pitch it was sent at, as loud as the next."""

import numpy as np
import pytest

from tests.core import records
from young_spark.core.analysis import Options
from young_spark.core.analysis.listening import HEARD_HZ, LOUDEST, RATE_HZ, can_be_heard, heard
from young_spark.core.captures import Baseband, Curve, Waveform


def pitch(sound):
    """Frequency in Hz of the strongest line, and its share of all power."""
    spectrum = np.abs(np.fft.rfft(sound * np.hanning(len(sound)))) ** 2
    top = int(np.argmax(spectrum))
    return top * RATE_HZ / len(sound), spectrum[top - 2 : top + 3].sum() / spectrum.sum()


def line(rate, seconds, *parts):
    t = np.arange(round(rate * seconds)) / rate
    return sum(size * np.exp(2j * np.pi * hz * t) for hz, size in parts)


RNG = np.random.default_rng(3)
CASES = {
    "am": (Baseband(48_000.0, 27.185e6, records.am(RNG, tone=1000, seconds=0.5)), Options(mode="am"), 1000),
    "am, fast": (
        Baseband(240_000.0, 0.0, records.am(RNG, tone=640, seconds=0.3, rate=240_000.0)),
        Options(mode="am"),
        640,
    ),
    "fm": (Baseband(48_000.0, 27.185e6, records.fm(RNG, seconds=0.5)[0]), Options(mode="fm"), 1000),
    "usb": (
        Baseband(48_000.0, 14.2e6, line(48_000, 0.5, (1_850.0, 0.3), (500.0, 1e-4))),
        Options(mode="ssb", nominal_hz=14.2005e6),
        1350,
    ),
    "lsb": (
        Baseband(48_000.0, 7.1e6, line(48_000, 0.5, (-900.0, 0.3))),
        Options(mode="ssb", sideband="lsb", nominal_hz=7.1e6),
        900,
    ),
    "cw": (Baseband(48_000.0, 7.03e6, line(48_000, 0.5, (1_234.0, 0.3))), Options(mode="cw"), 700),
    "audio": (Waveform("audio", 44_100.0, 0.01 * line(44_100, 0.5, (440.0, 1)).real + 0.4), Options(), 440),
    "envelope": (Waveform("envelope", 96_000.0, 2 + line(96_000, 0.2, (1_200.0, 1)).real), Options(), 1200),
}


@pytest.mark.parametrize("case", CASES)
def test_the_tone_that_was_sent_is_heard(case):
    capture, options, sent = CASES[case]
    assert can_be_heard(capture, options)
    sound = heard(capture, options, 10.0)
    at, share = pitch(sound)
    assert at == pytest.approx(sent, abs=1.5 * RATE_HZ / len(sound)) and share > 0.97
    assert np.abs(sound).max() == pytest.approx(LOUDEST)


def test_no_more_is_heard_than_was_asked_for_and_nothing_outside_of_the_ear():
    long = Waveform("audio", 48_000.0, line(48_000, 3.0, (20.0, 1), (1_000.0, 0.1), (11_000.0, 1)).real)
    sound = heard(long, Options(), 1.0)
    assert len(sound) == pytest.approx(RATE_HZ, rel=1e-3)
    spectrum = np.abs(np.fft.rfft(sound)) ** 2
    hz = np.fft.rfftfreq(len(sound), 1 / RATE_HZ)
    assert spectrum[(hz < HEARD_HZ[0]) | (hz > HEARD_HZ[1])].sum() < 1e-6 * spectrum.sum()


@pytest.mark.parametrize(("capture", "options"), [
    (Baseband(48_000.0, 0.0, np.ones(48_000, complex)), Options()),
    (Baseband(48_000.0, 14e6, np.ones(48_000, complex)), Options(mode="ssb")),
    (Baseband(48_000.0, 14e6, np.ones(48_000, complex)), Options(mode="ssb", nominal_hz=14.1e6)),
    (Baseband(48_000.0, 14e6, np.ones(100, complex)), Options(mode="am")),
    (Waveform("scope", 1e9, np.ones(10_000)), Options()),
    (Curve("spectrum", np.arange(9.0), np.arange(9.0)), Options()),
])  # fmt: skip
def test_what_has_no_sound_says_so(capture, options):
    assert not can_be_heard(capture, options)


def test_silence_stays_silent():
    assert not heard(Waveform("audio", 8_000.0, np.zeros(8_000)), Options(), 10.0).any()
