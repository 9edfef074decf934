"""The words of the trade, read from their data file: what stands for which quantity, where, how, and which result."""

from dataclasses import dataclass
from functools import cache
from typing import Literal

from pydantic import Field

from young_spark.core.figure import QUANTITIES
from young_spark.core.ground import SHIPPED, Frozen, load

Kind = Literal["figure", "quantity", "where", "how", "result", "place", "item", "side", "link", "form", "word"]
Phrase = tuple[Kind, str, str]
FORMS: dict[str, Phrase] = {
    "pp": ("form", "form", "pp"),
    "p-p": ("form", "form", "pp"),
    "peak to peak": ("form", "form", "pp"),
    "rms": ("form", "form", "rms"),
    "rf": ("form", "rf", "rf"),
    "ac": ("form", "form", "ac"),
    "dc": ("form", "dc", "dc"),
    "emf": ("form", "emf", "emf"),
}


class QuantityWords(Frozen):
    """What hands say for a quantity, and the units that its figure may carry; `bare` with its prefix."""

    words: tuple[str, ...] = ()
    units: tuple[str, ...] = ()
    bare: str | None = None


class StoryWords(Frozen):
    """Words that make a line of words one of a kind."""

    kind: str
    words: tuple[str, ...] = ()
    begins: tuple[str, ...] = ()
    ends: tuple[str, ...] = ()
    matches: tuple[str, ...] = ()
    beside: tuple[str, ...] = ()  # that may stand beside a reading: then they are its remark
    not_: tuple[str, ...] = Field((), alias="not")


class WordsFile(Frozen):
    """The data file; every table gives words by what they stand for."""

    quantity: dict[str, QuantityWords]
    how: dict[str, dict[str, tuple[str, ...]]]
    result: dict[str, tuple[str, ...]]
    side: dict[str, tuple[str, ...]]
    place: dict[str, tuple[str, ...]]
    item: dict[str, tuple[str, ...]]
    function: dict[str, tuple[str, ...]]
    words: dict[str, tuple[str, ...]]
    story: tuple[StoryWords, ...]


@dataclass(frozen=True)
class Vocabulary:
    """Every phrase with the fact that it is, and the functions of a unit that a result can belong to."""

    file: WordsFile
    facts: dict[str, Phrase]
    functions: dict[str, str]


@cache
def vocabulary() -> Vocabulary:
    """The words as shipped. Where a phrase stands in several tables, the later one here counts."""
    file = load(SHIPPED / "entry" / "words.toml", WordsFile)
    facts: dict[str, Phrase] = {}
    for word in file.words["links"]:
        facts[word] = ("link", word, word)
    for kind, table in (("result", file.result), ("side", file.side), ("place", file.place), ("item", file.item)):
        facts |= _of(kind, table)  # type: ignore[arg-type]
    for key, values in file.how.items():
        for value, words in values.items():
            facts |= dict.fromkeys(words, ("how", key, value))
    facts |= _quantities(file)
    for bound in ("about", "upper", "lower"):
        facts |= {word: ("link", bound, word) for word in file.words[bound]}
    facts |= {word: ("word", "word", word) for word in file.words["plain"]}
    functions = {word: name for name, words in file.function.items() for word in words}
    return Vocabulary(file, facts | FORMS, functions)


@cache
def manner() -> frozenset[str]:
    """Words that say how a figure moved or stood, and never what it is of."""
    return frozenset(vocabulary().file.words["manner"])


def _of(kind: Kind, table: dict[str, tuple[str, ...]]) -> dict[str, Phrase]:
    return {word: (kind, kind, value) for value, words in table.items() for word in words}


# words as hands cut them short, also where they stand beside another
SHORT = {
    "frequency": "freq", "modulation": "mod", "deviation": "dev", "power": "pwr", "voltage": "volts",
    "temperature": "temp", "distortion": "dist", "suppression": "supp", "sensitivity": "sens", "current": "amps",
    "transmit": "tx", "receive": "rx", "bandwidth": "bw",
}  # fmt: skip


def _abbreviated(phrase: str) -> list[str]:
    """'freq drift' of 'frequency drift': a name of several words with those cut short that are; nothing of one word."""
    words = phrase.split(" ")
    cut = [SHORT.get(word, word) for word in words]
    return [" ".join(cut)] if len(words) > 1 and cut != words else []


def _quantities(file: WordsFile) -> dict[str, Phrase]:
    facts: dict[str, Phrase] = {}
    for quantity, told in file.quantity.items():
        facts |= dict.fromkeys(told.words, ("quantity", quantity, quantity))
        facts[quantity] = ("quantity", quantity, quantity)
        if quantity in QUANTITIES:
            facts.setdefault(QUANTITIES[quantity].name.lower(), ("quantity", quantity, quantity))
    for phrase, meant in list(facts.items()):
        for short in _abbreviated(phrase):
            facts.setdefault(short, meant)
    for n in range(2, 11):
        ends = {2: "nd", 3: "rd"}.get(n, "th")
        names = (f"{n}{ends} harmonic", f"{n}{ends} harm", f"{n}{ends}", f"harmonic {n}", f"harm {n}")
        facts |= dict.fromkeys((f"h{n}", f"{n}h", f"{n}f", f"{n}fo", *names), ("quantity", f"harmonic_{n}", ""))
    facts |= dict.fromkeys(
        ("second harmonic", "second harm", "second", "harmonic", "harmonics"), ("quantity", "harmonic_2", "")
    )
    facts |= dict.fromkeys(("third harmonic", "third harm", "third"), ("quantity", "harmonic_3", ""))
    for n, ordinal in enumerate(("fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth"), 4):
        facts |= dict.fromkeys((f"{ordinal} harmonic", f"{ordinal} harm"), ("quantity", f"harmonic_{n}", ""))
    return facts
