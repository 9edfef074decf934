"""What reaches each part of a path for the most that its start could give: heat, crest and volts, held against
ratings."""

import math
from typing import Literal

from young_spark.core.figure import format_value
from young_spark.core.ground import Frozen
from young_spark.core.path.signal_path import BadPath, Meter, Path, PathPart, PathProbe, Through, loss_at, outputs, walk

PathState = Literal["ok", "too_low", "over_range", "too_high", "no_load"]
PathMode = Literal["am", "fm", "cw", "ssb"]

WORST_FIRST: tuple[PathState, ...] = ("no_load", "too_high", "over_range", "too_low", "ok")
PADS_DB = (3, 6, 10, 20, 30, 40, 50, 60)
RATINGS_W = (2, 5, 10, 25, 50, 100, 250, 500, 1000, 2000)
# of the power that is stated: what heats, and what the crest is (AM at 100 % of a sine: 1.5 and 4)
MEAN_AND_CREST: dict[PathMode, tuple[float, float]] = {
    "am": (1.5, 4.0),
    "fm": (1.0, 1.0),
    "cw": (1.0, 1.0),
    "ssb": (1.0, 1.0),
}
OHM = 50.0
MOST_DBM = 200
OPEN = 2.0  # volts across a line whose load falls off, against those of the matched line


class Drive(Frozen):
    """The most that a start gives, in W: what heats, and the crest of it (PEP)."""

    mean_w: float
    crest_w: float


class Node(Frozen):
    """What reaches the input of one part. `rating_dbm` is what it stands; None where nothing is stated."""

    part: str
    mean_dbm: float
    pep_dbm: float
    peak_v: float
    rating_dbm: float | None
    state: PathState
    advice: str = ""


class Levels(Frozen):
    """Every node, and the worst state of all."""

    state: PathState
    nodes: tuple[Node, ...]


def driven_by(power_w: float, mode: PathMode) -> Drive:
    """What a power in W (the carrier; the PEP for SSB) heats with and crests at in a mode."""
    mean, crest = MEAN_AND_CREST[mode]
    return Drive(mean_w=power_w * mean, crest_w=power_w * crest)


def levels(path: Path, drive: Drive, at_hz: float) -> Levels:
    """Mean and crest at each node for the most that the start could give, at a frequency in Hz.

    What protects must do so with every switchable attenuator at 0 dB; what reads is judged with them as they stand.
    Raises BadPath where gains add up to what cannot be."""
    mean, crest = (10 * math.log10(watts) + 30 for watts in (drive.mean_w, drive.crest_w))
    nodes = []
    for part, steps in walk(path):
        loss = sum(loss_at(step, at_hz) for _, step in steps)
        switched = -sum(loss_at(step, at_hz) for before, step in steps if _can_be_zero(before))
        if crest - loss > MOST_DBM:
            raise BadPath(f"{part.id}: more than {MOST_DBM} dBm would reach it: look at the gains before it")
        volts = math.sqrt(2 * OHM * 10 ** ((crest - loss) / 10 - 3))
        state, advice = _judged(part, mean - loss, crest - loss, switched, volts, at_hz)
        dc = 0.0 if any(_stops_dc(path, before, part.id) for before, _ in steps) else path.begins.dc_v
        if dc and (told := _dc_words(part, dc)):
            state, advice = "too_high", told
        nodes.append(
            Node(
                part=part.id,
                mean_dbm=mean - loss,
                pep_dbm=crest - loss,
                peak_v=volts,
                rating_dbm=_rating(part),
                state=state,
                advice=advice,
            )
        )
    return Levels(state=min((n.state for n in nodes), key=WORST_FIRST.index), nodes=tuple(nodes))


def _can_be_zero(part: PathPart) -> bool:
    return isinstance(part, Through) and part.switchable


def _stops_dc(path: Path, before: PathPart, part_id: str) -> bool:
    """Whether a part keeps DC from what is behind it: a block, or a coupler from its sample."""
    if before.kind == "dc_block":
        return True
    return before.kind == "coupler" and part_id in _behind(path, before.coupled)


def _behind(path: Path, part_id: str | None) -> set[str]:
    if part_id is None:
        return set()
    below = {part_id}
    for to, _ in outputs(path.part(part_id)):
        below |= _behind(path, to)
    return below


def _dc_words(part: PathPart, dc: float) -> str:
    stands = part.safe_dc_v if isinstance(part, Meter | PathProbe) else None
    if stands is None or abs(dc) <= stands:
        return ""
    return (
        f"{format_value(abs(dc), 'V', figures=3)} DC would reach {part.title}, which stands "
        f"{format_value(stands, 'V', figures=3)}: put a DC block before it"
    )


def _rating(part: PathPart) -> float | None:
    if isinstance(part, Meter):
        return part.safe_dbm
    rating = None if isinstance(part, PathProbe) else part.rating_w
    return None if rating is None else 10 * math.log10(rating) + 30


def _judged(
    part: PathPart, mean: float, crest: float, switched: float, volts: float, at_hz: float
) -> tuple[PathState, str]:
    """State and advice; `switched` (<= 0) is how much less loss protects when attenuators are switched out."""
    if isinstance(part, Meter):
        return _judged_meter(part, mean, crest, switched)
    if isinstance(part, PathProbe):
        stands = loss_at(part.safe_v, at_hz)
        if OPEN * volts > stands:
            return "too_high", (
                f"{part.title} would see {format_value(volts, 'V', figures=3)} peak, twice that if the "
                "load falls off; it stands "
                f"{format_value(stands, 'V', figures=3)} at {format_value(at_hz, 'Hz')}: tap behind a pad or a coupler"
            )
    rating, heat = _rating(part), mean - switched
    if rating is not None and heat > rating:
        watts = 10 ** (heat / 10 - 3)
        needed = next((r for r in RATINGS_W if r >= watts), RATINGS_W[-1])
        stands = 10 ** (rating / 10 - 3)
        return "too_high", (
            f"{part.title} would take {format_value(watts, 'W', figures=3)}; it stands "
            f"{format_value(stands, 'W', figures=3)}: "
            f"use one for {needed} W, or put loss before it"
        )
    if any(to is None for to, _ in outputs(part)[:1]):
        return "no_load", f"nothing is behind {part.title}: end the line in a load"
    return "ok", ""


def _judged_meter(part: Meter, mean: float, crest: float, switched: float) -> tuple[PathState, str]:
    if crest - switched > part.safe_dbm:
        room = min(part.safe_dbm, part.usable_dbm[1] if part.usable_dbm else part.safe_dbm)
        out = " with the switched attenuators at 0 dB" if switched < 0 and crest <= part.safe_dbm else ""
        return "too_high", (
            f"{crest - switched:+.1f} dBm would reach {part.title}{out}, which stands {part.safe_dbm:+.1f} dBm: "
            f"put {_pad_for(crest - switched - room)} more before it"
        )
    if part.usable_dbm is None:
        return "ok", ""
    low, high = part.usable_dbm
    if crest > high:
        return (
            "over_range",
            f"{crest:+.1f} dBm is above what {part.title} reads ({high:+.1f} dBm): put "
            f"{_pad_for(crest - high)} more before it",
        )
    if mean < low:
        fits = [pad for pad in PADS_DB if low - mean <= pad <= high - crest]
        cure = f"take {fits[0]} dB out" if fits else "take loss out"
        return (
            "too_low",
            f"{mean:+.1f} dBm is below what {part.title} reads ({low:+.1f} dBm), the reading would "
            f"sit in the noise: {cure}",
        )
    return "ok", ""


def _pad_for(excess_db: float) -> str:
    """The smallest usual pad that takes an excess away."""
    pad = next((p for p in PADS_DB if p >= excess_db), None)
    return f"a {pad} dB pad" if pad is not None else f"{math.ceil(excess_db)} dB"
