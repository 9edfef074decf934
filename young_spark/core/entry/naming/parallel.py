"""Figures that stand the same way say the same thing: what one of them is called holds for the others."""

import math
import re
from collections.abc import Sequence

from young_spark.core.entry.facts.bare_beside import with_the_unit_of
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import Item
from young_spark.core.entry.facts.sentence import LONELY_WORDS, Sentence, Unexplained
from young_spark.core.entry.wording.vocabulary import manner

LEAST_CLAUSES = 2
LEAST_PEP_W = 10.0  # bare, behind a product: 'imd3 -36 @ 900'
MOST_APART = 3.0  # of two figures of one point, with and without its load
WHERE_IT_STANDS = {"place", "item"}  # the same for all figures of a row
OF_ANY_KIND = {"W", "%", None}  # 'from 4w to 90 %' and the like are no two ends of one thing


def in_parallel(item: Item, items: Sequence[Item]) -> str | None:
    """'tuning volts ch1 2.1 ch2 3.3': the name of the figure before, which stands at another point of the same kind."""
    if item.fact.unit is not None or len({i.quantity for i in items if i.quantity and i.at < item.at}) != 1:
        return None
    named = next((i for i in items if i.quantity is not None and i.at < item.at), None)
    if named is not None and named.quantity == "peak_envelope_power" and item.address.get("mode") in {"am", "fm"}:
        return "carrier_power"  # 'pep 12.1 usb, 11.8 lsb, am 3.9'
    if named is None or named.quantity == "drive_power" or not _stand_alike(named, item):
        return None
    if named.fact.unit is not None:
        with_the_unit_of(item, named)
    return named.quantity


def _stand_alike(one: Item, other: Item) -> bool:
    points = [{k: v for k, v in i.address.items() if k not in WHERE_IT_STANDS} for i in (one, other)]
    places = [{k: v for k, v in i.address.items() if k in WHERE_IT_STANDS} for i in (one, other)]
    of_one_kind = points[0].keys() ^ points[1].keys() <= {"setting"}
    if not points[0] and not points[1]:
        return of_one_kind and _are_sisters(one.address.get("place"), other.address.get("place"))
    return of_one_kind and points[0] != points[1] and places[0] == places[1]


def _are_sisters(one: object, other: object) -> bool:
    """'v1 90ma v2 0': parts of one letter; 'temp left 61 right 84': the sides of a pair."""
    letters = [re.fullmatch(r"([A-Z]+)\d+", str(place)) for place in (one, other)]
    if all(letters):
        return one != other and len({found[1] for found in letters if found}) == 1
    of, _, side = str(one).rpartition(" ")
    of_the_other, _, other_side = str(other).rpartition(" ")
    return {side, other_side} in SIDES and of_the_other in {"", of}


SIDES = ({"left", "right"}, {"upper", "lower"}, {"top", "bottom"}, {"front", "rear"})


def sides_of_a_pair(s: Sentence) -> None:
    """'gate left 0v right 3.1': the point and its unit are said once, for both sides."""
    for one, other in zip(s.items, s.items[1:], strict=False):
        place, bare = one.address.get("place"), other.fact.unit is None and other.quantity is None
        if not bare or not _are_sisters(place, other.address.get("place")):
            continue
        if one.fact.unit is not None and one.quantity is None:
            with_the_unit_of(other, one)
        if (of := str(place).rpartition(" ")[0]) and " " not in str(other.address["place"]):
            other.address["place"] = f"{of} {other.address['place']}"


def off_its_load(s: Sentence) -> None:
    """'ht 2.95kv loaded 3.2 off': how the second figure stood, and no frequency that is off."""
    for n in s.free("quantity"):
        bare = s.item_at(n - 1)
        if s.facts[n].text != "off" or _is_switched_off(s, n):
            continue
        if bare is None or bare.fact.unit is not None:
            continue
        before = next((i for i in reversed(s.items) if i.at < bare.at), None)
        alike = before is not None and before.fact.unit not in {None, "Hz", "k", "m", "ppm"}
        if before is not None and alike and _is_near(before.fact, bare.fact):
            s.facts[n] = Fact("how", "off", of="setting", is_="off load")


def _is_switched_off(s: Sentence, n: int) -> bool:
    """'preamp on .11uv off .2', '.18uv preamp on .35 off': the other position of a switch."""
    on = next((m for m, f in enumerate(s.facts[:n]) if f.text.split(" ")[0] == "on"), None)
    if on is None and _is_off_then_on(s, n):
        return True
    leads = s.item_at(n + 1) is not None
    preamp = any(f.is_ == "preamp" for f in s.facts[:n]) and s.item_at(n - 1) is not None
    if on is None or not (leads or preamp):
        return False
    s.facts[n] = Fact("how", "off", of="setting", is_="off")
    plain = on if s.facts[on].text == "on" else None
    if plain is not None:
        s.facts[plain] = Fact("how", "on", of="setting", is_="on")
    if not leads:
        _with_and_without_preamp(s, n, plain)
    return True


def _is_off_then_on(s: Sentence, n: int) -> bool:
    """'12.6v engine off 13.9 on': the other way round, each behind its figure."""
    on = next((m for m, f in enumerate(s.facts) if m > n + 1 and f.text == "on" and s.item_at(m - 1)), None)
    if on is None or not any(i.at < n for i in s.items):
        return False
    s.facts[n] = Fact("how", "off", of="setting", is_="off")
    s.facts[on] = Fact("how", "on", of="setting", is_="on")
    if any(f.is_ == "preamp" for f in s.facts[:n]):
        _with_and_without_preamp(s, n, on)
    return True


def _with_and_without_preamp(s: Sentence, off: int, on: int | None) -> None:
    """'.18uv preamp on .35 off': both are of the whole receiver, and none is read at the preamplifier."""
    for n, word in ((off, "off"), (on, "on")):
        if n is not None:
            s.facts[n] = Fact("how", word, of="setting", is_=f"preamp {word}")
    s.take(*[n for n, f in enumerate(s.facts) if f.is_ == "preamp"])


def _is_near(one: Fact, other: Fact) -> bool:
    typed = one.value / one.factor
    return typed > 0 and 1 / MOST_APART < other.value / typed < MOST_APART


def refuse_unlike_ends(s: Sentence) -> None:
    """'10uv to 100mv': two ends that are no two of one thing. Raises Unexplained."""
    for n in range(len(s.facts)):
        left, right = s.item_at(n - 1), s.item_at(n + 1)
        if left is None or right is None or not s.is_link(n, "to", ".."):
            continue
        units = {left.fact.unit, right.fact.unit}
        if len(units) > 1 and units.isdisjoint(OF_ANY_KIND) and units & {"uV", "dBm"}:
            raise Unexplained


def drive_before_output(s: Sentence) -> None:
    """'10w 82w out' on an amplifier: of two powers the smaller that nobody named goes in."""
    powers = [i for i in s.items if i.fact.unit == "W"]
    if s.ground.wanted_at_all("drive_power"):
        _pairs_of_clauses(s)
    if not s.ground.wanted_at_all("drive_power") or len(powers) != 2:
        return
    drive, output = powers
    alone = len(s.facts) == 2 and drive.quantity is None and output.quantity is None  # '4w 78w', a row of a table
    if alone and drive.fact.value < output.fact.value:
        drive.quantity, output.quantity = "drive_power", "carrier_power"
    if drive.quantity is None and output.quantity == "carrier_power" and drive.fact.value < output.fact.value:
        drive.quantity = "drive_power"


def _pairs_of_clauses(s: Sentence) -> None:
    """'with 8w 151, 12w 190': between commas what goes in and what comes out, over and over."""
    clauses: list[list[Item]] = []
    for item in s.items:
        fresh = any(f.fresh for f in s.facts[(clauses[-1][-1].at if clauses else -1) + 1 : item.at + 1])
        if not clauses or fresh:
            clauses.append([])
        clauses[-1].append(item)
    open_ = {None, "compression_1db_power"}  # '8w 151, 12w 153 compression': what the pairs show
    if clauses and len(clauses[0]) == 2 and _leads_as_a_drive(clauses[0]):
        open_ |= {"drive_power", "carrier_power"}  # 'drive 2w 55w, 5w 140w', '2w in 55w out, 5w 140w'
    bare = all(i.quantity in open_ and i.fact.unit in {None, "W"} and not i.fact.signed for i in s.items)
    if len(clauses) < LEAST_CLAUSES or not bare or not _have_all_grown(clauses) or _is_inside(s):
        return
    for drive, output in clauses:
        drive.quantity, output.quantity = "drive_power", "carrier_power"
    s.pairs += [(drive, output) for drive, output in clauses]


def _have_all_grown(clauses: list[list[Item]]) -> bool:
    return all(len(c) == 2 and c[0].fact.value < c[1].fact.value for c in clauses)


def _is_inside(s: Sentence) -> bool:
    """'q1 b 0.62 c 13.3, q2 b 0.1 c 13.3': what is read at points of a stage drives nothing."""
    return any(f.kind == "place" for f in s.facts)


def _leads_as_a_drive(clause: list[Item]) -> bool:
    """Whether the first pair says what goes in, and nothing else of what comes out."""
    drive, output = clause
    return drive.quantity == "drive_power" and output.quantity in {None, "carrier_power"}


def of_so_many_decibels(s: Sentence) -> None:
    """'sens 14uv for 10db', 'sens 1.2uv at 30% mod': the ratio says which sensitivity, and neither it nor the depth of
    the generator is a figure of its own."""
    named = next((i for i in s.items if (i.quantity or "").startswith("sensitivity_")), None)
    if named is None:
        return
    s.items = [i for i in s.items if i.fact.unit != "%" or not _is_of_the_generator(i, named)]
    for item in list(s.items):
        beside = item.at == named.at + 1 or s.has_text(item.at - 1, "for", "at", "@")
        kind = _ratio(item)
        if kind is not None and beside:
            named.quantity = kind
            s.take(*range(named.at + 1, item.at))
            s.drop(item)


def _is_of_the_generator(depth: Item, heard: Item) -> bool:
    """'mod 62%, h2 -58, 0.9uv for 10db': the depth of another clause is the unit's, unless it is what receivers are
    measured with."""
    return depth.clause == heard.clause or depth.fact.value == USUAL_DEPTH


USUAL_DEPTH = 30.0  # %


def _ratio(item: Item) -> str | None:
    """Which sensitivity a bare ratio of decibels, or so much SINAD, says."""
    decibels = item.fact.unit == "dB" and item.quantity is None
    sinad = item.fact.unit is None and item.quantity == "sinad"  # '-121dbm 12 sinad'
    return RATIOS.get(item.fact.value) if decibels or sinad else None


RATIOS = {10.0: "sensitivity_10db_sn", 12.0: "sensitivity_12db_sinad", 20.0: "sensitivity_20db_quieting"}


def at_such_a_power(s: Sentence) -> None:
    """'imd3 -31 at 100w': the power that it was read at, which stays with it as words."""
    for item in list(s.items):
        if item.quantity is not None or not s.has_text(item.at - 1, "at", "@", "with"):
            continue
        if _only_says_how_hard(s, item):
            s.items = [i for i in s.items if i is not item]
        elif item.fact.unit == "W" and any(i.quantity == "input_swr" for i in s.items):
            item.quantity = "drive_power"  # 'in swr 4 at 10w'
            s.take(item.at - 1)


def _only_says_how_hard(s: Sentence, item: Item) -> bool:
    """Whether watts behind an 'at' are those that products were seen at, or that a stage was driven with."""
    watts = item.fact.unit == "W"
    names = [i.quantity or "" for i in s.items]
    if any(name.startswith(SEEN_AT_A_POWER) for name in names):
        bare = item.fact.unit is None and item.fact.value >= LEAST_PEP_W and s.has_text(item.at - 1, "at", "@")
        return watts or bare
    driven = any(name.startswith(OF_A_STAGE) for name in names)
    return watts and driven and (item.at == 1 or "gain" in names)


SEEN_AT_A_POWER = ("imd", "hum", "spurious", "audio_dist")
# what stands behind them, 'at 60w: plates 2.35kv', was read while it was driven so hard
OF_A_STAGE = ("gain", "plate_", "grid_", "screen_", "idle_", "efficiency")


def of_such_a_ratio(s: Sentence) -> None:
    """'bw 210k for 2:1': under which SWR the bandwidth is, and no SWR of its own."""
    width = next((i for i in s.items if i.quantity == "swr_bandwidth"), None)
    for item in list(s.items):
        if width is not None and item.fact.unit == "1" and item.quantity is None:
            s.take(*[n for n in (item.at - 1,) if s.has_text(n, "for", "under", "at", "below", "within")])
            s.drop(item)


def volts_of_a_plate(s: Sentence) -> None:
    """'plate 1050 key up 960 key down': more than a plate of a bench amplifier draws in milliamps, or than one of so
    many watts can, so that it is the high tension."""
    most = min(MOST_PLATE_MA, 1e3 * (s.ground.greatest_power_w or math.inf) / LEAST_W_OF_AN_AMP)
    for item in s.items:
        bare = item.quantity == "plate_current" and item.fact.unit is None and not item.fact.decimals
        if bare and item.fact.value >= most and s.has_text(item.at - 1, "plate", "plates", "anode", "anodes"):
            item.quantity = "plate_voltage"


MOST_PLATE_MA = 900.0
LEAST_W_OF_AN_AMP = 300.0  # of output for each ampere of plate current: 750 V at 40 %


def amps_with_audio(s: Sentence) -> None:
    """'2.1a keyed mod 2.6a': what it draws while it is modulated, and no depth."""
    amps = {i.at for i in s.items if i.fact.unit == "A"}
    if len(amps) != len(s.items):
        return
    for n in s.free("quantity"):
        if s.facts[n].text in {"mod", "modulation"} and {n - 1, n + 1} & amps:
            s.facts[n] = Fact("how", s.facts[n].text, of="modulation", is_="on")


def electrodes_of_valves(s: Sentence) -> None:
    """'pa grid 3.5ma screen 215v anode 95ma': in valve gear what an electrode draws, and no amps of a stage."""
    for n in s.free("place"):
        electrode = str(s.facts[n].is_).rpartition(" ")[2]
        figure = s.item_at(n + 1)
        drawn = {"grid": "grid_current", "anode": "plate_current", "screen": "screen_current"}.get(electrode)
        stage = not any(c.isdigit() for c in str(s.facts[n].is_))
        if s.ground.high_voltage and stage and drawn and figure is not None and figure.fact.unit == "A":
            figure.quantity = drawn
            s.take(n)


def named_but_of_another_unit(s: Sentence, item: Item) -> bool:
    """'hum under 1%': the word beside a figure names it, and its unit is of something else."""
    if item.quantity is not None or item.fact.unit is None:
        return False
    n = item.at - 1
    while n >= 0 and s.facts[n].kind == "link":
        n -= 1
    named = n in s.free("quantity") and s.facts[n].text not in {"speaker", "off"}  # a part, and a state as well
    return named and (n == item.at - 1 or s.item_at(n + 1) is None) and not _is_of_others(s, n, item)


def _is_of_others(s: Sentence, n: int, item: Item) -> bool:
    return any(i is not item and i.quantity == s.facts[n].of for i in s.items)


def counts_a_stranger(s: Sentence, item: Item) -> bool:
    """'ok 20 presses', 'string of 10 diodes': how many there were of something, and nothing that was read."""
    after = s.fact(item.at + 1)
    whole = item.fact.unit is None and item.quantity is None and item.fact.decimals == 0 and not item.fact.signed
    if not whole or after is None or after.kind != "word" or item.at + 1 in s.taken:
        return False
    many = after.text.isalpha() and len(after.text) >= SHORTEST_PLURAL and after.text.endswith("s")
    return many and after.text not in manner() | LONELY_WORDS


SHORTEST_PLURAL = 4


def named_by_a_stranger(s: Sentence, item: Item) -> bool:
    """'bw 210k', 'res freq 3.61': a word that nobody knows stands where a figure's name does, or says which frequency
    it is; the figure's unit alone does not say it."""
    at = item.at - 1
    if item.quantity is not None:
        if s.facts[at].text not in OF_MANY_KINDS:
            return False
        at -= 1
    elif item.fact.unit in {None, "W"} or item.address.get("place") or item.address.get("state") == "off":
        return False
    before = s.fact(at)
    strange = before is not None and before.kind == "word" and before.text.isalpha() and at not in s.taken
    return before is not None and strange and before.text not in manner() | LONELY_WORDS


OF_MANY_KINDS = {"freq", "frequency"}
