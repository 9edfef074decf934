"""The complaint as evidence: words at check-in, and of what was found, as answers of a chain's own probes.

A text is cut into clauses; each says how something is (dead, weak, well) and of what it speaks. What names neither is
left alone: a symptom that no probe shows is no evidence."""

import re
from collections.abc import Callable
from functools import cache, cached_property

from young_spark.core.ground import SHIPPED, Frozen, load
from young_spark.core.trace.chain import Chain, FunctionProbe, OutputProbe, Probe
from young_spark.core.trace.suspicion import Seen

CLAUSES = re.compile(
    r"[,;.:!]|\b(?:but|and|yet|though|although|while|except|then|however)\b|\s[–-]\s"
    r"|(?<=\w)\s+(?=no (?:receive|transmit|output|power|audio|modulation|rf)\b)",
    re.IGNORECASE,
)
DEAD = re.compile(
    r"\b(?:no|not any|none|nothing|never|dead|zero|lost|gone|missing|won'?t|will not|does not|doesn'?t|do not|don'?t|"
    r"cannot|can'?t|without|fails?|failed|stopped|silent|mute|refuses)\b",
    re.IGNORECASE,
)
WEAK = re.compile(
    r"\b(?:weak|low|lower|poor|poorly|little|half|down|faint|deaf|reduced|short range|barely|hardly|quiet|thin|dropped|"
    r"only \d+(?:\.\d+)? ?m?w(?:atts?)?)\b",
    re.IGNORECASE,
)
WELL = re.compile(
    r"\b(?:fine|ok|okay|good|well|works?|working|normal|normally|perfect|perfectly|right|great|"
    r"strong|(?<!at )full|clear)\b",
    re.IGNORECASE,
)
STATES = (("dead", DEAD), ("weak", WEAK), ("good", WELL))
OUTPUT = re.compile(
    r"\b(?:output|power|rf|carrier|watts?|transmits?|transmitting|tx|gets? out|talks? out|signal out|transmission)\b",
    re.IGNORECASE,
)
RECEIVE = re.compile(r"\b(?:receiv\w*|reception|rx|hears?|hearing|deaf)\b", re.IGNORECASE)
MODULATION = re.compile(
    r"\b(?:modulat\w*|(?:tx|transmit) audio|audio on (?:tx|transmit\w*)|voice|speech|talk audio|mod|microphone audio|"
    r"can'?t hear (?:my|his|her) (?:voice|talk))\b",
    re.IGNORECASE,
)
KEYING = re.compile(r"\b(?:keys?|keying|ptt|relay clicks?|clicks?|switch(?:es)? to transmit)\b", re.IGNORECASE)
CURRENT = re.compile(r"\b(?:current|draws?|amps?|meter of the supply)\b", re.IGNORECASE)
LONE_SUBJECT = re.compile(r"\s*(?:there is |it has |has |gives )?(?:a )?(?:carrier|output|power|rf)\s*", re.IGNORECASE)
CLICKS = re.compile(r"\b(?:relay )?clicks?\b", re.IGNORECASE)
NOT_HEARD = re.compile(
    r"\b(?:nobody|no one|noone|they|others) (?:can(?:no|')?t? |cannot |do(?:es)?n'?t )?hears? (?:me|my|him|his|her)\b",
    re.IGNORECASE,
)
NO_RISE = re.compile(
    r"\bno (?:plate |supply |final )?current\b|\bstays\b|"
    r"\b(?:does not|doesn'?t|do not|no|not|never)\b.{0,24}\b(?:rise|rises|change|changes|move|moves|up)\b",
    re.IGNORECASE,
)
TOO_MUCH = re.compile(r"\b(?:high|too much|heavy|double|excessive|blows?)\b", re.IGNORECASE)
NORMAL = re.compile(r"\b(?:rises?|normal|usual|as usual|ok|fine)\b", re.IGNORECASE)
EVERY = re.compile(r"\b(?:any|all|every|both)\s+(?:bands?|modes?)\b|\bon everything\b", re.IGNORECASE)
BAND = re.compile(r"(?<![\w.])(\d{1,3}) ?(?:m|meters?|metres?)\b", re.IGNORECASE)
ONE = r"(?:\d{1,3} ?m(?:et(?:er|re)s?)?|am|fm|ssb|usb|lsb|cw)"
IN_A_ROW = re.compile(rf"\b{ONE}(?:\s*,\s*{ONE})*\s*,?\s*(?:and|&)\s+{ONE}\b", re.IGNORECASE)
MODES = {"am": "am", "fm": "fm", "ssb": "ssb", "usb": "ssb", "lsb": "ssb", "cw": "cw", "sideband": "ssb"}


class Sign(Frozen):
    """Words that are an answer of a probe of their own: patterns, the probes' ids in order of choice, the answer."""

    words: tuple[str, ...]
    probes: tuple[str, ...]
    answer: str

    @cached_property
    def pattern(self) -> re.Pattern[str]:
        """Any of the words."""
        return re.compile(rf"\b(?:{'|'.join(self.words)})\b", re.IGNORECASE)


class SignsFile(Frozen):
    """The data file."""

    sign: tuple[Sign, ...]


@cache
def signs() -> tuple[Sign, ...]:
    """What owners say, as shipped."""
    return load(SHIPPED / "complaint.toml", SignsFile).sign


def signs_in(chain: Chain, words: str) -> tuple[Seen, ...]:
    """What a complaint says of the probes of a chain; of two answers of one the later counts."""
    found: dict[str, str] = {}
    for sign in signs():
        probe = next((chain.by_probe[name] for name in sign.probes if name in chain.by_probe), None)
        if probe is not None and sign.answer in probe.answers and sign.pattern.search(words):
            found[probe.id] = sign.answer
    for clause in _clauses(words):
        for probe, answer in _of_clause(chain, clause):
            found[probe.id] = answer
    return tuple(Seen(probe=probe, answer=answer) for probe, answer in found.items())


def _clauses(words: str) -> list[str]:
    """The clauses of a text. One that goes on without naming its mode speaks of the mode before it: 'AM has carrier but
    no modulation'."""
    # bands or modes in a row are one subject: '80 m, 40 m and 20 m dead'
    words = IN_A_ROW.sub(lambda row: re.sub(r",|\band\b", " ", row[0], flags=re.IGNORECASE), words)
    found: list[str] = []
    start, mode = 0, ""
    for cut in [*CLAUSES.finditer(words), None]:
        clause = words[start : cut.start() if cut else len(words)]
        named = next((word for word in re.findall(r"[a-z]+", clause.lower()) if word in MODES), "")
        found.append(f"{mode} {clause}" if mode and not named and MODULATION.search(clause) else clause)
        goes_on = cut is not None and (not cut[0].strip() or cut[0].lower() == "but")
        mode, start = (named or mode) if goes_on else "", cut.end() if cut else len(words)
    return found


def _of_clause(chain: Chain, clause: str) -> list[tuple[Probe, str]]:
    """What one clause says: of bands, of modes, of the output, of what the unit does, of its current."""
    current = _of_current(chain, clause)
    if current is not None:
        return [current]
    state = _state(clause)
    if NOT_HEARD.search(clause):
        return _functions(chain, lambda p: p.function == "modulation", "dead")
    if state is None and (LONE_SUBJECT.fullmatch(clause) or CLICKS.search(clause)):
        state = "good"  # 'carrier but no modulation', 'relay clicks but no output'
    if state is None:
        return []
    ways: tuple[Callable[[Chain, str, str], list[tuple[Probe, str]]], ...] = (
        _of_bands, _of_modes, _of_modulation, _of_receive, _of_keying, _of_output,
    )  # fmt: skip
    return next((told for way in ways if (told := way(chain, clause, state))), [])


def _state(clause: str) -> str | None:
    return next((state for state, words in STATES if words.search(clause)), None)


def _of_current(chain: Chain, clause: str) -> tuple[Probe, str] | None:
    probe = next((p for p in chain.probes if p.kind == "current"), None)
    if probe is None or not CURRENT.search(clause):
        return None
    answers = (("no_rise", NO_RISE), ("high", TOO_MUCH), ("low", WEAK), ("normal", NORMAL))
    return next(
        ((probe, answer) for answer, words in answers if words.search(clause) and answer in probe.answers), None
    )


def _functions(chain: Chain, wanted: Callable[[FunctionProbe], bool], state: str) -> list[tuple[Probe, str]]:
    answer = "works" if state == "good" else state
    probes = [p for p in chain.probes if isinstance(p, FunctionProbe)]
    return [(p, answer) for p in probes if wanted(p) and answer in p.answers]


def _of_bands(chain: Chain, clause: str, state: str) -> list[tuple[Probe, str]]:
    bands = {f"{int(m)} m" for m in BAND.findall(clause)}
    every = EVERY.search(clause) is not None and OUTPUT.search(clause) is None
    told = _functions(chain, lambda p: chain.by_function[p.function].name in bands, state)
    if every and not RECEIVE.search(clause):
        told = _functions(chain, lambda p: chain.by_function[p.function].mhz is not None, state)
    return told


def _of_modes(chain: Chain, clause: str, state: str) -> list[tuple[Probe, str]]:
    return [] if RECEIVE.search(clause) or MODULATION.search(clause) else _named_modes(chain, clause, state)


def _named_modes(chain: Chain, clause: str, state: str) -> list[tuple[Probe, str]]:
    said = {MODES[word] for word in re.findall(r"[a-z]+", clause.lower()) if word in MODES}
    return _functions(chain, lambda p: chain.by_function[p.function].name.lower() in said, state)


def _of_modulation(chain: Chain, clause: str, state: str) -> list[tuple[Probe, str]]:
    if not MODULATION.search(clause):
        return []
    # 'FM has no modulation' speaks of what FM alone uses
    return _named_modes(chain, clause, state) or _functions(chain, lambda p: p.function == "modulation", state)


def _of_receive(chain: Chain, clause: str, state: str) -> list[tuple[Probe, str]]:
    if not RECEIVE.search(clause) or re.search(r"\b(?:transmit|tx)\b", clause, re.IGNORECASE):
        return []
    return _functions(chain, lambda p: chain.by_function[p.function].name == "receive", state)


def _of_keying(chain: Chain, clause: str, state: str) -> list[tuple[Probe, str]]:
    if not KEYING.search(clause) or OUTPUT.search(clause):
        return []
    said = "good" if re.search(r"\bclicks?\b", clause, re.IGNORECASE) and not DEAD.search(clause) else state
    return _functions(chain, lambda p: p.function == "keying", said)


def _of_output(chain: Chain, clause: str, state: str) -> list[tuple[Probe, str]]:
    if not OUTPUT.search(clause):
        return []
    out = [
        p for p in chain.probes if isinstance(p, OutputProbe) and p.kind == "level" and p.at == chain.output and p.reads
    ]
    told: list[tuple[Probe, str]] = [(p, state) for p in out if state in p.answers]
    if EVERY.search(clause):
        functions = _functions(chain, lambda p: bool((f := chain.by_function[p.function]).mhz or f.modes), state)
        told += functions
    return told
