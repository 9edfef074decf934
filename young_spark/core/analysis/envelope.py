"""What an envelope says: depths against the carrier level, carrier shift, the tone's own distortion, hum and noise."""

import math
from dataclasses import dataclass, replace

import numpy as np

from young_spark.core.analysis.band import fast_length
from young_spark.core.analysis.figures import K95, decibels, estimate, found, normal, nothing
from young_spark.core.analysis.options import Options
from young_spark.core.analysis.periodic import Extremes, Periodic, extremes, fit_periodic, tone_near
from young_spark.core.analysis.steadiness import HOLDS, Steadiness, steadiness
from young_spark.core.analysis.stretches import Stretches, stretches
from young_spark.core.captures import Mask, Real
from young_spark.core.figure import Input, Measured, Shape, Term

# tuned so that the stated intervals cover: `./spark bench --only measuring` prints what these come to
TONE_HZ = (30.0, 12_000.0)
AUDIO_HZ = 15_000.0
MOST_HARMONICS = 30
SPEECH = 0.25  # of the tone's power beside it, in the audio band: more is no tone
EXCEEDED = 0.001
NO_TROUGH = -0.3  # of the crest: an envelope that goes so far to the other side has no carrier
LEAST_SPOKEN_S = 0.02  # words that short are a part of a cycle, and their mean is no carrier
SLOW_S, LEAST_BLOCKS = 0.025, 6
MOSTLY_SLOW = 0.5  # of its swing: more than a voice has, whose words are about the carrier
MOST_MOVED = 0.12  # of the level, about 1 dB: more is no level of one stretch
SAME_CARRIER = (0.6, 1.6)  # of the toned part's mean: a still part beyond that is another carrier
SMALLEST_DEPTH = 0.02  # what is less is hum
CORNERS = 0.005
CORNERED = 6.0  # an amplitude above so many of its own standard deviations goes on behind the last harmonic
CLIPPED = 0.02  # of the carrier: an envelope below this is at zero
DEPTHS = ("am_depth_positive", "am_depth_negative", "am_depth")


@dataclass(frozen=True)
class Envelope:
    """A fitted envelope. `level` is C with its standard deviation; `tone` None where the record has no tone."""

    level: float
    level_u: float
    from_quiet: bool
    tone: Periodic | None
    peaks: Extremes | None
    zero_share: float  # of the tone's cycle spent at zero
    residual: Real | None  # of the still stretch, about its mean
    remarks: tuple[str, ...] = ()
    spoken: tuple[float, float] | None = None  # of speech: crest and trough exceeded 0.1 % of the time
    steady: Steadiness = HOLDS  # of the tone
    no_level: str | None = None  # why no one level is of the whole record

    @property
    def crest(self) -> float:
        """Highest point of the envelope."""
        if self.tone is None or self.peaks is None:
            return self.level
        return self.tone.mean + self.peaks.high


def fit_envelope(
    series: Real, rate_hz: float, options: Options, *, density: float = 1.0, one_sided: Mask | None = None,
    across: Real | None = None, most_harmonics: int = MOST_HARMONICS,
) -> Envelope:  # fmt: skip
    """Fit tone and harmonics, and find the carrier level, in a real envelope. `one_sided` marks harmonics that are
    no modulation; `across` is the part at right angles, which holds as much of a neighbour, and nothing of a voice."""
    tone_hz = tone_for(series, rate_hz, options, TONE_HZ)
    if tone_hz is None:
        return _toneless(series, density)
    parts = stretches(series, rate_hz, tone_hz)
    toned = series[parts.toned]
    if parts.quiet is not None:
        tone_hz = tone_near(toned, rate_hz, 0.9 * tone_hz, 1.1 * tone_hz) or tone_hz
    count = max(1, min(most_harmonics, int(min(AUDIO_HZ, 0.45 * rate_hz) / tone_hz * 1.001)))
    fit = fit_periodic(toned, rate_hz, tone_hz, count, start_s=parts.toned.start / rate_hz, density=density)
    if fit.amplitudes[0] < SMALLEST_DEPTH * abs(fit.mean) or fit.amplitudes[0] < 6 * fit.amplitude_u[0]:
        return (
            _moving(series, rate_hz) or _spoken(series, rate_hz)
            if _swings(toned, rate_hz)
            else _toneless(series, density)
        )
    kept = np.array(fit.kept)
    if one_sided is not None:
        kept[: len(one_sided)][one_sided[: len(kept)]] = 0
    fit = replace(fit, coefficients=kept)
    besides = 0.0 if across is None else _beyond_noise(across[parts.toned], rate_hz)
    if _is_spoken(toned, fit, rate_hz, parts.toned.start, besides):
        return _moving(series, rate_hz) or _spoken(series, rate_hz)
    quiet = _quiet(series, parts, fit)
    level, level_u = (fit.mean, fit.mean_u)
    remarks: tuple[str, ...] = (
        "carrier level taken as the mean envelope over the tone: no unmodulated stretch in the record",
    )
    if quiet is not None:
        level, level_u = float(quiet.mean()), float(quiet.std()) * math.sqrt(density / len(quiet))
        remarks = ()
    zero = _share_at_zero(fit, level)
    steady = steadiness(toned, rate_hz, fit.tone_hz, fit.sigma, share=True)
    peaks = _peaks(fit, zero, steady)
    residual = None if quiet is None else quiet - quiet.mean()
    return Envelope(level, level_u, quiet is not None, fit, peaks, zero, residual, remarks, steady=steady)


def _quiet(series: Real, parts: Stretches, fit: Periodic) -> Real | None:
    """The still stretch beside the toned one, where it is of the same carrier."""
    quiet = series[parts.quiet] if parts.quiet is not None else None
    if quiet is None or not SAME_CARRIER[0] < float(quiet.mean()) / fit.mean < SAME_CARRIER[1]:
        return None  # another carrier, or none: it says nothing of the toned one
    return quiet


def _peaks(fit: Periodic, zero_share: float, steady: Steadiness) -> Extremes:
    peaks = extremes(fit.kept, fit.amplitude_u)
    more = steady.half * float(fit.amplitudes[0]) / K95
    last = fit.amplitudes[-2:]
    if zero_share > CORNERS or bool((last > CORNERED * fit.amplitude_u[-2:]).any()):
        # what has corners, as a triangle or a trough cut at nothing, has no end of harmonics
        more = math.hypot(more, 0.5 * float(last.max()) * len(fit.amplitudes))
    if more == 0:
        return peaks
    wider = {name: math.hypot(getattr(peaks, name), more) for name in ("high_u", "low_u", "larger_u", "half_u")}
    return replace(peaks, **wider)


def tone_for(series: Real, rate_hz: float, options: Options, within: tuple[float, float]) -> float | None:
    """Where the tone lies: near the one that was told, else the strongest line of the audio band."""
    if options.tones_hz:
        told = options.tones_hz[0]
        return tone_near(series, rate_hz, 0.97 * told, 1.03 * told) or told
    low, high = within
    return tone_near(series, rate_hz, low, min(high, 0.4 * rate_hz))


def _toneless(series: Real, density: float) -> Envelope:
    level = float(series.mean())
    return Envelope(
        level, float(series.std()) * math.sqrt(density / len(series)), True, None, None, 0.0, series - level
    )


def _is_spoken(series: Real, fit: Periodic, rate_hz: float, first: int, besides: float) -> bool:
    """Whether what is left without the tone is more than noise and hum: then no tone makes the modulation."""
    left = series - fit.along(len(series), rate_hz, first / rate_hz)
    return _beyond_noise(left, rate_hz) - 2 * besides > SPEECH * float((fit.amplitudes**2).sum()) / 2


def _beyond_noise(values: Real, rate_hz: float) -> float:
    """Mean square of a series in the audio band, beyond what even noise of its quietest parts would make."""
    n = fast_length(len(values))
    power = 2 * np.abs(np.fft.rfft(values[:n])) ** 2 / n**2
    inside = power[1 : max(2, round(AUDIO_HZ * n / rate_hz))]
    quiet = float(np.quantile(inside, 0.25)) / math.log(4 / 3)  # of an exponential scatter
    return float(inside.sum()) - 2 * quiet * len(inside)


def _swings(series: Real, rate_hz: float) -> bool:
    """Whether an envelope swings although no tone does it."""
    level = float(series.mean())
    return _beyond_noise(series - level, rate_hz) > (SMALLEST_DEPTH * level) ** 2


def _moving(series: Real, rate_hz: float) -> Envelope | None:
    """An envelope whose level itself goes up and down, slower than any word; None where it does not."""
    size = max(1, round(SLOW_S * rate_hz))
    count = len(series) // size
    if count < LEAST_BLOCKS:
        return None
    blocks = series[: count * size].reshape(count, size).mean(axis=1)
    if float(blocks.var()) < MOSTLY_SLOW * float(series.var()):
        return None
    level, low, high = float(series.mean()), float(blocks.min()), float(blocks.max())
    told = f"its level goes from {100 * low / level:.0f} % to {100 * high / level:.0f} % of its mean within the record"
    far = f"{told}: choose a stretch in which it holds" if high - low > MOST_MOVED * level else None
    u = (high - low) / 2 / K95
    return Envelope(level, u, True, None, None, 0.0, None, (told,), no_level=far)


def _spoken(series: Real, rate_hz: float) -> Envelope:
    level = float(series.mean())
    if len(series) < LEAST_SPOKEN_S * rate_hz:
        why = f"the record is {1e3 * len(series) / rate_hz:.2g} ms long: less than a cycle of what modulates it"
        return Envelope(level, 0.0, True, None, None, 0.0, None, (why,), no_level=why)
    parts = np.array([float(part.mean()) for part in np.array_split(series, 8)])
    high, low = (float(np.quantile(series, q)) for q in (1 - EXCEEDED, EXCEEDED))
    no_carrier = low < NO_TROUGH * high
    words = (
        f"speech or no steady tone: crest {100 * (high - level) / level:.0f} % and trough "
        f"{100 * (level - low) / level:.0f} % exceeded 0.1 % of the time, and no depth of a tone"
    )
    return Envelope(
        level, float(parts.std()) / math.sqrt(len(parts)), True, None, None, 0.0, None, (words,), (high, low),
        no_level="it is speech without a carrier: no one level is of it [mode ssb]" if no_carrier else None,
    )  # fmt: skip


def _share_at_zero(fit: Periodic, level: float) -> float:
    turns = np.exp(2j * math.pi * np.outer(np.arange(1, len(fit.kept) + 1), np.arange(720)) / 720)
    curve = fit.mean + (fit.kept @ turns).real
    return float((curve < CLIPPED * level).mean())


def with_unmodulated(envelope: Envelope, series: Real, density: float) -> Envelope:
    """The same with the carrier level of another record, one without modulation."""
    still = _toneless(series, density)
    return replace(
        envelope, level=still.level, level_u=still.level_u, from_quiet=True, residual=still.residual, remarks=()
    )


def _no_depths(why: str, method: str) -> list[Measured]:
    depths = [nothing(name, why, method=method, reason="invalid_conditions") for name in DEPTHS]
    return [*depths, nothing("carrier_shift", why, method=method)]


def depth_readings(envelope: Envelope, method: str) -> list[Measured]:
    """The three depths and the carrier shift."""
    if envelope.tone is None or envelope.peaks is None:
        said = envelope.spoken is not None or envelope.no_level is not None
        return _no_depths(envelope.remarks[0] if said else "no tone is in the record", method)
    if envelope.steady.words is not None:
        return _no_depths(envelope.steady.words, method)
    return _depths(envelope, envelope.tone, envelope.peaks, method)


def _depths(envelope: Envelope, tone: Periodic, peaks: Extremes, method: str) -> list[Measured]:
    mean = normal(tone.mean, tone.mean_u)
    level = normal(envelope.level, envelope.level_u) if envelope.from_quiet else None
    up, down = normal(peaks.high, peaks.high_u), normal(peaks.low, peaks.low_u)

    def depth(name: str, crest: Input | None, trough: Input | None) -> Measured:
        inputs = {"mean": mean} | ({"level": level} if level else {})
        inputs |= ({"up": crest} if crest else {}) | ({"down": trough} if trough else {})

        def worth(mean: float, level: float | None = None, up: float | None = None, down: float | None = None) -> float:
            c = mean if level is None else level
            m_up = None if up is None else 100 * (mean + up - c) / c
            m_down = None if down is None else min(100.0, 100 * (c - (mean - down)) / c)
            both = [m for m in (m_up, m_down) if m is not None]
            return sum(both) / len(both)

        words = f"C {envelope.level:.4g}, Vmax {tone.mean + peaks.high:.4g}, Vmin {max(0.0, tone.mean - peaks.low):.4g}"
        return found(name, worth, inputs, method=method, working=words, remarks=envelope.remarks + _over(envelope))

    both = depth(DEPTHS[2], up, down)
    if peaks.low < tone.mean:  # the trough is not cut off: crest and trough err together, and that counts once
        words = f"half of the way from trough to crest {peaks.half:.4g}, C {envelope.level:.4g}"
        both = found(
            DEPTHS[2],
            lambda half, c: 100 * half / c,
            {"half": normal(peaks.half, peaks.half_u), "c": level or mean},
            method=method,
            working=words,
            remarks=envelope.remarks + _over(envelope),
        )
    return [depth(DEPTHS[0], up, None), depth(DEPTHS[1], None, down), both, _shift(envelope, mean, level, method)]


def _shift(envelope: Envelope, mean: Input, level: Input | None, method: str) -> Measured:
    if level is None:
        why = "the record has no unmodulated stretch of 50 ms beside the tone [unmodulated]"
        return nothing("carrier_shift", why, method=method)
    return found(
        "carrier_shift",
        lambda mean, level: 100 * (mean - level) / level,
        {"mean": mean, "level": level},
        method=method,
        working=f"({mean.value:.4g} − {envelope.level:.4g})/{envelope.level:.4g}",
    )


def _over(envelope: Envelope) -> tuple[str, ...]:
    if envelope.zero_share < 0.005:
        return ()
    return (f"trough reaches zero for {100 * envelope.zero_share:.0f} % of the tone: overmodulated",)


def tone_readings(tone: Periodic | None, steady: Steadiness, method: str, words: str) -> list[Measured]:
    """Frequency and distortion of a demodulated tone."""
    if tone is None:
        why = "no tone is in the record"
        return [
            nothing(n, why, method=method, reason="invalid_conditions") for n in ("audio_frequency", "audio_distortion")
        ]
    frequency = tone_frequency(tone, steady, method, words)
    if steady.words is not None:
        return [frequency, nothing("audio_distortion", steady.words, method=method, reason="invalid_conditions")]
    return [frequency, distortion(tone, method)]


def tone_frequency(tone: Periodic, steady: Steadiness, method: str, words: str) -> Measured:
    """Frequency of a tone, as well as it is known where its pitch wanders."""
    doubt = math.hypot(tone.tone_u, steady.wander_hz)
    remarks = (steady.words,) if steady.wander_hz > 0 and steady.words else ()
    return estimate("audio_frequency", tone.tone_hz, doubt, method=method, working=words, remarks=remarks)


def distortion(tone: Periodic, method: str, weights: Real | None = None) -> Measured:
    """Root sum square of the harmonics against the fundamental, in %; what noise adds to each square is taken off."""
    if len(tone.coefficients) < 2:
        return nothing("audio_distortion", "no harmonic lies inside the audio band", method=method)
    w = np.ones(len(tone.coefficients)) if weights is None else weights
    sizes, doubt = tone.amplitudes * w, tone.amplitude_u * w
    first = float(sizes[0])
    there = sizes[1:] > 0
    square = float((sizes[1:] ** 2 - 2 * doubt[1:] ** 2)[there].sum())
    noise = float(np.sqrt((doubt[1:] ** 2).sum()))
    standard = math.sqrt(float((sizes[1:] ** 2 * doubt[1:] ** 2)[there].sum()) / square) if square > 0 else noise
    value = 100 * math.sqrt(max(square, 0.0)) / first
    bound = 100 * (math.sqrt(max(square, 0.0)) + K95 * noise) / first
    if square <= (2.5 * noise) ** 2:
        return Measured(
            quantity="audio_distortion",
            value=bound,
            unit="%",
            bound="upper",
            method=method,
            working="harmonics not above the noise",
            remarks=("harmonics not above the noise: at most",),
        )
    inputs = {"d": Input(value, (Term("noise of the record", K95 * 100 * standard / first, Shape.NORMAL),))}
    return found(
        "audio_distortion",
        lambda d: d,
        inputs,
        method=method,
        working=f"harmonics {first * value / 100:.4g} against {first:.4g}",
    )


def hum_reading(envelope: Envelope, options: Options, rate_hz: float, method: str) -> Measured:
    """Rms of the still envelope against that of a tone at the reference depth."""
    if envelope.residual is None:
        return nothing(
            "hum_and_noise",
            "the record has no unmodulated stretch of 50 ms beside the tone [unmodulated]",
            method=method,
        )
    rms = float(np.sqrt((envelope.residual**2).mean()))
    level = decibels(rms * math.sqrt(2) / (envelope.level * options.reference_depth / 100))
    spread = 8.686 / math.sqrt(2 * max(8, _independent(envelope.residual)))
    return estimate(
        "hum_and_noise",
        level,
        spread,
        method=method,
        working=f"20·log10({rms:.3g} rms / {envelope.level:.4g}·{options.reference_depth:g} %/√2)",
        remarks=(
            f"against a tone of {options.reference_depth:g} % depth, up to {min(AUDIO_HZ, rate_hz / 2) / 1e3:.3g} kHz",
        ),
    )


def _independent(values: Real) -> float:
    """How many independent samples a residual is worth: a hum's power is known from few of them."""
    power = np.abs(np.fft.rfft(values)[1:]) ** 2
    total = float(power.sum())
    return total * total / max(float((power**2).sum()), 1e-300) if total > 0 else 8.0
