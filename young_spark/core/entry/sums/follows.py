"""What follows from figures of one breath: SWR, gain, efficiency, hysteresis, depth, step, fade, drift."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from types import MappingProxyType

from young_spark.core.entry.facts.said import UNIT_OF, Said

SHOWN_OF_ALL = 0.998  # of the forward power: as much as comes back on a meter that can still show an SWR
LIKE = ("channel", "frequency_hz", "mode", "place", "item")


def swr_of(forward_w: float, reflected_w: float) -> float:
    """SWR = (1 + √(Pr/Pf)) / (1 − √(Pr/Pf)); as much as a meter can show where all comes back."""
    root = math.sqrt(min(max(reflected_w, 0.0) / forward_w, SHOWN_OF_ALL))
    return (1 + root) / (1 - root)


def ratio_db(over_w: float, under_w: float) -> float:
    """10 log₁₀ of a ratio of powers, in dB."""
    return 10 * math.log10(max(over_w, 1e-12) / max(under_w, 1e-12))


def efficiency_of(output_w: float, volts: float, amps: float) -> float:
    """Output power over supply volts times amps, in %."""
    return 100 * output_w / (volts * amps)


def crest_depth(peak_w: float, carrier_w: float) -> float:
    """Depth of the crest in %: √(PEP/carrier) − 1."""
    return 100 * (math.sqrt(peak_w / carrier_w) - 1)


SUMS: dict[str, Callable[..., float]] = {
    "swr": swr_of,
    "input_swr": swr_of,
    "return_loss": ratio_db,
    "gain": lambda drive, output: ratio_db(output, drive),
    "insertion_loss": ratio_db,
    "squelch_hysteresis": lambda opens, closes: opens - closes,
    "am_depth": lambda crest, trough: (crest + trough) / 2,
    "fm_deviation": max,
    "am_depth_positive": crest_depth,
    "efficiency": efficiency_of,
    "power_step": lambda low, high: ratio_db(low, high),
    "power_fade": lambda first, last: ratio_db(last, first),
    "frequency_drift": lambda first, last: last - first,
    "power_flatness": lambda low, high: ratio_db(high, low),
}
# the quantity that follows from others of the same point, in the order of its sum
OF_OTHERS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("swr", ("forward_power", "reflected_power")),
    ("return_loss", ("forward_power", "reflected_power")),
    ("input_swr", ("drive_power", "reflected_power")),
    ("squelch_hysteresis", ("squelch_open", "squelch_close")),
    ("am_depth", ("am_depth_positive", "am_depth_negative")),
    ("fm_deviation", ("fm_deviation_positive", "fm_deviation_negative")),
    ("am_depth_positive", ("peak_envelope_power", "carrier_power")),
    ("efficiency", ("carrier_power", "supply_voltage", "supply_current")),
    ("efficiency", ("carrier_power", "plate_voltage", "plate_current")),
)


def follows_from(
    said: Sequence[Said], pairs: Sequence[tuple[int, int]] = (), hand: Mapping[str, object] = MappingProxyType({})
) -> list[Said]:
    """Every figure that follows; `pairs` are positions of drive and output that belong together."""
    there = {s.quantity for s in said}
    made = [
        derived for quantity, of in OF_OTHERS if quantity not in there for derived in _of_others(quantity, of, said)
    ]
    made += _gains(said, pairs) if "gain" not in there else []
    return made + _of_two(said, there) + _over_channels(said) + _of_a_stage(said, hand)


def _over_channels(said: Sequence[Said]) -> list[Said]:
    """'ch1-40 3.6-3.9w': how flat the power is."""
    return [
        Said(
            "power_flatness", value=ratio_db(s.high, s.low), unit="dB", derived=True, inputs=(n,),
            address={"channels": s.address["channels"]},
        )
        for n, s in enumerate(said)
        if s.quantity == "carrier_power" and s.low and s.high and s.address.get("channels")
    ]  # fmt: skip


def _of_a_stage(said: Sequence[Said], hand: Mapping[str, object]) -> list[Said]:
    """'+10dbm driver in +31 out': the gain of one stage from its levels."""
    where = {k: hand[k] for k in ("channel", "frequency_hz") if k in hand}
    levels = {str(s.address.get("place")): n for n, s in enumerate(said) if s.quantity == "rf_level" and _usable(s)}
    made: list[Said] = []
    for place, n in levels.items():
        stage = place.removesuffix(" input")
        out = levels.get(f"{stage} output")
        if stage != place and out is not None:
            value = float(said[out].value or 0.0) - float(said[n].value or 0.0)
            made.append(
                Said("gain", value=value, unit="dB", derived=True, inputs=(n, out), address=where | {"place": stage})
            )
    return made


def _usable(said: Said) -> bool:
    return said.value is not None and said.bound is None and said.address.get("instrument") != "own_meter"


def _of_others(quantity: str, of: tuple[str, ...], said: Sequence[Said]) -> list[Said]:
    found = [[n for n, s in enumerate(said) if s.quantity == name and _usable(s)] for name in of]
    if any(len(f) != 1 for f in found):
        return []
    inputs = tuple(f[0] for f in found)
    if quantity == "efficiency":
        amps = said[inputs[2]].address
        if amps.get("state") not in {None, "transmit"}:
            return []
        return _derived(quantity, said, inputs, at=said[inputs[0]])
    if quantity == "input_swr" and said[inputs[0]].led_by != "input_swr":
        return []
    if quantity == "am_depth_positive" and (_is_no_am(said[inputs[0]], said[inputs[1]]) or len(said) > 2):
        return []
    return _derived(quantity, said, inputs, at=said[inputs[-1]])


def _is_no_am(peak: Said, carrier: Said) -> bool:
    """Whether a crest is not of amplitude modulation, or its carrier is of another mode."""
    return peak.address.get("mode") != "am" or carrier.address.get("mode") not in {None, "am"}


def _derived(
    quantity: str, said: Sequence[Said], inputs: tuple[int, ...], *, at: Said, **address: object
) -> list[Said]:
    values = [float(said[n].value or 0.0) for n in inputs]
    if quantity != "squelch_hysteresis" and quantity != "frequency_drift" and values[0] <= 0:
        return []
    try:
        value = SUMS[quantity](*values)
    except (ValueError, ZeroDivisionError):
        return []
    whole = {k: v for k, v in {**at.address, **address}.items() if v is not None}
    return [
        Said(quantity, value=value, unit=UNIT_OF[quantity], derived=True, inputs=inputs, about=at.about, address=whole)
    ]


def _gains(said: Sequence[Said], pairs: Sequence[tuple[int, int]]) -> list[Said]:
    """Gain of each drive with its output: those that belong together, or that stand at one point."""
    drives = [n for n, s in enumerate(said) if s.quantity == "drive_power" and _usable(s)]
    outputs = [n for n, s in enumerate(said) if s.quantity == "carrier_power" and _usable(s)]
    if not pairs:
        pairs = [(d, o) for d in drives for o in outputs if _like(said[d], said[o], "channel", "frequency_hz")]
        if len(pairs) > len(drives):
            pairs = []
    made: list[Said] = []
    for drive, output in pairs:
        if said[output].address.get("setting") == "bypassed":
            made += _derived("insertion_loss", said, (drive, output), at=said[output])
        else:
            made += _derived("gain", said, (drive, output), at=said[output], mode=None)
    return made


def _like(one: Said, other: Said, *keys: str) -> bool:
    return all(one.address.get(k) == other.address.get(k) for k in keys)


def _of_two(said: Sequence[Said], there: set[str | None]) -> list[Said]:
    """What two figures of one quantity tell: two settings, cold and hot, first and last."""
    powers = [n for n, s in enumerate(said) if s.quantity == "carrier_power" and _usable(s)]
    counted = [n for n, s in enumerate(said) if s.quantity == "carrier_frequency" and _usable(s)]
    made: list[Said] = []
    settings = {said[n].address.get("power_setting"): n for n in powers}
    if len(powers) == 2 and {"low", "high"} <= settings.keys() and "power_step" not in there:
        inputs = (settings["low"], settings["high"])
        made += _derived("power_step", said, inputs, at=said[inputs[1]], power_setting=None)
    for quantity, found in (("power_fade", powers), ("frequency_drift", counted)):
        if (ends := _first_and_last(said, found)) is not None and quantity not in there:
            more = {"after_s": None} if quantity == "power_fade" else {}
            made += _derived(quantity, said, ends, at=said[ends[1]], heat=None, **more)
    return made


def _first_and_last(said: Sequence[Said], found: list[int]) -> tuple[int, int] | None:
    """The two ends of what was read cold and hot, or over seconds."""
    if len(found) < 2 or not all(_like(said[found[0]], said[n], *LIKE) for n in found):
        return None
    heats = {said[n].address.get("heat"): n for n in found}
    if len(found) == 2 and {"cold", "hot"} <= heats.keys():
        return heats["cold"], heats["hot"]
    if len(found) == 2 and said[found[0]].address.get("after_s") == 0:
        return found[0], found[1]
    timed = [n for n in found if said[n].address.get("after_s") is not None]
    if len(timed) >= len(found) - 1 and timed and found[-1] in timed:
        return found[0], found[-1]
    return None


def at_first(said: list[Said]) -> list[Said]:
    """'118 falls to 85 in 90s', '20 min key down: 3.8 falls to 3.7': the first of them was read at the begin."""
    powers = [n for n, s in enumerate(said) if s.quantity == "carrier_power" and s.value is not None]
    if len(powers) != 2:
        return said
    first, last = powers
    if (
        said[last].address.get("after_s")
        and said[first].address.get("after_s") in {None, said[last].address["after_s"]}
        and _like(said[first], said[last], *LIKE)
    ):
        said[first] = replace(said[first], address={**said[first].address, "after_s": 0.0})
    return said
