"""Frames of aerials and of what lies beside the carrier: points of an SWR, harmonics in dBm, spurs, a null, a beat."""

import math
import re
from dataclasses import replace

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import UNIT_OF, Item, Said
from young_spark.core.entry.facts.sentence import Sentence, Unexplained
from young_spark.core.entry.frames.own_frames import Frame, hand, named, typed, use
from young_spark.core.figure import sums

ORDERS = {"third": "imd3", "3rd": "imd3", "fifth": "imd5", "5th": "imd5", "seventh": "imd7", "7th": "imd7"}
LEAST_CLARIFIER_HZ = 20.0  # bare; no clarifier covers so many kilohertz
TWO_TONES_DB = 20 * math.log10(2)  # one tone of two below their peak envelope


def _swr_points(s: Sentence) -> list[Said]:
    """'2:1 points 26.8 and 27.9': the bandwidth of an aerial."""
    if not typed(s, "points", "point") or len(s.items) != 3:
        return []
    ratio, low, high = s.items
    if ratio.fact.unit != "1" or not 1 < low.fact.value < high.fact.value:
        return []
    factor = 1e6 if low.fact.unit is None else 1e6 if low.fact.unit == "m" else 1.0
    ends = (low.fact.value * factor, high.fact.value * factor)
    for item in list(s.items):
        use(s, item)
    s.take(*typed(s, "points", "point", "and"))
    return [Said("swr_bandwidth", value=ends[1] - ends[0], low=ends[0], high=ends[1], unit=UNIT_OF["swr_bandwidth"])]


def _resonance(s: Sentence) -> list[Said]:
    """'swr min 1.2 at 27.3': the least SWR, and where it lies."""
    names = named(s, "swr_minimum")
    at = [n for n in range(len(s.facts)) if s.facts[n].of == "at_hz"] or typed(s, "at")
    if not names or not at:
        return []
    where = s.item_at(at[-1] + 1)
    if s.facts[at[-1]].of == "at_hz":
        s.take(at[-1])
        return [Said("resonant_frequency", value=float(s.facts[at[-1]].is_), unit="Hz")]
    if where is None or where.fact.unit not in {None, "m"}:
        return []
    use(s, where)
    s.take(*at)
    return [Said("resonant_frequency", value=where.fact.value * 1e6, unit="Hz", step=where.fact.step * 1e6)]


def _signed_ends(s: Sentence) -> list[Said]:
    """'clarifier +1.3k -1.1k': what it covers on either side."""
    names = named(s, "clarifier_range")
    only = s.items[0] if len(s.items) == 1 else None
    if names and only is not None and s.is_link(only.at - 1, "either side"):
        reach = only.fact.value * _hertz_of_a_clarifier(only)
        s.take(*names, only.at - 1)
        use(s, only)
        return [Said("clarifier_range", low=-reach, high=reach, unit="Hz")]
    if not names or len(s.items) != 2 or not all(i.fact.unit in {"k", "Hz", None} for i in s.items):
        return []
    up, down = sorted(s.items, key=lambda i: -i.fact.value)
    if not down.fact.value < 0 < up.fact.value:
        return []
    ends = [_end_in_hertz(end, other) for end, other in ((down, up), (up, down))]
    for item in list(s.items):
        use(s, item)
    s.take(*names)
    return [Said("clarifier_range", low=ends[0], high=ends[1], unit="Hz")]


def _end_in_hertz(end: Item, other: Item) -> float:
    """One end of what a clarifier covers, in Hz; '-1.1 +1.3k': a unit behind one that is as small is meant for both."""
    if end.fact.unit is not None:
        return end.fact.value
    if other.fact.unit is None:
        return end.fact.value * _hertz_of_a_clarifier(max(end, other, key=lambda i: i.fact.value))
    factor = other.fact.factor
    return end.fact.value * (factor if abs(end.fact.value) < SMALL_END * abs(other.fact.value) else 1.0)


SMALL_END = 0.05  # of the other: no clarifier is as lopsided


def _hertz_of_a_clarifier(item: Item) -> float:
    """What one of a bare figure is: '1.3' is in kilohertz, '900' in hertz."""
    return 1.0 if item.fact.unit or item.fact.value >= LEAST_CLARIFIER_HZ else 1e3


def _harmonic_in_dbm(s: Sentence) -> list[Said]:
    """'2h -22dbm carrier +36dbm': two levels on one screen."""
    name = next((n for n in s.free("quantity") if s.facts[n].of.startswith("harmonic_")), None)
    levels = [i for i in s.items if i.fact.unit == "dBm"]
    if name is None or not levels:
        return []
    carrier = next((n for n in named(s, "carrier_power")), None)
    if carrier is None or len(levels) != 2:
        raise Unexplained
    of_carrier = min(levels, key=lambda i: (abs(i.at - carrier), i.at < carrier))
    level = next(i for i in levels if i is not of_carrier)
    of_carrier.quantity = "carrier_power"
    s.take(name, carrier)
    use(s, level)
    below = level.fact.value - of_carrier.fact.value
    return [Said(s.facts[name].of, value=below, unit="dBc", step=level.fact.step, address=hand(s))]


def _orders(s: Sentence) -> list[Said]:
    """'two tone imd -27 third, -36 fifth': beside that word an order is one of its products, and no harmonic."""
    products = [n for n in named(s, "imd3") if s.facts[n].text in {"imd", "products"}]
    orders = [n for n, f in enumerate(s.facts) if f.text in ORDERS]
    two_tones = any(f.of == "audio" and f.is_ == "two tones" for f in s.facts)
    if (len(products) == 1 or two_tones) and orders:
        for n in orders:
            s.facts[n] = replace(s.facts[n], kind="quantity", of=ORDERS[s.facts[n].text])
        s.take(*products)
    return []


def _below_pep(s: Sentence) -> list[Said]:
    """'imd3 35 below pep', 'imd3 -31 imd5 -38 below pep': below one tone it is 6 dB less."""
    names, pep = named(s, "imd3", "imd5", "imd7"), named(s, "peak_envelope_power")
    if not names or not pep or len(s.items) != len(names) or not typed(s, "below"):
        return []
    said = [
        Said(
            s.facts[name].of, value=abs(item.fact.value) - TWO_TONES_DB, unit="dB", step=item.fact.step, address=hand(s)
        )
        for name, item in zip(names, s.items, strict=True)
    ]
    for item in list(s.items):
        use(s, item)
    s.take(*names, *pep, *typed(s, "below"))
    return said


def _spur_at(s: Sentence) -> list[Said]:
    """'spur -55 135.4M': the level, and where it stands."""
    names = named(s, "spurious_worst")
    if not names or len(s.items) != 2:
        return []
    where = next((i for i in s.items if _is_a_frequency(i.fact)), None)
    if where is None:
        return []
    level = next(i for i in s.items if i is not where)
    hz = where.fact.value * (1e6 if where.fact.unit in {None, "m"} else 1.0)
    assigned = s.ground.assigned_hz
    if assigned is not None and any(abs(hz / (n * assigned) - 1) < 1e-3 for n in range(2, 11)):
        raise Unexplained  # that is a harmonic: which of the two is meant is asked
    level.address["at_hz"] = hz
    use(s, where)
    return []


def _is_a_frequency(fact: Fact) -> bool:
    return (
        fact.unit == "m"
        or (fact.unit == "Hz" and fact.value > 1e5)
        or (fact.unit is None and not fact.signed and fact.decimals > 0 and fact.value > 1)
    )


def _zero_beat(s: Sentence) -> list[Said]:
    """'zero beat at 27.185': the ear is blind over tens of hertz."""
    words = typed(s, "zero", "beat")
    if len(words) != 2 or len(s.items) != 1:
        return []
    item = s.items[0]
    hz = item.fact.value * (1e6 if item.fact.unit in {None, "m"} else 1.0)
    use(s, item)
    s.take(*words, *typed(s, "at"))
    return [Said("carrier_frequency", value=hz, unit="Hz", about=True, step=item.fact.step * 1e6, address=hand(s))]


def _sideband_counted(s: Sentence) -> list[Said]:
    """'14.20102 with 1k tone usb': on a sideband the carrier lies the tone beside the line that is counted."""
    side = next(
        (s.facts[n].is_ for n in s.free("how") if s.facts[n].of == "mode" and s.facts[n].is_ in {"usb", "lsb"}), None
    )
    tone = next((n for n, f in enumerate(s.facts) if f.text == "tone"), None)
    if side is None or tone is None or len(s.items) != 2:
        return []
    counted, hz = s.items
    if hz.fact.unit not in {"k", "Hz"} or s.ground.as_carrier(counted.fact) is None or hz.at != tone - 1:
        return []
    value = float(s.ground.as_carrier(counted.fact) or 0.0) + (-1 if side == "usb" else 1) * hz.fact.value
    address = {**hand(s), "mode": side, "tone_hz": hz.fact.value}
    for item in (counted, hz):
        use(s, item)
    s.take(tone, *typed(s, "with"), *[n for n in s.free("how") if s.facts[n].is_ == side])
    return [Said("carrier_frequency", value=value, unit="Hz", step=counted.fact.step * 1e6, address=address)]


def _in_the_noise(s: Sentence) -> list[Said]:
    """'h4 in the noise -72': at most that."""
    words = typed(s, "in the noise")
    if words and len(s.items) == 1:
        s.items[0].noise = True
        s.take(*words)
    return []


def _on_frequency(s: Sentence) -> list[Said]:
    """'on freq', 'off frequency': a result of the frequency."""
    words = [f.text for f in s.facts]
    if words[-1:] and words[-1] in {"freq", "frequency", "channel"} and len(words) <= 3 and not s.items:
        result = {"on": "ok", "off": "bad"}.get(words[-2] if len(words) > 1 else "")
        if result is not None:
            s.take(*range(len(words)))
            return [Said("frequency_error", result=result, address=hand(s))]
    return []


def _impedance(s: Sentence) -> list[Said]:
    """'z 46 -j3 at ch20': ohms and reactance of an aerial, as the SWR that they make on 50 ohms."""
    ends = [n for n, f in enumerate(s.facts) if re.fullmatch(r"[+-]?j\d+(?:\.\d+)?", f.text)]
    at = ends[0] if len(ends) == 1 else -1
    signs = [n for n in (at - 1,) if s.has_text(n, "-", "+")]
    item = s.item_at(at - 1 - len(signs))
    if at < 0 or item is None or item.fact.unit not in {None, "Ω"} or len(s.items) != 1 or item.fact.value <= 0:
        return []
    negative = any(s.has_text(n, "-") for n in signs) or s.facts[at].text.startswith("-")
    reactance = float(s.facts[at].text.lstrip("+-j")) * (-1 if negative else 1)
    load = complex(item.fact.value, reactance)
    swr = sums.swr_from_reflection(abs((load - LINE_OHM) / (load + LINE_OHM)))
    item.fact = replace(item.fact, unit="1", value=swr, decimals=2, factor=1.0)
    item.quantity = "swr"
    s.take(at, *signs)
    s.keep_words |= {at, item.at}
    return []


LINE_OHM = 50.0
FRAMES: tuple[Frame, ...] = (
    _swr_points,
    _resonance,
    _signed_ends,
    _harmonic_in_dbm,
    _orders,
    _below_pep,
    _spur_at,
    _zero_beat,
    _sideband_counted,
    _in_the_noise,
    _on_frequency,
    _impedance,
)
