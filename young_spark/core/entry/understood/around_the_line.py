"""A line without what is said around all of it: that somebody measured it, and when; how the unit stood meanwhile,
which is then so of everything that was read; what the hand thinks of it, which stays with it as words."""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

from young_spark.core.entry.believed.surety import doubting
from young_spark.core.entry.facts.address import UNDER_TEST
from young_spark.core.entry.facts.circumstances import is_how_it_stood, says_how_it_stood
from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.meaning import Meaning, StoryLine, Understanding
from young_spark.core.entry.lines.story_words import read_story
from young_spark.core.entry.wording.framing import without_framing
from young_spark.core.entry.wording.idle_words import Spared, without_lead_in
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.tokens import Unclear, folded
from young_spark.core.figure import Conditions

_NO_PART = "".join(rf"(?<!\b{letters}{digits})" for letters in ("[a-z]", "[a-z]{2}") for digits in (r"\d", r"\d\d"))
_TAIL = re.compile(
    r"(?P<read>.*\d.*?)(?:\s*[,;]\s*| \((?=[^()]*\)$)|\s+(?=which |into )"
    rf"|(?<=[\d%vaw]){_NO_PART} (?=(?:is )?(?:ok|okay|good|fine)$))"
    r"(?P<said>[^,;()]+)[).!]*",
    re.DOTALL | re.IGNORECASE,
)
_ROUGH = re.compile(
    r"(?<![\w.])(?P<said>about|approx(?:\.|imately)?|roughly|around|circa|ca\.?) (?=[-+]?\.?\d)"
    r"|^(?P<first>about|approx(?:imately)?|roughly) (?=[a-z])|[~≈] ?(?=\.?\d)",
    re.IGNORECASE,
)
_HEAT = re.compile(r"(?:when |still |all |from |stone |quite )?(?P<is>cold|hot|warm)")
_TIME = re.compile(r"(?:after |for )(?P<n>\d{1,3}) ?(?P<of>s|secs?|seconds?|m|mins?|minutes?)")
_SECONDS = {"s": 1.0, "m": 60.0}
_SUPPLY = re.compile(r"(?:at|on|from|with) (?:a )?(?P<n>\d{1,2}(?:\.\d+)?) ?v(?:olts?)?(?: supply)?")
_LOAD = re.compile(r"into (?:a |the |my )?(?:50 ?(?:ohms?|r) ?)?(?:dummy(?: ?load)?|load)")
_OF_A_FEEDER = re.compile(r"\b(?:v?swr|ref(?:l|lected)?|return|rl|z|match)\b", re.IGNORECASE)
_COVERS = re.compile(r"(?:with )?(?:the )?(?:covers?|lid|case) (?P<is>on|off)")
_GOOD = re.compile(
    r"(?:is |are |all |seems |looks |very |quite |that's |thats )*(?:ok|okay|fine|good|great|perfect|lovely|nice)"
)
_TELLS_OF_OTHERS = {
    "says", "said", "told", "tells", "claims", "claimed", "per", "according", "not", "no", "never", "nothing", "none",
    "without", "both", "each", "same", "too", "rest", "when", "as", "than", "before", "after", "ish", "approx", "or",
    "max", "min", "peak", "peaks", "average", "only", "there", "here", "it", "was", "is", "now", "also", "he", "she",
    "they", "their", "his", "her",
}  # fmt: skip
_MOST_WORDS = 8
FEW_WORDS = 2


@dataclass(frozen=True)
class Told:
    """What stands before the tail of a line, what the tail adds to every reading or to the last, and what stays of it
    as words."""

    read: str
    adds: dict[str, object] = field(default_factory=dict)
    of_the_last: bool = False
    words: str = ""
    is_talk: bool = False


def read_without(text: str, understood: Callable[[str], Understanding]) -> Understanding | None:
    """What a text means by what is left of it, where that is sure; None where nothing is around it, or it is not. What
    is left is read without what is around that again: 'measured 3.8w today, good!'."""

    def left_of(words: str) -> Understanding:
        inner = read_without(words, understood) if len(words) < len(text) else None
        return inner or understood(words)

    words = text.strip()
    bare = _without_signs(words) or without_framing(words) or _without_marks(words) or without_lead_in(words)
    if bare is None:
        return _without_its_tail(text, left_of, understood) or _read_roughly(text, understood)
    meant = left_of(bare.text)
    if meant.chosen is None or _is_its_sign(words, bare.text, meant.meanings[meant.chosen]):
        return None
    return as_it_was_typed(meant, text, bare)


def _without_its_tail(
    text: str, left_of: Callable[[str], Understanding], understood: Callable[[str], Understanding]
) -> Understanding | None:
    for told in _tails(text.strip()):
        meant = left_of(told.read)
        added = None if meant.chosen is None else _with(meant.meanings[meant.chosen], told)
        if added is None:
            continue
        if told.is_talk and _is_mostly_words(added):
            whole = understood(text)  # such a line may tell more than it reads, but its talk reads nothing else
            if whole.chosen is None or alike(whole, meant):
                continue
        sure = meant.model_copy(update={"meanings": (added,), "chosen": 0})
        return as_it_was_typed(sure, text, Spared(told.read, "", told.words))
    return None


_MARK = re.compile(
    r"[-*\u2022\u2013]\s+(?P<read>\S.*)|\d{1,2}(?:\)|\.(?=\s+[a-z]))\s+(?P<counted>\S.*)", re.I | re.DOTALL
)
_SIGNS = (
    re.compile(r"\((?P<read>[^()]*)\)|\[(?P<boxed>[^\[\]]*)\]|[\"'\u201c](?P<quoted>[^\"'\u201d]*)[\"'\u201d]"),
    _MARK,
    re.compile(r"(?P<read>.*\d.*\S)\s+[-\u2013]\s+(?:ok|okay|good|fine)", re.IGNORECASE | re.DOTALL),
)
_BELOW_NOTHING = {"Hz", "dB", "dBm", "dBc", "V", "degC"}  # units of what has a sign
_ABOVE_NOTHING = {"supply_voltage", "deviation_peak"}


def _without_signs(text: str) -> Spared | None:
    """A line without its brackets or quotes, the mark of a list in front of it, or a dash and 'ok' behind it."""
    found = next((match for sign in _SIGNS if (match := sign.fullmatch(text)) is not None), None)
    return None if found is None else Spared(next(filter(None, found.groups()), ""))


def _is_its_sign(text: str, bare: str, meaning: Meaning) -> bool:
    """Whether a dash in front of a line may be the sign of its first figure, and no mark of a list: '- 60 hz'."""
    first = re.match(r"\d*\.?\d+(?![\d.])", bare)
    if first is None or not text.startswith(("-", "\u2013")):
        return False
    figure = float(first[0])
    return any(
        reading.unit in _BELOW_NOTHING and reading.quantity not in _ABOVE_NOTHING
        for reading in meaning.readings
        if reading.value is not None and any(_is_close(reading.value, figure * by) for by in (1e-3, 1.0, 1e3))
    )


def _is_close(one: float, other: float) -> bool:
    return abs(one - other) <= 1e-9 * abs(other)


_MARKED = re.compile(
    r"(?P<read>.*[^!? ]) ?!+|(?P<wondered>.*\d ?(?:m?[wva]|%|k?hz|k|db[cm]?|uv)?) ?\?", re.IGNORECASE | re.DOTALL
)


def _without_marks(text: str) -> Spared | None:
    """'3.8w!' is that figure, and 'mod 40%?' one that the hand wonders at, which the line says."""
    found = _MARKED.fullmatch(text)
    if found is None:
        return None
    return Spared(found["read"]) if found["read"] else Spared(found["wondered"], "", "?")


def _read_roughly(text: str, understood: Callable[[str], Understanding]) -> Understanding | None:
    """'38w falls to about 30': what the line means without 'about', which stays with it, where it is not sure with it,
    or another line with it."""
    said = [(found["said"] or found["first"] or "about").lower() for found in _ROUGH.finditer(text)]
    if not said:
        return None
    plain, whole = understood(_ROUGH.sub("", text)), understood(text)
    if plain.chosen is None or alike(whole, plain):
        return None
    return as_it_was_typed(plain, text, Spared(_ROUGH.sub("", text), "", said[0]))


def alike(one: Understanding, other: Understanding) -> bool:
    """Whether both are sure, and of the same figures read in the same way."""
    return None not in {one.chosen, other.chosen} and _read(one) == _read(other)


def _read(meant: Understanding) -> list[tuple[str, float | None, Conditions]]:
    meaning = meant.meanings[meant.chosen or 0]
    return [(r.quantity, r.value, meaning.conditions_of(n)) for n, r in enumerate(meaning.readings)]


def _tails(text: str) -> Iterator[Told]:
    found = _TAIL.fullmatch(text)
    if found is None:
        return
    said, read = " ".join(found["said"].lower().split()), found["read"]
    if (heat := _HEAT.fullmatch(said)) is not None:
        yield Told(read, {"heat": heat["is"]})
    elif (time := _TIME.fullmatch(said)) is not None:
        yield Told(read, {"after_s": float(time["n"]) * _SECONDS[time["of"][0]]}, of_the_last=True)
    elif (supply := _SUPPLY.fullmatch(said)) is not None:
        yield Told(read, {"supply_v": float(supply["n"])})
    elif _LOAD.fullmatch(said) is not None:
        if _OF_A_FEEDER.search(read) is None:  # watts are read into a load as ever, and a match is of that load
            yield Told(read, words=said)
    elif (covers := _COVERS.fullmatch(said)) is not None:
        yield Told(read, {"covers": covers["is"]})
    elif _GOOD.fullmatch(said) is not None:
        yield Told(read)
    elif is_how_it_stood(said) and not says_how_it_stood(read.lower()):
        yield Told(read, words=said)
    elif _is_only_words(said, text):
        yield Told(read, words=said, is_talk=True)


def _is_only_words(said: str, text: str) -> bool:
    """Whether a tail names nothing that the bench knows, denies nothing and tells of nobody else."""
    words = said.split()
    if len(words) > _MOST_WORDS or any(sign.isdigit() for sign in said):
        return False
    if not (doubting() - {"which"}).union(_TELLS_OF_OTHERS).isdisjoint(words):
        return False
    try:
        facts = cut(as_signs(folded(said.removeprefix("which "))))
        return all(fact.kind == "word" for fact in facts) and read_story(text) is None
    except Unclear:
        return False


def _with(meaning: Meaning, told: Told) -> Meaning | None:
    """A meaning with how all of it stood; None where one of its readings says that itself, or the volts are those that
    a part was tested with."""
    if "supply_v" in told.adds and any(r.quantity in UNDER_TEST for r in meaning.readings):
        return None
    if not told.adds:
        return meaning
    return with_how_it_stood(meaning, told.adds, of_the_last=told.of_the_last)


def _is_mostly_words(meaning: Meaning) -> bool:
    return len(meaning.remark.split()) > FEW_WORDS


def with_how_it_stood(meaning: Meaning, stood: dict[str, object], *, of_the_last: bool = False) -> Meaning | None:
    """A meaning whose readings, or the last of them, were all taken so; None where one of them says otherwise."""
    each = [meaning.conditions_of(n) for n in range(len(meaning.readings))]
    if any(getattr(one, name) is not None for one in each for name in stood if name != "supply_v"):
        return None
    first = len(each) - 1 if of_the_last else 0
    told = [one.model_copy(update=stood) if n >= first else one for n, one in enumerate(each)]
    if len(told) == 1:
        return meaning.model_copy(update={"conditions": told[0], "each": ()})
    of_all = meaning.conditions.model_copy(update=stood) if first == 0 else meaning.conditions
    return meaning.model_copy(update={"conditions": of_all, "each": tuple(told)})


_STOP = re.compile(r"(?<=[a-z\d%)+-])\.\s+(?=[-+.a-z\d])", re.IGNORECASE)


def read_as_clauses(text: str, meant: Understanding, understood: Callable[[str], Understanding]) -> Understanding:
    """Several sentences as the clauses of one, where that makes a question sure or reads as much of them."""
    plain = _STOP.sub(", ", text.strip().rstrip("."))
    if plain == text.strip().rstrip(".") or meant.sets or (meant.story is not None and meant.chosen is not None):
        return meant
    joined = understood(plain)
    if joined.chosen is None or (joined.story is not None) != (meant.story is not None):
        return meant
    read = 0 if meant.chosen is None else len(meant.meanings[meant.chosen].readings)
    as_much = len(joined.meanings[joined.chosen].readings) >= read
    return as_it_was_typed(joined, text, Spared(plain)) if as_much else meant


_FOUND = re.compile(r"found:? (?:the |that |it )?(?P<read>.*\d.*)", re.IGNORECASE | re.DOTALL)


def read_as_found(text: str, meant: Understanding, understood: Callable[[str], Understanding]) -> Understanding:
    """'found 6.1v on q3 collector': a line of what was found is read too, as a line of its own, where that is nothing
    but figures."""
    found = _FOUND.fullmatch(text.strip())
    if found is None or meant.story is None or meant.story.kind != "found":
        return meant
    read = understood(found["read"])
    if read.chosen is None or read.story is not None:
        return meant
    meaning = read.meanings[read.chosen]
    figures = not meaning.remark and all(r.value is not None and r.result is None for r in meaning.readings)
    whole = meant.story.model_copy(update={"words": text.strip()[:2000]})
    return read.model_copy(update={"text": text, "story": whole}) if figures else meant


def as_it_was_typed(meant: Understanding, text: str, plain: Spared) -> Understanding:
    """What was understood of an evened text, with the words as the hand typed them."""

    def kept(line: StoryLine | None) -> StoryLine | None:
        whole = line is not None and line.words == plain.text.strip()[:2000]
        return line.model_copy(update={"words": text.strip()[:2000]}) if line is not None and whole else line

    def remarked(meaning: Meaning) -> Meaning:
        said = " ".join(filter(None, (plain.before, meaning.remark, plain.behind)))
        return meaning if said == meaning.remark else meaning.model_copy(update={"remark": said})

    return meant.model_copy(
        update={
            "text": text,
            "story": kept(meant.story),
            "as_note": kept(meant.as_note),
            "meanings": tuple(map(remarked, meant.meanings)),
        }
    )
