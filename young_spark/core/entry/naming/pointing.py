"""Where and how to figures: what is said once holds for the line; what is said several times leads or trails."""

import re
from collections.abc import Collection
from dataclasses import replace
from itertools import accumulate

from young_spark.core.entry.facts.address import CONTROL_LINES
from young_spark.core.entry.facts.by_unit import is_of_power
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import UNIT_OF, Item
from young_spark.core.entry.facts.sentence import LONELY_WORDS, Sentence, Unexplained
from young_spark.core.entry.naming.where_in_megahertz import beside_a_result, megahertz_said, own_frequencies
from young_spark.core.entry.wording.places import NUMBERED_POINT
from young_spark.core.entry.wording.vocabulary import manner

LEAST_SAID = 2
OF_THE_LAST = {"after_s", "load_ohm"}
AT_THE_SOCKET = (
    "s_meter_",
    "sensitivity_",
    "squelch_",
    "harmonic_",
    "spurious_",
    "fm_dev",
    "am_depth",
    "frequency_error",
    "swr_",
    "imd",
)
SETTINGS = {"high", "mid", "low"}
ABBREVIATED = {"hi", "lo"}
LEAST_SETTINGS = 2  # of them in one line: they are the switch's
OF_A_SWITCH = {None, "carrier_power"}  # what figures at both settings may be called
BASIC = {"V", "A", "W", "%"}
BATTERY = "battery"
WITH_PINS = r"(?:IC|U|J|P|CN|SK)\d+|PLL"
OF_A_BATTERY = {"V", "A", "Ω", "°C", None}  # units of what is read at it
WITHOUT_PLACE = {"W"}  # units of what is read at the socket, whatever part was named beside it


def bind_places(s: Sentence) -> None:
    """Give every figure the address that the text says."""
    _metres_of_cable(s)
    keys: dict[str, list[int]] = {}
    for n in s.free("where", "how", "place", "item"):
        fact = s.facts[n]
        keys.setdefault(fact.kind if fact.kind in {"place", "item"} else fact.of, []).append(n)
    _in_metres(s, keys)
    own_frequencies(s)
    beside_a_result(s)
    megahertz_said(s, keys)
    for key, found in keys.items():
        _bind(s, key, found)
    for item in s.items:
        if s.has_text(item.at + 1, "total", "altogether"):
            item.address.pop("place", None)  # 'bias right 3.88 1.8a total': of both halves
        _at_its_own_electrode(item)
        if item.fact.unit == "A" and item.address.get("place") in CONTROL_LINES:
            del item.address["place"]  # 'agc 2.1v 420ma': no such line carries what a unit draws
        if item.address.get("setting") == "squelched":
            item.address.setdefault("state", "standby")  # whatever is wanted next: nobody is squelched who sends
    _settings(s)


OF_A_VALVE = {"anode", "cathode", "grid", "screen"}
OWN_ELECTRODE = {
    "plate_voltage": "anode",
    "plate_current": "anode",
    "screen_voltage": "screen",
    "screen_current": "screen",
    "bias_voltage": "grid",
    "grid_current": "grid",
}


def _at_its_own_electrode(item: Item) -> None:
    """'v7 cathode 2.1v plate 250v': what names its electrode is of the valve, and not at the one named before."""
    part, _, electrode = str(item.address.get("place") or "").rpartition(" ")
    own = OWN_ELECTRODE.get(item.quantity or "")
    if own is not None and part and electrode in OF_A_VALVE - {own}:
        item.address["place"] = part


def _bind(s: Sentence, key: str, found: list[int]) -> None:
    if key == "place":
        found = _places(s, found)
    if not found:
        return
    if key == "item" and s.facts[found[0]].is_ == BATTERY:
        return _bind_battery(s, found)
    s.take(*found)
    s.shared.setdefault(key, value_of(s, found[0]))
    if not s.items:
        return
    found = _without_the_head(s, key, found)
    if key in OF_THE_LAST and len(found) == 1 and found[0] > s.items[0].at:
        for item in _led_by(s, found[0]) or [next((i for i in reversed(s.items) if i.at < found[0]), s.items[-1])]:
            item.address.setdefault(key, value_of(s, found[0]))
    elif len({str(value_of(s, n)) for n in found}) == 1:
        for item in _of_its_clause(s, key, found[0], _meant(s, key, found[0])):
            item.address.setdefault(key, value_of(s, found[0]))
    else:
        _paired(s, key, found)


def _led_by(s: Sentence, n: int) -> list[Item]:
    """'4.8w, after 5 min 7.01995 and 4.6w', 'cold +40 usb, after 20 min +15': what a word at the head of its clause
    leads."""
    clause = list(accumulate(int(fact.fresh) for fact in s.facts))
    if not s.facts[n].fresh:
        return []
    return [i for i in s.items if i.at > n and clause[i.at] == clause[n]]


def _of_its_clause(s: Sentence, key: str, n: int, meant: list[Item]) -> list[Item]:
    """'draws 3ma off, c70 reads 2.1k': a place that leads its own clause is none of the clause before. In a line of
    several clauses that each say what they read, how one was read is of that one."""
    if key in OF_ONE_CLAUSE and (own := _in_a_long_line(s, n, meant)):
        return own
    if key == "item" and (own := _of_its_own_clause(s, n)):
        return [i for i in meant if i in own] or meant
    if key == "place" and (there := _out_of_a_stage(s, n)):
        return there
    if key == "place" and (second := _leads_the_second(s, n)) is not None:
        return [] if second.fact.unit in WITHOUT_PLACE else [second]
    if key == "place":
        return _without_what_is_of_the_unit(s, n, _where_its_clause_is(s, n, meant))
    return _while_it_was_so(s, n, meant) if key == "heat" else meant


def _of_its_own_clause(s: Sentence, n: int) -> list[Item]:
    """'am 85% with tone, own mic 70', 'dev 1.9 with tone, 2.2 with mic': what leads its clause, and any microphone, is
    of the figures there, where others were read without it."""
    clause = list(accumulate(int(fact.fresh) for fact in s.facts))
    own = [i for i in s.items if clause[i.at] == clause[n]]
    leads = s.facts[n].fresh and bool(own) and own[0].at > n
    return own if leads or "microphone" in str(s.facts[n].is_) else []


def _out_of_a_stage(s: Sentence, n: int) -> list[Item]:
    """'driver output 200mw, bias 4.9': watts directly behind what goes into a stage or comes out of it are of that, and
    the clauses behind are not."""
    watts = s.item_at(n + 1)
    if watts is None or watts.fact.unit not in WITHOUT_PLACE or not str(s.facts[n].is_).endswith((" output", " input")):
        return []
    clause = list(accumulate(int(fact.fresh) for fact in s.facts))
    return [i for i in s.items if clause[i.at] == clause[n]]


def _in_a_long_line(s: Sentence, n: int, meant: list[Item]) -> list[Item]:
    """'ht no load 2250v, idle 60ma, filament 5.05v at the socket': what is of the clause that a word stands in; nothing
    where the line is short, where that clause reads nothing, or where another leaves open what was read."""
    clause = list(accumulate(int(fact.fresh) for fact in s.facts))
    if len({clause[i.at] for i in s.items}) < LEAST_CLAUSES:
        return []
    in_full = all(i.fact.unit is not None or _is_named_in(s, i, clause) for i in s.items)
    return [i for i in meant if clause[i.at] == clause[n]] if in_full else []


def _is_named_in(s: Sentence, item: Item, clause: list[int]) -> bool:
    return any(f.kind == "quantity" and clause[m] == clause[item.at] for m, f in enumerate(s.facts))


OF_ONE_CLAUSE = {"place", "audio", "tone_hz", "setting", "heat", "after_s"}
LEAST_CLAUSES = 3  # with a figure


def _where_its_clause_is(s: Sentence, n: int, meant: list[Item]) -> list[Item]:
    clause = list(accumulate(int(fact.fresh) for fact in s.facts))
    meant = [i for i in meant if not (_is_behind_what_was_seen(s, n, i) or _is_drawn_beside(s, n, i))]
    own = any(i.at > n and clause[i.at] == clause[n] for i in meant)
    if not own and (left := _left_by_its_place(s, n, meant, clause)) is not None:
        return left
    before = [i for i in meant if i.at < n and clause[i.at] < clause[n]]
    behind = [i for i in meant if clause[i.at] > clause[n]]
    if own and before:
        return [i for i in meant if i not in before]
    led = any(s.facts[m].kind == "place" for i in behind for m in range(n + 1, i.at) if clause[m] == clause[i.at])
    return [i for i in meant if i not in behind] if led else meant


def _is_behind_what_was_seen(s: Sentence, n: int, item: Item) -> bool:
    """'air flow ok exhaust 85c': a result is what was seen at the place in front of it, and a name that no list has
    leads the figure behind."""
    before = s.fact(item.at - 1)
    if before is None or before.kind != "word" or not before.text.isalpha() or item.at - 1 in s.taken:
        return False
    seen = [m for m in range(n + 1, item.at - 1) if s.facts[m].kind == "result"]
    return len(seen) == 1 and len(before.text) > SHORTEST and before.text not in manner() | LONELY_WORDS


SHORTEST = 3  # signs of a name


A_PLACE_BETWEEN = 3  # facts: two figures, and a place


def _without_what_is_of_the_unit(s: Sentence, n: int, meant: list[Item]) -> list[Item]:
    """'swr 1.2 tp3 4.1v supply 13.2v': what is read at no part stays where it is, beside a part with a figure of its
    own."""
    own = s.item_at(n + 1)
    if own is None or own not in meant or own.fact.unit is None:
        return meant
    if value_of(s, n) == "mains":
        return [own]  # 'exhaust 78c mains 231v'
    if value_of(s, n) == "heatsink" and own.fact.unit == "°C":
        return [i for i in meant if i.fact.unit in {"°C", None}]  # 'heatsink 71c 13.8v'
    return [i for i in meant if i is own or not _is_of_the_unit(s, i)] if _is_a_part(s, n) else meant


def _is_of_the_unit(s: Sentence, item: Item) -> bool:
    """Whether a figure is of no part by its name: an SWR, a hum, a high tension that is called so."""
    return item.quantity in OF_NO_PART or s.has_text(item.at - 1, "b+", "ht", "hv", "eht")


OF_NO_PART = {"supply_voltage", "supply_current", "swr", "input_swr", "carrier_power", "hum_and_noise"}


def _leads_the_second(s: Sentence, n: int) -> Item | None:
    """'12.1v q3 collector 11.8v', '1.1a q3 collector 11.8v': between two figures that carry their units, and nothing
    else, a place is of the one behind."""
    front, behind = s.item_at(n - 1), s.item_at(n + 1)
    if front is None or behind is None or len(s.facts) != A_PLACE_BETWEEN:
        return None
    says_what = front.fact.unit is not None or s.ground.is_a_count(front.fact)
    return behind if says_what and behind.fact.unit is not None else None


def _is_drawn_beside(s: Sentence, n: int, item: Item) -> bool:
    """'3.2a tx lo 116.00012': amps with their state beside a place that has a figure of its own."""
    state = s.fact(item.at + 1)
    drawn = item.fact.unit == "A" and state is not None and state.of == "state" and n not in {item.at - 1, item.at + 1}
    return drawn and s.item_at(n + 1) is not None


def _left_by_its_place(s: Sentence, n: int, meant: list[Item], clause: list[int]) -> list[Item] | None:
    """What a place that has no figure in its own clause is of; None where that decides nothing."""
    keyed = [i for i in meant if clause[i.at] > clause[n] and _is_drawn_when(s, i, clause)]
    if keyed:
        return [i for i in meant if i not in keyed]
    leads = _leads_a_result(s, n, clause)  # 'hv 3.2k, g2 none, bias -52'
    return [i for i in meant if clause[i.at] == clause[n]] if leads else None


def _is_drawn_when(s: Sentence, item: Item, clause: list[int]) -> bool:
    """'unsoldered final q9, keyed 0.35a': amps of a state in a clause of their own are the unit's."""
    told = any(f.of == "state" and clause[m] == clause[item.at] for m, f in enumerate(s.facts))
    return item.fact.unit == "A" and told


def _while_it_was_so(s: Sentence, n: int, meant: list[Item]) -> list[Item]:
    """'cold +180, 10 min +820': where minutes are told too, it warmed up meanwhile."""
    clause = list(accumulate(int(fact.fresh) for fact in s.facts))
    minutes = any(fact.of == "after_s" for fact in s.facts)
    return ([i for i in meant if clause[i.at] == clause[n]] if minutes else []) or meant


def _leads_a_result(s: Sentence, n: int, clause: list[int]) -> bool:
    """'ht 0, fuse f2 blown': a place that begins a clause in which something was seen at it."""
    seen = any(f.kind == "result" and clause[m] == clause[n] and m > n for m, f in enumerate(s.facts))
    return seen and (s.facts[n].fresh or _are_placed_apart(s, n, clause))


def _are_placed_apart(s: Sentence, n: int, clause: list[int]) -> bool:
    """'inner to screen open, end to end 0.3 ohm': whether each figure stands in another clause with a place of its
    own."""
    placed = {clause[m] for m in s.free("place") if m != n}
    return all(clause[i.at] != clause[n] and clause[i.at] in placed for i in s.items)


def _bind_battery(s: Sentence, found: list[int]) -> None:
    """What is sent on a battery is sent by the unit: the word stays beside it."""
    fed = [i for i in s.items if i.fact.unit in OF_A_BATTERY and not is_of_power(i.quantity)]
    for item in fed:
        item.address.setdefault("item", BATTERY)
    if fed or not s.items:
        s.take(*found)


def _places(s: Sentence, found: list[int]) -> list[int]:
    """The places that figures stand at: none behind a 'no', none where nothing of the line is read inside of the unit.
    More of them than figures and results is a point that has no name here ('junction of r4 and r5')."""
    found = [n for n in found if not s.has_text(n - 1, "no", "by", "with", "without")]
    found = _without_what_only_tells(s, _with_their_parts(s, found))
    found = _without_what_was_only_seen(s, found)
    if s.items and not _concerned(s, "place"):
        return []
    heads = {str(value_of(s, n)) for n in found if not s.facts[n].follows}
    if len(heads) > len(s.items) + len(s.free("result")) and len(heads) > 1 and s.items:
        raise Unexplained
    return found


def _without_what_only_tells(s: Sentence, found: list[int]) -> list[int]:
    """'bpf for 10 and 15, relay k9 contact 4 ohm': a name that begins a clause without a figure or a result tells of
    which stage the next clause is."""
    clause = list(accumulate(int(fact.fresh) for fact in s.facts))
    filled = {clause[i.at] for i in s.items} | {clause[n] for n in s.free("result", "quantity", "item")}
    heads = {n for n in found if not s.facts[n].follows}
    told = [
        n
        for n in heads
        if clause[n] not in filled
        and not _is_a_part(s, n)
        and any(clause[m] == clause[n] + 1 and clause[m] in filled for m in heads)
    ]
    if len(heads) - len(told) < 1 or len(told) != 1:
        return found
    s.facts[told[0]] = replace(s.facts[told[0]], kind="word")
    return [n for n in found if n not in told]


def _without_what_was_only_seen(s: Sentence, found: list[int]) -> list[int]:
    """'13.8v idle 180ma, q1 q2 no drive': parts of a clause of their own, at which only a result was seen, are places
    of that, and of no figure before it."""
    clause = list(accumulate(int(fact.fresh) for fact in s.facts))
    filled, seen = {clause[i.at] for i in s.items}, {clause[n] for n in s.free("result")}
    only = [n for n in found if clause[n] in seen - filled]
    alone = len(only) > 1 and len({clause[n] for n in only}) == 1 and all(i.at < only[0] for i in s.items)
    return [n for n in found if n not in only] if alone else found


def _with_their_parts(s: Sentence, found: list[int]) -> list[int]:
    """'final heatsink 88c': two names without a word between them are one place. Where one of them is a part, 'lpf
    relay k7 contact 2.2 ohms' or 'v2 if amp plate 0v', it says where, and its stage is only told."""
    told = {_only_told(s, n) for n in found if n + 1 in found}
    found = [n for n in found if n not in told]
    for n in found:
        if n + 1 in found and s.item_at(n + 2) is not None and not (s.facts[n].follows or s.facts[n + 1].follows):
            whole = f"{s.facts[n].is_} {s.facts[n + 1].is_}"
            s.facts[n + 1] = replace(s.facts[n + 1], text=f"{s.facts[n].text} {s.facts[n + 1].text}", is_=whole)
            s.take(n)
    return [n for n in found if n not in s.taken]


def _only_told(s: Sentence, n: int) -> int | None:
    """Of two names side by side the one that only tells of which stage the part is; None where both say where."""
    if s.has_text(n + 2, "amp", "stage") and _is_a_part(s, n):
        return n + 1
    leads = s.item_at(n + 2) is not None and _is_a_part(s, n + 1) and not _is_a_part(s, n)
    return n if leads else None


def _is_a_part(s: Sentence, n: int) -> bool:
    return NUMBERED_POINT.match(str(s.facts[n].is_)) is not None


def _without_the_head(s: Sentence, key: str, found: list[int]) -> list[int]:
    """'r14 8.9 one side 1.2 the other': the part leads, its sides stand with their figures."""
    sides = [n for n in found if s.facts[n].follows]
    head = [n for n in found if n not in sides]
    if any((after := s.fact(n + 1)) is not None and after.kind == "result" for n in sides):
        return found  # 'primary 180r secondary open'
    if key == "place" and len(head) == 1 and len(sides) == len(s.items) and all(s.facts[n].of for n in sides):
        return sides
    return found


def value_of(s: Sentence, n: int) -> object:
    """What a fact says of the address; a place that goes on from the hand's takes its part."""
    fact = s.facts[n]
    if fact.kind == "place" and fact.follows and not fact.of:
        part = str(s.ground.hand.get("place") or "").split(" ")[0]
        if str(fact.is_).startswith("pin ") and re.fullmatch(WITH_PINS, part) is None:
            return str(fact.is_)
        return f"{part} {fact.is_}".strip() if part == part.upper() else str(fact.is_)
    return s.ground.state_meant(str(fact.is_)) if fact.of == "state" else fact.is_


def _concerned(s: Sentence, key: str) -> list[Item]:
    """Which figures a place that is said once belongs to."""
    if key == "state":
        of_supply = [i for i in s.items if i.fact.unit in {"A", "V", None}]
        return of_supply or s.items
    if key == "place":
        inside = [i for i in s.items if not (i.quantity or "").startswith(AT_THE_SOCKET)]
        within = [i for i in inside if not (i.quantity or "").startswith("carrier_")] or inside
        return [i for i in within if i.fact.unit not in WITHOUT_PLACE] or within
    return s.items


def _watts_of_a_module(s: Sentence, key: str, n: int) -> list[Item]:
    """'module a 240w 9.9a': watts directly behind a part of an amplifier that makes its own are no whole unit's."""
    watts = s.item_at(n + 1)
    if key != "place" or watts is None or watts.fact.unit not in WITHOUT_PLACE or watts in _concerned(s, key):
        return []
    return [watts] if MODULE.match(str(s.facts[n].is_)) else []


MODULE = re.compile(r"(?:module|half|bank|pallet|deck|side) ", re.IGNORECASE)


def _meant(s: Sentence, key: str, n: int) -> list[Item]:
    """What was said once behind the last of two like figures is of that one alone; else it is of them all."""
    concerned = [i for i in [*_concerned(s, key), *_watts_of_a_module(s, key, n)] if key not in i.address]
    last = next((i for i in reversed(s.items) if i.at < n), None)
    if (labelled := _by_its_label(s, key, n, concerned)) is not None:
        return labelled
    if last is not None and last.at == n - 1 and _each_has_its_own(s, last, key):
        return [last] if last in concerned else []
    if last is None or last not in concerned:
        return concerned
    if key in {"mode", "item"}:
        return _led_by_its_mode(s, n, last, concerned) if key == "mode" else concerned
    return _behind_the_last(s, n, last, concerned, key)


def _led_by_its_mode(s: Sentence, n: int, last: Item, concerned: list[Item]) -> list[Item]:
    """'carrier -52 lsb -50': behind a figure with a name of its own, the mode leads the one that ends the text."""
    behind = [i for i in concerned if i.at == n + 1]
    return behind if behind and _is_led_by_a_name(s, last) and _leads_the_last(s, n, last) else concerned


def _by_its_label(s: Sentence, key: str, n: int, concerned: list[Item]) -> list[Item] | None:
    """What a label says where every figure has one; None where that decides nothing."""
    if key == "setting_word" and _labels_lead(s):
        return [i for i in concerned if i.at == n + 1]  # 'tx 2.1a lo 0.7a'
    if key == "setting":
        return _led_by_a_setting(s, n, concerned) or None
    return concerned if key == "supply_v" and _labelled(s) else None


def _labels_lead(s: Sentence) -> bool:
    """Whether a label stands directly in front of every figure, and none behind the last."""
    led = all((before := s.fact(i.at - 1)) is not None and before.kind in {"how", "where", "side"} for i in s.items)
    return led and len(s.items) > 1 and s.items[-1].at == len(s.facts) - 1


def _labelled(s: Sentence) -> bool:
    """'hi 3.1w lo 0.8w at 12v': each figure has its label, and how they were fed is said once for all."""
    labels = [
        n for n, f in enumerate(s.facts) if f.kind == "side" or f.of in {"setting_word", "mode", "channel", "band"}
    ]
    return len(labels) == len(s.items) > 1


def _is_led_by_a_name(s: Sentence, item: Item) -> bool:
    led = s.fact(item.at - 1)
    return led is not None and led.kind in {"quantity", "place"}


def _behind_the_last(s: Sentence, n: int, last: Item, concerned: list[Item], key: str) -> list[Item]:
    alone = key == "state" and n == last.at + 1 and "place" not in last.address
    elsewhere = {"place"} if alone else set()  # '13.6v at set, 12.9 on tx'
    alike = [i for i in concerned if i is not last and _alike(i, last, elsewhere)]
    behind = [i for i in alike if i.at > n]
    return _between(s, n, last, concerned, behind) if behind else [i for i in concerned if i not in alike]


def _led_by_a_setting(s: Sentence, n: int, concerned: list[Item]) -> list[Item]:
    """'squelch opens .4 tight 300': behind a name that leads its figure, a setting leads the next."""
    before, after = s.item_at(n - 1), s.item_at(n + 1)
    name = s.fact(n - 2)
    between = before is not None and after is not None and len(s.items) == LEAST_SETTINGS
    leads = name is not None and name.kind == "quantity" and s.facts[n].is_ in TURNED
    own_clause = s.facts[n].fresh and before is not None and before.at == n - 1  # 'dev 4.6, narrow 2.3'
    return [after] if between and (leads or own_clause) and after in concerned else []


TURNED = {"tight", "loose", "threshold", "max", "min"}


def _between(s: Sentence, n: int, last: Item, concerned: list[Item], behind: list[Item]) -> list[Item]:
    """Between two like figures: 'plate volts 2400 key down 2250' leads the second, '95w cold 88w' trails the first."""
    if s.facts[n].is_ in {"transmit", "hot", "on load"} and last is concerned[-2]:
        return behind
    clause = list(accumulate(int(fact.fresh) for fact in s.facts))
    if clause[last.at] < clause[n] == clause[behind[0].at]:
        return behind  # 'swr at the set 2.6, at the base 3.4': it leads in its own clause
    if _is_led_by_a_name(s, last) and behind[0].at == n + 1 and _leads_the_last(s, n, last):
        return behind  # 'fil 6.25 driver 6.2', 'bias -22v standby -95': a name led the first, and this the second
    return [i for i in concerned if i.at < n] if last is concerned[0] else concerned


def _leads_the_last(s: Sentence, n: int, before: Item) -> bool:
    """Whether a place, or a word directly behind the figure before, leads the one that ends the text in one breath."""
    in_one_breath = before.at == n - 1 and n + 2 == len(s.facts) and not s.facts[n + 1].fresh
    return s.facts[n].kind == "place" or in_one_breath


def _each_has_its_own(s: Sentence, last: Item, key: str) -> bool:
    """'1.2 bypassed 2.8 keyed': an earlier figure is followed by a condition of its own; '1.1a rx 0.2a dev 2k ch20':
    none of them by a channel of its own."""
    kinds = {"where"} if key in OF_WHERE else {"where", "how"}
    return any(i.at < last.at and (after := s.fact(i.at + 1)) is not None and after.kind in kinds for i in s.items)


OF_WHERE = {"channel", "band"}


def _alike(one: Item, other: Item, but_for: Collection[str] = ()) -> bool:
    """Two figures of the same quantity, at the same point as far as was said, `but_for` some part of it."""
    for named, bare in ((one, other), (other, one)):
        unit = UNIT_OF.get(named.quantity or "")
        if unit and bare.fact.unit and (unit in BASIC - {bare.fact.unit} or bare.fact.unit in BASIC - {unit}):
            return False  # 'supply 13.8 rx .25a', '3.9w ch40 dev 1.8'
    same = one.quantity == other.quantity or other.quantity is None or one.quantity is None
    return (
        same
        and (one.fact.unit == other.fact.unit or None in {one.fact.unit, other.fact.unit})
        and all(one.address.get(k) == other.address.get(k) for k in {*one.address, *other.address} - {*but_for})
    )


def _paired(s: Sentence, key: str, found: list[int]) -> None:
    """Several of the same kind: each leads its figures, or each trails them."""
    concerned = [i for i in _concerned(s, key) if key not in i.address]
    if not concerned:
        return
    if _each_in_its_clause(s, key, found, concerned):
        return
    leads = found[0] < concerned[0].at or _each_before_its_figure(s, found, concerned)
    for item in concerned:
        if key == "state" and not leads and _goes_by_a_switch(s, item):
            continue
        if leads:
            mine = max((n for n in found if n < item.at), default=-1 if found[0] > item.at else found[0])
        else:
            mine = min((n for n in found if n > item.at), default=-1)
        if mine >= 0:
            item.address.setdefault(key, value_of(s, mine))


def _goes_by_a_switch(s: Sentence, item: Item) -> bool:
    """'1.5a hi .6a lo 55ma rx': amps of a setting are of a carrier, and not of the state that comes behind."""
    after = s.fact(item.at + 1)
    return after is not None and after.text in {"hi", "lo", "high", "low", "mid"}


def _each_before_its_figure(s: Sentence, found: list[int], concerned: list[Item]) -> bool:
    """'drive 5w: 160m 890 80m 940': each leads a figure, and a figure in front of them all has none."""
    led = all(s.item_at(n + 1) is not None for n in found)
    last, before = concerned[-1], concerned[-2] if len(concerned) > 1 else concerned[-1]
    if last.fact.unit not in {None, before.fact.unit}:
        return False  # 'ht 2450 standing 2210 loaded 380ma': the last is another thing
    return led and len(concerned) == len(found) + 1 and concerned[-1].at > found[-1]


def _in_metres(s: Sentence, keys: dict[str, list[int]]) -> None:
    """'hf 98w 20m': of a range and a band in it, the band says where."""
    bands = keys.get("band", [])
    metres = [n for n in bands if str(s.facts[n].is_).rstrip("m").isdigit()]
    if metres and len(metres) < len(bands):
        s.take(*[n for n in bands if n not in metres])
        s.keep_words |= {n for n in bands if n not in metres}
        keys["band"] = metres


def _each_in_its_clause(s: Sentence, key: str, found: list[int], concerned: list[Item]) -> bool:
    """'draws 0.24 rx, keyed 1.3': between commas stands one figure with its own word, whichever of them is first."""
    clause_of = list(accumulate(int(fact.fresh) for fact in s.facts))
    told = {clause_of[n]: n for n in found}
    if _trails_in_each(s, key, found, told, concerned, clause_of):
        return True
    if len(told) != len(found) or len(told) < 2 or len({clause_of[i.at] for i in concerned}) != len(concerned):
        return False
    labelled = [i for i in concerned if clause_of[i.at] in told]
    leads = all(told[clause_of[i.at]] < i.at for i in labelled) and len(labelled) == len(told)
    if len(labelled) < len(concerned) and not (leads and key == "after_s"):
        return False  # 'cold +180, 10 min +820, 30 min +1.3k': what leads in each clause is of that alone
    for item in labelled:
        item.address.setdefault(key, value_of(s, told[clause_of[item.at]]))
    return True


def _trails_in_each(
    s: Sentence, key: str, found: list[int], told: dict[int, int], concerned: list[Item], clause_of: list[int]
) -> bool:
    """'1.3a tx am, 1.25 fm, 0.31 rx': each behind the one figure of its clause; a clause that does not say its state is
    in the state of the one before."""
    figures = {clause_of[i.at]: i for i in s.items}
    alone = len(figures) == len(s.items) and len(told) == len(found) and len(figures) > len(found) > 1
    if not alone or any(c not in figures or figures[c].at > n for c, n in told.items()):
        return False
    for item in concerned:
        there = [c for c in told if c == clause_of[item.at] or (key == "state" and c < clause_of[item.at])]
        if there:
            item.address.setdefault(key, value_of(s, told[max(there)]))
    return True


def _metres_of_cable(s: Sentence) -> None:
    """'coax 11m loss 4.2db': how long it is, and no band."""
    if not any(f.kind == "item" and f.is_ == "cable" for f in s.facts):
        return
    for n, fact in enumerate(s.facts):
        if fact.of == "band" and fact.text.endswith("m"):
            s.facts[n] = Fact("word", fact.text)
    if len(s.items) > 1:
        s.items = [i for i in s.items if not (i.fact.unit == "m" and i.quantity is None)]


def _settings(s: Sentence) -> None:
    """'high 3.6w low 0.4w', 'lo 40 hi 140' where the unit has such settings, or the text says that it has."""
    sides, spoken = s.free("side"), [n for n, f in enumerate(s.facts) if f.of == "setting_word"]
    said = {s.facts[n].is_ for n in (*sides, *spoken)}
    both = len(said) >= LEAST_SETTINGS and said <= SETTINGS and len(s.items) > 1
    both = both or any(s.facts[n].text in ABBREVIATED for n in sides)  # '70 hi 0w', '6.2a hi': of a switch only
    known = SETTINGS if both else set(s.ground.power_settings)
    found = [n for n in sides if s.facts[n].is_ in known or _turns_it_down(s, n)]
    words = [n for n in spoken if s.facts[n].is_ in known]
    if found and words:
        for item in s.items:
            item.address.pop("setting_word", None)
        found = sorted((*found, *words))
    _set(s, found, [i for i in s.items if _takes_a_setting(s, i, both=both)])


def _turns_it_down(s: Sentence, n: int) -> bool:
    """'low 1.1w' behind 9.8 W: of a switch, since the set gives more."""
    watts = [i for i in s.items if i.fact.unit == "W" or is_of_power(i.quantity)]
    if s.facts[n].is_ != "low" or s.facts[n].text not in {"low", "lo"} or len(s.items) != 1 or not watts:
        return False
    full = [p.value for p in s.ground.powers if p.quantity == "carrier_power" and not p.at.get("power_setting")]
    return bool(full) and 0 < watts[0].fact.value < TURNED_DOWN * full[-1]


TURNED_DOWN = 0.5  # of what it gave before


def _are_of_a_switch(s: Sentence) -> bool:
    """'hi 24.5 lo 1.02': the settings by name, and figures that nothing else says what they are."""
    bare = all(i.fact.unit is None and i.quantity in OF_A_SWITCH and not i.fact.signed for i in s.items)
    return bare and not any(s.facts[n].text in {"up", "down"} for n in s.free("side"))


def _set(s: Sentence, found: list[int], watts: list[Item]) -> None:
    """Give each setting to its figure: they lead, or they trail."""
    if (each := _each_behind_its_figure(s, found)) is not None:
        for n, item in each:
            item.address["power_setting"] = str(s.facts[n].is_)
            s.take(n)
        return
    ends = bool(found) and len(watts) == len(found) + 1 and watts[-1].at > found[-1]
    leads = bool(found) and bool(watts) and (found[0] < watts[0].at or ends)
    for n in found:
        behind = s.item_at(n + 1)
        touches = behind is not None and not behind.fact.fresh and s.item_at(n - 1) is None  # 'ch6 24.0, ch16 low 0.9'
        mine = [i for i in watts if (i.at > n) == (leads or touches)]
        near = min(mine, key=lambda i: abs(i.at - n), default=None)
        if near is not None:
            near.address["power_setting"] = str(s.facts[n].is_)
            s.take(n)


def _each_behind_its_figure(s: Sentence, found: list[int]) -> list[tuple[int, Item]] | None:
    """'apc line 2.1v on high .9 on low': every figure of a point has its setting behind it; None where not so."""
    there = {i.address.get("place") for i in s.items}
    if len(found) < LEAST_SETTINGS or len(found) != len(s.items) or None in there:
        return None
    items = [s.item_at(n - 2 if s.has_text(n - 1, "on", "at") else n - 1) for n in found]
    told = [(n, item) for n, item in zip(found, items, strict=True) if item is not None]
    return told if len(told) == len(found) else None


def _is_of_channels(s: Sentence) -> bool:
    """'ch6 24.0, ch72 24.4, ch16 low 0.9': bare figures of channels are what it gives there."""
    return len(s.items) > 1 and all(
        i.fact.unit is None and i.quantity is None and not i.fact.signed and "channel" in i.address for i in s.items
    )


def _is_drawn(item: Item, units: set[str | None]) -> bool:
    alone = item.fact.unit == "A" or "V" not in units  # beside volts only what carries its unit
    return alone and item.quantity in {None, "supply_current"} and units <= {"A", "V", None}


def _takes_a_setting(s: Sentence, item: Item, *, both: bool) -> bool:
    units = {i.fact.unit for i in s.items}
    amps = "A" in units or any(i.quantity == "supply_current" for i in s.items)
    if both and amps and _is_drawn(item, units):
        return "power_setting" not in item.address  # 'tx 690ma hi 310 low', '13.6v 6.2a hi'
    watts = any(i.fact.unit == "W" for i in s.items) or _are_of_a_switch(s)
    of_power = is_of_power(s.ground.wants) or (both and watts) or _is_of_channels(s)
    wanted = item.fact.unit is None and of_power and item.quantity in OF_A_SWITCH
    said = "power_setting" in item.address or item.address.get("setting_word") is not None
    return (item.fact.unit == "W" or wanted) and not said
