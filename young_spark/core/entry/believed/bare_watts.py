"""Watts that only the figure before them says: '3.7w ch 20 13.8' ends on the volts of the supply, and '3.9w am, 1.2 rx'
on its amps. Both are asked."""

from collections.abc import Sequence

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import EntryContext
from young_spark.core.entry.facts.said import Breath, Said

_SENT = {"carrier_power", "peak_envelope_power", "mean_power"}
_MOST_TIMES = 1.5  # what a set gives at most, where nobody says that it is watts
_LEAST_APART = 2.0  # times what was typed as watts before it


def has_bare_watts(breath: Breath, facts: Sequence[Fact], context: EntryContext) -> bool:
    """Whether a figure without a unit or a name was taken for a power that it hardly is."""
    powers = [said for said in breath.said if said.quantity in _SENT and not said.derived]
    watts = max((said.value or 0.0 for said in powers if not _is_bare(said, facts)), default=0.0)
    if len(powers) != 2 or not watts:
        return False
    bare = [said for said in powers if _is_bare(said, facts)]
    return any(_is_too_much(said, watts, context) or _is_in_a_state(said, facts) for said in bare)


def _is_bare(said: Said, facts: Sequence[Fact]) -> bool:
    typed = 0 <= said.at < len(facts) and facts[said.at].kind == "figure"
    return typed and not said.named and facts[said.at].unit is None


def _is_too_much(said: Said, watts: float, context: EntryContext) -> bool:
    most = context.greatest_power_w
    return most is not None and said.value is not None and said.value > max(_MOST_TIMES * most, _LEAST_APART * watts)


def _is_in_a_state(said: Said, facts: Sequence[Fact]) -> bool:
    """Whether how the unit stood was said beside it: a power is always read keyed, what feeds the unit is not."""
    beside = [facts[n] for n in (said.at - 1, said.at + 1) if 0 <= n < len(facts)]
    return any(fact.kind == "how" and fact.of == "state" for fact in beside)
