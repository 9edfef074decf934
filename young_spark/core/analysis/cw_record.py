"""A bare carrier in a record of complex baseband."""

from young_spark.core.analysis.am_record import carrier_band, plot_of, record_remarks
from young_spark.core.analysis.carrier import carrier_of
from young_spark.core.analysis.envelope import fit_envelope
from young_spark.core.analysis.figures import baseband_scale, frequencies, normal
from young_spark.core.analysis.options import Analysis, Options
from young_spark.core.analysis.second_carrier import second_carrier
from young_spark.core.captures import Baseband

METHOD = "baseband"
# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
HALF_WIDTH_HZ = 2_000.0
MODULATED = 0.05


def analyse_cw(capture: Baseband, options: Options) -> Analysis:
    """Power and frequency of a carrier; a remark where it is modulated after all."""
    band = carrier_band(capture, options, HALF_WIDTH_HZ)
    carrier = carrier_of(band)
    envelope = fit_envelope(carrier.envelope, band.rate_hz, options, density=band.density)
    level, level_u = envelope.level, envelope.level_u
    remarks = record_remarks(band, carrier)
    if envelope.tone is not None and envelope.tone.amplitudes[0] > MODULATED * level:
        remarks += ("it is modulated: a counter would not be trusted, keep quiet",)
    beside = second_carrier(capture.samples, capture.rate_hz, carrier.offset_hz, level)
    if beside is not None:
        remarks += (f"{beside.words}: the power is that of the stronger alone",)
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
