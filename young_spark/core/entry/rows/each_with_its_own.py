"""Figures of one quantity, each with how it was read beside it: 'current hi 5.1 lo 1.2 rx .3', 'dev 4.6 with shout 2.9
talk'. Where figures and such words take turns from one end of the line to the other, each belongs to its neighbour,
whatever it says."""

from dataclasses import dataclass
from itertools import pairwise

from young_spark.core.entry.facts.bare_beside import whose_unit_is_meant, with_the_unit_of
from young_spark.core.entry.facts.fact import AS_TYPED, Fact
from young_spark.core.entry.facts.said import UNIT_OF, Item
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.entry.rows.where_alone import may_be_where
from young_spark.core.entry.wording.vocabulary import manner, vocabulary

LEAST = 2  # figures
MOST_WORDS = 3  # of how it was, beside those that lead it
LEADING = {"on", "with", "at", "in", "by", "from", "and", "for", "the", "a", "of", "when", "while", "into"}
# what a unit is asked for and how, apart from the quantity: that each figure has its own of them
OF_A_NEEDLE = {"pk", "peak", "peaks"}  # 'ssb 2.3 pk': as the mode has it
HOW = {"setting_word": "power_setting", "state": "state", "mode": "mode", "heat": "heat", "after_s": "after_s"}
# words that say what became of a figure, or that it was none
NO_LABEL = {"was", "now", "then", "again", "still", "should", "spec", "max", "min", "to", "not", "no", "dropping",
            "left", "full", "load", "lost", "after", "before"}  # fmt: skip


@dataclass(frozen=True)
class _Label:
    """How one figure was read: a key of its address and the value there, and the facts that say it."""

    key: str
    value: object
    at: tuple[int, ...]


def find_each_with_its_own(s: Sentence) -> None:
    """Give each figure of such a line its own label, and all of them the quantity that the line begins with."""
    names = s.free("quantity")
    first = s.items[0].at if s.items else 0
    if len(s.items) < LEAST or len(names) > 1 or any(n > first for n in names) or not _are_of_one_unit(s, names):
        return
    gaps = [_gap(s, names, left, right) for left, right in _ends(s)]
    labels = _each_its_turn(s, gaps) or _each_its_neighbour(s, gaps)
    if (
        labels is None
        or {"setting", "after_s"} <= {label.key for label in labels}
        or len({(label.key, label.value) for label in labels}) < len(labels)
        or _is_bound_elsewhere(labels)
    ):
        return
    for item, label in zip(s.items, labels, strict=True):
        item.address.setdefault(label.key, label.value)
        s.take(*label.at)
    _of_the_one_name(s, names)


def _ends(s: Sentence) -> list[tuple[int, int]]:
    """Where the words in front of each figure, and behind the last, begin and end."""
    at = [-1, *(item.at for item in s.items), len(s.facts)]
    return list(pairwise(at))


def _gap(s: Sentence, names: list[int], left: int, right: int) -> list[int]:
    return [n for n in range(left + 1, right) if n not in names and n not in s.taken]


def _each_its_turn(s: Sentence, gaps: list[list[int]]) -> list[_Label] | None:
    """The label of each figure: all lead, or all trail."""
    first, last = gaps[0], gaps[-1]
    if bool(first) == bool(last):
        return None
    labels = [_label(s, gap) for gap in (gaps[:-1] if first else gaps[1:])]
    known = [label for label in labels if label is not None]
    return known if len(known) == len(labels) else None


def _each_its_neighbour(s: Sentence, gaps: list[list[int]]) -> list[_Label] | None:
    """'5.2a hi 2.1a lo rx 280 ma': some lead and some trail, where there is one way only for each to have its own."""
    told = [_labels_in(s, gap) for gap in gaps]
    if None in told or sum(len(labels or ()) for labels in told) != len(s.items):
        return None
    ways = _ways([labels or [] for labels in told])
    return ways[0] if len(ways) == 1 else None


def _labels_in(s: Sentence, gap: list[int]) -> list[_Label] | None:
    """The labels of a gap one by one; None where a word of it is none that is known."""
    labels = [_label(s, [n]) for n in gap if s.facts[n].text not in LEADING]
    known = [label for label in labels if label is not None and label.key != "setting"]
    return known if len(known) == len(labels) <= len(HOW) else None


def _ways(gaps: list[list[_Label]]) -> list[list[_Label]]:
    """Every way in which each figure takes the last label in front of it that is left, or the first behind it."""
    if len(gaps) == 1:
        return [] if gaps[0] else [[]]
    front, behind, rest = gaps[0], gaps[1], gaps[2:]
    ways = [[front[0], *way] for way in _ways([behind, *rest])] if len(front) == 1 else []
    if not front and behind:
        ways += [[behind[0], *way] for way in _ways([behind[1:], *rest])]
    return ways


def _label(s: Sentence, gap: list[int]) -> _Label | None:
    """What the words of a gap say of how a figure was read; None where they say something else, or nothing."""
    while gap and s.facts[gap[0]].kind in {"word", "link"} and s.facts[gap[0]].text in {"and", "&"}:
        gap = gap[1:]
    told = [n for n in gap if s.facts[n].text not in LEADING]
    if told and all(s.facts[n].text in OF_A_NEEDLE for n in told[1:]):
        told = told[:1]
    if len(told) == 1 and (known := _known_label(s, s.facts[told[0]])) is not None:
        return _Label(*known, tuple(gap))
    if not 0 < len(told) <= MOST_WORDS or not all(_is_how_it_was(s.facts[n]) for n in told):
        return None
    return _Label("setting", " ".join(s.facts[n].text for n in gap), tuple(gap))


def _known_label(s: Sentence, fact: Fact) -> tuple[str, object] | None:
    """A label of one word whose key is known: a state, a mode, a setting of the power, a part that draws."""
    if fact.kind == "how" and fact.of in HOW:
        return HOW[fact.of], _meant(s, fact)
    if fact.kind == "side" and fact.is_ in {"high", "mid", "low"}:
        return "power_setting", str(fact.is_)
    if fact.kind == "place" and any(item.fact.unit == "A" for item in s.items):
        return "place", str(fact.is_)
    return None


def _meant(s: Sentence, fact: Fact) -> object:
    return s.ground.state_meant(str(fact.is_)) if fact.of == "state" else fact.is_


def _is_how_it_was(fact: Fact) -> bool:
    """Whether a word may say how a figure was read: no word that turns it, no result, no place, nothing of a story."""
    if fact.kind == "item":
        return str(fact.is_).endswith("microphone")
    words = vocabulary().file.words
    told = {*words["turning"], *words["doubting"], *manner(), *NO_LABEL}
    plain = fact.kind == "word" and fact.of != AS_TYPED and fact.text.isalpha() and len(fact.text) > 1
    return plain and fact.text not in told


def _is_bound_elsewhere(labels: list[_Label]) -> bool:
    """Whether all say the same kind of thing by words that are known: such a row is bound as every other."""
    return len({label.key for label in labels}) == 1 and labels[0].key != "setting"


def _are_of_one_unit(s: Sentence, names: list[int]) -> bool:
    """Whether the figures are of one quantity: one unit that some of them carry, or one name that goes with it."""
    units = {item.fact.unit for item in s.items} - {None}
    if any(item.quantity is not None or item.address or item.upper is not None for item in s.items) or len(units) > 1:
        return False
    off = all(item.fact.signed and not item.fact.decimals for item in s.items)  # 'cold +35 20 min +95'
    return bool(units or names or off) and not (units and any(may_be_where(s, item) for item in s.items))


def _of_the_one_name(s: Sentence, names: list[int]) -> None:
    with_unit = [item for item in s.items if item.fact.unit is not None]
    for item in s.items:
        if item.fact.unit is None and (source := whose_unit_is_meant(item, with_unit)) is not None:
            with_the_unit_of(item, source)
        if names and _goes_with(item, s.facts[names[0]].of):
            item.quantity = s.facts[names[0]].of
    if names and all(item.quantity for item in s.items):
        s.take(names[0])


def _goes_with(item: Item, quantity: str) -> bool:
    unit = item.fact.unit
    return unit is None or UNIT_OF.get(quantity) == unit or (unit == "k" and UNIT_OF.get(quantity) == "Hz")
