"""Whether going on is worth it: what is spent, what is still to come, and what the owner and the unit can bear."""

from collections.abc import Sequence

from young_spark.core.ground import Frozen
from young_spark.core.trace.next_probe import Advice, prices_of
from young_spark.core.trace.suspicion import SETTLED, Engine, Seen, Weights, entropy_bits

SETTLED_BITS = entropy_bits([SETTLED, 1 - SETTLED])  # what is left of the suspicion where a stage is settled on
LATER = 1.6  # later looks tell less for their time than the next one: so much over simulated traces
STEP_MIN = 5  # nothing of this is known to the minute


class Worth(Frozen):
    """The worth-it line: in words, and whether it says to stop and ask."""

    words: str
    stop: bool


def minutes_to_go(engine: Engine, evidence: Sequence[Seen], following: Sequence[Advice]) -> float | None:
    """Minutes until a stage is settled on, turning to each probe included, from what the next look tells for its
    time; None where no probe tells anything more."""
    left = entropy_bits(engine.groups @ engine.belief(evidence)) - SETTLED_BITS
    if left <= 0:
        return 0.0
    if not following or following[0].bits <= 0:
        return None
    prices = dict(zip((p.id for p in engine.probes), prices_of(engine, evidence), strict=True))
    return LATER * left * float(prices[following[0].probe]) / following[0].bits


def parts_to_come(engine: Engine, belief: Weights) -> float:
    """What the parts will cost, each suspect's with its share; what is not listed is taken to cost nothing."""
    price = {f.id: f.cost for f in engine.chain.faults}
    return sum(
        s.probability * sum(price.get(name, 0.0) for name in s.fault.split("+")) for s in engine.suspects(belief)
    )


def worth_it(
    *, to_go: float | None, minutes: int, spent: float, to_come: float, value: float | None, ceiling: float | None
) -> Worth:
    """The line. It says stop where the parts go over the owner's ceiling, or over what the unit is worth."""
    together = spent + to_come
    told = [f"{minutes} min and {spent:.2f} in parts so far"]
    if to_go is not None and to_go > 0:
        told.append(f"about {max(STEP_MIN, STEP_MIN * round(to_go / STEP_MIN))} min of looking to go")
    told.append(f"parts likely {to_come:.2f} more")
    if ceiling is not None and together > ceiling:
        return Worth(words=f"{'; '.join(told)}: over the owner's ceiling of {ceiling:g}. Stop, and ask.", stop=True)
    if value is not None and together > value:
        return Worth(words=f"{'; '.join(told)}: more than the {value:g} it is worth. Stop, and ask.", stop=True)
    bounds = [f"ceiling {ceiling:g}" if ceiling is not None else "", f"worth {value:g}" if value is not None else ""]
    known = ", ".join(b for b in bounds if b)
    return Worth(words=f"{'; '.join(told)}{f' ({known})' if known else ''}.", stop=False)
