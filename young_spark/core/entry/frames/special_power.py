"""Frames of powers, supplies and parts: fades, shares, a gain in times, a limit that is reached, a diode, a fuse."""

import math
import re
from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from young_spark.core.entry.facts.address import from_an_open_line
from young_spark.core.entry.facts.fact import Fact, FigureRead
from young_spark.core.entry.facts.said import UNIT_OF, Item, Said
from young_spark.core.entry.facts.sentence import Sentence, Unexplained
from young_spark.core.entry.frames.marked import DUE
from young_spark.core.entry.frames.own_frames import Frame, hand, named, typed, use
from young_spark.core.gear import BANDS_M


def _share_down(s: Sentence) -> list[Said]:
    """'power down 20%': a share of the power that is gone, 10 log of what is left."""
    names = named(s, "carrier_power")
    down = [n for n in s.free("side") if s.facts[n].is_ == "low" and s.facts[n].text in {"down", "low"}]
    share = next((i for i in s.items if i.fact.unit == "%" and 0 < i.fact.value < 100), None)
    if not names or not down or share is None or len(s.items) != 1:
        return []
    use(s, share)
    s.take(*names, *down)
    heat = next((s.facts[n] for n in s.free("how") if s.facts[n].of == "heat"), None)
    address = hand(s) | ({"heat": heat.is_} if heat is not None else {})
    return [Said("power_fade", value=10 * math.log10(1 - share.fact.value / 100), unit="dB", address=address)]


def _forward_and_reflected(s: Sentence) -> list[Said]:
    """'swr 3.8/0.3w ch1', 'fwd/ref 50/2': what goes out and what comes back, in the place of the ratio that follows
    from them; of the input of an amplifier what its drive comes to."""
    pair = next(((a, b) for a, b in pairwise(s.items) if b.at == a.at + 2 and s.has_text(a.at + 1, "/")), None)
    if pair is None or any(i.fact.unit not in {None, "W"} for i in pair) or not _is_more(*pair):
        return []
    others = [i.at for i in s.items if i not in pair]
    names = [n for n in named(s, "swr", "input_swr", "forward_power") if not _is_between(others, n, pair[0].at)]
    kinds = {s.facts[n].of for n in names}
    if not names or (kinds == {"forward_power"} and not named(s, "reflected_power")):
        return []
    first = "drive_power" if "input_swr" in kinds else "forward_power"
    for item, quantity in zip(pair, (first, "reflected_power"), strict=True):
        times = _shared_factor(*pair) if item is pair[0] else 1.0
        item.quantity = quantity
        item.fact = replace(item.fact, unit="W", value=item.fact.value * times, factor=item.fact.factor * times)
    s.take(*names, pair[0].at + 1)
    return []


def _is_between(others: Sequence[int], one: int, other: int) -> bool:
    return any(min(one, other) < n < max(one, other) for n in others)


def _shared_factor(first: Item, second: Item) -> float:
    """A unit behind the second of two figures is of both."""
    return second.fact.factor if first.fact.unit is None and second.fact.unit else 1.0


def _is_more(first: Item, second: Item) -> bool:
    return first.fact.value * _shared_factor(first, second) > second.fact.value > 0


def _none_on(s: Sentence) -> list[Said]:
    """'tx dead on 5 6 7 8', 'no output on 10m or 15m': channels or bands on which nothing comes out, or nothing is
    heard."""
    for n in s.free("result"):
        points, last = _points_behind(s, n)
        if s.facts[n].is_ not in {"none", "dead"} or len(points) < LEAST_PLACES or any(i.at > last for i in s.items):
            continue
        names = [m for m in s.free("quantity") if s.facts[m].of != "carrier_power"]
        if names or s.free("place") or any(i.at < n for i in s.items):
            continue
        for item in list(s.items):
            use(s, item)
        states = [m for m in s.free("how") if s.facts[m].of == "state"]
        s.take(*states, *range(n, last + 1), *named(s, "carrier_power"))
        if any(s.facts[m].is_ == "receive" for m in states):
            return [Said("condition", result="dead", address={"function": "receive", **point}) for point in points]
        where = {k: v for k, v in hand(s).items() if k not in {"channel", "frequency_hz"}}
        return [_none_at({**where, **point}, s) for point in points]
    return []


def _none_at(address: dict[str, object], s: Sentence) -> Said:
    from_an_open_line("carrier_power", address, s.ground)
    return Said("carrier_power", result="none", address=address)


LEAST_PLACES = 2


def _points_behind(s: Sentence, n: int) -> tuple[list[dict[str, object]], int]:
    """The channels or bands in a row behind a result, and where the row ends."""
    at = n + 1
    while s.has_text(at, "on", "at", "output", "power", "rf", "carrier", "out"):
        at += 1
    points: list[dict[str, object]] = []
    while (point := _point(s, at)) is not None or (points and s.has_text(at, "and", "or", "/")):
        points += [point] if point else []
        at += 1
    return points, at - 1


def _point(s: Sentence, n: int) -> dict[str, object] | None:
    fact, item = s.fact(n), s.item_at(n)
    if fact is not None and fact.kind == "where" and fact.of == "channel":
        return {"channel": int(float(str(fact.is_)))}
    if fact is not None and fact.kind == "where" and fact.of == "band":
        return {"frequency_hz": s.ground.frequency_of_band(str(fact.is_))}
    if item is None or item.fact.unit is not None or item.fact.decimals:
        return None
    number = int(item.fact.value)
    if s.ground.channel_hz:
        return {"channel": number} if number in s.ground.channel_hz else None
    return {"frequency_hz": s.ground.frequency_of_band(f"{number}m")} if number in BANDS_M else None


def _fades(s: Sentence) -> list[Said]:
    """'95w fades to 71w': from the begin of keying."""
    words = typed(s, "fades", "faded", "fades to")
    if not words or len(s.items) != 2 or {i.fact.unit for i in s.items} - {None, "W"}:
        return []
    for item in s.items:
        item.quantity = "carrier_power"
    s.items[0].address["after_s"] = 0.0
    s.take(*words, *typed(s, "to"))
    return []


def _at_rest(s: Sentence) -> list[Said]:
    """'idle plate current 100ma', 'draws 140ma idle', 'idles at 210ma': what a valve, or the whole set, draws at
    rest."""
    rest, plate = named(s, "idle_current"), named(s, "plate_current", "supply_current")
    read = [i for i in s.items if not s.has_text(i.at - 1, *DUE)]
    if rest and plate and len(read) == 1:  # 'idle ip 90ma should be 180'
        draws = s.facts[plate[0]].of == "supply_current" and not s.ground.wanted_at_all("idle_current")
        if draws and s.ground.wanted_at_all("supply_current"):
            s.items[0].address.setdefault("state", "standby")
            s.take(*rest)
        else:
            s.take(*plate)
    elif rest and _idles_as_a_whole(s, rest[0]):
        s.facts[rest[0]] = Fact("quantity", s.facts[rest[0]].text, of="supply_current", is_="supply_current")
        drawn = next(i for i in s.items if i.fact.unit == "A")
        drawn.address.setdefault("state", "standby")
    return []


def _no_drive(s: Sentence) -> list[Said]:
    """'ip 180 no drive': plate current without drive is the idle current."""
    drive = [n for n in named(s, "drive_power") if s.has_text(n - 1, "no", "without", "zero")]
    amps = [i for i in s.items if i.fact.unit in {"A", None}]
    if not drive or len(amps) != 1 or s.free("place"):
        return []
    names = named(s, "plate_current", "supply_current")
    amps[0].quantity = "idle_current"
    s.take(*drive, *[n - 1 for n in drive], *names)
    return []


def _plate_volts_at_rest(s: Sentence) -> list[Said]:
    """'plate volts: 2450 idle, 2180 loaded': at rest, where the figure beside it is no current."""
    rest = [n for n in named(s, "idle_current") if s.facts[n].text in {"idle", "idling"}]
    if len(rest) != 1 or not named(s, "plate_voltage") or len(s.items) < LEAST_OF_A_PAIR:
        return []
    beside = s.item_at(rest[0] - 1)
    if beside is None or beside.fact.unit not in {None, "V"} or beside.fact.value < LEAST_PLATE_V:
        return []
    if s.facts[rest[0] + 1 :] and not s.facts[rest[0] + 1].fresh:
        return []  # 'ht 810v idle 740 keyed': which of them it is of is asked
    s.facts[rest[0]] = Fact("how", s.facts[rest[0]].text, of="state", is_="standby")
    return []


LEAST_OF_A_PAIR, LEAST_PLATE_V = 2, 200.0


def _idles_as_a_whole(s: Sentence, n: int) -> bool:
    """'idles at 210ma' of a set whose plan asks what it draws at rest, and for no current of a stage."""
    verb = s.facts[n].text in {"idles", "idling"} and not s.free("place")
    amps = sum(i.fact.unit == "A" for i in s.items) == 1 and len(s.items) <= WITH_ITS_VOLTS
    draws = any(p.get("state") == "standby" for p in s.ground.lines if p.get("quantity") == "supply_current")
    return verb and amps and draws and not s.ground.wanted_at_all("idle_current")


WITH_ITS_VOLTS = 2  # figures: what feeds it, and what it draws


def _diode(s: Sentence) -> list[Said]:
    """'d4 0.57 fwd ol rev': a junction, forward and reverse."""
    place = next((n for n in s.free("place") if re.fullmatch(r"Z?D\d+", s.facts[n].of)), None)
    ways = [n for n in s.free("quantity", "how") if s.facts[n].text in WAYS]
    if place is None or not ways:
        return []
    for n in ways:
        s.facts[n] = Fact("how", s.facts[n].text, of="direction", is_=WAYS[s.facts[n].text])
    for item in s.items:
        if item.fact.unit in {None, "V"}:
            item.quantity = "junction_voltage"
            item.address["place"] = s.facts[place].is_
            item.address["direction"] = s.facts[_way_of(s, item, ways)].is_
    s.take(*ways, *([place] if s.items else []))
    return []


def _way_of(s: Sentence, item: Item, ways: list[int]) -> int:
    """The way on the side of its figure on which all of them stand."""
    leads = ways[0] < s.items[0].at
    mine = [n for n in ways if (n < item.at) == leads]
    return min(mine or ways, key=lambda n: abs(n - item.at))


WAYS = {"fwd": "forward", "forward": "forward", "rev": "reverse", "reverse": "reverse"}


def _gain_times(s: Sentence) -> list[Said]:
    """'gain x28': times, 10 log of it; a bare 40 could be either."""
    times_x = next((n for n in s.free("place") if re.fullmatch(r"x(\d+)", s.facts[n].text)), None)
    if times_x is not None and (names := named(s, "gain")) and not s.items:
        s.take(times_x, *names)
        value = 10 * math.log10(float(s.facts[times_x].text[1:]))
        return [Said("gain", value=value, unit="dB", address=hand(s, without="mode"))]
    names = named(s, "gain")
    if not names or len(s.items) != 1 or s.items[0].fact.unit not in {None}:
        return []
    item = s.items[0]
    times = s.fact(item.at - 1)
    if times is not None and times.text == "x":
        use(s, item)
        s.take(*names, times_at := item.at - 1)
        assert times_at >= 0
        return [Said("gain", value=10 * math.log10(item.fact.value), unit="dB", address=hand(s, without="mode"))]
    if s.ground.wanted_at_all("drive_power") and item.fact.value > MOST_GAIN_DB and not s.free("place"):
        raise Unexplained
    return []


MOST_GAIN_DB = 30.0


def _same_again(s: Sentence) -> list[Said]:
    """'ch40 same': what the newest line read once more, at the place that is said."""
    words = typed(s, "same")
    if not words or s.items or len(s.facts) - len(words) != 1:
        return []
    newest = s.ground.newest_figures
    if not newest and s.ground.last is not None:
        newest = (FigureRead(quantity=s.ground.last[0], value=s.ground.last[1]),)
    if not newest:
        return []
    s.take(*words)
    s.items = [
        Item(
            Fact("figure", "same", value=one.value, unit=UNIT_OF[one.quantity] or None, decimals=2, bound=one.bound),
            words[0],
            one.quantity,
        )
        for one in newest
    ]
    return []


def _out_of_so_much(s: Sentence) -> list[Said]:
    """'40m 41 in 530', '40 gives 505': on an amplifier the smaller goes in, the other comes out."""
    wanted = s.ground.wanted_at_all("drive_power") and s.ground.wanted_at_all("carrier_power")
    watts = [i for i in s.items if i.fact.unit in {"W", None}]
    if not wanted or len(watts) != 2 or watts[1].at != watts[0].at + 2:
        return []
    less, more = watts
    link = s.facts[less.at + 1]
    between = link.of in {"drive_power", "lower"} or link.text in {"gives", "gave", "makes", "for", "in"}
    led = less.at > 0 and s.facts[less.at - 1].kind == "quantity"  # 'input swr 1.5 drive 45w'
    if not between or led or less.fact.value >= more.fact.value or named(s, "carrier_power"):
        return []
    if s.ground.is_planned_megahertz(less.fact):
        return []  # 'on 14.2 drive 35w'
    less.quantity, more.quantity = "drive_power", "carrier_power"
    s.take(less.at + 1)
    return []


def _limit_reached(s: Sentence) -> list[Said]:
    """'hits the 2a limit': at least that."""
    words = typed(s, "hits", "reaches", "limit")
    if len(words) != 2 or len(s.items) != 1 or s.items[0].fact.unit != "A":
        return []
    s.items[0].fact = replace(s.items[0].fact, bound="lower")
    s.take(*words, *typed(s, "the"))
    return []


def _supply_dips(s: Sentence) -> list[Said]:
    """'13.8 drops to 12.6 on key': volts of the supply, at rest and keyed."""
    keyed = [n for n in s.free("how") if s.facts[n].is_ == "transmit"]
    falls = typed(s, "drops", "dips", "falls", "sags", "drops to", "falls to", "sags to")
    if not keyed or not falls or len(s.items) != 2 or s.free("quantity", "place"):
        return []
    rest, under = s.items
    bare = {rest.fact.unit, under.fact.unit} <= {None, "V"}
    if not bare or not 5 < under.fact.value < rest.fact.value <= 30 or rest.fact.decimals == 0:
        return []
    rest.quantity = under.quantity = "supply_voltage"
    under.address["state"] = "transmit"
    s.take(*keyed, *falls, *typed(s, "to"))
    return []


def _drift_in(s: Sentence) -> list[Said]:
    """'drift 200hz 10 min': what it drifted, and in how long."""
    drift, time = (next((i for i in s.items if i.fact.unit in units), None) for units in ({"Hz", "k"}, {"s"}))
    if not named(s, "frequency_drift") or drift is None or time is None or len(s.items) != 2:
        return []
    drift.address.setdefault("after_s", time.fact.value)
    use(s, time)
    return []


def _at_switch_on(s: Sentence) -> list[Said]:
    """'powers up 230ma': nothing is keyed yet."""
    words = typed(s, *SWITCHED_ON)
    amps = [i for i in s.items if i.fact.unit == "A" and i.quantity in {None, "supply_current"}]
    said = any(f.of == "state" for f in s.facts)
    if not words or said or len(amps) != 1 or any(i.fact.unit == "W" for i in s.items):
        return []
    amps[0].quantity = "supply_current"
    amps[0].address.setdefault("state", s.ground.state_meant("standby"))
    s.take(*words)
    return []


SWITCHED_ON = (
    "powers up",
    "powered up",
    "power up",
    "on power up",
    "at power up",
    "switch on",
    "at switch on",
    "boots",
)


def _carrier_and_peak(s: Sentence) -> list[Said]:
    """'am 8.5/21pk': the carrier, a stroke, and what it swings to."""
    for n in range(len(s.facts)):
        carrier, peak, name = s.item_at(n - 1), s.item_at(n + 1), s.fact(n + 2)
        if s.facts[n].text != "/" or carrier is None or peak is None or name is None:
            continue
        watts = {carrier.fact.unit, peak.fact.unit} <= {None, "W"}
        if name.of == "peak_envelope_power" and watts and carrier.fact.value < peak.fact.value:
            carrier.quantity, peak.quantity = "carrier_power", "peak_envelope_power"
            s.take(n, n + 2)
    return []


def _errors_in_time(s: Sentence) -> list[Said]:
    """'cold +180, 10 min +820, 30 min +1.3k': how far off it is, from when it was cold."""
    errors = [i for i in s.items if i.fact.signed and i.fact.unit in {None, "Hz", "k"}]
    times = [i for i in s.items if i.fact.unit == "s"]
    heats = [n for n in s.free("how") if s.facts[n].of == "heat"]
    each_has_its_own = len(errors) == len(times) + len(heats) and len(errors) + len(times) == len(s.items)
    if len(errors) < LEAST_POINTS or not each_has_its_own:
        return []
    if named(s, *SIGNED) or any(_whole_hertz(i) is None for i in errors):
        return []
    marks = sorted((*(time.at for time in times), *heats))
    if not (_by_turns(marks, errors) or _by_turns(errors, marks)):
        return []
    when = {time.at: ("after_s", time.fact.value) for time in times} | {n: ("heat", s.facts[n].is_) for n in heats}
    for item, mark in zip(errors, marks, strict=True):
        hertz = _whole_hertz(item)
        item.quantity, item.fact = "frequency_error", replace(item.fact, value=hertz or 0.0, unit="Hz")
        key, value = when[mark]
        item.address[key] = value
    for time in times:
        use(s, time)
    s.take(*heats)
    return []


def _by_turns(first: Sequence[Item | int], second: Sequence[Item | int]) -> bool:
    """Whether each of the first stands in front of its own of the second: when, and what, or what, and when."""
    at = [x if isinstance(x, int) else x.at for pair in zip(first, second, strict=True) for x in pair]
    return at == sorted(at)


LEAST_POINTS = 2
LEAST_OFF_HZ = 10.0
# what a signed figure may be besides
SIGNED = ("bias_voltage", "frequency_drift", "temperature", "fm_deviation", "hum_and_noise", "gain")


def _whole_hertz(item: Item) -> float | None:
    """A signed figure as hertz, where it has no tenths and is more than a few."""
    tenths = item.fact.unit is None and item.fact.decimals > 0
    return None if tenths or abs(item.fact.value) < LEAST_OFF_HZ else item.fact.value


def _ripple_at(s: Sentence) -> list[Said]:
    """'1.2vpp 100hz on ht': ripple, and its frequency, which is once or twice that of the mains."""
    hum = next((i for i in s.items if i.fact.unit == "Hz" and i.fact.value in {50.0, 60.0, 100.0, 120.0}), None)
    volts = next((i for i in s.items if i.fact.unit in {"Vpp", "V"} and i is not hum), None)
    names = named(s, "plate_voltage", "ripple")
    if hum is None or volts is None or not names or len(s.items) != 2:
        return []
    volts.quantity, hum.quantity = "ripple", "ripple_frequency"
    if any(s.facts[n].of == "plate_voltage" for n in names):
        for item in (hum, volts):
            item.address["place"] = "HT"
    s.take(*names)
    return []


def _then_on(s: Sentence) -> list[Said]:
    """'inrush 4a then 0.3': what it draws after the rush."""
    names = named(s, "inrush_current")
    if not names or len(s.items) != 2 or not s.has_text(s.items[1].at - 1, "then"):
        return []
    s.items[0].quantity, s.items[1].quantity = "inrush_current", "supply_current"
    state = (s.ground.current or {}).get("state")
    if state is not None:
        s.items[0].address["state"] = state
    s.take(*names, s.items[1].at - 1)
    return []


def _keying_fall(s: Sentence) -> list[Said]:
    """'rise 3ms fall 4': there is no quantity for the fall; it stays in words."""
    for n in typed(s, "fall"):
        item = s.item_at(n + 1)
        if item is not None and named(s, "keying_rise_time"):
            s.items = [i for i in s.items if i is not item]
    return []


def _rating_of_a_fuse(s: Sentence) -> list[Said]:
    """'fuse blown 5a': what is printed on it was not read."""
    if any(s.facts[n].is_ == "fuse" or re.fullmatch(r"F\d+", s.facts[n].of) for n in s.free("place")):
        s.items = [i for i in s.items if i.fact.unit != "A"]
    return []


FRAMES: tuple[Frame, ...] = (
    _forward_and_reflected,
    _share_down,
    _none_on,
    _fades,
    _plate_volts_at_rest,
    _at_rest,
    _no_drive,
    _diode,
    _gain_times,
    _same_again,
    _out_of_so_much,
    _limit_reached,
    _supply_dips,
    _ripple_at,
    _drift_in,
    _at_switch_on,
    _carrier_and_peak,
    _errors_in_time,
    _then_on,
    _keying_fall,
    _rating_of_a_fuse,
)
