"""Which line of the plan a text answers: the current one, or the first open one of its own kind."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from young_spark.core.entry import EntryContext, Understanding, understand
from young_spark.core.figure import Conditions
from young_spark.core.gear import BANDS_M, SAME_BAND, PlanRow
from young_spark.core.job.plans import OpenLine
from young_spark.core.judging import ChannelPlan


@dataclass(frozen=True)
class Placed:
    """What a text means, the open line it answers, and the conditions it is taken under."""

    meant: Understanding
    row: PlanRow | None
    conditions: Conditions


@dataclass(frozen=True)
class Spoken:
    """Where the hand is. Where it said so itself, every quantity is read `there`; else only those that `of` names, and
    others where it was `before`."""

    there: Conditions
    of: frozenset[str] | None = None
    not_since: frozenset[str] = frozenset()  # what was read there before the last repair, and nowhere behind it
    before: "Spoken | None" = None
    never: frozenset[str] = frozenset()  # what was read elsewhere and not there, though the plan may have said there

    def for_these(self, meant: Understanding) -> Conditions | None:
        """The place, where what a text means is read there."""
        quantities = {r.quantity for r in meant.meanings[meant.chosen or 0].readings}
        if (self.of is None and not quantities & self.never) or quantities & (self.of or frozenset()):
            return self.there
        return None if self.before is None else self.before.for_these(meant)


def placed(
    text: str,
    conditions: Conditions,
    current: PlanRow | None,
    open_lines: Sequence[OpenLine],
    context_of: Callable[[Conditions, PlanRow | None], EntryContext],
    hand: Spoken | None = None,
) -> Placed:
    """What a text would be on a slip. A figure of another kind than the current line wants answers the first open
    line of its own kind, under that line's conditions: hands do not always follow the order of the plan. No line moves
    one off the channel or band where the `hand` is, and what answers none is on that channel."""
    meant = understand(text, context_of(conditions, current))
    if meant.chosen is None:
        return _asked_where_the_hand_is(text, conditions, current, hand, context_of, meant)
    spoken = None if hand is None else hand.for_these(meant)
    if (
        spoken is not None
        and current is not None
        and _once_more(
            text, current, spoken, context_of(conditions, current).channel_plan, _is_due_again(text, hand, meant)
        )
    ):
        place = {"channel": spoken.channel, "frequency_hz": spoken.frequency_hz, "supply_v": current.supply_v}
        where = conditions.model_copy(update=place)
        return Placed(understand(text, context_of(where, None)), None, where)
    if _answers(meant, current):
        return _where_the_hand_is(text, conditions, current, spoken, context_of) or Placed(meant, current, conditions)
    if (
        spoken is not None
        and _says_no_channel(conditions)
        and (there := _there(text, spoken, meant, context_of(conditions, current)))
    ):
        conditions = conditions.model_copy(update=there)
        meant = understand(text, context_of(conditions, current))
    if meant.chosen is None:
        return Placed(meant, current, conditions)
    answered = _of_an_open_line(text, conditions, current, open_lines, context_of, meant, spoken)
    return answered or Placed(meant, current, conditions)


def _asked_where_the_hand_is(
    text: str,
    conditions: Conditions,
    current: PlanRow | None,
    hand: Spoken | None,
    context_of: Callable[[Conditions, PlanRow | None], EntryContext],
    meant: Understanding,
) -> Placed:
    """A question whose answers are of another quantity than the current line wants: they stand where the hand is."""
    as_it_is = Placed(meant, current, conditions)
    if hand is None or current is None or not meant.meanings or not _says_no_channel(conditions):
        return as_it_is
    quantities = {reading.quantity for meaning in meant.meanings for reading in meaning.readings}
    spoken = hand.for_these(meant)
    if spoken is None or current.quantity in quantities:
        return as_it_is
    there = conditions.model_copy(update={"channel": spoken.channel, "frequency_hz": spoken.frequency_hz})
    again = understand(text, context_of(there, current))
    return Placed(again, current, there) if again.chosen is None else as_it_is


def _where_the_hand_is(
    text: str,
    conditions: Conditions,
    current: PlanRow | None,
    spoken: Conditions | None,
    context_of: Callable[[Conditions, PlanRow | None], EntryContext],
) -> Placed | None:
    """The answer to a line that leaves open where, on the frequency that was spoken; None where all is said."""
    if current is None or spoken is None or spoken.frequency_hz is None or not _says_no_channel(conditions):
        return None
    if current.channel is not None or current.frequency_hz is not None:
        return None
    there = conditions.model_copy(update={"frequency_hz": spoken.frequency_hz})
    meant = understand(text, context_of(there, current))
    return Placed(meant, current, there) if _answers(meant, current) else None


def _of_an_open_line(
    text: str,
    conditions: Conditions,
    current: PlanRow | None,
    open_lines: Sequence[OpenLine],
    context_of: Callable[[Conditions, PlanRow | None], EntryContext],
    meant: Understanding,
    spoken: Conditions | None,
) -> Placed | None:
    """The first open line of its own kind that the text answers, and is not elsewhere than where the hand is."""
    base = current.left_behind(conditions) if current else conditions
    quantities = {r.quantity for r in meant.meanings[meant.chosen or 0].readings}
    stays = spoken is not None and _stays(spoken, meant)
    plan = context_of(conditions, current).channel_plan
    for line in open_lines:
        if line.row.quantity not in quantities or (
            stays and spoken is not None and _is_elsewhere(line.row, spoken, plan)
        ):
            continue
        wanted = line.row.conditions(base)
        again = understand(text, context_of(wanted, line.row))
        if _answers(again, line.row) and _stands_at(again, line.row):
            return Placed(again, line.row, wanted)
    return None


def _stands_at(meant: Understanding, row: PlanRow) -> bool:
    """Whether a text that says its channel or frequency says that of the line: on another one it lends no mode."""
    meaning = meant.meanings[meant.chosen or 0]
    at = next(
        (meaning.conditions_of(n) for n, r in enumerate(meaning.readings) if r.quantity == row.quantity),
        meaning.conditions,
    )
    if row.channel is not None and at.channel is not None:
        return at.channel == row.channel
    hz, there = row.frequency_hz, at.frequency_hz
    return hz is None or there is None or abs(there - hz) <= max(row.within, SAME_BAND) * hz


def _there(text: str, spoken: Conditions, meant: Understanding, context: EntryContext) -> dict[str, object]:
    """The channel that was spoken; or the frequency, as the plan has it in that band. What a counter shows says itself
    where it is."""
    if spoken.channel is not None:
        return {"channel": spoken.channel}
    said = spoken.frequency_hz
    counted = COUNTED & {r.quantity for r in meant.meanings[meant.chosen or 0].readings}
    if said is None or (counted and COUNT.search(text)):
        return {}
    planned = (point.frequency_hz for point in context.points if point.frequency_hz is not None)
    return {"frequency_hz": next((hz for hz in planned if abs(said - hz) <= SAME_BAND * hz), said)}


def _is_due_again(text: str, hand: Spoken | None, meant: Understanding) -> bool:
    """Whether the first reading of a text is the first of its kind behind a repair, where it was read before that; a
    bare figure answers the line that is shown."""
    first = meant.meanings[meant.chosen or 0].readings[0].quantity
    return hand is not None and first in hand.not_since and BARE.fullmatch(text.strip()) is None


def _once_more(text: str, current: PlanRow, spoken: Conditions, plan: ChannelPlan | None, due: bool) -> bool:
    """'still 3.6w' where the next channel is wanted, or its first figure behind a repair: what the hand looks at is
    where it was."""
    return (due or AGAIN.search(text) is not None) and _is_elsewhere(current, spoken, plan)


BARE = re.compile(r"[+-]?[\d.]+ ?[^\W\d]{0,4}%?")
AGAIN = re.compile(r"\b(?:again|still|once more|re-?checked|as before)\b(?! on\b| at\b)", re.IGNORECASE)
COUNT = re.compile(r"\d[.,]\d{3,}")  # of megahertz
COUNTED = {"carrier_frequency", "frequency_error"}


def is_said_in(text: str, channel: int | None, frequency_hz: float | None) -> bool:
    """Whether a text says by itself that it is of a channel or a frequency: by its number, its megahertz or the metres
    of its band."""
    if channel is not None and channel in map(int, CHANNELS.findall(text)):
        return True
    for number in map(float, NUMBERS.findall(text)):
        if frequency_hz is None:
            continue
        band = BANDS_M.get(int(number), 0.0) if number.is_integer() else 0.0
        if abs(number * 1e6 / frequency_hz - 1) < SAME_MEGAHERTZ or abs(band / frequency_hz - 1) < SAME_BAND:
            return True
    return False


NUMBERS = re.compile(r"(?<![\w.])(?:ch)?(\d{1,4}(?:\.\d{1,4})?)(?![\d.])", re.IGNORECASE)
SAME_MEGAHERTZ = 0.01
# no figure in a unit: '19w' is no channel
CHANNELS = re.compile(
    r"(?<![\w.])(?:ch(?:an(?:nel)?)?\.? ?)?(\d{1,3})(?![\w.%]| ?(?:m?w|m?v|m?a|%|k?hz|k|db\w?)\b)", re.IGNORECASE
)


def _says_no_channel(conditions: Conditions) -> bool:
    return conditions.channel is None and conditions.frequency_hz is None


def _stays(spoken: Conditions, meant: Understanding) -> bool:
    """Whether a text stands where the hand is, as far as it and the current line say."""
    at = meant.meanings[meant.chosen or 0].conditions
    if at.channel is not None or spoken.channel is not None:
        return at.channel == spoken.channel
    hz, there = at.frequency_hz, spoken.frequency_hz
    return hz is not None and there is not None and abs(there - hz) <= SAME_BAND * hz


def _is_elsewhere(row: PlanRow, spoken: Conditions, plan: ChannelPlan | None) -> bool:
    """Whether a line is of another channel or band than where the hand stands; with a plan of channels one may be said
    by its frequency."""
    if row.channel is not None and spoken.channel is not None:
        return row.channel != spoken.channel
    hz, at = row.frequency_hz, spoken.frequency_hz
    if at is None and spoken.channel is not None and plan is not None:
        on = next((channel.hz for channel in plan.channels if channel.number == spoken.channel), None)
        return hz is not None and on is not None and abs(on - hz) > SAME_CHANNEL_HZ
    return hz is not None and at is not None and abs(at - hz) > max(row.within, SAME_BAND) * hz


SAME_CHANNEL_HZ = 3e3


def _answers(meant: Understanding, row: PlanRow | None) -> bool:
    """Whether the chosen sense gives what the row wants, in the state of the supply that it wants."""
    if row is None or meant.chosen is None:
        return False
    meaning = meant.meanings[meant.chosen]
    return row.quantity in {r.quantity for r in meaning.readings} and row.state in {None, meaning.conditions.state}
