"""Suspicion in words, and what each look did to it."""

from collections.abc import Sequence

from young_spark.core.trace.chain import Chain
from young_spark.core.trace.suspicion import SETTLED, Engine, Seen

MOVED = 0.04  # of the suspicion: less is not worth a word


def likely(share: float) -> str:
    """A share in words, for who cannot see the weight of ink."""
    steps = ((SETTLED, "settled"), (0.5, "very likely"), (0.2, "likely"), (0.07, "possible"), (0.02, "hardly"))
    return next((words for least, words in steps if share >= least), "cleared")


def what_it_did(engine: Engine, evidence: Sequence[Seen], look: Seen) -> str:
    """What one look did to the suspicion, against all the others without it: what it cleared, where it points."""
    with_it = engine.by_stage(engine.belief(evidence))
    without = engine.by_stage(engine.belief([s for s in evidence if s != look]))
    moved = {stage: share - without.get(stage, 0.0) for stage, share in with_it.items() if stage is not None}
    up = [s for s in sorted(moved, key=lambda s: -moved[s]) if moved[s] >= MOVED][:2]
    down = [s for s in sorted(moved, key=lambda s: moved[s]) if moved[s] <= -MOVED][:2]
    told = []
    if up:
        told.append(f"points to {_names(engine, up)}")
    if down:
        told.append(f"takes suspicion off {_names(engine, down)}")
    return "; ".join(told) or "moves little"


def to_clear(chain: Chain, fault_id: str) -> tuple[str, ...]:
    """What is put right or looked for before power comes back, once a fault is proven, each a line to tick off."""
    fault = chain.by_fault[fault_id]
    company = (*fault.killed_by, *fault.takes)
    return (*fault.clear, *(f"{chain.by_fault[name].name}: looked for" for name in company))


def _names(engine: Engine, stages: Sequence[str | None]) -> str:
    return " and ".join(engine.chain.by_stage[s or ""].name.lower() for s in stages)
