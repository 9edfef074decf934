"""The words of the trade, read from their data file: what stands for which quantity, where, how, and which result."""

from dataclasses import dataclass
from functools import cache
from typing import Literal

from pydantic import Field

from young_spark.core.figure import QUANTITIES
from young_spark.core.ground import SHIPPED, Frozen, load

Kind = Literal["figure", "quantity", "where", "how", "result", "place", "side", "link", "form", "word"]
# what is said of where and how, and results: key and value by the words for them
HOW: dict[tuple[str, str], tuple[str, ...]] = {
    ("mode", "am"): ("am", "on am", "in am"),
    ("mode", "fm"): ("fm", "on fm", "in fm"),
    ("mode", "usb"): ("usb", "upper sideband", "on usb"),
    ("mode", "lsb"): ("lsb", "lower sideband", "on lsb"),
    ("mode", "cw"): ("cw", "on cw"),
    ("mode", "ssb"): ("ssb", "on ssb"),
    ("state", "transmit"): (
        "tx", "transmit", "transmitting", "keyed", "key down", "on key", "on tx", "on transmit", "under key", "in tx",
    ),
    ("state", "receive"): ("rx", "receive", "receiving", "on rx", "on receive", "in rx"),
    ("state", "standby"): ("standby", "stby", "on standby", "in standby"),
    ("heat", "cold"): ("cold", "from cold", "when cold"),
    ("heat", "hot"): ("hot", "when hot"),
    ("heat", "warm"): ("warm", "warmed up", "when warm"),
    ("covers", "on"): ("covers on", "cover on", "lid on", "boxed up"),
    ("covers", "off"): ("covers off", "cover off", "lid off"),
    ("audio", "whistle"): ("on whistle", "on the whistle", "whistle", "whistling"),
    ("audio", "voice"): ("on voice", "on speech", "voice", "speech", "talking"),
    ("audio", "tone"): ("on tone", "with tone"),
    ("audio", "two tones"): ("two tone", "two-tone", "2 tone", "2tone"),
    ("modulation", "on"): ("audio on", "with audio"),
    ("modulation", "off"): ("no audio", "audio off"),
    ("setting_word", "high"): ("hi power", "high power"),
    ("setting_word", "low"): ("lo power", "low power", "lo"),
    ("setting_word", "mid"): ("mid", "mid power", "medium"),
    ("item", "aerial"): ("aerial", "antenna"),
    ("item", "load"): ("load", "dummy load", "into the load"),
    ("instrument", "own_meter"): ("own meter",),
    ("direction", "forward"): ("forwards",),
    ("test_v", ""): (),
}  # fmt: skip
RESULTS: dict[str, tuple[str, ...]] = {
    "none": ("none", "nothing", "nil", "no", "zero output", "nowt", "zilch"),
    "dead": ("dead",),
    "weak": ("weak", "faint"),
    "ok": ("ok", "fine", "good", "flat", "spot on", "dead on", "perfect", "well"),
    "open": ("open", "open circuit", "o/c", "blown", "open cct"),
    "short": ("short", "shorted", "s/c", "short circuit", "shorts"),
    "bad": ("bad", "awful", "terrible", "rough", "poor"),
    "over_range": ("off scale", "over range", "pegged", "pins the needle", "end stop"),
}
SIDES: dict[str, tuple[str, ...]] = {
    "high": ("high", "hi", "above", "up", "too high"),
    "low": ("low", "below", "down", "under", "too low"),
}
ABOUT = ("about", "around", "roughly", "approx", "approximately", "ish", "~", "circa", "nearly", "say", "some")
UPPER = (
    "<",
    "under",
    "less than",
    "below",
    "at most",
    "not more than",
    "just under",
    "not quite",
    "tops",
    "within",
    "max",
)
LOWER = ("over", "more than", "better than", "at least", "above", "and a bit", "plus", "min", "upwards of")
LINKS = ("->", "to", "..", "...", "/", "x", "of", "and", "between", "no", "not", "should be", "from", "falls to",
         "drops to", "then", "@", "at", "into", "in", "out")  # fmt: skip
NAMED_PLACES = (
    "driver base", "driver collector", "final base", "final collector", "driver", "final", "finals", "pa", "vco", "pll",
    "xtal", "crystal", "heatsink", "heat sink", "bleeder", "regulator", "buffer", "multiplier", "doubler", "mixer",
    "speaker", "relay coil", "relay", "tank coil", "mains transformer", "balun", "mic socket",
)  # fmt: skip


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
    not_: tuple[str, ...] = Field((), alias="not")


class WordsFile(Frozen):
    """The data file."""

    quantity: dict[str, QuantityWords]
    story: tuple[StoryWords, ...]


@dataclass(frozen=True)
class Vocabulary:
    """Every phrase with the fact that it is: kind, key, value."""

    file: WordsFile
    facts: dict[str, tuple[Kind, str, str]]


@cache
def vocabulary() -> Vocabulary:
    """The words as shipped."""
    file = load(SHIPPED / "entry" / "words.toml", WordsFile)
    facts: dict[str, tuple[Kind, str, str]] = {}
    for result, words in RESULTS.items():
        facts |= dict.fromkeys(words, ("result", "result", result))
    for side, words in SIDES.items():
        facts |= dict.fromkeys(words, ("side", "side", side))
    facts |= dict.fromkeys(NAMED_PLACES, ("place", "place", ""))
    facts = {w: (k, o, i or w) for w, (k, o, i) in facts.items()}
    for (key, value), words in HOW.items():
        facts |= dict.fromkeys(words, ("how", key, value))
    for word in ABOUT:
        facts[word] = ("link", "about", word)
    for word in LINKS:
        facts.setdefault(word, ("link", word, word))
    for quantity, told in file.quantity.items():
        facts |= dict.fromkeys(told.words, ("quantity", quantity, quantity))
        if quantity in QUANTITIES:
            facts.setdefault(QUANTITIES[quantity].name.lower(), ("quantity", quantity, quantity))
    for n in range(2, 11):
        ends = {2: "nd", 3: "rd"}.get(n, "th")
        for word in (f"h{n}", f"{n}{ends} harmonic", f"{n}{ends} harm", f"{n}{ends}"):
            facts[word] = ("quantity", f"harmonic_{n}", "")
    facts |= dict.fromkeys(("second harmonic", "harmonic", "harmonics"), ("quantity", "harmonic_2", ""))
    facts["third harmonic"] = ("quantity", "harmonic_3", "")
    for word in UPPER:
        facts[word] = ("link", "upper", word)
    for word in LOWER:
        facts[word] = ("link", "lower", word)
    facts["under"] = ("link", "upper", "under")
    facts |= {"pp": ("form", "form", "pp"), "p-p": ("form", "form", "pp"), "peak to peak": ("form", "form", "pp"),
              "rms": ("form", "form", "rms"), "rf": ("form", "rf", "rf"), "ac": ("form", "form", "ac")}  # fmt: skip
    return Vocabulary(file, facts)
