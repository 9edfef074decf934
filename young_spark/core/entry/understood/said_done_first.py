"""'after replacing c12 3.9w', 'with the new final: 3.9w', 'with c12 removed 3.9w': what was done, or taken out, said in
front of what was read then, or behind it. A repair or a turn is read as the line that says it first and the figures
then; what was only taken away for a look is how the unit stood."""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.meaning import Meaning, Understanding
from young_spark.core.entry.understood.around_the_line import as_it_was_typed, with_how_it_stood
from young_spark.core.entry.wording.idle_words import Spared
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.vocabulary import vocabulary

_OF_A_DOING = {
    "replacing": "replaced", "changing": "changed", "swapping": "swapped", "fitting": "fitted", "cleaning": "cleaned",
    "soldering": "soldered", "resoldering": "resoldered", "renewing": "renewed", "repairing": "repaired",
    "fixing": "fixed", "refitting": "refitted", "rewinding": "rewound", "reflowing": "reflowed",
    "tightening": "tightened", "adjusting": "adjusted", "retuning": "retuned", "tuning": "tuned", "peaking": "peaked",
    "realigning": "realigned", "aligning": "aligned", "trimming": "trimmed", "setting": "set", "resetting": "reset",
    "recapping": "recapped", "rebiasing": "rebiased", "removing": "removed", "bypassing": "bypassed",
}  # fmt: skip
_STOOD = "removed|out|disconnected|bypassed|lifted|unplugged|unsoldered|bridged|isolated|pulled|open|unhooked|earthed"
_DONE = "|".join(sorted({*_OF_A_DOING.values()} - {*_STOOD.split("|")}, key=len, reverse=True))
_OF_A_DEED = {"recap": "recapped", "realignment": "realigned", "alignment": "aligned"}
_FIGURES = r"(?P<read>.*\d.*)"
_AFTER = re.compile(rf"(?:after|having) (?P<doing>{'|'.join(_OF_A_DOING)}) (?P<rest>.+)", re.IGNORECASE)
_AFTER_A_DEED = re.compile(rf"after (?:a |the |his )?(?P<deed>{'|'.join(_OF_A_DEED)})[,:]? {_FIGURES}", re.IGNORECASE)
_BEHIND = re.compile(
    rf"{_FIGURES}[ ,]+after (?:(?P<doing>{'|'.join(_OF_A_DOING)}) (?P<thing>[^,;\d]*[a-z]+\d{{0,4}})"
    rf"|(?:a |the )?(?P<deed>{'|'.join(_OF_A_DEED)}))",
    re.IGNORECASE,
)
_WITH_IT_DONE = re.compile(rf"with (?P<thing>(?:\S+ ){{1,4}}?)(?P<done>{_DONE})[,:]? {_FIGURES}", re.IGNORECASE)
_NO_READING = (
    "to|for|from|with|by|up|down|back|and|was|were|it|on|at|in|out|off|a|an|the|so|until|till|full|fully|half|new|old"
)
# 'trimmed R201 s9 50uv': behind the part a name of what was read, and no figure of the part or of its knob
_DONE_TO = re.compile(
    rf"(?P<done>{_DONE}) (?:the )?(?P<thing>[a-z]{{1,3}}\d{{1,4}}[a-z]?) "
    rf"(?P<read>(?!(?:{_NO_READING})\b)[a-z][^,;]*\d.*)",
    re.IGNORECASE,
)
_WITH_NEW = re.compile(r"(?:with )?(?:the |a |my )?(?P<new>new|replacement|good) (?P<rest>.+)", re.IGNORECASE)
_NEW_BEHIND = re.compile(
    rf"{_FIGURES}[ ,]+with (?:the |a |my )?(?P<thing>(?:new|replacement) [^,;\d]*[a-z]+\d{{0,4}})", re.IGNORECASE
)
_STOOD_SO = re.compile(
    rf"with (?:the |a |his |her )?(?P<thing>(?:[^\s,;:]+ ){{1,3}}?)(?P<so>{_STOOD})[,:]? {_FIGURES}", re.IGNORECASE
)
_STOOD_BEHIND = re.compile(
    rf"{_FIGURES}[ ,]+with (?:the |a |his |her )?(?P<thing>(?:[^\s,;:]+ ){{1,3}}?)(?P<so>{_STOOD})", re.IGNORECASE
)
# 'ref trimmed ch16 +40', 'c133 fitted dsc 2.6k dev'
_DONE_THEN = re.compile(
    rf"(?P<done>(?!(?:after|having|when|with|before|not|never|nobody|if)\b)(?:[^\s,;:]+ ){{1,4}}?(?:{_DONE}))"
    rf" (?P<read>(?!(?:{_NO_READING}|[a-z]{{1,3}}\d{{1,4}}(?<!ch\d)(?<!ch\d\d)(?<!h[2-9]))\b)[a-z][^,;]*\d.*)",
    re.IGNORECASE,
)
# 'preamp transistor replaced, now .21', 'changed the pa module, now 24'
_THEN_NOW = re.compile(
    rf"(?P<done>(?:[^\s,;]+ ){{1,4}}(?:{_DONE})|(?:{_DONE})(?: [^\s,;]+){{1,4}}(?=[,;])|(?:{_DONE}))[,;]? "
    r"(?:and )?now(?: at| is| reads| gives)? (?P<read>[+-]?\d*\.?\d.*)",
    re.IGNORECASE,
)
_PART = re.compile(r"[a-z]{1,3}\d{1,4}[a-z]?", re.IGNORECASE)
_MOST_WORDS = 4  # of what it was done to
_CARRIED = {"mic", "mike", "microphone", "aerial", "antenna", "cable", "coax", "battery", "pack", "psu", "supply"}
_NOBODY_KNOWS = {"it", "them", "that", "this", "one", "everything", "all"}  # what was out then

_HINTS = re.compile(rf"\b(?:after|having|with|new|replacement|good|{_DONE})\b", re.IGNORECASE)
_LONGEST = 300  # signs: what is longer tells a story

Understood = Callable[[str], Understanding]


@dataclass(frozen=True)
class Deed:
    """What was done, as a line says it, and what was read then."""

    done: str
    read: str


def read_after_what_was_done(text: str, understood: Understood) -> Understanding | None:
    """What a text means by what was done and what was read then; None where it says no such thing, or is not sure."""
    words = " ".join(text.split())
    if len(words) > _LONGEST or _HINTS.search(words) is None:
        return None
    for deed in _deeds(words):
        if re.search(r"[a-z%]", deed.read, re.IGNORECASE) is None:
            continue  # 'new plug 1.4': of what, nobody is sure
        alone = understood(deed.read)
        if alone.chosen is None or alone.story is not None:
            continue
        plain = f"{deed.done}, {deed.read}"
        meant = understood(plain) if plain.casefold() != words.casefold() else alone
        told = meant.chosen is not None and meant.story is not None
        if told and _reads_alike(meant.meanings[meant.chosen or 0], alone.meanings[alone.chosen]):
            return as_it_was_typed(meant, text, Spared(plain))
        story = understood(deed.done).story
        if story is not None and story.kind in {"did", "adjusted"}:
            whole = story.model_copy(update={"words": text.strip()[:2000]})
            return alone.model_copy(update={"text": text, "story": whole})
    return _how_it_stood(text, words, understood)


_FIRST_CLAUSE = re.compile(rf"(?P<done>[^,;]*\b(?:{_DONE})\b[^,;]*)[,;] (?P<read>[^;]*\d.*)", re.IGNORECASE)


def read_behind_what_was_done(text: str, meant: Understanding, understood: Understood) -> Understanding:
    """'tr12 replaced 2.40, bias set 15ma': a line of what was done whose other clauses are for sure a reading by
    themselves, also what an adjuster was set to; as it was understood where they are none."""
    only_told = (
        meant.chosen is None and meant.question is None and meant.story is not None and meant.story.kind == "did"
    )
    found = _FIRST_CLAUSE.fullmatch(" ".join(text.split())) if only_told and len(text) <= _LONGEST else None
    if found is None or re.search(r"[a-z%]", found["read"], re.IGNORECASE) is None:
        return meant
    alone = understood(found["read"])
    turned = alone.story is not None and alone.story.kind == "adjusted"
    if alone.chosen is None or not (alone.story is None or turned):
        return meant
    return alone.model_copy(update={"text": text, "story": meant.story, "as_note": None})


def _reads_alike(then: Meaning, alone: Meaning) -> bool:
    """Whether what was read then is what the rest of the line says by itself; the point may be of the part that the
    deed names ('replaced q9, collector 12.9v')."""
    if [(r.quantity, r.value) for r in then.readings] != [(r.quantity, r.value) for r in alone.readings]:
        return False
    places = ((then.conditions_of(n).place, alone.conditions_of(n).place) for n in range(len(then.readings)))
    return all(there == here or (there or "").endswith(f" {here}") for there, here in places)


def _deeds(words: str) -> Iterator[Deed]:
    if (found := _THEN_NOW.fullmatch(words)) is not None:
        yield Deed(found["done"], f"now {found['read']}")
    if (found := _DONE_THEN.fullmatch(words)) is not None and _says_what_was_read(found["read"]):
        yield Deed(found["done"], found["read"])
    yield from _said_before_or_behind(words)


def _says_what_was_read(words: str) -> bool:
    """By a name, or by where it was read: '2.6k dev', 'ch16 +40', and not '5.1v' of a diode."""
    return any(fact.kind in {"quantity", "where"} for fact in cut(as_signs(words.lower())))


def _said_before_or_behind(words: str) -> Iterator[Deed]:
    if (found := _AFTER.fullmatch(words)) is not None:
        for thing, read in _apart(found["rest"]):
            yield Deed(f"{_OF_A_DOING[found['doing'].lower()]} {thing}", read)
    elif (found := _AFTER_A_DEED.fullmatch(words)) is not None:
        yield Deed(_OF_A_DEED[found["deed"].lower()], found["read"])
    elif (found := _BEHIND.fullmatch(words)) is not None:
        done = _OF_A_DEED[found["deed"].lower()] if found["deed"] else _OF_A_DOING[found["doing"].lower()]
        yield Deed(f"{done} {found['thing'] or ''}".strip(), found["read"])
    elif (found := _WITH_IT_DONE.fullmatch(words)) is not None:
        yield Deed(f"{found['done']} {found['thing'].strip()}", found["read"])
    elif (found := _DONE_TO.fullmatch(words)) is not None:
        yield Deed(f"{found['done']} {found['thing']}", found["read"])
    elif (found := _WITH_NEW.fullmatch(words)) is not None:
        for thing, read in _apart(found["rest"]):
            carried = words.lower().startswith("with ") and not _CARRIED.isdisjoint(thing.lower().split())
            if not carried:
                yield Deed(f"fitted {found['new']} {thing}", read)
    elif (found := _NEW_BEHIND.fullmatch(words)) is not None and _CARRIED.isdisjoint(found["thing"].lower().split()):
        yield Deed(f"fitted {found['thing']}", found["read"])


def _apart(rest: str) -> Iterator[tuple[str, str]]:
    """The ways to take what it was done to from what was read then: behind the name of a part, or at a mark."""
    words = rest.split(" ")
    for at in range(1, min(_MOST_WORDS, len(words) - 1) + 1):
        last = words[at - 1].lower().rstrip(",:")
        numbered = _PART.fullmatch(last) is not None
        is_part = numbered or last in vocabulary().file.words["parts"] or last.rstrip("s") in _MADE_OF
        if is_part and not _goes_on(words[at].lower(), numbered=numbered):
            yield " ".join(words[:at]).rstrip(",:"), " ".join(words[at:])
            break
    thing, mark, read = re.match(r"([^,:]*)([,:]?)(.*)", rest, re.DOTALL).groups()  # type: ignore[union-attr]
    if mark and len(thing.split()) <= _MOST_WORDS and not re.search(r"(?<![a-z\d])\d", thing):
        yield thing.strip(), read.strip()


_MADE_OF = {
    "final", "driver", "transistor", "crystal", "fuse", "filter", "module", "tube", "bulb", "mosfet", "coax", "cable",
}  # fmt: skip


def _goes_on(word: str, *, numbered: bool) -> bool:
    """Whether the next word is still of the name: 'final transistor'; behind 'r31' only another part is."""
    of_the_name = word in vocabulary().file.words["parts"] or word.rstrip("s") in _MADE_OF
    return word in {"and", "&", "or"} or (of_the_name and not numbered)


def _how_it_stood(text: str, words: str, understood: Understood) -> Understanding | None:
    found = _STOOD_SO.fullmatch(words) or _STOOD_BEHIND.fullmatch(words)
    if found is None or re.search(r"(?<![a-z\d])\d", found["thing"]) or found["thing"].strip().lower() in _NOBODY_KNOWS:
        return None
    meant = understood(found["read"])
    if meant.chosen is None or meant.story is not None:
        return None
    stood = with_how_it_stood(
        meant.meanings[meant.chosen], {"setting": f"{found['thing'].strip()} {found['so']}".lower()}
    )
    if stood is None:
        return None
    told = meant.model_copy(update={"meanings": (stood,), "chosen": 0})
    return as_it_was_typed(told, text, Spared(found["read"]))
