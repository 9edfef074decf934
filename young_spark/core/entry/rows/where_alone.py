"""A bare figure that says where another was read: '97 on 80', '0.6w on 7.03', '3.1w at 12' behind a supply of 12 V."""

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import SAME_BAND, Item
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.entry.rows.row_of_megahertz import LEAST_ROW, whole_megahertz
from young_spark.core.gear import BANDS_M

SUPPLIES_AT_V = (3.0, 60.0)


FAR = 3.0  # times a frequency of the unit


def channel_at(s: Sentence, fact: Fact) -> bool:
    whole = fact.unit is None and fact.decimals == 0 and not fact.signed
    return whole and int(fact.value) in s.ground.channel_hz


def band_at(s: Sentence, fact: Fact) -> bool:
    whole = fact.unit is None and fact.decimals == 0 and not fact.signed
    return whole and int(fact.value) in BANDS_M and not s.ground.channel_hz


def find_lone_places(s: Sentence) -> None:
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
    bare = (i for i in s.items if i.fact.unit is None and not i.fact.signed and not s.ground.is_a_count(i.fact))
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


def _place_of(s: Sentence, fact: Fact, others: list[Item]) -> tuple[str, object] | None:
    if channel_at(s, fact):
        return "channel", fact.value
    if band_at(s, fact):
        return "band", f"{int(fact.value)}m"
    if _is_what_feeds_it(s, fact):
        return "supply_v", fact.value
    if (whole := whole_megahertz(s, fact)) is not None:
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
