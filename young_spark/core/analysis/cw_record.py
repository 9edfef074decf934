"""A bare carrier in a record of complex baseband."""

import numpy as np

from young_spark.core.analysis.am_record import carrier_band, plot_of, record_remarks
from young_spark.core.analysis.band import fast_length
from young_spark.core.analysis.carrier import carrier_of
from young_spark.core.analysis.envelope import fit_envelope
from young_spark.core.analysis.figures import baseband_scale, decibels, frequencies, normal
from young_spark.core.analysis.options import Analysis, Options
from young_spark.core.analysis.turns import hann
from young_spark.core.captures import Baseband

METHOD = "baseband"
# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
HALF_WIDTH_HZ = 2_000.0
MODULATED = 0.05
APART_HZ = 100.0
SECOND = 0.03  # of the carrier: a line of which no mirror image stands on its other side is another carrier


def _beside(capture: Baseband, offset_hz: float, level: float) -> tuple[str, ...]:
    """That another carrier is in the record, where there is one."""
    n = fast_length(len(capture.samples))
    lines = np.abs(np.fft.fft(capture.samples[:n] * hann(n))) * 2 / n
    hz = np.fft.fftfreq(n, 1 / capture.rate_hz) - offset_hz
    hz = (hz + capture.rate_hz / 2) % capture.rate_hz - capture.rate_hz / 2
    lines[np.abs(hz) < APART_HZ] = 0
    peak = int(np.argmax(lines))
    mirror = lines[np.abs(hz + hz[peak]) < 3 * capture.rate_hz / n]
    if lines[peak] < SECOND * level or (len(mirror) and mirror.max() > 0.5 * lines[peak]):
        return ()
    words = f"a second carrier lies {hz[peak]:+.0f} Hz beside it, {decibels(float(lines[peak]) / level):.1f} dB"
    return (f"{words}: the power is that of the stronger alone",)


def analyse_cw(capture: Baseband, options: Options) -> Analysis:
    """Power and frequency of a carrier; a remark where it is modulated after all."""
    band = carrier_band(capture, options, HALF_WIDTH_HZ)
    carrier = carrier_of(band)
    envelope = fit_envelope(carrier.envelope, band.rate_hz, options, density=band.density)
    level, level_u = envelope.level, envelope.level_u
    remarks = record_remarks(band, carrier)
    if envelope.tone is not None and envelope.tone.amplitudes[0] > MODULATED * level:
        remarks += ("it is modulated: a counter would not be trusted, keep quiet",)
    remarks += _beside(capture, carrier.offset_hz, level)
    return Analysis(
        "baseband",
        "cw",
        (
            baseband_scale(options).power(
                "carrier_power", normal(level**2, 2 * level * level_u), method=METHOD, more=envelope.remarks
            ),
            *frequencies(options, capture.centre_hz + carrier.offset_hz, carrier.offset_u, method=METHOD),
        ),
        remarks,
        plot_of(carrier.envelope, band, envelope),
    )
