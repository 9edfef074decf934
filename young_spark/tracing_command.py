"""The command that traces without a server: what is suspected, and where to probe next. Its output is a fixed
contract."""

import json
from typing import Annotated, Any, NamedTuple

import typer

from young_spark.core.ground import CoreError, UnknownName
from young_spark.headless import refuse

MOST_OBSERVED = 500
MOST_WORDS = 2000


def trace(
    chain: Annotated[str | None, typer.Option(help="Which chain; --list alone prints them")] = None,
    observe: Annotated[
        list[str] | None, typer.Option(help="ID=SEEN: an answer of that probe, 'unknown', or a figure with its unit")
    ] = None,
    symptom: Annotated[str | None, typer.Option(help="The complaint, in the owner's words")] = None,
    found: Annotated[list[str] | None, typer.Option(help="What was found, in words (can be repeated)")] = None,
    strategy: Annotated[str, typer.Option(help="best-value, half-split, walk-back or walk-forward")] = "best-value",
    listed: Annotated[bool, typer.Option("--list", help="The chains; with --chain its probes and faults")] = False,
    as_json: Annotated[bool, typer.Option("--json", help="Print one JSON object")] = False,
) -> None:
    """What is suspected after what was seen, and which probe tells most for its price. Exit 0 traced, 2 refused."""
    try:
        if chain is None:
            if not listed:
                raise CoreError("which chain? --list prints them")
            print(_chains(as_json))
        elif listed:
            print(_listed(chain, as_json))
        else:
            print(_traced(chain, observe or [], _Told(symptom or "", tuple(found or ())), strategy, as_json))
    except CoreError as refusal:
        raise refuse(str(refusal)) from refusal


def _chains(as_json: bool) -> str:
    from young_spark.core.trace import chain_names, shipped_chain

    if as_json:
        return json.dumps({"chains": list(chain_names())})
    return "\n".join(f"{name:28} {shipped_chain(name).title}" for name in chain_names())


def _listed(name: str, as_json: bool) -> str:
    from young_spark.core.trace import shipped_chain

    chain = shipped_chain(name)
    if as_json:
        probes = [
            {
                "probe": p.id,
                "what": p.what,
                "minutes": p.minutes,
                "risk": p.risk,
                "answers": list(p.answers),
                "unit": p.figure.unit if p.figure else None,
            }
            for p in chain.probes
        ]
        faults = [{"stage": f.stage, "fault": f.id, "name": f.name} for f in chain.faults]
        return json.dumps({"chain": name, "probes": probes, "faults": faults}, ensure_ascii=False)
    lines = [f"{chain.title}: {len(chain.stages)} stages, {len(chain.faults)} faults", "", "probes:"]
    lines += [
        f"  {p.id:20} {p.minutes:4g} min  {p.risk:6}  {', '.join(p.answers):30} "
        f"{p.what}{_own_words(p)}{f' ({p.figure.unit})' if p.figure else ''}"
        for p in chain.probes
    ]
    lines += ["", "faults:", *(f"  {f.id:20} {f.stage:16} {f.name}" for f in chain.faults)]
    return "\n".join(lines)


def _own_words(probe: Any) -> str:
    return "".join(f"; {answer}: {words}" for answer, words in probe.words.items())


class _Told(NamedTuple):
    """Words for the trace: the complaint, and what was found."""

    symptom: str
    found: tuple[str, ...]


def _understood(chain: Any, told: _Told) -> list[Any]:
    """The complaint and the findings as answers of the chain's probes, in the order in which they were said."""
    from young_spark.core.trace import SlipLine, answers_of_words

    words = (*((told.symptom,) if told.symptom.strip() else ()), *told.found)
    if any(len(text) > MOST_WORDS for text in words) or len(words) > MOST_OBSERVED:
        raise CoreError(f"a complaint or a finding has at most {MOST_WORDS} letters")
    lines = [
        SlipLine(id=str(n), order=n, kind="said" if told.symptom.strip() and n == 0 else "found", words=text)
        for n, text in enumerate(words)
    ]
    return list(answers_of_words(chain, lines))


def _traced(name: str, observed: list[str], words: _Told, strategy: str, as_json: bool) -> str:
    from young_spark.core.entry import UNITS
    from young_spark.core.trace import STRATEGIES, Engine, Seen, advised, entropy_bits, seen_as, shipped_chain

    if strategy not in STRATEGIES:
        raise UnknownName("strategy", strategy, next((s for s in STRATEGIES if s.startswith(strategy[:4])), None))
    if len(observed) > MOST_OBSERVED:
        raise CoreError(f"{len(observed)} looks are too many, at most {MOST_OBSERVED}")
    chain = shipped_chain(name)
    engine = Engine(chain)
    understood = _understood(chain, words)
    seen = [
        *(Seen(probe=a.probe, answer=a.answer, told=a.told) for a in understood),
        *(seen_as(chain, text, UNITS) for text in observed),
    ]
    belief = engine.belief(seen)
    settled = engine.settled(belief)
    told: dict[str, Any] = {
        "strategy": strategy,
        "suspects": [s.model_dump() for s in engine.suspects(belief)],
        "entropy_bits": entropy_bits(belief),
        "next": [a.model_dump() for a in advised(engine, seen, strategy)],
        "settled": settled is not None,
        "settled_stage": settled,
        "contradictions": [c.model_dump(mode="json") for c in engine.contradictions(seen)],
    }
    if as_json:
        return json.dumps(told, ensure_ascii=False, allow_nan=False)
    return "\n".join([*_understood_in_words(chain, understood, words), _in_words(engine, told)])


def _understood_in_words(chain: Any, understood: list[Any], words: _Told) -> list[str]:
    """Each answer that the words were taken for, so that it can be set right; and that they were taken for none."""
    lines = []
    for answer in understood:
        probe = chain.by_probe[answer.probe]
        said = probe.with_words(probe.said(answer.answer))
        lines.append(f"Understood from '{answer.words}': {said} [{probe.id}={answer.answer}]")
    if not understood and (words.symptom.strip() or words.found):
        lines.append("Understood from the words: nothing that a probe of this chain shows")
    return lines


def _in_words(engine: Any, told: dict[str, Any]) -> str:
    chain = engine.chain
    lines = []
    for suspect in told["suspects"][:8]:
        where = "not listed" if suspect["stage"] is None else chain.by_stage[suspect["stage"]].name
        names = " and ".join(chain.by_fault[f].name for f in suspect["fault"].split("+") if f in chain.by_fault)
        lines.append(f"{suspect['probability']:6.1%}  {where}{f': {names}' if names else ''}")
    if told["settled"]:
        lines.append(f"Settled: {chain.by_stage[told['settled_stage']].name}")
    for place, advice in enumerate(told["next"]):
        probe = chain.by_probe[advice["probe"]]
        lines.append(
            f"{'Next' if place == 0 else 'or'}: "
            f"{probe.what}{f' ({probe.where})' if probe.where else ''} [{probe.id}], "
            f"{advice['minutes']:g} minutes, risk {advice['risk']}"
        )
        lines.append(f"      healthy: {advice['expect']}. {advice['why']}")
        if probe.caution:
            lines.append(f"      {probe.caution}")
    lines += [f"Contradiction: {c['why']}" for c in told["contradictions"]]
    return "\n".join(lines)
