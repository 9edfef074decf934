"""Which of the answers to a question stands first: the one whose figures are all there, are usual for what they would
be, and are of what this slip reads."""

from young_spark.core.entry.believed.nothing_lost import WORKED_OUT
from young_spark.core.entry.believed.usual import how_far_is
from young_spark.core.entry.facts.meaning import Choice, EntryContext, Meaning, Understanding
from young_spark.core.entry.understood.answers import leaves_a_figure

LEFT_OUT = 2.0  # decades that a figure weighs which is left to the words
UNKNOWN_HERE = 0.7  # of a quantity that neither the plan asks for nor anybody read
ENOUGH = 0.6  # so much likelier another has to be before it takes the first place


def likeliest_first(asked: Understanding, context: EntryContext) -> Understanding:
    """A question with its likeliest answer first; the others stay in their order."""
    if len(asked.choices) < 2 or any(choice.sense is None for choice in asked.choices):
        return asked
    known = {p.quantity for p in context.points} | {e.quantity for e in context.earlier}
    weights = [_weight(_of(choice, asked), known, context) for choice in asked.choices]
    best = min(range(len(weights)), key=weights.__getitem__)
    if weights[0] - weights[best] < ENOUGH:
        return asked
    others = [choice for n, choice in enumerate(asked.choices) if n != best]
    return asked.model_copy(update={"choices": (asked.choices[best], *others)})


def _of(choice: Choice, asked: Understanding) -> Meaning:
    return asked.meanings[choice.sense or 0]


def _weight(meaning: Meaning, known: set[str], context: EntryContext) -> float:
    """How unlikely a sense is, in decades."""
    read = [reading for reading in meaning.readings if reading.method != WORKED_OUT]
    far = max((how_far_is(r.quantity, r.value, context) for r in read), default=0.0)
    stranger = UNKNOWN_HERE * any(r.quantity not in known for r in read)
    return far + stranger + LEFT_OUT * leaves_a_figure(meaning)
