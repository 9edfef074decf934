"""Rows without a word for each figure: channels and their figures, bands and theirs, pins, seconds, pairs of rows."""

import re
from collections.abc import Callable
from dataclasses import replace
from itertools import accumulate

from young_spark.core.entry.facts.bare_beside import with_the_unit_of
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import SAME_BAND, SHORT_WAVE_HZ, UNIT_OF, Item, PowerRead
from young_spark.core.entry.facts.sentence import Sentence, Unexplained
from young_spark.core.entry.rows.as_the_row_before import find_row_as_before, find_same_channels, find_same_places
from young_spark.core.entry.rows.drive_then_output import find_drive_then_output
from young_spark.core.gear import BANDS_M

MOST_OVER = 1.5  # of what the unit can give
MOST_MHZ = 1300.0
LEAST_VHF_MHZ = 100.0
SUPPLIES_AT_V = (3.0, 60.0)
FAR = 3.0  # times a frequency of the unit
LEAST_KHZ = 1600.0
LEAST_MIXED = 3  # bands, of which one is written out and the others are not
LEAST_ROW = 2  # pairs in a row without a name
# allocations to the amateur service, at their widest (ITU Radio Regulations, article 5)
AMATEUR_MHZ = (
    (1.8, 2.0), (3.5, 4.0), (5.25, 5.45), (7.0, 7.3), (10.1, 10.15), (14.0, 14.35), (18.068, 18.168), (21.0, 21.45),
    (24.89, 24.99), (28.0, 29.7), (50.0, 54.0), (70.0, 70.5), (144.0, 148.0), (430.0, 450.0),
)  # fmt: skip


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
        _pins,
        _slashed_channels,
        _slashes,
        _channels_then_figures,
        _figures_then_channels,
        _figures_then_places,
        _band_before_drive,
        _more_behind,
        _channel_behind_watts,
        _more_bands,
        _bands_of_clauses,
        _columns_of_clauses,
        _every_other,
        _parts_alike,
        _parts_before_one_figure,
        _bands_before_watts,
        _channel_of_what_was_counted,
        _volts_before_watts,
        _heard_at,
        _lone_places,
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
        or not _band(s, first.fact)
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
    if len(s.free("where")) > 0 or not _are_read_in_a_band(s, first, rest):
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


def _pins(s: Sentence) -> None:
    """'ic2 pins 1 2 3: 5.0 0 2.4'."""
    for n in s.free("place"):
        fact = s.facts[n]
        if fact.of != "pins":
            continue
        part, *pins = str(fact.is_).split(" ")
        figures = [i for i in s.items if i.at > n]
        if len(figures) != len(pins):
            raise Unexplained
        for pin, figure in zip(pins, figures, strict=True):
            figure.address["place"] = f"{part} pin {pin}"
        s.take(n)


def _slashed_channels(s: Sentence) -> None:
    """'1/19/40 3.2 3.7 3.1': as many figures as channels."""
    _slashed_behind_a_name(s)
    run: list[Item] = []
    for item in s.items:
        if run and not (s.has_text(item.at - 1, "/") and item.at == run[-1].at + 2):
            break
        run.append(item)
    figures = s.items[len(run) :]
    if len(run) < LEAST_ROW or len(run) != len(figures) or not all(_channel(s, i.fact) for i in run):
        return
    for place, figure in zip(run, figures, strict=True):
        figure.address["channel"] = place.fact.value
        s.drop(place)
    s.take(*[n for n, f in enumerate(s.facts) if f.text == "/"])


def _slashed_behind_a_name(s: Sentence) -> None:
    """'ch1/20/40 fm dev 1.9 1.9 1.8': the first of them by its name."""
    run = next((r for r in _runs(s) if s.facts[r[0]].of == "channel" and len(r) >= LEAST_ROW), None)
    if run is None:
        return
    more, figures = [s.item_at(n) for n in run[1:]], [i for i in s.items if i.at > run[-1]]
    if len(figures) != len(run) or len(s.items) != len(more) + len(figures) or None in more:
        return
    channels = [float(str(s.facts[run[0]].is_)), *(i.fact.value for i in more if i is not None)]
    for channel, figure in zip(channels, figures, strict=True):
        figure.address["channel"] = channel
    for item in [i for i in more if i is not None]:
        s.drop(item)
    s.take(run[0], *[n for n in range(run[-1]) if s.facts[n].text == "/"])


def _slashes(s: Sentence) -> None:
    """'pwr 3.9/3.8/3.7 ch 1/20/40': two runs of the same length, one of them channels."""
    runs = _runs(s)
    channels = next((r for r in runs if s.facts[r[0]].of == "channel"), None)
    figures = next((r for r in runs if r is not channels), None)
    if channels is None or figures is None or len(runs) != 2 or not LEAST_ROW <= len(channels) == len(figures):
        return
    for place, at in zip(channels, figures, strict=True):
        said, figure, number = s.facts[place], s.item_at(at), s.item_at(place)
        if figure is not None:
            figure.address["channel"] = float(str(said.is_)) if said.of == "channel" else said.value
        if number is not None:
            s.drop(number)
    s.take(*channels, *[n for n, f in enumerate(s.facts) if f.text == "/"])


def _runs(s: Sentence) -> list[list[int]]:
    """Positions of figures and channels, those with a stroke between them together."""
    runs: list[list[int]] = []
    for n, fact in enumerate(s.facts):
        if fact.kind == "figure" or fact.of == "channel":
            fresh = not runs or not (s.has_text(n - 1, "/") and runs[-1][-1] == n - 2)
            runs = [*runs, [n]] if fresh else [*runs[:-1], [*runs[-1], n]]
    return runs


def _channels_then_figures(s: Sentence) -> None:
    """'ch 1 20 40: 3.8 3.9 3.8': a channel by its name, more of them, then as many figures."""
    _as_many_channels(s)
    said = [n for n in s.free("where") if s.facts[n].of == "channel"]
    more = len(s.items) // 2
    if len(said) != 1 or len(s.items) % 2 == 0 or not more:
        return  # 'ch 6 24, ch 16 24.1': each by its name
    first = said[0]
    channels, figures = s.items[:more], s.items[more:]
    in_a_row = all(i.at == first + 1 + n and _channel(s, i.fact) for n, i in enumerate(channels))
    if not in_a_row or len({i.fact.unit for i in figures} - {None}) > 1:
        return
    places = [float(str(s.facts[first].is_)), *(i.fact.value for i in channels)]
    for place, figure in zip(places, figures, strict=True):
        figure.address["channel"] = place
    for item in channels:
        s.drop(item)
    s.take(first)


def _figures_then_channels(s: Sentence) -> None:
    """'25.2 24.8 24.9 w ch1 4 8': figures, a channel by its name, and more of them behind it."""
    first = next((n for n in s.free("where") if s.facts[n].of == "channel"), None)
    more = [i for i in s.items if first is not None and i.at > first]
    figures = [i for i in s.items if first is not None and i.at < first]
    if first is None or not more or len(figures) != len(more) + 1 or not all(_channel(s, i.fact) for i in more):
        return
    if [i.at for i in more] != list(range(first + 1, first + 1 + len(more))):
        return
    for place, figure in zip([float(str(s.facts[first].is_)), *(i.fact.value for i in more)], figures, strict=True):
        figure.address["channel"] = place
    for item in more:
        s.drop(item)
    s.take(first)


def _figures_then_places(s: Sentence) -> None:
    """'3.6 / 3.7 / 3.8 on 1/20/40', '14w 13w 11w at 70.2 70.4 70.5': figures, then as many places in their order."""
    half = len(s.items) // 2
    if half < LEAST_ROW or len(s.items) % 2 or any(i.address for i in s.items):
        return
    figures, places = s.items[:half], s.items[half:]
    between = range(figures[-1].at + 1, places[0].at)
    led = len(between) == 1 and s.has_text(between[0], "on", "at", "for", "@")
    inside = [f for f in s.facts[places[0].at : places[-1].at + 1] if f.kind != "figure"]
    if not led or any(f.text != "/" for f in inside) or any(i.fact.unit not in {None, "m"} for i in places):
        return
    points = _points(s, places, figures)
    for place, figure, point in zip(places, figures, points, strict=False):
        figure.address.setdefault(*point)
        s.drop(place)
    if points:
        s.take(between[0], *[n for n, f in enumerate(s.facts) if f.text == "/"])


def _as_many_channels(s: Sentence) -> None:
    """'ch16 ch6 ch77 24 24.5 23.8': channels in a row, then as many figures."""
    channels = [n for n in s.free("where") if s.facts[n].of == "channel"]
    figures = [i for i in s.items if channels and i.at > channels[-1]]
    in_a_row = channels == list(range(channels[0], channels[0] + len(channels))) if channels else False
    if len(channels) < LEAST_ROW or not in_a_row or len(figures) != len(channels) or len(s.items) != len(figures):
        return
    for n, figure in zip(channels, figures, strict=True):
        figure.address["channel"] = float(str(s.facts[n].is_))
    s.take(*channels)


def _band_before_drive(s: Sentence) -> None:
    """'80 62in 800out': on an amplifier a band in front of what goes in and comes out."""
    names = {s.facts[n].of for n in s.free("quantity")}
    if len(s.items) != 3 or not {"drive_power", "carrier_power"} & names or not _band(s, s.items[0].fact):
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


def _channel(s: Sentence, fact: Fact) -> bool:
    whole = fact.unit is None and fact.decimals == 0 and not fact.signed
    return whole and int(fact.value) in s.ground.channel_hz


def _band(s: Sentence, fact: Fact) -> bool:
    whole = fact.unit is None and fact.decimals == 0 and not fact.signed
    return whole and int(fact.value) in BANDS_M and not s.ground.channel_hz


def _every_other(s: Sentence) -> None:
    """'80 95 40 97 20 99': every other figure is a band, a channel or a frequency, in order."""
    items = s.items
    pair = (
        len(items) == 2
        and not s.free("quantity")
        and (_are_megahertz(s, items[:1], items[1:]) or _is_swept(s, items[:1], items[1:]))
    )
    if (len(items) < 2 * LEAST_ROW and not pair) or len(items) % 2 or any(i.address for i in items):
        return
    if all(_goes_in(s, i) for i in items[::2]):
        return
    places, figures = items[::2], items[1::2]
    _megahertz_of_all(places)
    if all(i.fact.unit == "m" and s.ground.as_carrier(i.fact) for i in figures) and len(items) >= 2 * LEAST_ROW:
        places, figures = figures, places  # '.13uv 14m .2uv 28m'
    points = _points(s, places, figures)
    if not points and _each_leads_its_place(s, items):
        places, figures = items[1::2], items[::2]
        points = _points(s, places, figures)
    for place, figure, point in zip(places, figures, points, strict=False):
        figure.address.setdefault(*point)
        s.drop(place)


def _goes_in(s: Sentence, item: Item) -> bool:
    """'60 in 480 out', '40 -> 400': what an amplifier is driven with, and no band of as many metres."""
    return s.ground.wanted_at_all("drive_power") and (
        s.has_text(item.at + 1, "in", "drive") or s.is_link(item.at + 1, "->")
    )


def _each_leads_its_place(s: Sentence, items: list[Item]) -> bool:
    """'input swr 1.3 80 1.2 40', '1.55w 118 1.6w 127': figures that can be no place, each in front of one that can."""
    figures, places = items[::2], items[1::2]
    if s.free("quantity"):
        return all(i.fact.decimals for i in figures)
    return all(i.fact.unit == "W" for i in figures) and all(i.fact.unit is None for i in places)


def _megahertz_of_all(places: list[Item]) -> None:
    """'3.6mhz 310, 7.1 308, 14.2 305': the unit that the first says is meant for all."""
    first, *others = places
    if first.fact.unit != "Hz" or first.fact.factor != 1e6 or any(i.fact.unit is not None for i in others):
        return
    if all(i.fact.decimals for i in others):
        for item in others:
            with_the_unit_of(item, first)


def _more_bands(s: Sentence) -> None:
    """'40m 108 20m 102 15 95 10 78', 'ch1 3.9 20 4.0 40 3.8': places that are written out first, and then are not."""
    for key, is_one, name in (("band", _band, lambda v: f"{int(v)}m"), ("channel", _channel, lambda v: v)):
        _more_of(s, key, is_one, name)


def _more_behind(s: Sentence) -> None:
    """'swr 1.8 on ch1 1.4 19 1.9 40', '560w 80m 540 40 520 20': each figure in front of its channel or band."""
    written = [n for n in s.free("where") if s.facts[n].of in {"channel", "band"}]
    first = s.item_at(written[0] - 1) if len(written) == 1 else None
    if first is None or s.items[0] is not first or len(s.items) % 2 == 0:
        return
    key, is_ = s.facts[written[0]].of, s.facts[written[0]].is_
    is_one = _channel if key == "channel" else _band
    pairs = list(zip(s.items[1::2], s.items[2::2], strict=True))
    led = all(p.at == f.at + 1 and is_one(s, p.fact) and f.fact.unit in {None, first.fact.unit} for f, p in pairs)
    if not pairs or not led:
        return
    for figure, place in pairs:
        figure.address[key] = place.fact.value if key == "channel" else f"{int(place.fact.value)}m"
        s.drop(place)
    first.address[key] = float(str(is_)) if key == "channel" else is_
    s.take(written[0])


def _channel_behind_watts(s: Sentence) -> None:
    """'am 3.8w 19' of a set whose plan wants watts on that channel."""
    if len(s.items) != 2 or s.free("where", "quantity", "place"):
        return
    watts, channel = s.items
    wanted = {line.get("channel") for line in s.ground.lines if UNIT_OF.get(str(line.get("quantity"))) == "W"}
    behind = channel.at == watts.at + 1 and watts.fact.unit == "W" and watts.quantity is None
    if behind and _channel(s, channel.fact) and int(channel.fact.value) in wanted:
        watts.address["channel"] = channel.fact.value
        s.drop(channel)


def _more_of(s: Sentence, key: str, is_one: Callable[[Sentence, Fact], bool], name: Callable[[float], object]) -> None:
    written = [n for n in s.free("where") if s.facts[n].of == key]
    if not written or not all(s.item_at(n + 1) for n in written):
        return
    rest = [i for i in s.items if i.at > written[-1] + 1]
    bands, figures = rest[::2], rest[1::2]
    if (
        len(written) + len(bands) < LEAST_MIXED
        or len(bands) != len(figures)
        or not all(is_one(s, i.fact) for i in bands)
        or any(i.fact.signed for i in figures)
    ):
        return
    for band, figure in zip(bands, figures, strict=True):
        figure.address[key] = name(band.fact.value)
        s.drop(band)


def _bands_of_clauses(s: Sentence) -> None:
    """'160 98w, 80 101, 6 88, 2m 47w': between commas a band, written out or not, and its figure."""
    rows = [[i for i in s.items if i.clause == clause] for clause in sorted({i.clause for i in s.items})]
    written = [n for n in s.free("where") if s.facts[n].of == "band"]
    bare = [row for row in rows if len(row) == 2 and _band(s, row[0].fact)]
    lone = [row for row in rows if len(row) == 1 and row[0].at - 1 in written]
    if len(rows) < LEAST_MIXED or not bare or not lone or len(bare) + len(lone) != len(rows):
        return
    if len(lone) != len(written) or any(i.fact.signed for row in rows for i in row):
        return
    for band, figure in bare:
        figure.address["band"] = f"{int(band.fact.value)}m"
        s.drop(band)


def _columns_of_clauses(s: Sentence) -> None:
    """'40m 1010 60 drive; 20m 970 63; 15m 905 66': what each figure is, is said in the first clause only."""
    rows = [[i for i in s.items if i.clause == clause] for clause in sorted({i.clause for i in s.items})]
    wide = len(rows[0]) if rows else 0
    names = s.free("quantity")
    if len(rows) < LEAST_ROW or wide < LEAST_ROW or any(len(row) != wide for row in rows) or not names:
        return
    at_a_place = all(_is_where(s.fact(row[0].at - 1)) for row in rows)
    if not at_a_place or max(names) >= rows[1][0].at or any(i.quantity is not None for i in s.items):
        return
    for column, first in enumerate(rows[0]):
        name = next((s.facts[n].of for n in (first.at + 1, first.at - 1) if n in names), None)
        for row in rows[1:] if name is not None else ():
            row[column].quantity = name


def _is_where(fact: Fact | None) -> bool:
    return fact is not None and fact.kind == "where" and fact.of in {"band", "channel", "frequency_hz"}


def _points(s: Sentence, places: list[Item], figures: list[Item]) -> list[tuple[str, object]]:
    """What every other figure says of where, where all of them say the same of it: bands, channels or frequencies."""
    if all(_band(s, i.fact) for i in places):
        if any(f.of == "band" for f in s.facts) or len({i.fact.value for i in places}) < len(places):
            return []  # '80m 60 in 480 out, 10m 60 in 150 out': the bands are said
        return [("band", f"{int(i.fact.value)}m") for i in places]
    if all(i.fact.unit == "m" for i in figures) and all(i.fact.unit not in {None, "m"} for i in places):
        return []  # the other way round
    if all(_channel(s, i.fact) for i in places) and len({i.fact.value for i in places}) == len(places):
        return [("channel", i.fact.value) for i in places]
    return [("frequency_hz", hz) for hz in _frequencies(s, places, figures)]


def _frequencies(s: Sentence, places: list[Item], figures: list[Item]) -> list[float]:
    """What every other figure is in Hz, where all of them are frequencies of what stands between them."""
    if _are_megahertz(s, places, figures):
        return [i.fact.value * (1e6 if i.fact.decimals or _is_vhf(i) else 1e3) for i in places]
    if _is_swept(s, places, figures):
        return [i.fact.value * 1e6 for i in places]
    again = [_where_it_was_read(s, i.fact) for i in places]
    if all(again) and len(again) >= LEAST_ROW and _are_watts_again(s, figures):
        return [hz for hz in again if hz is not None]
    if _are_read_at_megahertz(places, figures) or _are_amateur_bands(s, places, figures):
        return [s.ground.frequency_of(i.fact.value * 1e6) for i in places]
    hertz = [hz for i in places if (hz := _hertz_of(s, i.fact)) is not None]
    if len(hertz) < len(places) or any(s.ground.as_carrier(i.fact) for i in figures):
        return []
    return [s.ground.frequency_of(hz) for hz in hertz]


def _where_it_was_read(s: Sentence, fact: Fact) -> float | None:
    """'4125' behind '4125 22w': a frequency in Hz that something was read at before."""
    said = [fact.value * 1e3, fact.value * 1e6] if fact.unit is None and not fact.signed else []
    return next((hz for hz in said if any(abs(hz / known - 1) < 1e-9 for known in s.ground.read_at)), None)


def _are_watts_again(s: Sentence, figures: list[Item]) -> bool:
    """Bare figures at those places are the power that was read there."""
    if not s.ground.powers or any(i.fact.unit not in {None, "W"} or i.fact.signed for i in figures):
        return False
    for figure in figures:
        figure.quantity = figure.quantity or s.ground.powers[-1].quantity
    return True


def _are_amateur_bands(s: Sentence, places: list[Item], figures: list[Item]) -> bool:
    """'3.6 470, 7.1 465, 28.5 400w': megahertz of those bands, and watts whose unit stands at one of them."""
    watts = {i.fact.unit for i in figures} <= {"W", None} and any(i.fact.unit == "W" for i in figures)
    if not watts or not all(is_in_an_amateur_band(s, i.fact) for i in places):
        return False
    for figure in figures:
        if figure.fact.unit is None:
            figure.quantity = figure.quantity or "carrier_power"
    return True


def is_in_an_amateur_band(s: Sentence, fact: Fact) -> bool:
    """Whether a bare figure is megahertz of such a band: '14.2 930w 21.2 860w' of gear that no channel plan fits."""
    bare = fact.unit is None and fact.decimals > 0 and not fact.signed and not s.ground.channel_hz
    return bare and any(low <= fact.value <= high for low, high in AMATEUR_MHZ)


def _are_megahertz(s: Sentence, places: list[Item], figures: list[Item]) -> bool:
    """'125.0 5.9w 130.0 5.6': more than the unit could give, in front of what it gives."""
    most = s.ground.greatest_power_w
    kilohertz = all(not i.fact.decimals and i.fact.value >= LEAST_KHZ for i in places)
    written = kilohertz or all((i.fact.decimals or _is_vhf(i)) and i.fact.value < MOST_MHZ for i in places)
    written = written and (kilohertz or any(i.fact.decimals for i in places))
    if most is None or not written or any(i.fact.unit is not None for i in places):
        return False
    watts = all(i.fact.unit in {"W", None} and i.fact.value <= MOST_OVER * most for i in figures)
    watts = watts and any(i.fact.unit == "W" for i in figures)
    return watts and (_are_of_the_short_waves(s, places) or _are_beyond_its_watts(places, figures, MOST_OVER * most))


def _is_vhf(item: Item) -> bool:
    """Whether a bare figure may be whole megahertz beyond the short waves, and no kilohertz."""
    return LEAST_VHF_MHZ <= item.fact.value < MOST_MHZ


def _are_read_at_megahertz(places: list[Item], figures: list[Item]) -> bool:
    """'121.5 +180 135 +200', '144.1 .2uv 145.9 .22uv': figures that are plainly no watts, each behind its megahertz."""
    bare = all(i.fact.unit is None and not i.fact.signed and 1 < i.fact.value < MOST_MHZ for i in places)
    if not bare or not any(i.fact.decimals for i in places) or len(places) < LEAST_ROW:
        return False
    errors = all(i.fact.unit in {None, "Hz"} and i.fact.signed and not i.fact.decimals for i in figures)
    return errors or (len({i.fact.unit for i in figures}) == 1 and figures[0].fact.unit in READ_AT)


READ_AT = {"uV", "dBm", "k", "dBc"}  # of what is heard, and of how it is sent


def _are_beyond_its_watts(places: list[Item], figures: list[Item], most_w: float) -> bool:
    volts = any(i.fact.may_feed for i in places)  # '13.6 keyed 3.8w'
    with_unit = all(i.fact.unit == "W" for i in figures) and all(i.fact.value >= LEAST_VHF_MHZ for i in places)
    return not volts and (with_unit or all(i.fact.value > most_w for i in places))


def _are_of_the_short_waves(s: Sentence, places: list[Item]) -> bool:
    """'12.29 145w 16.42 140 22.0 128' of a set that was read on short waves before: megahertz, going up."""
    mhz, read = [i.fact.value for i in places], s.ground.read_at
    short = bool(read) and max(read) < SHORT_WAVE_HZ and not s.ground.channel_hz and len(mhz) >= LEAST_ROW
    return short and mhz == sorted(set(mhz)) and all(LEAST_KHZ / 1e3 < f < SHORT_WAVE_HZ / 1e6 for f in mhz)


def _is_swept(s: Sentence, places: list[Item], figures: list[Item]) -> bool:
    """'27.0 1.5 27.2 1.3 27.4 1.6': megahertz that go up around where an aerial is wanted, and ratios."""
    mhz = [i.fact.value for i in places]
    near = all(
        any(abs(f * 1e6 / known - 1) < SAME_BAND for known in (*s.ground.frequencies, *s.ground.channel_hz.values()))
        for f in mhz
    )
    plain = all(i.fact.unit is None for i in (*places, *figures))
    return (
        (s.ground.wants == "swr" or {s.facts[n].of for n in s.free("quantity")} == {"swr"})
        and plain
        and near
        and mhz == sorted(set(mhz))
        and all(1 <= i.fact.value < mhz[0] / 2 for i in figures)
    )


def _parts_alike(s: Sentence) -> None:
    """'r12 r13 r14 all 100': one figure for several places."""
    places = [n for n in s.free("place") if not s.facts[n].follows]
    if len(places) < LEAST_ROW or len(s.items) != 1 or not any(f.text in {"all", "both", "each"} for f in s.facts):
        return
    first = s.items[0]
    if first.at < places[-1]:
        return
    if any(f.kind == "result" for f in s.facts[: first.at]):
        _same_point_of_each(s, first, places)
        return
    s.items = [replace_item(first, {"place": s.facts[n].is_}) for n in places]
    s.take(*places, *[n for n, f in enumerate(s.facts) if f.text in {"all", "both", "each"}])


def _same_point_of_each(s: Sentence, item: Item, places: list[int]) -> None:
    """'q1 c-e ok, q2 c-e ok, b-e 0.65 both': the point in front of the figure, of each of the parts."""
    point = s.fact(item.at - 1)
    parts = list(dict.fromkeys(s.facts[n].of for n in places if _is_a_part(s, n) or s.facts[n].of[-1:].isdigit()))
    if point is None or point.kind != "place" or not point.follows or len(parts) < LEAST_ROW:
        return
    side = str(point.is_).partition(" ")[2]
    s.items = [replace_item(item, {"place": f"{part} {side}"}) for part in parts]
    s.take(item.at - 1, *[n for n, f in enumerate(s.facts) if f.text in {"all", "both", "each"}])


def _parts_before_one_figure(s: Sentence) -> None:
    """'q3 hfe 12 q1 q2 55': several parts in front of the one figure that all of them read."""
    for item in list(s.items):
        run = [item.at - 1]
        while s.fact(run[0]) is not None and _is_a_part(s, run[0]) and run[0] not in s.taken:
            run.insert(0, run[0] - 1)
        places = run[1:]
        alike = len({str(s.facts[n].is_).rstrip("0123456789") for n in places}) == 1
        others = [i for i in s.items if i is not item]
        if len(places) < LEAST_ROW or not alike or not others:
            continue
        item.address.setdefault("place", s.facts[places[-1]].is_)
        s.items += [replace_item(item, {"place": s.facts[n].is_}) for n in places[:-1]]
        s.take(*places)
    s.items.sort(key=lambda i: i.at)


def _is_a_part(s: Sentence, n: int) -> bool:
    fact = s.fact(n)
    return fact is not None and fact.kind == "place" and re.fullmatch(r"[A-Z]{1,3}\d+", str(fact.is_)) is not None


def replace_item(item: Item, address: dict[str, object]) -> Item:
    """A copy of a figure at another address."""
    return replace(item, address={**item.address, **address}, marks=set(item.marks), besides=dict(item.besides))


def _lone_places(s: Sentence) -> None:
    """'97 on 80', 'dead on 40', '0.6w on 7.03': a figure behind 'on' that says where."""
    _at_those_volts(s)
    if _each_behind_its_figure(s):
        return
    for item in _behind_a_preposition(s):
        others = [i for i in s.items if i is not item]
        if not others and not s.free("result") and not s.free("quantity"):
            if s.has_text(item.at - 1, "on") and any(s.facts[n].of == "setting" for n in s.free("how")):
                s.drop(item)  # 'tune 34 load 61 on 20': where the knobs stand on that band, and no watts
            continue
        place = _place_of(s, item.fact, others)
        if place is None:
            continue
        elsewhere = any(f.of in {"channel", "band"} for f in s.facts)
        before = [o for o in others if o.at < item.at]
        for other in before[-1:] if elsewhere and before else others:
            other.address.setdefault(*place)
        if not elsewhere:
            s.shared |= dict([place])
        s.drop(item)


def _at_those_volts(s: Sentence) -> None:
    """'3.1w at 12' behind a supply of 12.0 V: how it was fed, and no band."""
    fed = s.ground.fed_v
    for item in [i for i in s.items if fed is not None and i.fact.unit is None and s.has_text(i.at - 1, "at", "@")]:
        if abs(item.fact.value - float(fed or 0.0)) < SAME_SUPPLY_V and any(o.fact.unit == "W" for o in s.items):
            s.everywhere["supply_v"] = item.fact.value
            s.drop(item)
            s.take(item.at - 1)


SAME_SUPPLY_V = 0.6


def _behind_a_preposition(s: Sentence) -> list[Item]:
    """The bare figures behind 'on' or 'at'."""
    bare = (i for i in s.items if i.fact.unit is None and not i.fact.signed)
    return [i for i in bare if s.has_text(i.at - 1, "on", "at", "@")]


def _each_behind_its_figure(s: Sentence) -> bool:
    """'1.3 on 1, 1.2 on 20 and 1.4 on 40': several of them, each of the figure in front of it."""
    behind = _behind_a_preposition(s)
    figures = [s.item_at(i.at - 2) for i in behind]
    if len(behind) < LEAST_ROW or None in figures or len(s.items) != 2 * len(behind):
        return False
    places = [_place_of(s, i.fact, [f for f in figures if f is not None]) for i in behind]
    if None in places or len({place[0] for place in places if place}) != 1:
        return False
    for item, figure, place in zip(behind, figures, places, strict=True):
        if figure is not None and place is not None:
            figure.address.setdefault(*place)
        s.take(item.at - 1)
        s.drop(item)
    return True


def _bands_before_watts(s: Sentence) -> None:
    """'10 38w' on a set of the short waves: a band and its power."""
    for left, right in list(zip(s.items, s.items[1:], strict=False)):
        watts = right.fact.unit == "W" and right.at == left.at + 1
        bare = left.fact.unit is None and left.quantity is None and not s.has_text(left.at - 1, "on", "at")
        if watts and bare and not s.ground.channel_hz and _band(s, left.fact):
            right.address.setdefault("band", f"{int(left.fact.value)}m")
            s.drop(left)


# bands as hands call them by their megahertz, where no band of so many metres is
IN_ITS_RANGE = 0.12  # how far from the frequencies of its plan such a set is tuned
WHOLE_MHZ = {14: 14.2e6, 18: 18.1e6, 21: 21.2e6, 24: 24.9e6, 28: 28.5e6, 50: 50.1e6, 144: 144.3e6, 432: 432.2e6}


def _hertz_of(s: Sentence, fact: Fact) -> float | None:
    return s.ground.as_carrier(fact) or _whole_megahertz(s, fact)


def _whole_megahertz(s: Sentence, fact: Fact) -> float | None:
    """'1.15 at 14': the frequency of a band that is called by its megahertz."""
    if fact.unit is not None or fact.decimals or s.ground.channel_hz:
        return None
    hz = fact.value * 1e6
    if fact.value > LEAST_VHF_MHZ and any(abs(hz / near - 1) < IN_ITS_RANGE for near in s.ground.frequencies):
        return hz  # '25w at 440, 24 at 455' of a set for 433.5 MHz
    known = WHOLE_MHZ.get(int(fact.value))
    before = [read for read in s.ground.read_at if abs(read - hz) < 1]  # '14 0.9uv' behind '14mhz 2.1uv'
    if before:
        return hz
    return None if known is None else s.ground.frequency_of(known, SAME_BAND)


def _place_of(s: Sentence, fact: Fact, others: list[Item]) -> tuple[str, object] | None:
    if _channel(s, fact):
        return "channel", fact.value
    if _band(s, fact):
        return "band", f"{int(fact.value)}m"
    if _is_what_feeds_it(s, fact):
        return "supply_v", fact.value
    if (whole := _whole_megahertz(s, fact)) is not None:
        return "frequency_hz", whole
    carrier = s.ground.as_carrier(fact) or s.ground.as_kilohertz(fact) or _decimal_megahertz(fact, others)
    if carrier is not None and _is_far(s, carrier):
        return ("supply_v", fact.value) if SUPPLIES_AT_V[0] <= fact.value <= SUPPLIES_AT_V[1] else None
    read_there = carrier is not None and _are_read_at_a_carrier(s, others)
    return ("frequency_hz", s.ground.frequency_of(carrier)) if carrier is not None and read_there else None


def may_be_where(s: Sentence, item: Item) -> bool:
    """'14.2 cw 100w cold': whether a bare figure may be a channel, a band or a frequency of the unit."""
    others = [i for i in s.items if i is not item]
    return item.fact.unit is None and _place_of(s, item.fact, others) is not None


def _decimal_megahertz(fact: Fact, others: list[Item]) -> float | None:
    return fact.value * 1e6 if fact.decimals and others and fact.value > 1 else None


def _are_read_at_a_carrier(s: Sentence, others: list[Item]) -> bool:
    named = bool(others and s.free("quantity"))
    return named or any(o.fact.unit in {"W", "%", "A", "dBc", "1"} or o.quantity for o in others)


def _is_what_feeds_it(s: Sentence, fact: Fact) -> bool:
    """'pep 2.1 on 13.8' of a unit that sends nowhere near it."""
    known = [*s.ground.frequencies, *s.ground.channel_hz.values()]
    fed = fact.decimals == 1 and fact.may_feed
    return fed and not any(abs(fact.value * 1e6 / hz - 1) < SAME_BAND for hz in known)


def _is_far(s: Sentence, hertz: float) -> bool:
    """'at 7.4' on a set of two metres: no frequency of this unit, where its frequencies are known."""
    known = [*s.ground.frequencies, *s.ground.channel_hz.values()]
    return bool(known) and all(not 1 / FAR < hertz / hz < FAR for hz in known)


def _channel_of_what_was_counted(s: Sentence) -> None:
    """'am 19 27.18503': a counter's figure, and the number of the channel that it is on."""
    counted = [i for i in s.items if i.fact.unit is None and i.fact.decimals >= COUNTED]
    for item in [i for i in s.items if _channel(s, i.fact)]:
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
