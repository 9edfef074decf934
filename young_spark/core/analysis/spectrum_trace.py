"""A spectrum trace: carrier, harmonics, the worst spurious line, occupied bandwidth."""

import math
from dataclasses import dataclass, replace

import numpy as np

from young_spark.core.analysis.figures import bounded, estimate, found, level_known, normal, nothing
from young_spark.core.analysis.options import Analysis, Options, Plot, PlotLine, PlotMark
from young_spark.core.captures import Curve, Real
from young_spark.core.figure import Input, Measured, format_value
from young_spark.core.judging import Refusal, Situation, applies, resolve

METHOD = "analyser"
AT_THE_ANALYSER = "the path's loss was not given: this is the power at the analyser"
HARMONICS = range(2, 11)
UNDER_A_LINE = 3.0  # widths to each side
BLOCK = 64  # points in which the floor is taken as one
RANDOM_DB = 5.57  # scatter of bare noise in dB: a floor that scatters like this was not averaged
SURE_DB = 15.0  # over the middle of bare noise: one of a thousand sweeps of ten thousand points goes as high
STILL_DB = 0.01
WIDE_DB = 25.0
MOST_DBM = 103.0  # 20 MW
SHAPE_AT_ITS_WIDTH_DB = 12.0  # of a Gaussian filter
DETECTORS_APART = 0.5  # of the noise, as a standard deviation: what one shows of a weak line over another
QUIET_MIXER_DBM = -30.0
OCCUPIED = 0.99
EDGE_POINTS = 10


@dataclass(frozen=True)
class Level:
    """A line of a trace: its frequency, its level in dBm with the standard deviation of that, and whether it is seen
    at all."""

    at_hz: float
    dbm: float
    u_db: float
    seen: bool


@dataclass(frozen=True)
class Floor:
    """The trace without its lines: its middle in dBm at each point, and how it scatters in dB."""

    dbm: Real
    scatter_db: float
    detector_known: bool = True

    @property
    def margin_db(self) -> float:
        """So far above the floor a point is hardly ever by chance."""
        return 13.0 if self.scatter_db > 3 else max(3.0, 5.0 * self.scatter_db)

    def under_a_line(self, x: Real, near_hz: float, rbw: float) -> "Floor":
        """The floor with what stands on both sides of a line that is wider than the blocks it was taken in."""
        reach = UNDER_A_LINE * rbw
        inside = np.abs(x - near_hz) < reach
        if int(inside.sum()) < BLOCK / 2:
            return self
        beside = float(np.interp([near_hz - reach, near_hz + reach], x, self.dbm).max())
        return replace(self, dbm=np.where(inside, np.minimum(self.dbm, beside), self.dbm))

    def mean_mw(self, index: int) -> float:
        """Mean power of the floor at a point, in mW."""
        averaged = self.scatter_db < 3
        return float(10 ** (self.dbm[index] / 10)) * (1.0 if averaged else 1 / math.log(2))


SHOULDER_DB, RISES_DB = 6.0, 0.3  # below the top; a point higher than the one before it is another line's
FINEST_GRAIN_DB = 0.004
SMALLEST_U_DB = 0.005  # no level is known better
FLAT_POINTS, FLAT_FALL_DB = 3, 1.5  # as many of the very same level, and then down: no filter has that shape


NEAR_ASSIGNED = 0.02  # of a frequency: so near a carrier is looked for first


def analyse_spectrum(capture: Curve, options: Options) -> Analysis:
    """Carrier and what stands beside it, corrected by the path at each frequency."""
    x, y = capture.x, capture.y
    options = replace(
        options, rbw_hz=options.rbw_hz or capture.rbw_hz, detector=options.detector or capture.detector
    )  # an option that is given counts more than what the file says
    peak = _carrier_at(x, y, options)
    rbw = options.rbw_hz or _width(x, y, peak)
    floor = floor_of(y)
    if options.detector is None:
        floor = replace(floor, detector_known=False)
    carrier = line_at(x, y, float(x[peak]), rbw, floor)
    if (why := _no_carrier(y, peak, floor) or _is_a_harmonic(float(x[peak]), options)) is not None:
        return _without_a_carrier(x, y, why)
    if _are_too_far_apart(y, peak):
        return _between_the_points(x, y, carrier, options)
    if (cut := _cut_at_the_top(y, peak)) is not None:
        return _without_a_carrier(x, y, cut)
    close_in = float(x[-1]) < 2 * carrier.at_hz
    readings = [_carrier_power(carrier, options)]
    if close_in:
        readings.append(_with_its_filter(occupied_bandwidth(x, y), rbw))
    readings += [_harmonic(n, x, y, carrier, rbw, floor, options) for n in HARMONICS if n * carrier.at_hz <= x[-1]]
    readings.append(_spurious(x, y, carrier, rbw, floor, options, close_in, readings))
    marks = [PlotMark("carrier", carrier.at_hz, carrier.dbm)]
    marks += [
        PlotMark(r.quantity, r.at_hz, float(np.interp(r.at_hz, x, y)))
        for r in readings
        if r.at_hz is not None and r.quantity != "carrier_power"
    ]
    plot = Plot(
        "frequency, Hz", "level, dBm", (PlotLine("spectrum", tuple(x.tolist()), tuple(y.tolist())),), tuple(marks)
    )
    return Analysis("spectrum", None, tuple(readings), _remarks(options, rbw), plot)


def _no_carrier(y: Real, peak: int, floor: Floor) -> str | None:
    """Why the highest point is no carrier's, or None."""
    if y[peak] > MOST_DBM:
        return f"{y[peak]:.0f} dBm is a level that no transmitter gives: is it in dBµV (107 dB less in dBm)?"
    random = floor.scatter_db > 3
    over = float(y[peak] - floor.dbm[peak])
    calm = np.median(y[: len(y) // 9 * 9].reshape(-1, 9), axis=1)
    wide = float(y[peak] - calm.min()) > WIDE_DB  # an emission as wide as the blocks of the floor, or the sweep
    still = floor.scatter_db < STILL_DB  # no floor is as smooth as that
    return (
        None
        if wide or still or over > (SURE_DB if random else floor.margin_db)
        else "no carrier in this sweep: only its floor"
    )


def _is_a_harmonic(at_hz: float, options: Options) -> str | None:
    """Why the strongest line of a sweep that does not show what was assigned is no carrier, or None."""
    if options.nominal_hz is None or at_hz < options.nominal_hz:
        return None
    order = round(at_hz / options.nominal_hz)
    if order < 2 or abs(at_hz / (order * options.nominal_hz) - 1) > NEAR_ASSIGNED:
        return None
    assigned = format_value(options.nominal_hz, "Hz", figures=5)
    return f"no carrier at {assigned} in this sweep: the strongest line is its harmonic of order {order}"


def _cut_at_the_top(y: Real, peak: int) -> str | None:
    """Why a carrier that stands flat at the top of the screen has no level, or None."""
    flat = np.flatnonzero(y == y[peak])
    first, last = int(flat[0]), int(flat[-1])
    if len(flat) < FLAT_POINTS or last - first + 1 != len(flat) or first == 0 or last == len(y) - 1:
        return None
    falls = min(float(y[peak] - y[first - 1]), float(y[peak] - y[last + 1]))
    if falls < FLAT_FALL_DB:
        return None
    return f"the carrier is cut off at {y[peak]:.1f} dBm over {len(flat)} points: raise the reference level"


def _without_a_carrier(x: Real, y: Real, why: str) -> Analysis:
    names = ("carrier_power", "occupied_bandwidth", "harmonic_2", "harmonic_3", "spurious_worst")
    plot = Plot("frequency, Hz", "level, dBm", (PlotLine("spectrum", tuple(x.tolist()), tuple(y.tolist())),))
    return Analysis("spectrum", None, tuple(nothing(n, why, method=METHOD) for n in names), (why,), plot)


def _are_too_far_apart(y: Real, peak: int) -> bool:
    """Whether the points lie no closer than the filter is wide: its shape is 12 dB down a width away."""
    if not 1 < peak < len(y) - 2:
        return False
    side = 1 if y[peak + 1] >= y[peak - 1] else -1
    if y[peak] - y[peak + 2 * side] < SHAPE_AT_ITS_WIDTH_DB:
        return False  # an emission, and no line
    return bool(2 * y[peak] - y[peak - 1] - y[peak + 1] > 2 * SHAPE_AT_ITS_WIDTH_DB)


def _between_the_points(x: Real, y: Real, carrier: Level, options: Options) -> Analysis:
    """What a sweep can say whose lines fall between its points: the carrier is no weaker than the highest of them."""
    step = format_value(float(np.median(np.diff(x))), "Hz", figures=3)
    why = f"the points are {step} apart, no closer than the filter is wide: lines fall between them; sweep finer"
    least = _carrier_power(carrier, options)
    if least.value is not None:
        bound = bounded("carrier_power", least.value, "lower", why, method=METHOD, at_hz=carrier.at_hz)
        least = bound.model_copy(update={"not_judged": least.not_judged})
    names = ["occupied_bandwidth"] if float(x[-1]) < 2 * carrier.at_hz else []
    names += [f"harmonic_{n}" for n in HARMONICS if n * carrier.at_hz <= x[-1]]
    plot = Plot("frequency, Hz", "level, dBm", (PlotLine("spectrum", tuple(x.tolist()), tuple(y.tolist())),))
    rest = [nothing(n, why, method=METHOD) for n in (*names, "spurious_worst")]
    return Analysis("spectrum", None, (least, *rest), (why,), plot)


def _remarks(options: Options, rbw: float) -> tuple[str, ...]:
    remarks = []
    if options.detector is None:
        remarks.append("which detector it was taken with was not said [detector]: both readings are in the spread")
    if options.rbw_hz is None:
        remarks.append(f"resolution bandwidth taken from the carrier's own shape: {format_value(rbw, 'Hz', figures=3)}")
    if options.mixer_dbm is None:
        remarks.append(
            "whether the analyser makes harmonics itself was not shown: put 10 dB more before it, "
            "and see whether they stay [mixer_dbm]"
        )
    return tuple(remarks)


def _carrier_at(x: Real, y: Real, options: Options) -> int:
    there = np.ones(len(x), bool)
    if options.nominal_hz is not None:
        near = np.abs(x - options.nominal_hz) < max(NEAR_ASSIGNED * options.nominal_hz, 3 * float(x[1] - x[0]))
        there = near if near.any() else there
    elif x[0] < 5 * (x[1] - x[0]):
        falling = np.flatnonzero(np.diff(y) > 0)
        there[: int(falling[0]) + 1 if len(falling) else 0] = False  # the analyser's own line at 0 Hz
    return int(np.argmax(np.where(there, y, -np.inf)))


def _width(x: Real, y: Real, peak: int) -> float:
    """Width of a line 3 dB below its top: of a Gaussian filter from the bend of its highest points, else as it
    stands."""
    step = float(np.median(np.diff(x)))
    first, last = _shoulders(y, peak)
    if last - first >= 2 and step > 0:
        away = (x[first : last + 1] - x[peak]) / step
        rows = np.vstack([np.ones(len(away)), away, away**2])
        bend = -2 * float(np.linalg.lstsq(rows.T, y[first : last + 1], rcond=None)[0][2])
        if 0 < bend < 30:
            return step * math.sqrt(80 * math.log10(2) / bend)
    edges = []
    for step in (-1, 1):
        at = peak
        while 0 < at + step < len(y) - 1 and y[at + step] > y[peak] - 3:
            at += step
        nxt = min(max(at + step, 0), len(y) - 1)
        drop = float(y[at] - y[nxt])
        share = float(y[at] - (y[peak] - 3)) / drop if drop > 0 else 0.0
        edges.append(float(x[at]) + min(share, 1.0) * float(x[nxt] - x[at]))
    return max(abs(edges[1] - edges[0]), 0.5 * float(np.median(np.diff(x))))


def _shoulders(y: Real, peak: int) -> tuple[int, int]:
    """First and last of the points about a top that are no farther below it than a filter keeps its shape."""
    first = last = peak
    while first > 0 and y[peak] - y[first - 1] < SHOULDER_DB and y[first - 1] <= y[first] + RISES_DB:
        first -= 1
    while last < len(y) - 1 and y[peak] - y[last + 1] < SHOULDER_DB and y[last + 1] <= y[last] + RISES_DB:
        last += 1
    if last - first < 2 and 0 < peak < len(y) - 1:
        return peak - 1, peak + 1
    return first, last


def floor_of(y: Real) -> Floor:
    """The floor of a trace, block by block, lines left out."""
    size = min(BLOCK, max(8, len(y) // 8))
    count = len(y) // size
    blocks = y[: count * size].reshape(count, size)
    middle = np.median(blocks, axis=1)
    low = np.sort(blocks, axis=1)[:, : size // 2 + 1]
    below = middle[:, None] - low
    averaged = float(np.median(np.quantile(below, 0.6827, axis=1)))  # of a normal scatter: one standard deviation
    scatter = RANDOM_DB if averaged > 2.2 else averaged
    middles = (np.arange(count) + 0.5) * size
    wide = np.array([np.median(middle[max(0, n - 2) : n + 3]) for n in range(count)])
    return Floor(np.interp(np.arange(len(y)), middles, np.minimum(middle, wide + 3)), max(scatter, 1e-3))


def line_at(x: Real, y: Real, near_hz: float, rbw: float, floor: Floor) -> Level:
    """The strongest line about a frequency. A Gaussian filter's shape of known width is laid over the points of its
    top."""
    step = float(np.median(np.diff(x)))
    reach = np.abs(x - near_hz) <= max(1.5 * rbw, 2 * step)
    if not reach.any():
        reach[int(np.argmin(np.abs(x - near_hz)))] = True
    inside = np.flatnonzero(reach)
    peak = int(inside[np.argmax(y[inside])])
    floor = floor.under_a_line(x, float(x[peak]), rbw)
    seen = bool(y[peak] > floor.dbm[peak] + floor.margin_db)
    if not seen:
        top = max(float(y[inside].max()), float(floor.dbm[peak]) + 2 * min(floor.scatter_db, 3.0))
        return Level(near_hz, top, 0.0, False)
    noise = floor.mean_mw(peak)
    display = math.hypot(floor.scatter_db if floor.scatter_db < 2 else 0.0, _grain(y) / math.sqrt(12))
    at, level, u = _top(x, y, peak, rbw, noise, display)
    line = max(10 ** (level / 10) - noise, 0.1 * 10 ** (level / 10))
    if not floor.detector_known:  # a peak detector shows a line with its noise on top, a mean one without
        u = math.hypot(u, DETECTORS_APART * 4.343 * min(1.0, noise / line))
    return Level(at, 10 * math.log10(line), u, True)


def _grain(y: Real) -> float:
    """To how many dB the levels of a trace are rounded; 0 where they are as fine as they like."""
    levels = np.unique(np.round(y, 4))
    grain = float(np.diff(levels).min()) if len(levels) > 1 else 0.0
    return grain if grain > FINEST_GRAIN_DB else 0.0


def _top(x: Real, y: Real, peak: int, rbw: float, noise_mw: float, display_db: float) -> tuple[float, float, float]:
    """Frequency and level of a line's top with the level's standard deviation: a parabola of the filter's own bend,
    laid over the points near the top, each with the weight that the noise leaves it."""
    step = float(np.median(np.diff(x)))
    part = np.flatnonzero(np.abs(x - x[peak]) <= max(0.6 * rbw, 1.1 * step if step < rbw else 0.0))
    scatter = np.hypot(8.686 * np.sqrt(noise_mw / (2 * 10 ** (y[part] / 10))), max(display_db, 1e-6))
    if len(part) < 3:
        return float(x[peak]), float(y[peak]), float(scatter[int(np.flatnonzero(part == peak)[0])])
    bend = 40 * math.log10(2) / rbw**2  # 3.01 dB down at half the width
    away = (x[part] - x[peak]) / rbw
    rows = np.vstack([np.ones(len(part)), away]) / scatter
    inverse = np.linalg.inv(rows @ rows.T)
    level, slope = inverse @ (rows @ ((y[part] + bend * (away * rbw) ** 2) / scatter))
    place = float(np.clip(slope / (2 * bend * rbw**2), -0.6, 0.6))
    turned = np.array([1.0, place])  # the top stands at level + slope·place/2; its change with slope is place
    return (
        float(x[peak]) + place * rbw,
        float(level) + bend * (place * rbw) ** 2,
        math.hypot(math.sqrt(float(turned @ inverse @ turned)), SMALLEST_U_DB),
    )


def _carrier_power(carrier: Level, options: Options) -> Measured:
    error, remarks = level_known(options)
    loss = options.loss_db(carrier.at_hz)
    total = carrier.dbm + (loss or 0.0)
    words = f"{carrier.dbm:.2f} dBm" + (f" + {loss:.2f} dB" if loss else "")
    power = found(
        "carrier_power",
        lambda level, error: 10 ** ((level + error) / 10 - 3),
        {"level": normal(total, carrier.u_db), "error": error},
        method=METHOD,
        working=words,
        remarks=remarks,
        at_hz=carrier.at_hz,
    )
    if loss is None:
        return power.model_copy(
            update={"not_judged": AT_THE_ANALYSER, "remarks": (f"{AT_THE_ANALYSER} [path_loss_db, path]", *remarks)}
        )
    return power


def _relative(name: str, line: Level, carrier: Level, options: Options, floor_words: str) -> Measured:
    """A line against the carrier in dBc, each corrected by the path at its own frequency."""
    losses = (options.loss_db(line.at_hz), options.loss_db(carrier.at_hz))
    correction = losses[0] - losses[1] if losses[0] is not None and losses[1] is not None else 0.0
    remarks = ("the path was not given at each frequency [path]: not corrected",) if options.path is None else ()
    value = line.dbm - carrier.dbm + correction
    if not line.seen:
        return bounded(name, value, "upper", floor_words, method=METHOD, at_hz=line.at_hz, remarks=remarks)
    error, more = level_known(options)
    inputs: dict[str, Input] = {
        "line": normal(line.dbm, line.u_db),
        "carrier": normal(carrier.dbm, carrier.u_db),
        "error": error,
    }
    words = f"{line.dbm:.2f} − {carrier.dbm:.2f} dBm" + (f" {correction:+.2f} dB path" if correction else "")
    result = found(
        name,
        lambda line, carrier, error: line - carrier + correction + error,
        inputs,
        method=METHOD,
        working=words.replace("-", "−"),
        remarks=(*more, *remarks),
        at_hz=line.at_hz,
    )
    if name.startswith("harmonic") and options.mixer_dbm is not None and options.mixer_dbm > QUIET_MIXER_DBM:
        why = (
            f"{options.mixer_dbm:g} dBm at the mixer: the analyser may make it itself; take the level "
            "down, and see whether it stays"
        )
        return result.model_copy(update={"not_judged": why})
    return result


def _harmonic(n: int, x: Real, y: Real, carrier: Level, rbw: float, floor: Floor, options: Options) -> Measured:
    line = line_at(x, y, n * carrier.at_hz, max(rbw, n * 0.3 * float(np.median(np.diff(x)))), floor)
    return _relative(f"harmonic_{n}", line, carrier, options, "not above the analyser's floor: at most, not a number")


def _spurious(
    x: Real,
    y: Real,
    carrier: Level,
    rbw: float,
    floor: Floor,
    options: Options,
    close_in: bool,
    readings: list[Measured],
) -> Measured:
    """The line that is no harmonic with the least margin to its own limit; without a profile the largest."""
    step = float(np.median(np.diff(x)))
    free = np.ones(len(x), bool)
    guard = max(4 * rbw, 3 * step)
    for n in range(1, 11):
        free &= np.abs(x - n * carrier.at_hz) > guard * (1 if n > 1 else 1.5)
    if close_in:
        width = next((r.value for r in readings if r.quantity == "occupied_bandwidth" and r.bound is None), None) or 0.0
        free &= np.abs(x - carrier.at_hz) > width / 2 + guard
    if x[0] < 5 * step:
        free &= x > max(10 * rbw, 5 * step)
    free[[0, -1]] = False
    if not free.any():
        return nothing("spurious_worst", "nothing but the carrier and its harmonics is in the sweep", method=METHOD)
    top = free & (y > floor.dbm + floor.margin_db) & (y >= np.roll(y, 1)) & (y >= np.roll(y, -1))
    places = np.flatnonzero(top)
    if not len(places):
        highest = int(np.flatnonzero(free)[np.argmax(y[free])])
        nothing_there = Level(float(x[highest]), float(y[highest]), 0.0, False)
        return _relative(
            "spurious_worst", nothing_there, carrier, options, "nothing stands out of the analyser's floor: at most"
        )
    places = places[np.argsort(y[places])[::-1][:50]]
    lines = [
        _relative("spurious_worst", line_at(x, y, float(x[p]), rbw, floor), carrier, options, "at most") for p in places
    ]
    return max(lines, key=lambda line: _margin(line, options, carrier))


def _margin(line: Measured, options: Options, carrier: Level) -> float:
    """How far a spurious line lies above its own limit, in dB (mostly below: negative); its level where no limit
    speaks."""
    value = line.value if line.value is not None else -math.inf
    if options.profile is None:
        return value
    watts = 10 ** ((carrier.dbm + (options.loss_db(carrier.at_hz) or 0.0)) / 10 - 3)
    at = Situation(mode=options.mode, assigned_hz=options.nominal_hz or carrier.at_hz, carrier_w=watts)
    over = []
    for row in options.profile[1].rows:
        if row.concerns("spurious_worst") and applies(row, at):
            try:
                over.append(value - resolve(row, at, line.at_hz)[1])
            except Refusal:
                continue
    return max(over, default=value)


def _scatter_of_an_edge(power: Real, at: int, step: float) -> float:
    """Standard deviation in Hz of where so small a share of a power ends, whose points scatter as noise does."""
    beside = power[max(0, at - EDGE_POINTS) : at + EDGE_POINTS]
    density = max(float(beside.mean()), 1e-12 * float(power.max()))
    steps = np.diff(10 * np.log10(np.maximum(beside, 1e-12 * float(power.max()))))
    if len(steps) < EDGE_POINTS or float(np.quantile(np.abs(steps), 0.5)) < 2.0:
        return 0.0  # averaged
    share = (1 - OCCUPIED) / 2
    worth = float((power**2).sum())  # of so many independent points
    return math.sqrt(share * worth) / density * step


FILTER_EDGE = 1.09  # of its width: as far as a line's own 0.5 % reaches through a Gaussian filter, 2.576/2.355


def _with_its_filter(width: Measured, rbw: float) -> Measured:
    """An occupied bandwidth that may be less by what the filter adds at either end, where that ends on a line."""
    if width.value is None or width.uncertainty is None:
        return width
    low = max(width.value - 2 * FILTER_EDGE * rbw - width.uncertainty, 0.0)
    high = width.value + width.uncertainty
    return width.model_copy(update={"interval": (low, high), "uncertainty": (high - low) / 2})


def occupied_bandwidth(x: Real, y: Real) -> Measured:
    """Width that holds 99 % of the power, half of the rest on each side, the floor taken out."""
    step = float(np.median(np.diff(x)))
    power = 10 ** (y / 10)
    edge = max(4, len(y) // 10)
    ends = np.concatenate([power[:edge], power[-edge:]])
    noise, scatter = float(ends.mean()), float(ends.std())
    level_end = float(np.median(ends))
    if level_end > 1e-3 * float(power.max()):
        return bounded(
            "occupied_bandwidth",
            float(x[-1] - x[0]),
            "lower",
            "the transmission fills the sweep: sweep wider",
            method=METHOD,
        )
    total = np.cumsum(power - noise)
    share = total / total[-1]
    low, high = (
        float(np.interp(s, np.maximum.accumulate(share), x + step / 2))
        for s in ((1 - OCCUPIED) / 2, (1 + OCCUPIED) / 2)
    )
    doubt = []
    for at in (low, high):
        i = min(max(int(np.searchsorted(x, at)), 1), len(x) - 2)
        there = max(float(power[i - 1 : i + 2].mean() - noise), 1e-9 * float(total[-1]))
        doubt.append(min(scatter * math.sqrt(len(x) / 3) / there * step, high - low))
        doubt.append(_scatter_of_an_edge(power - noise, i, step))
    standard = math.hypot(*doubt, step / math.sqrt(6))
    if low - x[0] < 3 * step or x[-1] - high < 3 * step:
        return bounded(
            "occupied_bandwidth", high - low, "lower", "it reaches the end of the sweep: sweep wider", method=METHOD
        )
    return estimate(
        "occupied_bandwidth", high - low, standard, method=METHOD, working=f"{high / 1e6:.6f} − {low / 1e6:.6f} MHz",
        remarks=("the analyser's own bandwidth is in it",),
    )  # fmt: skip
