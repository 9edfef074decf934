"""Words of the slip as answers of probes: what was tried, seen burnt, tested good or bad, and who was inside before.

Only what names its part or function plainly counts: one line answers one probe, and can be doubted."""

import re
from collections.abc import Callable, Collection, Iterable, Sequence
from typing import TypeVar

from young_spark.core.ground import Frozen
from young_spark.core.trace.chain import LAST_HAND, Chain, FunctionProbe, OutputProbe, PartProbe, Probe
from young_spark.core.trace.complaint import signs_in
from young_spark.core.trace.suspicion import Seen

Named = TypeVar("Named")
ENOUGH = 0.6  # of a name's words that a line must have to speak of it

_DEAD = r"dead|nothing|none|gone|missing|silent|(?:does not|doesn't) work"
_WEAK = r"weak|low|poor|faint|deaf|down"
_WELL = r"good|fine|ok|okay|well|works|working|sound|normal"
_SEEN = (
    r"burnt|burned|scorched|charred|cracked|swollen|bulging|leaking|dry "
    r"joints?|loose|broken|pinched|arc(?:ed|ing)?|corroded|dirty|tarnished|worn|blown|off|wrong"
)
_TESTED = r"tests|tested|measures|measured|checked|ohms|out of circuit|shop|open|short|shorted|leaky|failed|bad"
_BAD = rf"{_SEEN}|open|short|shorted|leaky|failed|bad|dead|weak|low"
_NOT = "no|not|never|nothing|without|isn't|aren't"
_INSIDE = re.compile(
    r"\b(?:since|after|when)\b.{0,60}\b(?:changed|fitted|replaced|repaired|modified|soldered|opened|worked "
    r"on|adjusted|cleaned)\b"
    r"|\b(?:rewired|changed|replaced|repaired|modified|moved|soldered|turned) by "
    r"(?:someone|somebody|another|others|the owner)\b"
    r"|\b(?:another|earlier|previous|last) "
    r"(?:hand|repair|repairs|repairer)\b|\bresoldered\b|\bbeen inside\b|\bworked on "
    r"(?:by|before)\b",
    re.IGNORECASE,
)
# words that say how a part is, or how it was looked at, not which it is
_FILLING = frozenset(
    re.findall(
        r"\w+",
        """a about across an and at bad been behind blown broken bulging burned burnt by charred circuit
        corroded cracked dead dirty does dried dry
        failed fine for from gone good has in inside into is it its joint leaking leaky loose low measured
        missing no not nothing of off
        ok on one open or out own part pinched scorched seen short shorted swollen tarnished test tested the
        their to too transistor was weak well with worn
        wrong""",
    )
)
_IN_FULL = {
    "mic": "microphone",
    "pa": "final",
    "tx": "transmit",
    "rx": "receive",
    "reg": "regulator",
    "osc": "oscillator",
    "cap": "capacitor",
    "antenna": "aerial",
    "ant": "aerial",
    "xtal": "crystal",
    "trafo": "transformer",
    "ptt": "key",
}

# what a complaint speaks of, and the quantities that show it; the first that fits
_COMPLAINTS = (
    (r"modulat\w*|audio|speech|voice|muffled|distort\w*|quiet|hum", {"am_depth", "fm_deviation"}),
    (r"deaf|receiv\w*|reception", {"sensitivity_12db_sinad"}),
    (r"output|power|carrier|transmit\w*|dead|weak|nothing|gets? out", {"carrier_power", "peak_envelope_power"}),
)


COMPLAINING = {"said", "found"}


class SlipLine(Frozen):
    """A line of words as a trace sees it; `order` is its place on the slip."""

    id: str
    order: int
    kind: str
    words: str
    stage: str | None = None
    state: str | None = None


class SlipAnswer(Seen):
    """A look that the slip gave: its line, its place on the slip, and what stands there."""

    line: str
    order: int
    words: str


def answers_of_words(chain: Chain, lines: Sequence[SlipLine]) -> tuple[SlipAnswer, ...]:
    """What the lines say of the probes of a chain, the newest for each."""
    answers: dict[str, SlipAnswer] = {}
    for line in sorted(lines, key=lambda one: one.order):
        plain = _told(chain, line)
        spoken = signs_in(chain, line.words) if line.kind in COMPLAINING and plain is None else ()
        for seen in [Seen(probe=plain[0].id, answer=plain[1])] if plain is not None else spoken:
            answers[seen.probe] = SlipAnswer(
                probe=seen.probe, answer=seen.answer, line=line.id, order=line.order, words=line.words[:120],
                told=line.kind == "said",
            )  # fmt: skip
    return tuple(answers.values())


def confirmed_by(chain: Chain, symptom: str) -> Probe | None:
    """The probe that shows a symptom as it is now, whoever told it: owners miss faults. None where the words name
    nothing that is read."""
    if (plain := _of_function(chain, symptom)) is not None:
        return plain[0]
    shown_by = next((reads for words, reads in _COMPLAINTS if _has(words, symptom)), set())
    fitting = [probe for probe in chain.probes if shown_by & {*probe.reads}]
    return min(fitting, key=lambda probe: probe.kind == "function", default=None)


def first_look(chain: Chain, symptom: str, seen: Collection[str]) -> Probe | None:
    """The probe that confirms a symptom, for as long as nobody has looked at it here and no hand need go near a
    lethal point for it."""
    probe = confirmed_by(chain, symptom)
    return None if probe is None or probe.id in seen or probe.is_live_danger else probe


def puts_right(chain: Chain, probe: Probe, words: str) -> bool:
    """Whether a repair in these words put right what a probe finds bad."""
    return any(fault.id in probe.tests for fault in _meant(words, chain.faults, lambda fault: (fault.name,)))


def _told(chain: Chain, line: SlipLine) -> tuple[Probe, str] | None:
    if line.kind == "stage" and line.stage and line.state:
        return _of_stage(chain, line.stage, line.state)
    if line.kind in {"said", "found"} and LAST_HAND in chain.by_probe and _INSIDE.search(line.words):
        return chain.by_probe[LAST_HAND], "seen"
    if line.kind != "found" or _has("but|though|except", line.words):
        return None
    return _of_function(chain, line.words) or _of_part(chain, line.words)


def _of_stage(chain: Chain, name: str, state: str) -> tuple[Probe, str] | None:
    """A stage that was called good, weak or dead: the probe that shows its output."""
    meant = _best(name, chain.stages, lambda stage: (stage.name,))
    probes = [
        p
        for p in chain.probes
        if meant and isinstance(p, OutputProbe) and p.at == meant.id and p.kind in {"level", "dc", "audio"}
    ]
    return (probes[0], state) if probes and state in probes[0].answers else None


def _of_function(chain: Chain, words: str) -> tuple[Probe, str] | None:
    """What the unit was found to do: 'receive fine', '40 m dead', 'no modulation'."""
    for probe in chain.probes:
        function = chain.by_function[probe.function] if isinstance(probe, FunctionProbe) else None
        if function is None:
            continue
        name = re.escape(function.name).replace(r"\ ", r"\s*")
        if _all(rf"no\s+{name}", words):
            return probe, "dead"
        for answer, state in (("dead", _DEAD), ("weak", _WEAK), ("works", _WELL)):
            if _all(rf"(?:the\s+)?{name}(?:\s+(?:is|was|are))?\s+(?:{state})", words):
                return probe, answer
    return None


def _of_part(chain: Chain, words: str) -> tuple[Probe, str] | None:
    """What was seen of a part, or how it tested."""
    negated = _has(rf"(?:{_NOT})\s+(?:\w+\s+){{0,2}}(?:{_BAD})", words)
    bad = _has(_BAD, words) and not negated
    if not bad and not negated and not _has(_WELL, words):
        return None
    looks, tests = _of_parts(chain)
    among = tests if _has(_TESTED, words) else looks

    def names(probe: Probe) -> tuple[str, ...]:
        meant = [chain.by_fault[f].name for f, answer in probe.tests.items() if not (bad and _contrary(answer, words))]
        return (probe.what, *meant) if meant else ()

    probe = _best(words, among, names) or _best(words, looks, lambda p: names(p)[1:])
    if probe is None:
        return None
    return probe, _answer_of_part(chain, probe, words) if bad else probe.answers[0]


def _of_parts(chain: Chain) -> tuple[list[Probe], list[Probe]]:
    """Looks at parts, and tests of them, that somebody makes."""
    looks, tests = list[Probe](), list[Probe]()
    for probe in chain.probes:
        if isinstance(probe, PartProbe) and not probe.told:
            (looks if probe.kind == "look" else tests).append(probe)
    return looks, tests


def _answer_of_part(chain: Chain, probe: Probe, words: str) -> str:
    """What a bad part answered: the fault that the words name, else the first that they do not gainsay."""
    told = {f: answer for f, answer in probe.tests.items() if not _contrary(answer, words)}
    fault = _best(words, [chain.by_fault[f] for f in told], lambda fault: (fault.name,))
    return told[fault.id] if fault else next(iter(told.values()))


def _contrary(answer: str, words: str) -> bool:
    """Whether a line says open where an answer is short, or the other way round."""
    shorted, opened = _has("short|shorted", words), _has("open", words)
    return (answer == "short" and opened and not shorted) or (answer == "open" and shorted and not opened)


def _best(words: str, among: Sequence[Named], names: Callable[[Named], Iterable[str]]) -> Named | None:
    return next(iter(_meant(words, among, names)), None)


def _meant(words: str, among: Sequence[Named], names: Callable[[Named], Iterable[str]]) -> list[Named]:
    """What a line speaks of: those it has the most words of a name of, if that is most of the name; the first name
    is its own."""
    said = _telling(words)

    def fit(one: Named) -> tuple[int, float, bool]:
        told = [(said & name, name, n == 0) for n, name in enumerate(map(_telling, names(one))) if name]
        enough = [
            (len(both), len(both) / len(name), own) for both, name, own in told if len(both) >= ENOUGH * len(name)
        ]
        return max(enough, default=(0, 0.0, False))

    fits = [fit(one) for one in among]
    best = max(fits, default=(0, 0.0, False))
    return [one for one, fitting in zip(among, fits, strict=True) if fitting == best and best[0] > 0]


def _telling(text: str) -> frozenset[str]:
    """The words of a text that say which part is meant, in the singular and not in short."""
    words = re.findall(r"\w+", text.lower())
    single = (w[:-1] if len(w) > 3 and w.endswith("s") and not w.endswith("ss") else w for w in words)
    return frozenset(_IN_FULL.get(w, w) for w in single) - _FILLING


def _has(pattern: str, words: str) -> bool:
    return re.search(rf"\b(?:{pattern})\b", words, re.IGNORECASE) is not None


def _all(pattern: str, words: str) -> bool:
    return re.fullmatch(rf"\s*{pattern}\W*", words, re.IGNORECASE) is not None
