"""A text that ends on the name of a quantity and says no more than where: its figure is still to come."""

from collections.abc import Sequence

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.figure import QUANTITIES

SAYS_WHERE = {"where", "how", "place", "item", "link"}


def waits_for_its_figure(facts: Sequence[Fact]) -> str | None:
    """'14.2 MHz cw carrier power ': the quantity whose figure is not typed yet; None of any other text. A name that is
    a word of every sentence waits for nothing."""
    if not facts or facts[-1].kind != "quantity" or facts[-1].of not in QUANTITIES:
        return None
    before = facts[:-1]
    told = all(f.kind in SAYS_WHERE or _is_a_frequency(f) for f in before)
    return facts[-1].of if told and before and len(facts[-1].text) > SHORTEST else None


def _is_a_frequency(fact: Fact) -> bool:
    return fact.kind == "figure" and fact.unit in {"Hz", "m"} and fact.value > 1


SHORTEST = 3  # letters
