"""What each hypothesis would show at each probe, from the graph; nobody types a table."""

from typing import Literal

from young_spark.core.trace.chain import (
    ANSWERS,
    Chain,
    Fault,
    Function,
    FunctionProbe,
    OutputProbe,
    PartProbe,
    Probe,
    StressProbe,
)

StageState = Literal["good", "weak", "dead"]
WORSE = {"good": 0, "weak": 1, "dead": 2}


def states_of(chain: Chain, faults: tuple[Fault, ...]) -> dict[str, StageState]:
    """The output of every stage while these faults are there: its own state, or that of the worst of what it hangs
    on."""
    own: dict[str, StageState] = {}
    for fault in faults:
        spoilt: list[tuple[str, StageState]] = [(name, "weak") for name in fault.weakens]
        spoilt += [(rail, "dead") for rail in fault.pulls]
        spoilt += [(fault.stage, fault.effect)] if fault.effect != "none" else []
        for name, effect in spoilt:
            if WORSE[effect] > WORSE[own.get(name, "good")]:
                own[name] = effect
    states: dict[str, StageState] = {}

    def state(name: str) -> StageState:
        if name not in states:
            stage = chain.by_stage[name]
            fed = [state(other) for other in (*stage.after, *stage.needs)]
            if stage.holds:
                fed = ["good" if s == "weak" else s for s in fed]
            if stage.at_rest and any(state(other) == "dead" for other in stage.needs):
                fed = ["weak", state(stage.at_rest)]
            states[name] = max([own.get(name, "good"), *fed], key=WORSE.__getitem__)
        return states[name]

    return {name: state(name) for name in chain.by_stage}


def expected_answer(chain: Chain, faults: tuple[Fault, ...], probe: Probe, states: dict[str, StageState]) -> str:
    """What the probe answers while these faults are there, if it does not err."""
    for fault in faults:
        if fault.id in probe.exceptions:
            return probe.exceptions[fault.id]
    match probe:
        case PartProbe():
            told = (probe.tests[f.id] for f in faults if f.id in probe.tests)
            starved = (answer for name, answer in probe.where_dead.items() if states[name] == "dead")
            return next(told, next(starved, probe.answers[0]))
        case StressProbe():
            return "changes" if _stirs(chain, faults, probe) else ANSWERS[probe.kind][0]
        case FunctionProbe():
            return _function(chain.by_function[probe.function], states)
    if probe.past is not None:
        states = states_of(chain, tuple(f for f in faults if f.stage != probe.past))
    state = states[probe.at]
    if probe.kind == "current":
        return _current(chain, faults, probe, states)
    return state


def _stirs(chain: Chain, faults: tuple[Fault, ...], probe: StressProbe) -> bool:
    """Whether the stress reaches a fault that it brings out: cold spray and a hand that moves a lead are aimed at
    one stage, a tap or warmth goes through everything before it."""
    reached = {probe.at} if probe.stress in {"cold", "flex"} else chain.behind[probe.at]
    return any(probe.stress in f.stress and f.stage in reached for f in faults)


def _function(function: Function, states: dict[str, StageState]) -> str:
    worst = max((states[s] for s in function.shows_at), key=WORSE.__getitem__)
    if any(states[s] == "dead" for s in function.carried_by):
        worst = "dead"
    return "works" if worst == "good" else worst


def _current(chain: Chain, faults: tuple[Fault, ...], probe: OutputProbe, states: dict[str, StageState]) -> str:
    """Supply current while it is keyed: a class C final without drive takes none, one that idles takes that of rest;
    what dies behind the final takes the usual."""
    for fault in faults:
        if fault.current is not None:
            return fault.current
    state = states[probe.at]
    if state == "dead" and any(_idles(chain, faults, name, states) for name in chain.behind[probe.at]):
        return "low"
    return {"good": "normal", "weak": "low", "dead": "no_rise"}[state]


def _idles(chain: Chain, faults: tuple[Fault, ...], name: str, states: dict[str, StageState]) -> bool:
    """Whether a stage draws its current at rest: it has its rails and bias, is well itself, and has no drive."""
    stage = chain.by_stage[name]
    fed = all(states[other] != "dead" for other in stage.needs)
    return stage.idles and fed and all(fault.stage != name for fault in faults)
