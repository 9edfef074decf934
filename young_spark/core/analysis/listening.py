"""What a record sounds like once it is demodulated: for an ear, never for a figure."""

import math

import numpy as np

from young_spark.core.analysis.band import Band, band_about, fast_length, spectrum_of, strongest
from young_spark.core.analysis.carrier_band import carrier_band
from young_spark.core.analysis.fm_band import fm_band
from young_spark.core.analysis.options import Options
from young_spark.core.captures import Baseband, Capture, Complex, Real, Waveform

RATE_HZ = 16_000
HEARD_HZ = (50.0, 7_000.0)
LOUDEST = 0.7  # of full scale: every record is as loud as the next
SIDEBAND_HZ = 3_400.0  # what a receiver lets through of one sideband
NOTE_HZ = 700.0  # a keyed carrier is heard as this note
SHORTEST_S = 0.05  # less is a click


def can_be_heard(capture: Capture, options: Options) -> bool:
    """Whether a record has a sound under what is told of it: a trace has none, SSB needs to know where its carrier
    was."""
    if isinstance(capture, Waveform):
        return capture.kind != "scope" and len(capture.values) >= SHORTEST_S * capture.rate_hz
    if not isinstance(capture, Baseband) or options.mode is None or len(capture.samples) < SHORTEST_S * capture.rate_hz:
        return False
    if options.mode in ("ssb", "two-tone"):
        return options.nominal_hz is not None and abs(options.nominal_hz - capture.centre_hz) < 0.5 * capture.rate_hz
    return True


def heard(capture: Capture, options: Options, longest_s: float) -> Real:
    """The sound of a record's first `longest_s` seconds at RATE_HZ, its peak at LOUDEST of full scale (n,).

    Only for what can be heard. AM is heard as its envelope, FM as its frequency, SSB against the carrier that was
    told, a bare carrier as a note; all without what is below 50 Hz or above 7 kHz."""
    if isinstance(capture, Waveform):
        series, rate = capture.values[: math.ceil(longest_s * capture.rate_hz)], capture.rate_hz
    else:
        assert isinstance(capture, Baseband)
        cut = Baseband(capture.rate_hz, capture.centre_hz, capture.samples[: math.ceil(longest_s * capture.rate_hz)])
        series, rate = _demodulated(cut, options)
    sound = _resampled(series, rate)
    top = float(np.abs(sound).max(initial=0.0))
    return sound * (LOUDEST / top) if top > 0 else sound


def _demodulated(capture: Baseband, options: Options) -> tuple[Real, float]:
    if options.mode == "am":
        band = carrier_band(capture, options, HEARD_HZ[1])
        return np.abs(band.samples), band.rate_hz
    if options.mode == "fm":
        band = fm_band(capture, options, spectrum_of(capture.samples))
        turn = band.samples[1:] * band.samples[:-1].conj()
        return np.angle(turn), band.rate_hz
    if options.mode == "cw":
        spectrum = spectrum_of(capture.samples)
        at = strongest(spectrum, capture.rate_hz)
        return _beaten(_about(capture, at, 4 * NOTE_HZ, spectrum), NOTE_HZ)
    assert options.nominal_hz is not None
    carrier = options.nominal_hz - capture.centre_hz
    side = 1.0 if options.sideband == "usb" else -1.0
    return _beaten(_about(capture, carrier + side * SIDEBAND_HZ / 2, SIDEBAND_HZ / 2), side * SIDEBAND_HZ / 2)


def _about(capture: Baseband, offset_hz: float, half_width_hz: float, spectrum: Complex | None = None) -> Band:
    return band_about(capture.samples, capture.rate_hz, offset_hz, min(half_width_hz, 0.45 * capture.rate_hz), spectrum)


def _beaten(band: Band, note_hz: float) -> tuple[Real, float]:
    """The band with its middle turned to a note (down, for a negative one), at a rate that holds it."""
    n = len(band.samples)
    m = fast_length(max(n, math.ceil(2.5 * (abs(note_hz) / band.rate_hz + 1) * n)))
    wide = np.zeros(m, complex)
    spectrum = np.fft.fftshift(np.fft.fft(band.samples))
    first = m // 2 - n // 2
    wide[first : first + n] = spectrum
    rate = band.rate_hz * m / n
    full = np.fft.ifft(np.fft.ifftshift(wide)) * (m / n)
    return np.asarray((full * np.exp(2j * math.pi * note_hz / rate * np.arange(m))).real), rate


def _resampled(series: Real, rate_hz: float) -> Real:
    """What can be heard of a series, at RATE_HZ: cut out of its transform."""
    n = fast_length(len(series))
    spectrum = np.fft.rfft(series[:n] - series[:n].mean())
    frequency = np.fft.rfftfreq(n, 1 / rate_hz)
    spectrum[(frequency < HEARD_HZ[0]) | (frequency > HEARD_HZ[1])] = 0
    m = max(2, round(n * RATE_HZ / rate_hz))
    out = np.zeros(m // 2 + 1, complex)
    kept = min(len(out), len(spectrum))
    out[:kept] = spectrum[:kept]
    return np.asarray(np.fft.irfft(out, m)) * (m / n)
