"""The envelope of an amplitude-modulated band: without the phase that goes with its tone, and without neighbours."""

import math
from dataclasses import replace

import numpy as np

from young_spark.core.analysis.band import Band
from young_spark.core.analysis.carrier import Carrier, carrier_of
from young_spark.core.analysis.envelope import Envelope, fit_envelope
from young_spark.core.analysis.options import Options
from young_spark.core.analysis.periodic import Periodic, fit_periodic
from young_spark.core.analysis.second_carrier import SecondCarrier
from young_spark.core.analysis.stretches import stretches
from young_spark.core.analysis.turns import Turns
from young_spark.core.captures import Complex, Mask, Real

ROUNDS = 3
SURELY_OWN = 2  # harmonics that are looked at as they stand: above, a neighbour may stand among them
TURNED, SURE = 0.003, 6.0  # of the carrier, and standard deviations: a phase that goes with the tone
EMPTY = 0.15  # of the carrier: an envelope that low shows no phase, and takes that beside it


def fitted_envelope(
    band: Band, carrier: Carrier, options: Options, second: SecondCarrier | None = None
) -> tuple[Envelope, Carrier]:
    """The envelope as it is fitted, without the phase that goes with its tone and without what stands on one side
    only, and the carrier with its tone taken off; as it stands where the tone is the beat with a `second` carrier."""
    envelope = _fit(band, carrier, options)
    if envelope.tone is None or carrier.phase_only or (second is not None and second.beats_at(envelope.tone.tone_hz)):
        return envelope, carrier
    beside = np.arange(len(envelope.tone.coefficients)) >= SURELY_OWN
    taken_off = False
    for _ in range(ROUNDS):
        still = _phase_taken_off(carrier, band, envelope.tone, beside)
        if still is None:
            break
        band, carrier, taken_off = *_turned_on(band, still, envelope), True
        envelope = _fit(band, carrier, options)
        if envelope.tone is None:
            return envelope, carrier
        beside = neighbours(carrier, band, envelope.tone)
    if not taken_off and envelope.tone is not None:
        beside = neighbours(carrier, band, envelope.tone)
    if beside.any():
        envelope = _fit(band, carrier, options, beside)
    if envelope.tone is not None and not taken_off and not envelope.from_quiet:
        carrier = carrier_of(band, envelope.tone.along(len(band.samples), band.rate_hz))
    return envelope, carrier


def _fit(band: Band, carrier: Carrier, options: Options, one_sided: Mask | None = None) -> Envelope:
    return fit_envelope(
        carrier.envelope, band.rate_hz, options, density=band.density, across=carrier.across, one_sided=one_sided
    )


def _turned_on(band: Band, still: Carrier, envelope: Envelope) -> tuple[Band, Carrier]:
    """The band with that phase taken off, and its carrier found anew: the phase of a tone that was cut short had bent
    its line."""
    band = replace(band, samples=still.envelope + 1j * still.across, offset_hz=still.offset_hz)
    if envelope.from_quiet or envelope.tone is None:
        return band, still
    found = carrier_of(band, envelope.tone.along(len(band.samples), band.rate_hz))
    return band, replace(found, wanders=still.wanders, offset_u=math.hypot(found.offset_u, still.offset_u))


def _phase_taken_off(carrier: Carrier, band: Band, tone: Periodic, beside: Mask) -> Carrier | None:
    """The carrier without the phase that goes with its tone, as a sender's supply or its modulator turns it: only what
    is left of that is the envelope. None where no such phase stands out."""
    part = stretches(carrier.envelope, band.rate_hz, tone.tone_hz).toned
    series, start = carrier.across[part], part.start / band.rate_hz
    count = len(tone.coefficients)
    seen = Turns(len(series), band.rate_hz, tone.tone_hz, 1).sums(series)[1]
    if 2 * abs(complex(seen)) < TURNED * tone.mean * len(series):
        return None  # not worth a fit
    turned = fit_periodic(
        series, band.rate_hz, tone.tone_hz, count, start_s=start, density=band.density, trend=True, refined=True
    )
    coefficients = np.where(beside[:count], 0, turned.kept)
    first = float(np.abs(coefficients[0]))
    along = tone.along(len(series), band.rate_hz, start)
    if first < max(TURNED * tone.mean, SURE * float(turned.amplitude_u[0])):
        return None
    across = replace(turned, coefficients=coefficients).along(len(series), band.rate_hz, start)
    still = carrier.envelope + 1j * carrier.across
    there = np.flatnonzero(along > EMPTY * tone.mean)
    phase = np.interp(np.arange(len(along)), there, np.arctan2(across, along)[there])
    still[part] *= np.exp(-1j * phase)
    return replace(carrier, envelope=still.real, across=still.imag)


def neighbours(carrier: Carrier, band: Band, tone: Periodic) -> Mask:
    """Harmonics of the tone whose place is held by something on one side of the carrier only: no envelope makes
    that."""
    still: Complex = carrier.envelope + 1j * carrier.across
    times: Real = np.arange(len(still)) / band.rate_hz
    turn = np.exp(-2j * math.pi * tone.tone_hz * times)
    beside = np.zeros(len(tone.coefficients), bool)
    power = np.ones_like(turn)
    for k in range(1, len(beside) + 1):
        power = power * turn
        if k >= 3 and tone.coefficients[k - 1] != 0:
            above, below = abs(complex((still * power).mean())), abs(complex((still / power).mean()))
            beside[k - 1] = min(above, below) < 0.4 * max(above, below)
    return beside
