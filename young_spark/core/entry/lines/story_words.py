"""Lines of words: note, found, did, turned …, and the few things told apart in them."""

import re

from young_spark.core.entry.facts.meaning import StoryKind, StoryLine
from young_spark.core.entry.lines.adjustments import adjustment_in, figure_at_the_end
from young_spark.core.entry.lines.repairs import arrow, cost_of, minutes_of, parts_of, reason_of, without_costs
from young_spark.core.entry.wording.places import PART
from young_spark.core.entry.wording.tokens import Unclear, folded

FIRST_WORDS: dict[str, StoryKind] = {
    "note": "note",
    "said": "said",
    "owner": "said",
    "complaint": "said",
    "wish": "wish",
    "wants": "wish",
    "found": "found",
    "saw": "found",
    "did": "did",
    "repaired": "did",
    "replaced": "did",
    "turned": "adjusted",
    "adjusted": "adjusted",
    "stage": "stage",
    "lock": "lock",
    "unsafe": "lock",
    "unlock": "unlock",
    "wait": "wait",
    "waiting": "wait",
    "arrived": "arrived",
    "advice": "advice",
    "advise": "advice",
    "watch": "watch",
    "changed": "changed",
    "clear": "clear",
}

NOT_NOTED = "not noted"  # how an adjuster was found, where nobody wrote it down
OWN_VERBS = {"replaced", "repaired", "adjusted"}
_EXAMPLES: dict[StoryKind, str] = {
    "note": "note lamp flickers",
    "said": "said dead since the lamp was changed",
    "wish": "wish leave the roger beep",
    "found": "found dry joint at L14",
    "did": "did C41 dried out -> 470u 25V, bad, 0.40, 15 min",
    "adjusted": "turned VR3 2.6k -> 1.9k",
    "stage": "stage driver weak 0.05 W at the base",
    "lock": "lock mains lead bare at the gland",
    "unlock": "unlock lead replaced, earth tested",
    "wait": "wait Q12 ordered, due Friday",
    "arrived": "arrived Q12",
    "advice": "advice mend the aerial first",
    "watch": "watch comes back cold? look at RL2",
    "changed": "changed covers on",
    "clear": "clear bias of the final set before power",
}

BOOKED = "booked"  # the area of a line that only says what it took
ONLY_BOOKED = re.compile(r"(?:hours|labou?r|time|parts|total|[:,;. \dh])*", re.IGNORECASE)
_LASTED = (
    r"(?:\d{1,2} ?(?:h|hrs?|hours?) \d{1,2}|\d{1,3}(?:[.,]\d+)? ?(?:h|hrs?|hours?|mins?|minutes)|\d{1,2}h\d{2}"
    r"|(?:half )?an hour|(?:one|two|three) hours?)(?: and a half)?"
)
_AROUND = (
    r"(?:took|spent|labou?r|bench|time|total|work|done|finished|all|in|no|new|parts|job|about|call|it|charge|for|on|this|"
    r"one|my|only|just|roughly|approx|so|far|and|a|of|to|find|fix|plus|me|that|was)"
)
TIME_SPENT = re.compile(rf"(?:{_AROUND}[ ,:;.]+)*{_LASTED}(?:[ ,:;.]+(?:{_AROUND}|{_LASTED}))*[.]?", re.IGNORECASE)
BILLED = re.compile(
    r"(?:bill(?:ed)?|invoiced?)\b:? (?:£?\d|.*\bhours?\b)"
    r"|charged?:? £?\d+(?:\.\d\d)?(?![\d.]| ?(?:m?v|m?a|m?w|h|hrs?|hours?|mins?|minutes|%)\b)",
    re.IGNORECASE,
)
WISHED = re.compile(r"(?:only |just |really |also )*(?:wants|would like|wishes|prefers|asks for)\b", re.IGNORECASE)
FREQUENCY_TRIM = (
    r"\bnetted\b|\bzero beat\b|\b(?:trimmed|netted|tweaked|adjusted|set|pulled) (?:the )?(?:ref(?:erence)?|tcxo|ocxo)\b"
    r"|\b(?:ref(?:erence)?|tcxo|ocxo) (?:osc(?:illator)? )?(?:trimmed|netted|trim(?:mer)?|tweaked|set|pulled)\b"
    r"|\b(?:usb|lsb|am|fm|carrier) zero\b|\bfreq(?:uency)?\b|\bclarifier\b|\d ?hz\b"
    r"|\d\.\d{4,}|\bcentred\b|\b(?:trimmed|pulled) x\d|\bx\d{1,2} (?:trimmed|pulled)\b"
)
_AREAS = (
    (
        "microphone",
        r"\bmic(?:rophone)?\b(?! (?:up|down|channel)(?:[ /](?:up|down))? (?:button|key))|\bhandset\b"
        r"|(?<!mains )(?<!power )\b(?:coiled |curly )?cord\b",
    ),
    (
        "cooling",
        r"\bfans?\b|\bblowers?\b|\bthermostat\b|\bair filter\b|\b(?:heat ?sink|thermal) (?:paste|compound|pads?)\b",
    ),
    (
        "receiver",
        r"\b(?:loud)?speakers?\b|\bspkr?\b|\b(?:head|ear)?phones? (?:jack|socket)\b"
        r"|\bvol(?:ume)? (?:pot|control)\b|\bsquelch (?:pot|control)\b",
    ),
    (
        "output_filter",
        r"\b(?:output|low[- ]?pass|harmonic) filter\b|\b(?:plate|anode) choke\b|\blpf\b"
        r"|\b(?:aerial|ant|antenna) (?:relay|plug)\b|\bso-?239\b"
        r"|(?<!mic )(?<!power )(?<!key )\bsocket\b",
    ),
    ("driver", r"\bdriver\b|\bpre-?driver\b|\bbuffer\b"),
    ("final", r"\bfinals?\b|\bvalves?\b|\bpa\b|\bneutrali[sz]"),
    ("modulator", r"\bmodulator\b|\bmodulation transformer\b"),
    (
        "synthesiser",
        r"\bsynth(?:esiser)?\b|\bchannel (?:selector|switch|knob)\b"
        r"|\bcrystal\b|\breference\b|\bloop\b|\bvco\b|\bosc(?:illator)?\b|\bxtal\b|\bpll\b",
    ),
    ("frequency_trim", FREQUENCY_TRIM),
    ("key_line", r"\bkey line\b|\bptt\b|\bswitched rail\b"),
    ("level_control", r"\balc\b|\blevel control\b|\bpower set\b"),
    ("bias", r"\bbias\b"),
    ("fuse", r"\bfuses?\b"),
    (
        "supply",
        r"\bsupply\b|\bregulator\b|\breverse\b|\bfilter caps?\b|\bsmoothing\b|\brectifiers?\b|\bbridge\b"
        r"|\bbatter(?:y|ies)\b|\b(?:new|battery) pack\b|\bcells?\b",
    ),
    ("feed", r"\b(?:power|mains|dc) (?:lead|cable|cord|plug)\b"),
    ("audio", r"\baudio\b|\blimiter\b|\bdeviation\b"),
    (
        "meter",
        r"\b(?:trip|alarm|threshold|timer)\b"
        r"|\blamps?\b|\bbulbs?\b|\bback ?lights?\b|\bpilot lights?\b|\bdisplay led\b"
        r"|\b(?:up|down|channel) (?:button|key)s?\b|\bown meter\b"
        r"|\bs-?meter\b|\bknobs?\b|\bcase\b|\bcabinet\b|\bfront panel\b|\blabel\b"
        r"|\b(?:battery )?door\b|\bhatch\b|\bbelt clip\b|\bcarrying strap\b|\bmounting bracket\b"
        r"|\brubber (?:feet|boot|cover|seal)\b|\bbezel\b|\bcharg(?:e|er|ing) contacts?\b|\bstrain relief\b"
        r"|\bgrommets?\b|\b(?:case|cover|lid) screws?\b",
    ),
    ("aerial", r"\b(?:aerial|antenna)\b(?! (?:relay|plug|socket))|\bfeeder\b|\bcoax\b"),
    (
        "outside_aerial",  # coax and coils of an aerial circuit are inside of a set as well: only what is surely not
        r"\b(?:his|her|their|(?:owner|customer)'?s) (?:own |base |mobile |roof )?(?:aerial|antenna|feeder|coax)\b"
        r"|\bwhip\b|\bmag ?mount\b|\bdipole\b|\bradials?\b",
    ),
    ("receiver", r"\breceiver\b|\bfront end\b|\bsquelch\b|\bif strip\b"),
)


TO_WHOM = re.compile(r"^(?:him|her|them|(?:the )?(?:owner|customer)) (?:to |that )?(?=\w)", re.IGNORECASE)


ADVISED = re.compile(r"(?:was )?(?:advised|told|warned|informed)\b", re.IGNORECASE)  # 'owner advised: fit a filter'


def _said_to_or_wished(words: str) -> StoryKind | None:
    """What follows the owner's name and is no saying of his: 'owner told …', 'owner wants …'."""
    return "advice" if ADVISED.match(words) else "wish" if WISHED.match(words) else None


# behind which words a first word is of a loop and not of the unit, or clears nothing that was asked for
_OF_OTHER_THINGS: dict[StoryKind, re.Pattern[str]] = {
    "lock": re.compile(
        r"(?:\d|in \d|det|line|volts|loop|range|time|holds?|held|lost|ok|led|lamp|comes|drops|stays|stable)",
        re.IGNORECASE,
    ),
    "clear": re.compile(r"(?:channel|audio|speech|signal|voice|tone|air|view)\b", re.IGNORECASE),
}


def read_story(text: str) -> StoryLine | None:
    """The story line of a text that begins with one of the words, or None for a figure. Raises Unclear when empty."""
    match = re.match(r"\s*([^\W\d_]+)(?!['\u2019]s\b)\s*:?\s*", text)  # 'owner's mic': no word of his
    kind = FIRST_WORDS.get(match[1].lower()) if match else None
    if match is None or kind is None:
        return None
    if kind in _OF_OTHER_THINGS and _OF_OTHER_THINGS[kind].match(text[match.end() :]):
        return None
    words = text[match.end() :].strip()
    if kind == "said" and (other := _said_to_or_wished(words)) is not None:
        return told_apart(other, text.strip())
    if kind == "advice":
        words = TO_WHOM.sub("", words)
    if words and match[1].lower() in OWN_VERBS:
        words = text.strip()  # the word is what was done
    if not words:
        raise Unclear(f"What? For example '{_EXAMPLES[kind]}'.")
    if len(words) > 2000:
        raise Unclear("That is more than a line holds (2000 signs). Split it in two.")
    if kind == "changed" and re.match(r"(?:supply|covers|configuration)\b", words, re.IGNORECASE) is None:
        kind, words = "did", text.strip()  # a part, and not a condition
    return told_apart(kind, words)


def told_apart(kind: StoryKind, words: str) -> StoryLine:
    """The line of words with what can be told apart in them. Raises Unclear where an outright word is short of it."""
    line = StoryLine(kind=kind, words=words)
    if kind == "did":
        return line.model_copy(update=repair_of(words))
    if kind == "adjusted":
        return line.model_copy(update=_adjustment(words))
    if kind == "stage":
        return line.model_copy(update=_stage(words))
    if kind == "changed":
        return line.model_copy(update=_change(words))
    return line


def says_only_how_long(words: str) -> bool:
    """'took 2 hr', 'done, 0.5 hr, no parts': time that was spent, and nothing that was read or done. A bare time may be
    when something was read."""
    return TIME_SPENT.fullmatch(words) is not None and re.fullmatch(_LASTED, words, re.IGNORECASE) is None


def part_in(line: StoryLine) -> str | None:
    """The part that a line of words is about: what went out, what was turned, else the first part that it names."""
    if line.part_out or line.adjuster:
        return line.part_out or line.adjuster
    named = re.search(rf"\b{PART}\b", line.words, re.IGNORECASE)
    return named[0] if named else None


def set_right(line: StoryLine, kind: StoryKind) -> StoryLine:
    """The line as one of another kind, with what can be told apart in it; what it was taken for stays known. Raises
    Unclear where the kind asks for more than its words say."""
    return told_apart(kind, line.words).model_copy(update={"was": (*line.was, line.kind)})


def area_of(words: str) -> str | None:
    """The area of the unit that words speak of, several with a plus between ('final bias'); None where of none."""
    if ONLY_BOOKED.fullmatch(without_costs(words)) or BILLED.match(words) or says_only_how_long(words):
        return BOOKED
    spoken = [area for area, pattern in _AREAS if re.search(pattern, words, re.IGNORECASE)]
    return "+".join(spoken) or None


def area_turned(words: str) -> str | None:
    """The area that an adjustment moves: a crystal that is pulled onto its frequency moves nothing else."""
    spoken = (area_of(words) or "").split("+")
    if "frequency_trim" in spoken:
        spoken = [area for area in spoken if area != "synthesiser"]
    return "+".join(spoken) or None


MOVES_NOTHING = {"fuse", "meter"}
PART_OF_A_CIRCUIT = re.compile(rf"\b(?!f\d|fs\d|pl\d|la\d){PART}\b", re.IGNORECASE)


def area_mended(words: str) -> str | None:
    """The area that a repair touched: 'd5 and d6 replaced, new lamp' is no matter of the lamp alone."""
    area = area_of(words)
    harmless = area is not None and MOVES_NOTHING.issuperset(area.split("+"))
    return None if harmless and PART_OF_A_CIRCUIT.search(words) else area


def repair_of(words: str) -> dict[str, object]:
    """What the words of a repair tell apart."""
    out, into = parts_of(words)
    return {
        "area": area_mended(words), "reason": reason_of(words), "cost": cost_of(words), "minutes": minutes_of(words),
        "part_out": out, "part_in": into,
    }  # fmt: skip


def _adjustment(words: str) -> dict[str, object]:
    sides = arrow(words)
    if sides is None and (told := adjustment_in(folded(words))) is not None:
        return {
            "adjuster": told.adjuster, "value_found": told.found or NOT_NOTED, "value_left": told.left,
            "area": area_turned(words),
        }  # fmt: skip
    left, turned = figure_at_the_end(folded(words)), re.search(rf"\b{PART}\b", words, re.IGNORECASE)
    if sides is None and left is not None and turned is not None:
        return {
            "adjuster": turned[0].upper(),
            "value_found": NOT_NOTED,
            "value_left": left,
            "area": area_turned(words),
        }
    if sides is None:
        raise Unclear("Found and left? For example 'turned VR3 2.6k -> 1.9k'.")
    before = sides[0].split()
    adjuster, found = (" ".join(before[:-1]), before[-1]) if len(before) > 1 else (before[0], NOT_NOTED)
    return {"adjuster": adjuster, "value_found": found, "value_left": sides[1], "area": area_turned(words)}


def _stage(words: str) -> dict[str, object]:
    match = re.search(r"\b(good|weak|dead)\b", words, re.IGNORECASE)
    if match is None or not words[: match.start()].strip():
        raise Unclear("Which stage, and is it good, weak or dead? For example 'stage driver weak'.")
    return {"stage": words[: match.start()].strip(), "state": match[1].lower()}


def _change(words: str) -> dict[str, object]:
    match = re.match(r"(supply|covers|configuration)\s+(?:to\s+)?(.+)", words, re.IGNORECASE)
    if match is None:
        raise Unclear("What changed: supply, covers or configuration? For example 'changed covers on'.")
    names = {"supply": "supply_v", "covers": "covers", "configuration": "configuration"}
    name, value = names[match[1].lower()], match[2].strip()
    if name == "supply_v":
        number = re.match(r"(\d+(?:[.,]\d+)?)\s*v?$", value, re.IGNORECASE)
        if number is None:
            raise Unclear("Supply of how many volts? For example 'changed supply 13.8 V'.")
        value = f"{float(number[1].replace(',', '.')):g}"
    if name == "covers" and value not in {"on", "off"}:
        raise Unclear("Covers on or off?")
    return {"condition": name, "condition_value": value}
