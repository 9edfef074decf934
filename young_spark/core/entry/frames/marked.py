"""What is printed on a part, what a rail or an oscillator goes by, and what is due: figures that belong to one that was
measured."""

import math
import re
from dataclasses import replace
from itertools import accumulate

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import Item
from young_spark.core.entry.facts.sentence import Sentence, Unexplained
from young_spark.core.entry.frames.figures_said import OHMS, SAME_RAIL, alike, leave_as_words
from young_spark.core.entry.wording.vocabulary import vocabulary

COUNTED = 3  # decimals of a MHz, more of which only a counter shows
SAME_CARRIER = 0.004
READS = {"reads", "meas", "measures", "measured", "runs", "is", "now"}
OF_PARTS = {"F", "Ω", "H", "k", None}
UNDER, OVER = "should be under", "should be over"
DUE = {
    UNDER, OVER,
    "should be", "should read", "should have been", "supposed to be", "meant to be", "ought to be", "due", "spec",
    "spec is", "spec of", "limit", "limit is", "limit of", "instead of", "expect", "expected", "want", "normal",
    "normally", "typ", "typical",
}  # fmt: skip


def find_marked(s: Sentence) -> None:
    """'61uf of 100uf', 'r31 390r reads 510': what is measured and what is printed; 'should be': what is due."""
    for n in range(len(s.facts)):
        left, right = s.item_at(n - 1), s.item_at(n + 1)
        linked = s.facts[n].kind in {"link", "word"} and not _is_of_a_manner(s, n)
        if left is not None and right is not None and linked and alike(left.fact, right.fact):
            _mark(s, n, left, right)
    _due_of_another(s)
    _marked_far(s)
    _marked_and_read(s)
    _rated(s)
    _marked_first(s)
    _rated_behind_its_ohms(s)
    _printed_on_an_open_part(s)
    _rail_by_its_volts(s)
    _nominal_and_counted(s)
    _with_its_due(s)
    _watts_of_a_resistor(s)
    if any(i.besides for i in s.items):
        s.take(*[n for n, f in enumerate(s.facts) if f.text == "marked"])


def _due_of_another(s: Sentence) -> None:
    """'127.500 +300hz, spec 5ppm': what is due in another unit than anything that was read stays as words."""
    for n, fact in enumerate(s.facts):
        limit = s.item_at(n + 1)
        if fact.text not in OF_A_SPEC or not fact.fresh or limit is None or n in s.taken:
            continue
        others = [o for o in s.items if o is not limit and o.fact.unit is not None]
        if limit.fact.unit is not None and others and not any(alike(o.fact, limit.fact) for o in others):
            leave_as_words(s, limit)


LIMITS = {"limit", "limit is", "limit of"}
OF_A_SPEC = {"spec", "spec is", "spec of", *LIMITS}
SPEAKERS = {"speaker", "spkr", "loudspeaker"}
OF_A_MANNER = {"normal", "normally", "typical"}


def _is_of_a_manner(s: Sentence, n: int) -> bool:
    """'dev 2.1 normal, 2.4 flat out': how it was read, and not what is due."""
    behind = s.fact(n + 1)
    return s.facts[n].text in OF_A_MANNER and behind is not None and behind.fresh


def _mark(s: Sentence, n: int, left: Item, right: Item) -> None:
    """Two figures with a word between them that says which of them was measured."""
    link = s.facts[n].text
    if link in DUE or (link == "of" and left.fact.unit == "W" and right.fact.unit in {"W", None}):
        _beside(s, left, right, "due", n)
    elif link in {"of", "marked"} and left.fact.unit in OF_PARTS - {None}:
        _beside(s, left, right, "marked", n)
    elif link in READS and _is_of_a_speaker(s, n, left):
        right.address["place"] = "speaker"
        _beside(s, right, left, "marked", n, n - 2)
    elif link in READS and (_is_of_a_part_in_ohms(s, n, left) or _is_of_a_subtone(s, n)):
        _beside(s, right, left, "marked", n)
    elif link == "was" and s.has_text(n + 2, "new"):
        _beside(s, left, right, "due", n, n + 2)
    else:
        _left_behind(s, n, left, right)


def _is_of_a_speaker(s: Sentence, n: int, left: Item) -> bool:
    """'speaker 8r reads 7.6': what is printed on it, and what was read there."""
    return s.has_text(n - 2, *SPEAKERS) and left.fact.unit == "Ω"


def _is_of_a_part_in_ohms(s: Sentence, n: int, left: Item) -> bool:
    return left.fact.unit in OF_PARTS and _is_of_a_part(s, n)


def _is_of_a_subtone(s: Sentence, n: int) -> bool:
    """'encode 103.5 measured 102.1'."""
    return any(f.of == "subtone_frequency" for f in s.facts[:n])


def _left_behind(s: Sentence, n: int, left: Item, right: Item) -> None:
    """'depth 45 -> 88', 'input swr 1.9 was 4': what it was stays as words."""
    in_its_unit = left.fact.unit not in OF_PARTS and right.fact.unit is None
    if not _is_named(s, left) and not (in_its_unit and s.has_text(n, "was")):  # 'v5 28ma was 19'
        return
    if s.is_link(n, "->") and not s.ground.wanted_at_all("drive_power"):
        leave_as_words(s, left)
    elif s.has_text(n, "was") and n + 1 == len(s.facts) - 1 and left.fact.unit not in OF_PARTS - {None}:
        leave_as_words(s, right)


def _is_named(s: Sentence, item: Item) -> bool:
    return any(f.kind == "quantity" for f in s.facts[: item.at]) and not any(f.kind == "place" for f in s.facts)


def _marked_far(s: Sentence) -> None:
    """'r31 2k2 hot reads 5k': words between the two."""
    for n, fact in enumerate(s.facts):
        found = s.item_at(n + 1)
        if fact.text not in READS - {"is", "now"} or found is None or n in s.taken or not _is_of_a_part(s, n):
            continue
        mark = next((i for i in reversed(s.items) if i.at < n), None)
        if mark is not None and mark.fact.unit in OHMS | {"F"} and alike(mark.fact, found.fact):
            _beside(s, found, mark, "marked", n)


def _marked_and_read(s: Sentence) -> None:
    """'c7 10u 3u', 'c2 20u 21u': of two figures of a capacitor the first is printed on it."""
    part = any(f.kind == "place" and re.fullmatch(r"C\d+[A-Z]?", f.of) for f in s.facts)
    farads = [i for i in s.items if i.fact.unit == "F"]
    if part and len(farads) == 2 and farads[1].at == farads[0].at + 1 and not any(i.besides for i in farads):
        _beside(s, farads[1], farads[0], "marked")


def _rated(s: Sentence) -> None:
    """'r31 2k2 5w', 'c4 47u 25v': what a part can bear is printed on it. Raises Unexplained for a new one: nothing of
    it was measured."""
    for value, rating in list(zip(s.items, s.items[1:], strict=False)):
        beside = rating.at == value.at + 1 and rating.fact.unit in {"W", "V"}
        part = any(f.kind == "place" and OF_OHMS_OR_FARADS.match(f.of) for f in s.facts[: value.at])
        if not beside or not part or value.fact.unit not in OF_PARTS - {None}:
            continue
        leave_as_words(s, rating)
        if any(f.of == "esr" for f in s.facts):
            leave_as_words(s, value)  # 'c812 2200u 40v esr 1.4': printed on it
        if any(s.has_text(n, "new", "fitted", "replaced") for n in range(value.at)):
            raise Unexplained


def _watts_of_a_resistor(s: Sentence) -> None:
    """'bias resistor rb1 5w charred': what it can bear, and no power of the unit."""
    for item in list(s.items):
        of = [n for n in range(item.at) if "resistor" in s.facts[n].text or OF_OHMS.match(s.facts[n].of)]
        if item.fact.unit == "W" and of and not any(f.kind == "quantity" for f in s.facts[of[0] : item.at]):
            leave_as_words(s, item)


OF_OHMS = re.compile(r"R[A-Z]?\d+[A-Z]?$")


def _rail_by_its_volts(s: Sentence) -> None:
    """'ic6 5v 4.98', '8v 7.94': whole volts by which a rail goes, and what it is."""
    for name, found in list(zip(s.items, s.items[1:], strict=False)):
        beside = found.at == name.at + 1 and found.fact.unit in {"V", None} and found.fact.decimals > 0
        whole = name.fact.unit == "V" and name.fact.decimals == 0 and not name.fact.signed and name.fact.factor == 1.0
        near = name.fact.value > 0 and abs(found.fact.value / name.fact.value - 1) < SAME_RAIL
        if len(s.items) == 2 and beside and whole and near and not s.free("quantity"):
            found.fact = replace(found.fact, unit="V")
            _beside(s, found, name, "due")
            found.address.setdefault("place", _rail_at(s, name))


def _nominal_and_counted(s: Sentence) -> None:
    """'10.24 ref is 10.23976', '10.24 mhz xtal reads 10.2402': an oscillator by its frequency, and what it runs at."""
    for nominal, counted in list(zip(s.items, s.items[1:], strict=False)):
        around = range(max(nominal.at - 1, 0), counted.at)  # 'ref 12.8 reads 12.80034'
        said = next((n for n in around if s.facts[n].text in OSCILLATORS), None)
        if said is None or counted.at - nominal.at > FARTHEST_COUNTED or not _runs_near(nominal.fact, counted.fact):
            continue
        name = OSCILLATORS[s.facts[said].text]
        if said == nominal.at + 1 and name in ONE_OF_SEVERAL:
            name = f"{nominal.fact.text} {s.facts[said].text}"
        s.take(*range(nominal.at + 1, counted.at), *[n for n in (nominal.at - 1,) if n == said])
        factor = _megahertz_of(nominal.fact, counted.fact)
        counted.fact = _in_hertz(counted.fact, factor)
        nominal.fact = _in_hertz(nominal.fact, factor)
        counted.quantity = "stage_frequency"
        counted.address.setdefault("place", name)
        _beside(s, counted, nominal, "marked")


def _runs_near(nominal: Fact, counted: Fact) -> bool:
    """Whether a figure is a finer count of another; the unit of frequency may stand behind either or behind none."""
    if {nominal.unit, counted.unit} - {None, "m", "Hz"} or counted.decimals <= nominal.decimals:
        return False
    factor = _megahertz_of(nominal, counted)
    there, here = _in_hertz(nominal, factor).value, _in_hertz(counted, factor).value
    named = "Hz" in {nominal.unit, counted.unit}
    finer = named or counted.decimals >= max(nominal.decimals + 2, COUNTED + 1)
    return finer and nominal.value > 1 and abs(here / there - 1) < SAME_CARRIER


def _megahertz_of(nominal: Fact, counted: Fact) -> float:
    """What a figure that names no unit is in hertz: what the other names, else megahertz."""
    return next((f.factor for f in (counted, nominal) if f.unit == "Hz"), 1e6)


def _in_hertz(fact: Fact, factor: float) -> Fact:
    return fact if fact.unit == "Hz" else replace(fact, unit="Hz", value=fact.value * factor, factor=factor)


FARTHEST_COUNTED = 4  # words
OSCILLATORS = {
    "ref": "reference oscillator", "reference": "reference oscillator", "ref osc": "reference oscillator",
    "ref xtal": "reference oscillator", "tcxo": "reference oscillator", "xtal": "crystal", "crystal": "crystal",
    "osc": "oscillator", "oscillator": "oscillator", "clock": "clock",
}  # fmt: skip
ONE_OF_SEVERAL = {"crystal", "oscillator", "clock"}  # told apart by their frequency


def _rail_at(s: Sentence, name: Item) -> str:
    part = next((str(f.is_) for f in s.facts[: name.at] if f.kind == "place"), "")
    return f"{part} {name.fact.value:g} V".strip() if part else f"{name.fact.value:g} V rail"


def _is_of_a_part(s: Sentence, n: int) -> bool:
    parts = vocabulary().file.words["parts"]
    return any(f.kind in {"place", "item"} or (f.kind == "word" and f.text in parts) for f in s.facts[:n])


def _marked_first(s: Sentence) -> None:
    """'xtal marked 7030 runs 7031.4': the mark leads; 'r2 470 5w meas 560': its watts are of the part."""
    for n, fact in enumerate(s.facts):
        mark = s.item_at(n + 1)
        found = s.item_at(n + 3)
        if fact.text == "marked" and mark is not None and s.has_text(n + 2, *READS) and found is not None:
            _beside(s, found, mark, "marked", n, n + 2)
    for n, fact in enumerate(s.facts):
        value, watts, found = s.item_at(n - 2), s.item_at(n - 1), s.item_at(n + 1)
        if fact.text not in READS or value is None or watts is None or found is None or watts.fact.unit != "W":
            continue
        leave_as_words(s, watts)
        _beside(s, found, value, "marked", n)


def _rated_behind_its_ohms(s: Sentence) -> None:
    """'new spkr 7.9 ohm 0.5w', 'load 50 ohm 100w': what a part may bear stands straight behind its ohms. 'into 50 ohm
    98w' is what it was given."""
    for n in range(1, len(s.facts)):
        ohms, watts = s.item_at(n - 1), s.item_at(n)
        if ohms is None or watts is None or ohms.fact.unit != "Ω" or watts.fact.unit != "W" or s.facts[n].fresh:
            continue
        given = s.has_text(n - 2, "into", "across", "on", "at", "with") or any(
            f.kind == "item" and f.text.startswith(("into ", "on ", "across ", "with ")) for f in s.facts[: n - 1]
        )
        named = (behind := s.fact(n + 1)) is not None and behind.kind == "quantity"
        if watts.quantity is None and not given and not named and _is_of_a_part(s, n - 1):
            leave_as_words(s, watts)


def _printed_on_an_open_part(s: Sentence) -> None:
    """'r3 47 ohm open circuit', 'spkr 8r reads open', 'input cap 220p open': what is open has no ohms; they are printed
    on it."""
    printed = s.items[0] if s.items else None
    clauses = list(accumulate(int(fact.fresh) for fact in s.facts))
    broken = any(
        f.kind == "result"
        and f.is_ in {"open", "short", "dead", "none"}
        and printed
        and (printed.fact.unit or clauses[n] == printed.clause)
        for n, f in enumerate(s.facts)
    )
    if printed is None or not broken or printed.fact.unit not in {"Ω", "k", "F", "H", None} or not _is_a_part(s):
        return
    result = s.fact(printed.at + 1)
    if len(s.items) == 1 or (result is not None and result.kind == "result"):
        s.facts[printed.at] = Fact("word", printed.fact.text)
        s.items = s.items[1:]
        s.take(*[n for n in (printed.at + 1,) if s.is_link(n, *READS)])


def printed_on_what_is_open(s: Sentence) -> None:
    """'pin8 0, r301 10r open': ohms between a resistor and what is wrong with it are printed on it."""
    for item in list(s.items):
        part, result = s.fact(item.at - 1), s.fact(item.at + 1)
        broken = result is not None and result.kind == "result" and result.is_ in {"open", "short", "dead"}
        if not broken and _stands_behind_its_result(s, item):
            s.facts[item.at] = Fact("word", item.fact.text)
            leave_as_words(s, item)
            continue
        named = part is not None and part.kind == "place" and OF_OHMS_OR_FARADS.match(part.of) is not None
        crystal = part is not None and part.is_ == "crystal" and item.fact.decimals >= COUNTED
        if broken and ((named and item.fact.unit in {"Ω", "k", "F"}) or (crystal and item.fact.unit in {None, "m"})):
            s.facts[item.at] = Fact("word", item.fact.text)
            leave_as_words(s, item)


def _stands_behind_its_result(s: Sentence, item: Item) -> bool:
    """'r33 open 4.7k', 'c12 short 10n': what is printed on what is broken, behind the result."""
    part, result = s.fact(item.at - 2), s.fact(item.at - 1)
    if part is None or result is None or part.kind != "place" or result.kind != "result" or item.fact.fresh:
        return False
    ohms = result.is_ == "open" and part.of.startswith("R") and item.fact.unit in {"Ω", "k"}  # of a short they are read
    farads = result.is_ in {"open", "short"} and part.of.startswith("C") and item.fact.unit == "F"
    return OF_OHMS_OR_FARADS.match(part.of) is not None and (ohms or farads)


def _is_a_part(s: Sentence) -> bool:
    """Whether a text speaks of one part: by its number, by what it is called, or by what it reads."""
    if any(f.text in CALLED_PARTS for f in s.facts):
        return True
    reads = any(s.is_link(n, *READS) and (f := s.fact(n + 1)) and f.kind == "result" for n in range(len(s.facts)))
    return any(f.kind == "place" and (reads or OF_OHMS_OR_FARADS.match(f.of)) for f in s.facts)


CALLED_PARTS = {
    "cap",
    "capacitor",
    "resistor",
    "choke",
    "coil",
    "inductor",
    "spkr",
    "winding",
    "bleeder",
    "heater",
    "element",
}
OF_OHMS_OR_FARADS = re.compile(r"[RCL]\d+[A-Z]?$")


def _with_its_due(s: Sentence) -> None:
    """'0v q3 collector should be 8': the figure that is due stands at the end."""
    for n, fact in enumerate(s.facts):
        due = s.item_at(n + 1)
        if _is_of_a_manner(s, n):
            continue
        if fact.text in DUE and due is not None and due.at not in s.taken:
            figure = next((i for i in reversed(s.items) if i.at < n), None)
            if figure is not None and alike(figure.fact, due.fact):
                _beside(s, figure, due, "due", n)


def _of_the_same_megahertz(figure: Fact, other: Fact) -> Fact:
    """'27.20436 should be 205': the megahertz are said once."""
    kilohertz = other.unit is None and re.fullmatch(r"\d{3}", other.text) is not None
    if not kilohertz or figure.unit is not None or figure.decimals <= COUNTED or figure.value < 1:
        return other
    return replace(other, value=math.floor(figure.value) + other.value / 1000, decimals=COUNTED)


def _beside(s: Sentence, figure: Item, other: Item, key: str, *links: int) -> None:
    """Make the other figure a part of the first: the mark on it, or what is due."""
    other.fact = _of_the_same_megahertz(figure.fact, other.fact)
    unit = other.fact.unit or figure.fact.unit
    if key == "due":
        _bounded(figure, {s.facts[n].text for n in links})
        if other.upper is not None:
            figure.besides["due_to"] = replace(other.upper, unit=unit, value=_as_near(figure.fact, other.upper))
    figure.besides[key] = replace(other.fact, unit=unit, value=_as_near(figure.fact, other.fact))
    if figure.fact.unit is None and other.fact.unit is not None:
        factor = other.fact.factor
        figure.fact = replace(figure.fact, unit=other.fact.unit, value=figure.fact.value * factor, factor=factor)
    s.drop(other)
    s.take(*links)


def _bounded(figure: Item, links: set[str]) -> None:
    """Whether what is due is the most or the least that is well."""
    if links & {UNDER, *LIMITS}:
        figure.address["due_at_most"] = True
    elif links & {OVER}:
        figure.address["due_at_least"] = True


def _as_near(figure: Fact, other: Fact) -> float:
    """The other figure with the prefix of the first, or without: whichever lies nearer to it."""
    if other.unit is not None or figure.factor == 1.0 or other.value <= 0 or figure.value <= 0:
        return other.value
    with_prefix = other.value * figure.factor
    if figure.unit in {"k", "Ω"} and abs(math.log(other.value / figure.value)) < abs(
        math.log(with_prefix / figure.value)
    ):
        return other.value
    return with_prefix


def at_a_temperature(s: Sentence) -> None:
    """'th1 reads 1.2k at 25': how warm it was; of a part in ohms or farads nothing else is bare behind 'at'."""
    for item in list(s.items):
        of, bare = s.item_at(item.at - 2), item.fact.unit is None and item.fact.decimals == 0
        part = of is not None and (of.fact.unit in OF_PARTS - {None} or "marked" in of.besides)
        if part and bare and s.has_text(item.at - 1, "at", "@") and 0 < item.fact.value < MOST_WARM:
            leave_as_words(s, item)


MOST_WARM = 120.0  # °C


def find_shares(s: Sentence) -> None:
    """'c9 38/47u': measured and printed, at a part."""
    for n in range(len(s.facts)):
        left, right = s.item_at(n - 1), s.item_at(n + 1)
        if left is None or right is None or s.facts[n].text != "/":
            continue
        if _printed_with_its_volts(s, n, left, right):
            return
        place = s.fact(n - 2)
        if place is not None and place.kind == "place" and right.fact.unit in {"F", "Ω", "H", "k"}:
            _beside(s, left, right, "marked", n)


def _printed_with_its_volts(s: Sentence, n: int, left: Item, right: Item) -> bool:
    """'c62 220/16 dried: 14uf': microfarads and volts are printed on it, and what was measured stands behind."""
    at_a_capacitor = any(f.kind == "place" and re.match(r"C\d", f.of) for f in s.facts[:n])
    measured = next((i for i in s.items if i.at > right.at and i.fact.unit == "F"), None)
    bare = left.fact.unit is None and right.fact.unit in {None, "V"} and right.fact.value in RATED_V
    if not at_a_capacitor or measured is None or not bare or measured.besides:
        return False
    left.fact = replace(left.fact, unit="F", value=left.fact.value * 1e-6, factor=1e-6)
    _beside(s, measured, left, "marked", n)
    leave_as_words(s, right)
    return True


RATED_V = {6.3, 10.0, 16.0, 25.0, 35.0, 40.0, 50.0, 63.0, 100.0, 160.0, 200.0, 250.0, 350.0, 400.0, 450.0, 500.0}
