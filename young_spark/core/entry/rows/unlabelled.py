"""Rows without a word for each figure: channels and their figures, bands and theirs, pins, seconds, pairs of rows."""

from dataclasses import replace
from itertools import accumulate

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import SAME_BAND, SHORT_WAVE_HZ, Item, PowerRead
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.entry.rows.as_the_row_before import find_row_as_before, find_same_channels, find_same_places
from young_spark.core.entry.rows.drive_then_output import find_drive_then_output
from young_spark.core.entry.rows.every_other import (
    LEAST_MIXED,
    bands_behind_a_band,
    bands_of_clauses,
    channel_behind_watts,
    columns_of_clauses,
    every_other_says_where,
    figures_then_places,
    places_behind_a_place,
)
from young_spark.core.entry.rows.row_of_channels import (
    channels_then_figures,
    figures_then_channels,
    find_slashed,
    slashed_channels,
)
from young_spark.core.entry.rows.row_of_megahertz import LEAST_ROW, MOST_MHZ, is_in_an_amateur_band
from young_spark.core.entry.rows.row_of_parts import find_pins, one_figure_behind_parts, one_figure_of_several_parts
from young_spark.core.entry.rows.where_alone import SUPPLIES_AT_V, band_at, channel_at, find_lone_places


def find_rows(s: Sentence) -> None:
    """Every row that the text holds; each figure gets the point that it stands at."""
    _band_with_a_colon(s)
    find_row_as_before(s)
    find_same_places(s)
    find_same_channels(s)
    _over_the_lines_of_the_plan(s)
    _same_elsewhere(s)
    _megahertz_in_front(s)
    find_drive_then_output(s)
    _where_it_was_read_again(s)
    _fed_as_before(s)
    _where_of_each_clause(s)
    for row in (
        find_pins,
        slashed_channels,
        find_slashed,
        channels_then_figures,
        figures_then_channels,
        figures_then_places,
        _band_before_drive,
        places_behind_a_place,
        channel_behind_watts,
        bands_behind_a_band,
        bands_of_clauses,
        columns_of_clauses,
        every_other_says_where,
        one_figure_of_several_parts,
        one_figure_behind_parts,
        _bands_before_watts,
        _channel_of_what_was_counted,
        _volts_before_watts,
        _heard_at,
        find_lone_places,
        _seconds,
        _times_behind,
        _rows_in_and_out,
    ):
        row(s)


def _band_with_a_colon(s: Sentence) -> None:
    """'80: 55 in 430 out ip 420': the band that a line of several figures is of."""
    first, labelled = s.item_at(0), sum(f.labels for f in s.facts)
    if (
        first is None
        or labelled != 1
        or not first.fact.labels
        or not band_at(s, first.fact)
        or len(s.items) < LEAST_MIXED
    ):
        return
    for item in s.items[1:]:
        item.address["band"] = f"{int(first.fact.value)}m"
    s.drop(first)


def _over_the_lines_of_the_plan(s: Sentence) -> None:
    """'swr 1.4 1.2 1.5' of an aerial whose plan wants it on three channels: from the lowest to the highest."""
    names = s.free("quantity")
    lone = len(names) == 1 and names[0] == 0 and len(s.facts) == len(s.items) + 1 and len(s.items) >= LEAST_MIXED
    if not lone or any(i.fact.unit is not None or i.fact.signed or i.upper is not None for i in s.items):
        return
    lines = [line for line in s.ground.lines if line.get("quantity") == s.facts[0].of]
    channels = sorted(int(float(str(line["channel"]))) for line in lines if "channel" in line)
    if len(set(channels)) != len(lines) or len(channels) != len(s.items):
        return
    for item, channel in zip(s.items, channels, strict=True):
        item.address["channel"] = float(channel)


def _same_elsewhere(s: Sentence) -> None:
    """'1.9 watts ch 19, about the same on 1 and 40': where else it was read stays as words."""
    same = next((n for n, f in enumerate(s.facts) if f.text == "same" and s.has_text(n + 1, "on", "at", "in")), None)
    if same is None or not any(i.at < same for i in s.items):
        return
    while s.has_text(same - 1, "about", "the", "much", "and"):
        same -= 1
    s.items = [i for i in s.items if i.at < same]
    s.take(*range(same, len(s.facts)))
    s.keep_words |= set(range(same, len(s.facts)))


def _megahertz_in_front(s: Sentence) -> None:
    """'7.030 3.2w', '14.2 drive 10w 120w out', '14.2 ssb 1.9uv for 10db': where the rest was read."""
    first = s.items[0] if s.items else None
    if first is None or first.at != 0 or not is_in_an_amateur_band(s, first.fact) or first.quantity is not None:
        return
    rest = s.items[1:]
    if s.ground.is_a_count(first.fact) or len(s.free("where")) > 0 or not _are_read_in_a_band(s, first, rest):
        return
    for item in rest:
        item.address.setdefault("frequency_hz", s.ground.frequency_of(first.fact.value * 1e6))
    s.drop(first)


def _are_read_in_a_band(s: Sentence, first: Item, rest: list[Item]) -> bool:
    """Whether the figures behind what may be megahertz are sent or heard, and it is where the unit stands, or is said
    as a frequency is."""
    measured = {i.fact.unit for i in rest}
    driven = s.ground.wanted_at_all("drive_power") and _are_drive_and_output(s, rest)
    known = any(abs(first.fact.value * 1e6 / hz - 1) < SAME_BAND for hz in s.ground.frequencies)
    known = known or first.fact.decimals >= FINE or "uV" in measured or driven
    beside = SENT_OR_HEARD | ({"A", "V", None} if driven else set())
    return known and bool(measured & SENT_OR_HEARD) and measured <= beside


def _are_drive_and_output(s: Sentence, items: list[Item]) -> bool:
    """'4w 292w 10.8a' behind '14.2': two powers side by side, and no second band among them."""
    two = len(items) > 1 and items[0].fact.unit == "W" and items[1].fact.unit in {"W", None}
    return two and not any(is_in_an_amateur_band(s, i.fact) for i in items)


def _where_it_was_read_again(s: Sentence) -> None:
    """'127.5 1.3' behind '118.000 1.1w', '4125 150' behind '2182 148w': watts at another frequency of the same unit."""
    if len(s.facts) != 2 or len(s.items) != 2 or not s.ground.powers or s.ground.last is None:
        return
    before, (place, figure) = s.ground.powers[-1], s.items
    hz = s.ground.as_kilohertz(place.fact) or _plain_megahertz(place.fact)
    bare = figure.fact.unit in {None, "W"} and not figure.fact.signed and s.ground.last[0] == before.quantity
    in_full = hz == s.ground.as_kilohertz(place.fact) or place.fact.decimals >= FINE
    if hz is None or not bare or not _is_in_its_range(hz, before, said_in_full=in_full):
        return
    best = max(p.value for p in s.ground.powers if p.quantity == before.quantity)
    if before.value / WEAK < figure.fact.value < best * ALIKE:
        figure.address["frequency_hz"] = s.ground.frequency_of(hz)
        figure.address |= {"mode": before.at["mode"]} if before.at.get("mode") else {}
        figure.quantity = before.quantity
        s.drop(place)


def _plain_megahertz(fact: Fact) -> float | None:
    return fact.value * 1e6 if fact.unit is None and fact.decimals and not fact.signed else None


def _is_in_its_range(hz: float, before: PowerRead, *, said_in_full: bool) -> bool:
    """Whether a unit that sent somewhere may send there, in megahertz that are no watts of it."""
    was = float(str(before.at.get("frequency_hz") or 0.0))
    if 0 < was < SHORT_WAVE_HZ and hz < SHORT_WAVE_HZ:
        return said_in_full
    return bool(was) and abs(hz / was - 1) < ONE_RANGE and hz > 1e6 * ALIKE * before.value


ONE_RANGE = 0.25  # of a frequency: as far as one unit is tuned
ALIKE, WEAK = 5.0, 20.0  # times what was read at the frequency before, or so many times less


def _fed_as_before(s: Sentence) -> None:
    """'13.8 2.6w' behind a supply of 12 V: how it is fed now, in front of what it gives."""
    if len(s.items) < LEAST_ROW or s.items[0].at != 0 or s.items[1].at != 1 or s.ground.fed_v is None:
        return
    volts, watts = s.items[:2]
    near = volts.fact.may_feed and abs(volts.fact.value / s.ground.fed_v - 1) < ONE_RANGE
    known = s.ground.as_carrier(volts.fact) is not None or volts.quantity is not None
    if near and volts.fact.decimals == 1 and not known and watts.fact.unit == "W" and watts.quantity is None:
        volts.quantity, volts.address["state"] = "supply_voltage", "transmit"


def _where_of_each_clause(s: Sentence) -> None:
    """'5w 80m 90, 5w 40m 95': between commas one place, for every figure there."""
    starts = list(accumulate(int(fact.fresh) for fact in s.facts))
    there = {clause: [n for n in s.free("where") if starts[n] == clause] for clause in {i.clause for i in s.items}}
    wide = any(sum(i.clause == clause for i in s.items) > 1 for clause in there)
    if len(there) < LEAST_ROW or not wide or any(len(found) != 1 for found in there.values()):
        return
    if any(s.facts[found[0]].of not in PLACES_OF_A_ROW for found in there.values()):
        return
    for item in s.items:
        fact = s.facts[there[item.clause][0]]
        item.address.setdefault(fact.of, fact.is_)
    s.take(*(found[0] for found in there.values()))


PLACES_OF_A_ROW = {"band", "channel", "frequency_hz"}
SENT_OR_HEARD = {"W", "uV", "dBm"}
FINE = 3  # decimals of a MHz, that nobody reads of amps or volts


def _band_before_drive(s: Sentence) -> None:
    """'80 62in 800out': on an amplifier a band in front of what goes in and comes out."""
    names = {s.facts[n].of for n in s.free("quantity")}
    if len(s.items) != 3 or not {"drive_power", "carrier_power"} & names or not band_at(s, s.items[0].fact):
        return
    band, *others = s.items
    if band.at != 0 or any(i.address for i in s.items) or any(i.fact.unit not in {None, "W"} for i in s.items):
        return
    for item in others:
        item.address["band"] = f"{int(band.fact.value)}m"
    s.drop(band)
    if names == {"drive_power"} and others[0].fact.value < others[1].fact.value:  # '40 60in 795'
        others[0].quantity, others[1].quantity = "drive_power", "carrier_power"
        s.take(*s.free("quantity"))


def _bands_before_watts(s: Sentence) -> None:
    """'10 38w' on a set of the short waves: a band and its power; '160 102w -48 2nd': and what is read behind them."""
    bands: list[str] = []
    for left, right in list(zip(s.items, s.items[1:], strict=False)):
        watts = right.fact.unit == "W" and right.at == left.at + 1
        bare = left.fact.unit is None and left.quantity is None and not s.has_text(left.at - 1, "on", "at")
        if watts and bare and not s.ground.channel_hz and band_at(s, left.fact):
            bands.append(f"{int(left.fact.value)}m")
            right.address.setdefault("band", bands[-1])
            s.drop(left)
    for item in s.items if len(bands) == 1 and s.facts[0].kind == "figure" else ():
        if not item.address:
            item.address["band"] = bands[0]


def _channel_of_what_was_counted(s: Sentence) -> None:
    """'am 19 27.18503': a counter's figure, and the number of the channel that it is on."""
    counted = [i for i in s.items if i.fact.unit is None and i.fact.decimals >= COUNTED]
    for item in [i for i in s.items if channel_at(s, i.fact)]:
        hz = s.ground.channel_hz[int(item.fact.value)]
        on = next((c for c in counted if abs(c.fact.value * 1e6 / hz - 1) < SAME_CHANNEL), None)
        between = s.facts[item.at + 1 : on.at] if on is not None else []
        if on is not None and item.at < on.at and all(f.text in {"reads", "is", "counts", "shows"} for f in between):
            on.address["channel"] = item.fact.value
            s.drop(item)


COUNTED = 4  # decimals of a MHz
SAME_CHANNEL = 1.5e-4


def _volts_before_watts(s: Sentence) -> None:
    """'12v 3.6 w, 10v 2.4': what feeds it and what it gives, over and over."""
    volts, watts = s.items[::2], s.items[1::2]
    fed = [i.fact.unit == "V" and SUPPLIES_AT_V[0] <= i.fact.value <= SUPPLIES_AT_V[1] for i in volts]
    given = [i.fact.unit in {"W", None} and i.at == v.at + 1 for v, i in zip(volts, watts, strict=False)]
    alike = len(volts) == len(watts) >= LEAST_ROW and all(fed) and all(given) and not s.free("quantity", "place")
    if not alike or not any(i.fact.unit == "W" for i in watts):
        return
    for supply, power in zip(volts, watts, strict=True):
        power.address["supply_v"], power.quantity = supply.fact.value, "carrier_power"
        s.drop(supply)


def _heard_at(s: Sentence) -> None:
    """'45 mhz 8uv, 80mhz 6uv, 150 0.4uv, 450 .5 for 10db': frequencies of a receiver, each in front of what it hears
    there."""
    name, places, heard = _sensitivity_named(s), s.items[::2], s.items[1::2]
    unit = next((i.fact.unit for i in heard if i.fact.unit in HEARD_IN), None)
    levels = len(places) == len(heard) >= LEAST_ROW and {i.fact.unit for i in heard} <= {unit, None}
    named = name is None and s.free("quantity", "place")
    if not levels or unit is None or named or s.ground.channel_hz or not _are_down(heard, unit):
        return
    hertz = [_megahertz(i.fact) for i in places]
    if None in hertz or any(h.at != p.at + 1 for p, h in zip(places, heard, strict=True)):
        return
    for place, level, hz in zip(places, heard, hertz, strict=True):
        level.address["frequency_hz"] = hz
        level.fact = replace(level.fact, unit=unit)
        s.drop(place)
        level.quantity = None if name is None else s.facts[name].of
    if name is not None:
        s.take(name)


HEARD_IN = {"uV", "dBm"}


def _are_down(heard: list[Item], unit: str) -> bool:
    """Whether all levels in dBm have the minus of what a receiver hears: '14.2 -119dbm, 7.1 -120'."""
    return unit == "uV" or all(i.fact.signed and i.fact.value < 0 for i in heard)


def _sensitivity_named(s: Sentence) -> int | None:
    """'for 10db' that ends a row of levels."""
    last = len(s.facts) - 1
    return last if s.free("quantity", "place") == [last] and s.facts[last].of.startswith("sensitivity_") else None


def _megahertz(fact: Fact) -> float | None:
    """A frequency in Hz that is written as megahertz, with its unit or without."""
    if fact.unit in {"Hz", "m"}:
        hz = fact.value * (1e6 if fact.unit == "m" else 1.0)
        return hz if hz >= 1e5 else None
    return fact.value * 1e6 if fact.unit is None and not fact.signed and 0.1 <= fact.value <= MOST_MHZ else None


def _seconds(s: Sentence) -> None:
    """'0 95w 1min 88 3min 81': the first stands at the begin."""
    times = [n for n in s.free("how") if s.facts[n].of == "after_s"]
    if len(times) < LEAST_ROW or len(s.items) < len(times) + 2 or s.items[0].fact.value != 0:
        return
    zero, first = s.items[0], s.items[1]
    if first.at == zero.at + 1 and first.at < times[0]:
        first.address["after_s"] = 0.0
        s.drop(zero)


def _time_of_heat(s: Sentence) -> None:
    """'hot 66 5min': after how long."""
    hot = any(f.of == "heat" or f.is_ == "heatsink" for f in s.facts)
    time = s.items[-1] if len(s.items) == 2 else None
    if hot and time is not None and time.fact.unit == "s" and s.items[0].fact.unit in {None, "°C"}:
        s.items[0].address.setdefault("after_s", time.fact.value)
        s.drop(time)


def _times_behind(s: Sentence) -> None:
    """'4.0w at key, 3.1w 60s, 2.4w 120s': powers, each with how long it was keyed."""
    _time_of_heat(s)
    powers = [i for i in s.items if i.fact.unit == "W"]
    times = [(p, t) for p in powers if (t := s.item_at(p.at + 1)) is not None and t.fact.unit == "s"]
    if len(powers) < LEAST_ROW or not times:
        return
    for power, time in times:
        power.address.setdefault("after_s", time.fact.value)
        s.drop(time)
    for power in powers:
        n = power.at
        if s.has_text(n + 1, "at", "on") and s.has_text(n + 2, "key", "keying", "first", "start"):
            power.address.setdefault("after_s", 0.0)
            s.take(n + 1, n + 2)


def _rows_in_and_out(s: Sentence) -> None:
    """'2 5 10 w in 44 102 155 out': two rows of the same length are pairs."""
    names = [n for n in s.free("quantity") if s.facts[n].of in {"drive_power", "carrier_power"}]
    if len(names) != LEAST_ROW or len(s.items) < 2 * LEAST_ROW:
        return
    first = [i for i in s.items if i.at < names[0]]
    second = [i for i in s.items if names[0] < i.at < names[1]]
    if len(first) != len(second) or len(first) + len(second) != len(s.items):
        return
    for row, name in ((first, names[0]), (second, names[1])):
        unit = next((i.fact for i in reversed(row) if i.fact.unit), None)
        for item in row:
            item.quantity = s.facts[name].of
            if item.fact.unit is None and unit is not None:
                item.fact = replace(item.fact, unit=unit.unit, value=item.fact.value * unit.factor)
    s.pairs = list(zip(first, second, strict=True))
    s.take(*names)
