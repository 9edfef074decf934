"""What the field answers while one types."""

from typing import Any, Literal

from young_spark.core.entry.facts.fact import FigureRead
from young_spark.core.figure import Conditions, Instrument, Measured, Phase, default_for, instrument_classes, typical
from young_spark.core.ground import Frozen
from young_spark.core.judging import ChannelPlan, Profile, Situation, VerdictLine
from young_spark.core.path import Correction, Path, correction, place_of, walk


class Expected(Frozen):
    """The current line: what the plan wants read next."""

    quantity: str
    ask: str = ""
    row: str | None = None
    expected: float | None = None


class Earlier(Frozen):
    """A reading that stands already, for sums that need it and for the slip guard."""

    quantity: str
    value: float
    uncertainty: float | None
    conditions: Conditions
    phase: Phase
    indication_only: bool = False


class Repeated(Frozen):
    """A figure that an instrument gave several times: 95 % half-width of their mean in its own unit, and words for
    it."""

    half_width: float
    words: str


class Point(Frozen):
    """An open line, as far as a text may fill in its address from it."""

    quantity: str
    mode: str | None = None
    channel: int | None = None
    frequency_hz: float | None = None
    power_setting: str | None = None
    state: str | None = None
    item: str | None = None
    place: str | None = None


OF_AN_AERIAL = {"swr", "swr_minimum", "return_loss", "forward_power", "reflected_power"}


class EntryContext(Frozen):
    """Everything besides the text that decides what a figure means."""

    conditions: Conditions = Conditions()
    expected: Expected | None = None
    instruments: dict[str, Instrument] = {}
    profiles: dict[str, Profile] = {}
    channel_plan: ChannelPlan | None = None
    earlier: tuple[Earlier, ...] = ()
    greatest_power_w: float | None = None
    repeated: Repeated | None = None
    path: Path | None = None
    points: tuple[Point, ...] = ()
    power_settings: tuple[str, ...] = ()  # of the unit's model
    modes: tuple[str, ...] = ()
    lent: tuple[str, ...] = ()  # conditions that only the current line asks for: of no figure of another quantity
    set_by_hand: frozenset[str] = frozenset()  # conditions that a chip says, and no line of the plan
    high_voltage: bool = False  # of the unit's kind: amps that nobody names are a valve's
    last_place: str | None = None  # where the newest reading was taken, inside of the unit
    last_state: str | None = None
    rows_before: tuple[tuple[tuple[str, float], ...], ...] = ()  # what lines of late read at one place, newest first
    places_before: tuple[tuple[str, str], ...] = ()  # of a line of late: its quantity at several points, in their order
    channels_before: tuple[tuple[str, int], ...] = ()  # of that, on several channels
    frequencies_before: tuple[tuple[str, float], ...] = ()  # of that, at several frequencies in Hz
    newest_figures: tuple[FigureRead, ...] = ()  # as the newest line of readings was typed
    newest_words: str | None = None  # the kind of the slip's newest line, where it is one of words without a figure
    own_words: dict[str, str] = {}  # of the shop: each with the word of the program that it stands for

    def names(self) -> frozenset[str]:
        """Words in small letters that something here is called by: a point, a control, a setting, an instrument."""
        of_points = (name for point in self.points for name in (point.place, point.item, point.power_setting))
        here = (self.conditions.place, self.conditions.item, self.conditions.setting, self.last_place)
        called = (
            *self.power_settings,
            *of_points,
            *here,
            *(i.name for i in self.instruments.values()),
            *self.own_words,
        )
        return frozenset(word for name in called if name for word in name.lower().split())

    def instrument_for(self, function: str) -> Instrument:
        """The instrument of the chip where it has the function, else the one that hangs in the path, else the
        typical one."""
        chip = self._named(self.conditions.instrument or "")
        if chip is not None and function in chip.functions:
            return chip
        if self.conditions.instrument is None:
            for part, _ in walk(self.path) if self.path else ():
                there = self._named(part.instrument or "")
                if there is not None and function in there.functions:
                    return there
        return default_for(function)

    def _named(self, name: str) -> Instrument | None:
        return self.instruments.get(name) or (typical(name) if name in instrument_classes() else None)

    def correction_for(self, instrument: Instrument, at_hz: float | None = None) -> Correction | None:
        """What the path takes away before an instrument that hangs in it; None for any other."""
        place = place_of(self.path, instrument.id) if self.path else None
        if self.path is None or place is None:
            return None
        return correction(self.path, place, at_hz or self.assigned_hz())

    def last(self, quantity: str) -> Earlier | None:
        """The newest earlier reading of a quantity that is more than an indication."""
        return next((e for e in reversed(self.earlier) if e.quantity == quantity and not e.indication_only), None)

    def assigned_hz(self) -> float | None:
        """Assigned frequency in Hz: the chip's, or of the channel in the plan."""
        if self.conditions.frequency_hz is not None:
            return self.conditions.frequency_hz
        if self.channel_plan is None or self.conditions.channel is None:
            return None
        return next((c.hz for c in self.channel_plan.channels if c.number == self.conditions.channel), None)

    def judged_by(self, conditions: Conditions, quantity: str) -> dict[str, Profile]:
        """The limits of what leaves the unit: none for a figure of a point inside of it, or of something else."""
        other = conditions.item not in {None, "load"} and quantity not in OF_AN_AERIAL
        inner = conditions.place is not None or conditions.function is not None
        return {} if inner or other or conditions.setting == "bypassed" else self.profiles

    def situation(self, conditions: Conditions) -> Situation:
        """What limits may depend on, for a reading taken under these conditions."""
        carrier, fed = self.last("carrier_power"), self.last("supply_voltage")
        return Situation(
            mode=conditions.mode,
            power_setting=conditions.power_setting,
            state=conditions.state,
            modulation=conditions.modulation,
            assigned_hz=self.assigned_hz(),
            carrier_w=carrier.value if carrier else None,
            supply_v=fed.value if fed else None,
        )


class Meaning(Frozen):
    """One reading of the text: the figures it gives, each with its verdicts, the principal one first.

    `each` are the conditions of every figure where they differ; `remark` the words that are no part of any."""

    title: str
    figure: str
    readings: tuple[Measured, ...]
    verdicts: tuple[tuple[VerdictLine, ...], ...]
    conditions: Conditions
    each: tuple[Conditions, ...] = ()
    remark: str = ""

    def conditions_of(self, position: int) -> Conditions:
        """The conditions that a figure was taken under."""
        return self.each[position] if self.each else self.conditions


StoryKind = Literal[
    "note",
    "said",
    "wish",
    "found",
    "did",
    "adjusted",
    "stage",
    "lock",
    "unlock",
    "wait",
    "arrived",
    "advice",
    "watch",
    "changed",
    "picture",
    "clear",
    "struck",
]


class SetUpAct(Frozen):
    """What was done with a sequence of adjustments: it was begun or ended, a step of it left out or taken up again."""

    sequence: str
    act: Literal["begin", "end", "leave out", "take up"]
    step: str | None = None


class StoryLine(Frozen):
    """A line of words: its kind, the words, and what could be told apart in them."""

    kind: StoryKind
    words: str
    part_out: str | None = None
    part_in: str | None = None
    reason: Literal["bad", "suspect", "precaution", "owners_wish", "company_damage"] | None = None
    cost: float | None = None
    minutes: float | None = None
    area: str | None = None
    area_by_hand: bool = False  # somebody said what it can change
    was: tuple[str, ...] = ()  # the kinds that the line was taken for before a hand set it right
    adjuster: str | None = None
    value_found: str | None = None
    value_left: str | None = None
    on_the_way: tuple[float, ...] = ()  # what was read while it was turned, but for what is left, in the figure's unit
    stage: str | None = None
    state: Literal["good", "weak", "dead"] | None = None
    condition: Literal["supply_v", "covers", "configuration"] | None = None
    condition_value: str | None = None
    row: str | None = None  # the line of the plan that is struck off, or
    mode: str | None = None  # the mode whose lines are
    set_up: SetUpAct | None = None


class Guard(Frozen):
    """A quiet question of the slip guard; it never blocks."""

    code: str
    text: str


class Choice(Frozen):
    """One answer to a question: the sense of that number, or where the hand is now."""

    label: str
    sense: int | None = None
    sets: dict[str, Any] = {}


class Understanding(Frozen):
    """What was understood of the text: figures, a story line, or one short question.

    `chosen` is the meaning that Enter would take; None while a question is open. `as_note` is the line of words that a
    second Enter takes then: nothing is ever refused. An adjustment that ended on a figure is words and a reading."""

    text: str
    sets: dict[str, Any] = {}  # where the hand is now, where the text says only that
    meanings: tuple[Meaning, ...] = ()
    chosen: int | None = None
    story: StoryLine | None = None
    question: str | None = None
    guards: tuple[Guard, ...] = ()
    as_note: StoryLine | None = None
    choices: tuple[Choice, ...] = ()  # the answers to the question, four at most
