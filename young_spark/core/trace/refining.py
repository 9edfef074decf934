"""A chain as one model has it: its own levels and places, and its known weak points. Hearsay is a hint, not a
verdict."""

from collections import Counter
from collections.abc import Iterable

from young_spark.core.gear import Model, ModelNote, ModelPoint
from young_spark.core.ground import UnknownName, nearest
from young_spark.core.trace.chain import Chain, ChainStage, Fault, OutputProbe, Probe, StressProbe

SAME_MODEL = 2  # a closed job of the same model counts once for its chain, and once for the model
HEARSAY_TIMES = 2.0  # what is only said makes a fault at most so much likelier


def refined(chain: Chain, model: Model) -> Chain:
    """The chain with what is known of a model. What the model says of a probe or fault that this chain has not (a
    shop may have corrected it) changes nothing; `unknown_names` finds that in shipped files."""
    points = {point.probe: point for point in model.points}
    levels = {
        probe.at: point.level
        for name, point in points.items()
        if point.level and isinstance(probe := chain.by_probe.get(name), OutputProbe | StressProbe)
    }
    times = {note.fault: _times(note) for note in model.notes if note.fault is not None}
    same = {name: getattr(chain, name) for name in Chain.model_fields}  # a copy would keep what it has worked out
    return Chain(
        **same
        | {
            "stages": tuple(_stage(stage, levels.get(stage.id)) for stage in chain.stages),
            "probes": tuple(_probe(probe, points.get(probe.id)) for probe in chain.probes),
            "faults": tuple(_fault(fault, times.get(fault.id, 1.0)) for fault in chain.faults),
        }
    )


def unknown_names(chain: Chain, model: Model) -> list[UnknownName]:
    """What a model says of probes and faults that its chain has not."""
    probes = [p.probe for p in model.points if p.probe not in chain.by_probe]
    faults = [n.fault for n in model.notes if n.fault is not None and n.fault not in chain.by_fault]
    return [
        *(UnknownName("probe", name, nearest(name, chain.by_probe)) for name in probes),
        *(UnknownName("fault", name, nearest(name, chain.by_fault)) for name in faults),
    ]


def weak_points(chain: Chain, model: Model) -> tuple[str, ...]:
    """What moves the suspicion along this chain before anything is seen, in words."""
    return tuple(
        f"{note.text} {'Proven' if note.proven else 'Hearsay'}: counts {_times(note):g} times."
        for note in model.notes
        if note.fault in chain.by_fault
    )


def learnt(closed: Iterable[tuple[str, str]], model: str) -> dict[str, int]:
    """What closed jobs of a chain, each with its proven fault and its model, add to the shares of a unit of `model`
    ('' for one without)."""
    counts: Counter[str] = Counter()
    for fault, of_model in closed:
        counts[fault] += SAME_MODEL if model and of_model == model else 1
    return dict(counts)


def _times(note: ModelNote) -> float:
    return note.times if note.proven else min(note.times, HEARSAY_TIMES)


def _stage(stage: ChainStage, level: str | None) -> ChainStage:
    return stage if level is None else stage.model_copy(update={"level": level})


def _probe(probe: Probe, point: ModelPoint | None) -> Probe:
    if point is None:
        return probe
    figure = probe.figure
    if point.good is not None and figure is not None:
        figure = figure.model_copy(update={"good": point.good})
    return probe.model_copy(update={"where": point.where or probe.where, "figure": figure})


def _fault(fault: Fault, times: float) -> Fault:
    return fault if times == 1.0 else fault.model_copy(update={"weight": fault.weight * times})
