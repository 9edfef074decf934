"""A bare carrier in a record of complex baseband."""

import math

from young_spark.core.analysis.am_record import plot_of, record_remarks
from young_spark.core.analysis.carrier import Carrier, carrier_of
from young_spark.core.analysis.carrier_band import carrier_band
from young_spark.core.analysis.envelope import Envelope, fit_envelope
from young_spark.core.analysis.figures import K95, baseband_scale, frequencies, normal, nothing
from young_spark.core.analysis.options import Analysis, Options
from young_spark.core.analysis.second_carrier import second_carrier
from young_spark.core.captures import Baseband
from young_spark.core.figure import Measured

METHOD = "baseband"
# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
HALF_WIDTH_HZ = 2_000.0
MODULATED = 0.05
ONE_OF_MANY = 0.1  # of the carrier: a second line of that size may be one of its own


def analyse_cw(capture: Baseband, options: Options) -> Analysis:
    """Power and frequency of a carrier; a remark where it is modulated after all."""
    band = carrier_band(capture, options, HALF_WIDTH_HZ)
    carrier = carrier_of(band)
    beside = second_carrier(capture.samples, capture.rate_hz, carrier.offset_hz)
    if beside is not None and beside.share > ONE_OF_MANY:
        wide = carrier_band(capture, options)
        if (whole := carrier_of(wide)).phase_only:  # both are lines of one transmission
            band, carrier, beside = wide, whole, None
    envelope = fit_envelope(carrier.envelope, band.rate_hz, options, density=band.density)
    remarks = record_remarks(band, carrier)
    if envelope.tone is not None and envelope.tone.amplitudes[0] > MODULATED * envelope.level:
        remarks += ("it is modulated: a counter would not be trusted, keep quiet",)
    if beside is not None:
        remarks += (f"{beside.words}: the power is without it",)
    counted = frequencies(options, capture.centre_hz + carrier.offset_hz, carrier.offset_u, method=METHOD)
    plot = plot_of(carrier.envelope, band, envelope)
    return Analysis("baseband", "cw", (_power(carrier, envelope, options), *counted), remarks, plot)


def _power(carrier: Carrier, envelope: Envelope, options: Options) -> Measured:
    if envelope.no_level is not None:
        return nothing("carrier_power", envelope.no_level, method=METHOD, reason="invalid_conditions")
    turned = _turned_away(carrier, envelope)
    doubt = math.hypot(2 * envelope.level * envelope.level_u, turned / K95)
    square = normal(envelope.level**2 + turned, doubt)
    return baseband_scale(options).power("carrier_power", square, method=METHOD, more=envelope.remarks)


def _turned_away(carrier: Carrier, envelope: Envelope) -> float:
    """Mean square of a carrier that stands at right angles, where a wandering phase was not followed to its end."""
    if not carrier.wanders or envelope.residual is None:
        return 0.0
    return max(0.0, float((carrier.across**2).mean()) - float(envelope.residual.var()))
