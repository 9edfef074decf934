"""The complaint as evidence: words at check-in, and of what was found, as answers of a chain's own probes.

A text is cut into clauses; each says how something is (dead, weak, well) and of what it speaks. What names neither is
left alone: a symptom that no probe shows is no evidence."""

import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache, cached_property

from young_spark.core.entry import as_meant
from young_spark.core.ground import SHIPPED, Frozen, load
from young_spark.core.trace import complaint_words as said
from young_spark.core.trace.chain import Chain, FunctionProbe, OutputProbe, Probe
from young_spark.core.trace.complaint_changes import fades, of_a_hand
from young_spark.core.trace.suspicion import Seen

Told = list[tuple[Probe, str]]


class Sign(Frozen):
    """Words that are an answer of a probe of their own: patterns, the probes' ids in order of choice, the answer."""

    words: tuple[str, ...]
    probes: tuple[str, ...]
    answer: str
    without_bands: bool = False  # only of what has channels: elsewhere its numbers are bands

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


@dataclass(frozen=True)
class Clause:
    """A clause of a complaint, and the whole of which it is a part."""

    words: str
    state: str | None
    whole: str


def signs_in(chain: Chain, words: str) -> tuple[Seen, ...]:
    """What a complaint says of the probes of a chain; of two answers of one the later counts, or what is not
    well."""
    words = said.as_it_is(as_meant(words))
    plain = said.plainly(words)
    found = _by_its_words(chain, words)
    if fades(plain) and (warm := next((p for p in WARM if p in chain.by_probe), None)) is not None:
        found[warm] = "changes"
    of_one_sideband, by_clause = OTHER_SIDEBAND in found, set[str]()
    for words_of_clause in said.clauses(plain):
        for probe, answer in _of_clause(chain, Clause(words_of_clause, _state(chain, words_of_clause), plain)):
            well = isinstance(probe, FunctionProbe) and answer == probe.answers[0] and probe.id in by_clause
            by_clause.add(probe.id)
            if not well and not (of_one_sideband and probe.id == "mode_ssb"):
                found[probe.id] = answer  # 'low modulation, speech clear but faint': what is not well is complained of
    if _sidebands_differ(plain) and OTHER_SIDEBAND in chain.by_probe:
        found[OTHER_SIDEBAND] = "seen"
        found.pop("mode_ssb", None)  # what both of them use is well
    for probe, answer in _of_modes_without_probe(chain, plain):
        found.setdefault(probe.id, answer)
    found = _as_meant_together(chain, found, plain)
    return tuple(Seen(probe=probe, answer=answer, told=True) for probe, answer in found.items())


def _by_its_words(chain: Chain, words: str) -> dict[str, str]:
    """What is said in words that are an answer of a probe of their own."""
    found: dict[str, str] = {}
    for sign in signs():
        probe = next((chain.by_probe[name] for name in sign.probes if name in chain.by_probe), None)
        if sign.without_bands and any(function.mhz is not None for function in chain.functions):
            continue
        if probe is not None and sign.answer in probe.answers and sign.pattern.search(words):
            found[probe.id] = sign.answer
    return found


def _as_meant_together(chain: Chain, found: dict[str, str], plain: str) -> dict[str, str]:
    """Signs of one complaint, each read in the light of the others."""
    kept = _without_a_voice_unheard(chain, {**found, **_of_meters(chain, plain)})
    if kept.get("on_frequency") == "weak":
        if kept.get("speech") == "weak":
            del kept["speech"]  # who is off frequency is heard distorted
        if not (said.OUTPUT.search(plain) or said.WATTS.search(plain)):
            kept = {probe: answer for probe, answer in kept.items() if probe not in WARM}  # it drifts, and gives all
    if kept.get("aerial_swr") == "bad" and _is_of_no_aerial(kept, plain):
        del kept["aerial_swr"]
    if kept.get("other_channel") == "seen" and said.OF_SOME_CHANNELS.search(plain):
        kept = {probe: answer for probe, answer in kept.items() if answer != "dead"}  # what is dead is so there only
    if kept.get("other_mic") and kept.get("speech") and "shop_mic" in chain.by_probe:
        kept["shop_mic"] = kept.pop("other_mic")  # it keys: what another microphone does to the voice is meant
    return kept


def _without_a_voice_unheard(chain: Chain, found: dict[str, str]) -> dict[str, str]:
    """Nobody hears who gives nothing, and of his voice that says nothing."""
    out = _output(chain)
    silent = out is not None and found.get(out.id) == "dead" and found.get("speech") in {"dead", "weak"}
    return {probe: answer for probe, answer in found.items() if not (silent and probe == "speech")}


def _is_of_no_aerial(found: dict[str, str], plain: str) -> bool:
    """Whether a bad SWR is seen into an amplifier, or into a load that is right."""
    return found.get("input_swr") == "bad" or said.HIGH_SWR_OF_A_LOAD.search(plain) is not None


def _of_meters(chain: Chain, plain: str) -> dict[str, str]:
    """What the meters of an amplifier say now against what they said: 'grid current was 150, now 40'."""
    meters = (("ht_meter", said.HT_SHOULD_BE, said.SAGGING), ("grid_current", said.GRID_BEFORE, said.FEWER))
    read = {name: (found, least) for name, words, least in meters if (found := words.search(plain)) is not None}
    return {
        name: "weak" if float(found["now"]) < least * float(found["was"]) else "good"
        for name, (found, least) in read.items()
        if name in chain.by_probe
    }


OTHER_SIDEBAND = "other_sideband"
PLATE_CURRENT = "plate_current"
WARM = ("warm_up", "amp_warm", "pa_warm")  # keyed warm: does power fall?


def _output(chain: Chain) -> OutputProbe | None:
    """The probe of what goes out, as it is read into a load."""
    out = (p for p in chain.probes if isinstance(p, OutputProbe) and p.kind == "level" and p.at == chain.output)
    return next((p for p in out if p.reads), None)


def _state(chain: Chain, clause: str) -> str | None:
    """What a clause says of its subject, in words or in watts."""
    out = _output(chain)
    due = out.figure if out is not None and out.figure is not None and out.figure.unit == "W" else None
    if (depth := said.SO_DEEP.search(clause)) is not None:
        return "good" if int(depth[1]) >= said.DEEP_ENOUGH else "weak"
    if said.ONLY_SO_DEEP.search(clause):
        return "weak"
    watts = said.state_of_watts(clause, due.good if due else None, due.dead_below if due else None)
    return watts or said.state_of(clause)


def _of_clause(chain: Chain, clause: Clause) -> Told:
    """What one clause says: of its current, of bands, of modes, of the audio, of receive, of keying, of the output."""
    words = clause.words
    if (hand := of_a_hand(chain, words, clause.whole)) is not None:
        return [hand, *_while_untouched(chain, words)]
    if (current := _of_current(chain, words)) is not None:
        return [current]
    if any(of.search(words) for of in (said.OF_ANOTHER, said.OF_SOME_CHANNELS, said.OF_A_PLATE_METER, said.DIPS)):
        return []
    if said.NOT_HEARD.search(words) or said.UNMODULATED.search(words):
        return _functions(chain, lambda p: p.function == "modulation", "dead")
    if said.NOT_UNDERSTOOD.search(words):
        return _functions(chain, lambda p: p.function == "modulation", "weak")
    if said.QUIET_WHEN_KEYED.search(words):
        return _functions(chain, lambda p: p.function == "keying", "good")
    state = clause.state or ("good" if _is_there(words) else None)
    if state is None and said.MUFFLED.search(words) is None:
        return []
    meant = Clause(words, state, clause.whole)
    ways: tuple[Callable[[Chain, Clause], Told], ...] = (
        _of_others, _of_bands, _of_modes, _of_modulation, _of_receive, _of_keying, _of_output,
    )  # fmt: skip
    return next((told for way in ways if (told := way(chain, meant))), [])


def _while_untouched(chain: Chain, words: str) -> Told:
    """What is so until a hand comes: 'FM dead until the switch is worked'. What it does under a hand, or only
    sometimes, it does not always."""
    before, *later = said.UNTIL.split(words)
    if not later or said.SOMETIMES.search(words):
        return []
    return _of_clause(chain, Clause(before, _state(chain, before), before))


def _is_there(words: str) -> bool:
    """Whether a clause names what is there: 'still hears everybody', 'carrier' but no modulation, 'relay clicks'."""
    return bool(said.HEARS.fullmatch(words) or said.LONE_SUBJECT.fullmatch(words) or said.CLICKS.search(words))


def _of_current(chain: Chain, clause: str) -> tuple[Probe, str] | None:
    probe = next((p for p in chain.probes if p.kind == "current"), None)
    if probe is None or _is_of_another_current(probe, clause):
        return None
    if said.OVERLOADS.search(clause):
        return probe, "high"
    if not said.CURRENT.search(clause):
        return None
    if (both := said.AMPS_NOW_AND_BEFORE.search(clause)) is not None:
        now, before = float(both[1]), float(both[2])
        return probe, "low" if now < said.FEWER * before else "high" if now * said.FEWER > before else "normal"
    answers = (
        ("no_rise", said.NO_RISE), ("low", said.LESS_THAN_USUAL), ("high", said.TOO_MUCH), ("low", said.WEAK),
        ("low", said.LITTLE), ("normal", said.NORMAL),
    )  # fmt: skip
    return next(
        ((probe, answer) for answer, words in answers if words.search(clause) and answer in probe.answers), None
    )


def _is_of_another_current(probe: Probe, clause: str) -> bool:
    """Whether a clause speaks of a grid, or of the set at rest; what a valve idles at is its plate current."""
    if said.MODULATOR.search(clause):
        return True
    if probe.id == PLATE_CURRENT and (said.GRID.search(clause) or said.IDLES.search(clause)):
        return said.GRID.search(clause) is not None
    return said.AT_REST.search(clause) is not None and said.NO_RISE.search(clause) is None


def _functions(chain: Chain, wanted: Callable[[FunctionProbe], bool], state: str | None) -> Told:
    answer = "works" if state == "good" else state
    probes = [p for p in chain.probes if isinstance(p, FunctionProbe)]
    return [(p, answer) for p in probes if wanted(p) and answer in p.answers] if answer else []


def _bands_in(words: str) -> set[str]:
    named = {f"{int(m)} m" for m in said.BAND.findall(words)}
    return named | (said.SHORT_WAVES if said.HF.search(words) else set())


def _of_others(chain: Chain, clause: Clause) -> Told:
    """'other bands fine', 'the rest ok': every band, or every mode, that the complaint does not name."""
    if not said.OTHERS.search(clause.words):
        return []
    bands, modes = _bands_in(clause.whole), _modes_in(clause.whole)
    if bands:
        return _functions(
            chain, lambda p: _has_mhz(chain, p) and chain.by_function[p.function].name not in bands, clause.state
        )
    of_modes = (lambda p: bool(chain.by_function[p.function].modes) and _name(chain, p) not in modes) if modes else None
    return _functions(chain, of_modes, clause.state) if of_modes is not None else []


def _has_mhz(chain: Chain, probe: FunctionProbe) -> bool:
    return chain.by_function[probe.function].mhz is not None


def _name(chain: Chain, probe: FunctionProbe) -> str:
    return chain.by_function[probe.function].name.lower()


def _of_bands(chain: Chain, clause: Clause) -> Told:
    if said.RECEIVE.search(clause.words):
        return []
    if said.EVERY.search(clause.words) is not None and said.OUTPUT.search(clause.words) is None:
        out = _output(chain) if said.WATTS.search(clause.words) else None
        power: Told = [(out, clause.state)] if out is not None and clause.state in out.answers else []
        return [*power, *_functions(chain, lambda p: _has_mhz(chain, p), clause.state)]
    bands = _bands_in(clause.words)
    return _functions(chain, lambda p: chain.by_function[p.function].name in bands, clause.state)


def _modes_in(words: str) -> set[str]:
    return {said.MODES[word] for word in re.findall(r"[a-z]+", words) if word in said.MODES}


def _of_modes(chain: Chain, clause: Clause) -> Told:
    if said.RECEIVE.search(clause.words) or said.MODULATION.search(clause.words):
        return []
    return _named_modes(chain, clause)


def _named_modes(chain: Chain, clause: Clause) -> Told:
    modes = _modes_in(clause.words)
    muffled = clause.state is None and said.MUFFLED.search(clause.words) is not None
    return _functions(chain, lambda p: _name(chain, p) in modes, "weak" if muffled else clause.state)


def _sidebands_differ(plain: str) -> bool:
    """'LSB reports are good, USB nobody copies'."""
    states = {
        named[1]: said.state_of(words)
        for words in said.clauses(plain)
        for named in said.SIDEBAND.finditer(words)
        if len(set(said.SIDEBAND.findall(words))) == 1
    }
    return "good" in states.values() and bool({"dead", "weak"} & set(states.values()))


def _of_modes_without_probe(chain: Chain, plain: str) -> Told:
    """'full power on CW, nothing on SSB' of a chain that tells no modes apart: its output is there, and what only
    speech goes through is not."""
    if any(function.modes for function in chain.functions):
        return []
    states: dict[str, str | None] = {}
    for words in said.clauses(plain):
        if said.RECEIVE.search(words) is None:
            states |= dict.fromkeys(_modes_in(words), _state(chain, words))
    carriers = [state for mode, state in states.items() if mode != "ssb"]
    if states.get("ssb") not in {"dead", "weak"} or "good" not in carriers:
        return []
    out = _output(chain)
    power: Told = [(out, "good")] if out is not None else []
    return [*_functions(chain, lambda p: p.function == "modulation", states["ssb"]), *power]


def _of_modulation(chain: Chain, clause: Clause) -> Told:
    """Audio is what goes out where the complaint speaks of sending, and of receive nowhere in the clause."""
    words = clause.words
    sends = said.OUTPUT.search(clause.whole) is not None and said.RECEIVE.search(clause.whole) is None
    audio = said.AUDIO.search(words) is not None and sends
    muffled = said.MUFFLED.search(words) is not None and said.TOLD_OF.search(words) is not None
    if said.RECEIVE.search(words) or not (said.MODULATION.search(words) or audio or muffled):
        return []
    state = "weak" if muffled and clause.state in {None, "good"} else clause.state
    told = Clause(words, state, clause.whole)
    # 'FM has no modulation' speaks of what FM alone uses
    of_one = _named_modes(chain, told)
    if of_one or _another_mode_is_well(chain, clause):
        return of_one
    return _functions(chain, lambda p: p.function == "modulation", state)


def _another_mode_is_well(chain: Chain, clause: Clause) -> bool:
    """'AM no modulation, FM ok', 'FM but no audio, AM audio good': what is wrong is not of the voice that both are
    sent."""
    named = _modes_in(clause.words)
    others = [words for words in said.clauses(clause.whole) if _modes_in(words) - named - {"cw"}]
    voice = [w for w in others if said.AUDIO.search(w) or said.MODULATION.search(w)]
    plain = [w for w in others if named and not (said.OUTPUT.search(w) or said.WATTS.search(w))]
    return any(_state(chain, words) == "good" for words in voice + plain)


def _of_receive(chain: Chain, clause: Clause) -> Told:
    if said.OTHERS_HEAR.search(clause.words):
        return []
    if not said.RECEIVE.search(clause.words) or re.search(r"\b(?:transmit|tx)\b", clause.words):
        return []
    if _bands_in(clause.words):
        return []  # of one band, and of no path that all of them share
    return _functions(chain, lambda p: chain.by_function[p.function].name == "receive", clause.state)


def _of_keying(chain: Chain, clause: Clause) -> Told:
    keyed = said.KEYING.search(clause.words) or said.SWITCHES.search(clause.words)
    if not keyed or said.OUTPUT.search(said.SWITCHES.sub(" ", clause.words)):
        return []
    clicks = re.search(r"\bclicks?\b", clause.words) and not said.DEAD.search(clause.words)
    return _functions(chain, lambda p: p.function == "keying", "good" if clicks else clause.state)


def _of_output(chain: Chain, clause: Clause) -> Told:
    """What goes out. A band or a mode that the clause names is of that, and of none that the chain does not know."""
    words, state = clause.words, clause.state
    of_output = (said.OUTPUT, said.WATTS, said.NOW_AND_BEFORE, said.OF_ALL_CHANNELS)
    spoken = next((found for of in of_output if (found := of.search(words))), None)
    of_one = (_bands_in(words) or _modes_in(words)) and not said.EVERY.search(words)
    named = bool(of_one) and state != "good"
    if (
        spoken is None
        or said.OF_HERTZ.search(words)
        or state is None
        or said.SWITCHES.search(words)
        or named
        or said.FADES.search(words)
    ):
        return []
    out = _output(chain)
    told: Told = [(out, state)] if out is not None and state in out.answers else []
    if said.EVERY.search(words):
        told += _functions(chain, lambda p: _has_mhz(chain, p) or bool(chain.by_function[p.function].modes), state)
    return told
