"""A job's slip as the core sees it: facts, changes, what is stale, what is open."""

from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from threading import Lock
from typing import TypeVar, cast
from uuid import UUID

from young_spark.core.entry import (
    POWERS,
    Earlier,
    EntryContext,
    Expected,
    FigureRead,
    Point,
    StoryLine,
    figure_words,
    figures_on_the_way,
    part_in,
)
from young_spark.core.figure import Conditions, Instrument, Phase, Verdict
from young_spark.core.gear import JobPart, Model, PlanRow, Revision, revision_of
from young_spark.core.job import (
    Begun,
    Change,
    Pending,
    SetUpStanding,
    Spoken,
    Turn,
    dependencies,
    is_said_in,
    lines_of,
    phases,
    plans,
    set_up,
    still_pending,
    story,
    with_the_step,
)
from young_spark.core.judging import ChannelPlan, Profile, mapped, read_selector, verdict_words
from young_spark.core.path import Path
from young_spark.server.benches.services import in_use
from young_spark.server.jobs.models import Item, Job, Line
from young_spark.server.library.own_models import gear
from young_spark.server.library.services import known_plans, profiles_of, shop_instruments, shop_words
from young_spark.server.readings.models import Reading

Where = TypeVar("Where", int, float)  # a channel, or a frequency in Hz

CHANGE_KINDS = {"did": "repair", "adjusted": "adjustment", "changed": "condition"}
LATELY = 8  # lines
LENT = ("modulation", "mode", "power_setting")  # what a line asks for, and no figure of another quantity takes from it
NOT_YET = 1 << 31  # the place on a slip of what is not on it yet: behind every line
SETTLED_SINGLY = {"wish", "clear"}
KEPT_READINGS = 20_000  # at about 5 kB each


@dataclass(frozen=True)
class State:
    """One item of a job with its standing lines and readings; everything else follows from them."""

    job: Job | None
    item: Item | None
    lines: tuple[Line, ...]
    readings: tuple[Reading, ...]
    loose_model: str | None = None  # what loose lines are judged by

    @property
    def is_first_item(self) -> bool:
        """Whether it is the item by which the shelf knows the job."""
        return self.item is not None and self.item.position == 0

    def with_line(self, line: Line, readings: list[Reading]) -> "State":
        """The state with one more line."""
        return State(self.job, self.item, (*self.lines, line), (*self.readings, *readings), self.loose_model)

    @cached_property
    def model(self) -> Model | None:
        """The item's model in the library, or its kind."""
        if self.item is None:
            return gear(self.loose_model or "")
        item = self.item
        return gear(item.model, item.rated_w, item.name, self._fed_v, version=item.model_version)

    @cached_property
    def revision(self) -> Revision | None:
        """The revision of its model that the item's serial number tells."""
        return revision_of(self.item.serial, self.model.revisions) if self.item and self.model else None

    @property
    def _fed_v(self) -> float | None:
        """The volts that were read last at the supply, and not at a point behind it."""
        of_supply = (r for r in reversed(self.standing_readings) if r.quantity == "supply_voltage")
        return next((r.value for r in of_supply if not r.as_conditions.place), None)

    @cached_property
    def profiles(self) -> dict[str, Profile]:
        """The limit profiles that figures are held against."""
        return profiles_of(self.model)

    @cached_property
    def standing(self) -> tuple[Line, ...]:
        """The lines that were not taken back."""
        return tuple(line for line in self.lines if line.withdrawn_at is None)

    @cached_property
    def stories(self) -> tuple[tuple[Line, StoryLine], ...]:
        """Standing lines of words, as the core knows them."""
        return tuple((line, StoryLine.model_validate(line.story)) for line in self.standing if line.story)

    @cached_property
    def standing_readings(self) -> tuple[Reading, ...]:
        """Readings of standing lines, in the order of the slip."""
        there = {line.id for line in self.standing}
        return tuple(r for r in self.readings if r.line_id in there)

    @cached_property
    def facts(self) -> tuple[plans.ReadingFact, ...]:
        """The standing readings as the plan sees them."""
        numbers = {line.id: line.number for line in self.standing}
        return tuple(self._fact(r, numbers[r.line_id]) for r in self.standing_readings)

    @cached_property
    def changes(self) -> tuple[Change, ...]:
        """Repairs, adjustments and changed conditions."""
        planned = {row.quantity for row in self.model.plan} if self.model else set()
        return tuple(
            Change(
                order=line.number,
                kind=CHANGE_KINDS[line.kind],
                words=part_in(story) or story.words.split(",")[0],
                area=story.area if story.area_by_hand else dependencies().area_in(story.area, planned),
                condition=story.condition,
                value=story.condition_value,
            )
            for line, story in self.stories
            if line.kind in CHANGE_KINDS
        )

    @cached_property
    def stale(self) -> dict[str, str]:
        """Reading id → why it counts no more."""
        return plans.stale_readings(self.facts, self.changes, self.model, dependencies())

    @cached_property
    def plan_rows(self) -> tuple[PlanRow, ...]:
        """What the plan wants, without what may not be transmitted on."""
        return plans.on_allowed_channels(plans.rows_wanted(self.model, self.facts), self.channel_plan)

    @cached_property
    def begun(self) -> Begun | None:
        """The sequence that is followed now, with what was left out of it."""
        acts = [(line.number, told.set_up) for line, told in self.stories if told.set_up is not None]
        order, first = next(((n, a) for n, a in reversed(acts) if a.act in {"begin", "end"}), (0, None))
        sequences = self.model.sequences if self.model else ()
        sequence = next((s for s in sequences if first and first.act == "begin" and s.id == first.sequence), None)
        if sequence is None:
            return None
        left_out = {a.step: a.act == "leave out" for n, a in acts if n > order and a.step}
        return Begun(sequence, order, frozenset(step for step, left in left_out.items() if left))

    @cached_property
    def set_up(self) -> SetUpStanding | None:
        """How that sequence stands."""
        if self.begun is None:
            return None
        turns = [_turn(line.number, told) for line, told in self.stories if line.kind == "adjusted"]
        return set_up(self.begun, self.facts, turns, self.plan_rows)

    @cached_property
    def rows(self) -> tuple[PlanRow, ...]:
        """What the plan wants, and behind it what a sequence that is followed reads besides."""
        more = lines_of(self.begun.sequence, self.plan_rows) if self.begun else ()
        return (*self.plan_rows, *more)

    @cached_property
    def channel_plan(self) -> ChannelPlan | None:
        """The channels of the model, as this unit's selector has them."""
        plan = known_plans().get(self.model.channel_plan or "") if self.model else None
        return mapped(plan, read_selector(self.item.selector)) if self.item and self.item.selector else plan

    @property
    def part(self) -> JobPart:
        """The part of the job that the work stands in."""
        return cast(JobPart, self.job.part) if self.job else "in"

    @property
    def phase(self) -> Phase:
        """The phase of a line of words that is written now."""
        return "in_work" if self.job is None or phases.touched(self.changes) else "as_received"

    def phase_of(self, quantity_id: str) -> Phase:
        """The phase of a figure that is read now."""
        return phases.phase_of(quantity_id, NOT_YET, self.changes, dependencies()) if self.job else "in_work"

    @cached_property
    def locks(self) -> tuple[Pending, ...]:
        """What makes the unit not safe to power, each by itself."""
        return self._still_pending("lock", "unlock")

    @cached_property
    def waits(self) -> tuple[Pending, ...]:
        """What the job waits for, each by itself."""
        return self._still_pending("wait", "arrived")

    def _still_pending(self, opened: str, ended: str) -> tuple[Pending, ...]:
        def of(kind: str) -> list[Pending]:
            return [
                Pending(id=str(line.id), order=line.number, words=story.words, ticked=self._newest_at(line.settled_at))
                for line, story in self.stories
                if line.kind == kind
            ]

        return still_pending(of(opened), of(ended))

    def _newest_at(self, moment: datetime | None) -> int | None:
        """The place of the line that was the newest at a moment."""
        return max((line.number for line in self.lines if moment and line.at <= moment), default=0) if moment else None

    @property
    def locked_because(self) -> str:
        """Why the unit is not safe to power, or an empty string."""
        return "; ".join(one.words for one in self.locks)

    @cached_property
    def struck(self) -> frozenset[str]:
        """The lines of the plan that were struck off: not fitted, not asked for."""
        told = [story for line, story in self.stories if line.kind == "struck"]
        rows, modes = {story.row for story in told}, {story.mode for story in told if story.mode}
        return frozenset(row.id for row in self.plan_rows if row.id in rows or row.mode in modes)

    @cached_property
    def wanted(self) -> tuple[PlanRow, ...]:
        """The lines of the plan that stand."""
        return tuple(row for row in self.plan_rows if row.id not in self.struck)

    @cached_property
    def open_lines(self) -> tuple[plans.OpenLine, ...]:
        """What the plan still wants where the job stands; nothing under power while the unit is not safe."""
        if self.job is None:
            return ()
        phase = phases.wanted_phase(self.part, self.changes)
        open_now = plans.open_lines(self.wanted, phase, self.facts, self.stale)
        if phase == "as_received":
            open_now = plans.asked_in(self.part, open_now)
        if not self.waits_for_first_power:
            open_now = with_the_step(self.set_up, self.rows, open_now)
        return plans.while_not_safe(open_now) if self.locked_because else open_now

    @property
    def waits_for_first_power(self) -> bool:
        """Whether high voltage is at stake and was not put on yet as the kind asks: no step of a sequence goes before
        that."""
        lethal = self.model is not None and self.model.high_voltage
        first = [row for row in self.wanted if row.first_power]
        return lethal and bool(plans.open_lines(first, "as_received", self.facts, self.stale))

    @cached_property
    def unsettled(self) -> tuple[str, ...]:
        """What was asked for and is not settled, in words."""
        touched = story.touched_words([told for _, told in self.stories])
        pending = (told for line, told in self.stories if line.kind in SETTLED_SINGLY and line.settled_at is None)
        refusals = story.refusals_in([told for line, told in self.stories if line.kind == "note"])
        return tuple(
            told.words
            for told in pending
            if not story.is_kept(told.words, touched) and story.refusal_of(told.words, refusals) is None
        )

    @cached_property
    def next_row(self) -> str | None:
        """The open line that comes next: the step of a sequence that is followed, else after what was read last."""
        if (step := self.set_up and self.set_up.next_step) and any(o.row.id == step.row for o in self.open_lines):
            return step.row
        answered = next((r.plan_row for r in reversed(self.standing_readings) if r.plan_row), None)
        return plans.next_line(self.rows, self.open_lines, answered)

    @cached_property
    def points(self) -> tuple[Point, ...]:
        """Where the plan wants what: a text may name one of them by its channel, band or setting."""
        names = set(Point.model_fields)
        return tuple(Point.model_validate(row.model_dump(include=names)) for row in self.rows)

    @cached_property
    def retest(self) -> tuple[plans.OpenLine, ...]:
        """The shortest list that would prove the unit again."""
        if phases.wanted_phase(self.part, self.changes) == "as_received":
            return ()
        return plans.retest(self.wanted, self.facts, self.stale)

    @cached_property
    def standing_job(self) -> plans.Standing:
        """How the job stands, for what is next."""
        job = self.job
        if job is None:
            return plans.Standing(part="in")
        arrived = max((line.number for line, _ in self.stories if line.kind == "arrived"), default=0)
        return plans.Standing(
            part=self.part,
            waiting_for="; ".join(one.words for one in self.waits),
            arrived=arrived > 0 and not any(c.order > arrived for c in self.changes),
            locked=self.locked_because,
            planned=bool(self.wanted),
            open_now=self.open_lines,
            retest=self.retest,
            unsettled=self.unsettled,
            handed_back=job.handed_back_at is not None,
        )

    @cached_property
    def path(self) -> Path | None:
        """The path of the bench that the job has in use."""
        row = in_use(self.job)
        return row.as_path if row is not None else None

    def _fact(self, reading: Reading, order: int) -> plans.ReadingFact:
        measured = reading.as_measured
        return plans.ReadingFact(
            id=str(reading.id),
            line=str(reading.line_id),
            order=order,
            quantity=reading.quantity,
            phase=self._phase_at(reading, order),
            plan_row=reading.plan_row,
            conditions=reading.as_conditions,
            nothing=measured.read_as == "nothing",
            seen_only=measured.reason == "not_measured",
            value=measured.value,
            uncertainty=measured.uncertainty,
            is_bound=measured.bound is not None,
            verdict=reading.worst_verdict.verdict if reading.worst_verdict else Verdict.NO_VERDICT,
            verdict_words=verdict_words(reading.worst_verdict),
            figure=figure_words(measured),
        )

    def _phase_at(self, reading: Reading, order: int) -> Phase:
        return phases.phase_of(reading.quantity, order, self.changes, dependencies(), reading.as_conditions)

    def row(self, row_id: str | None) -> PlanRow | None:
        """A wanted row by id."""
        return next((row for row in self.rows if row.id == row_id), None)

    @cached_property
    def _rows_before(self) -> tuple[tuple[tuple[str, float], ...], ...]:
        """What the lines of late read, each in the order in which it was typed and where all of it stands at one band
        or channel, the newest first; what only follows from that is left out."""
        rows: list[tuple[tuple[str, float], ...]] = []
        for line in reversed(self.standing[-LATELY:]):
            row = [r for r in self.standing_readings if r.line_id == line.pk and r.value is not None and not r.bound]
            typed = [r for r in row if r.as_measured.method != "worked out"]
            there = {(r.as_conditions.channel, r.as_conditions.frequency_hz) for r in typed} - {(None, None)}
            if len(typed) > 1 and len(there) == 1:
                rows.append(tuple((r.quantity, r.value) for r in typed if r.value is not None))
        return tuple(rows)

    def spoken(self, row_id: str | None) -> Spoken | None:
        """Where the hand is: at the newest figure that stands anywhere behind the last repair, else where the current
        line is, else where it was before. Where a plan's line may have said that place, only what was read there before
        is of it, and behind a repair only what was read nowhere else."""
        repaired = max((line.number for line in self.standing if line.kind == "did"), default=0)
        typed = [r for r in self.standing_readings if r.as_measured.method != "worked out"]
        placed = [(_where(r.as_conditions), r) for r in typed if _where(r.as_conditions) != NOWHERE]
        row = self.row(row_id)
        if placed and placed[-1][1].line.number > repaired:
            return self._at_the_newest(placed, repaired)
        was = self._was_before(placed)
        if row is not None and (row.channel, row.frequency_hz) != NOWHERE:
            there = (row.channel, row.frequency_hz)
            return Spoken(Conditions(channel=there[0], frequency_hz=there[1]), self._read_at(there), before=was)
        return was

    def _at_the_newest(
        self, placed: Sequence[tuple[tuple[int | None, float | None], Reading]], repaired: int
    ) -> Spoken:
        """The place of the newest of these readings. What was read elsewhere and never there stays with the plan where
        a line of it is of that place."""
        there, newest = placed[-1]
        row = self.row(newest.plan_row)
        planned = row is not None and (row.channel, row.frequency_hz) == there
        since = {r.quantity for _, r in placed if r.line.number > repaired}
        before = {r.quantity for at, r in placed if at == there and r.line.number <= repaired}
        not_since = frozenset(before - since)
        if not planned:
            return Spoken(newest.as_conditions, None, not_since)
        read = self._read_at(there)
        said = is_said_in(newest.line.text, *there)
        elsewhere = frozenset(r.quantity for at, r in placed if at != there)
        return Spoken(newest.as_conditions, None if said else read, not_since, never=elsewhere - read)

    def _was_before(self, placed: Sequence[tuple[tuple[int | None, float | None], Reading]]) -> Spoken | None:
        """Where the hand was at the newest of these readings, for what was read there and nowhere else."""
        if not placed:
            return None
        there = placed[-1][0]
        elsewhere = frozenset(r.quantity for at, r in placed if at != there)
        never = frozenset(row.quantity for row in self.rows) - {r.quantity for r in self.standing_readings}
        return Spoken(Conditions(channel=there[0], frequency_hz=there[1]), (self._read_at(there) - elsewhere) | never)

    def _read_at(self, there: tuple[int | None, float | None]) -> frozenset[str]:
        """The quantities that were read on a channel or a frequency."""
        return frozenset(r.quantity for r in self.standing_readings if _where(r.as_conditions) == there)

    @cached_property
    def _newest_figures(self) -> tuple[FigureRead, ...]:
        """What the newest line of readings read, as it was typed; what only follows from that is left out."""
        newest = self.standing_readings[-1].line_id if self.standing_readings else None
        mine = (r for r in self.standing_readings if r.line_id == newest and r.value is not None)
        return tuple(
            FigureRead(quantity=r.quantity, value=r.value, bound=r.as_measured.bound)
            for r in mine
            if r.as_measured.method != "worked out"
        )

    @cached_property
    def _places_before(self) -> tuple[tuple[str, str], ...]:
        """What the newest line with one quantity at several points read, with each of them."""
        for line in reversed(self.standing[-LATELY:]):
            row = [r for r in self.standing_readings if r.line_id == line.pk]
            at = [(r.quantity, r.as_conditions.place or "") for r in row]
            if len(at) > 1 and len({quantity for quantity, _ in at}) == 1 and len({p for _, p in at} - {""}) == len(at):
                return tuple(at)
        return ()

    @cached_property
    def _channels_before(self) -> tuple[tuple[str, int], ...]:
        """What the newest line with one quantity on several channels read, with each of them."""
        return self._one_at_several(lambda there: there.channel)

    @cached_property
    def _frequencies_before(self) -> tuple[tuple[str, float], ...]:
        """What the newest line with one quantity at several frequencies read, with each of them in Hz."""
        return self._one_at_several(lambda there: there.frequency_hz)

    def _one_at_several(self, point: Callable[[Conditions], Where | None]) -> tuple[tuple[str, Where], ...]:
        """The newest line of late with one quantity at several points of a kind, in their order; each figure has its
        own."""
        for line in reversed(self.standing[-LATELY:]):
            row = [r for r in self.standing_readings if r.line_id == line.pk]
            at = [(r.quantity, there) for r in row if (there := point(r.as_conditions)) is not None]
            if len(at) == len(row) > 1 and len({quantity for quantity, _ in at}) == 1 and len(set(at)) == len(at):
                return tuple(at)
        return ()

    @property
    def _newest_words(self) -> str | None:
        """The kind of the newest line, where it is one of words and holds no figure."""
        newest = self.standing[-1] if self.standing else None
        read = newest is not None and any(r.line_id == newest.pk for r in self.standing_readings)
        return None if newest is None or read or newest.kind == "reading" else newest.kind

    @property
    def _last_place(self) -> str | None:
        """Where the last reading was made, unless hands have left it for a repair since."""
        there = self.standing_readings
        return there[-1].as_conditions.place if there and self._newest_words != "did" else None

    @cached_property
    def _earlier(self) -> tuple[Earlier, ...]:
        return tuple(e for r in self.standing_readings if (e := _earlier(r)) is not None)

    @cached_property
    def _power_settings(self) -> tuple[str, ...]:
        return tuple(dict.fromkeys(row.power_setting for row in self.rows if row.power_setting))

    @cached_property
    def _own_words(self) -> dict[str, str]:
        return shop_words()  # a query: read once for all the lines that a text may stand at

    def context(
        self, conditions: Conditions, row_id: str | None, instruments: dict[str, Instrument] | None = None
    ) -> EntryContext:
        """What decides the meaning of a text typed now, under the chips that the hand set."""
        row = self.row(row_id)
        last = self.standing_readings[-1].as_conditions if self.standing_readings else None
        by_hand = conditions.model_fields_set
        conditions = row.under(conditions) if row else conditions
        expected = Expected(quantity=row.quantity, ask=row.ask, row=row.id, expected=row.expected) if row else None
        return EntryContext(
            conditions=conditions,
            expected=expected,
            instruments=shop_instruments() if instruments is None else instruments,
            profiles=self.profiles,
            channel_plan=self.channel_plan,
            earlier=self._earlier,
            greatest_power_w=self.model.greatest_power_w if self.model else None,
            high_voltage=bool(self.model and self.model.high_voltage),
            path=self.path,
            points=self.points,
            power_settings=self._power_settings,
            modes=self.model.modes if self.model else (),
            lent=tuple(name for name in LENT if row and getattr(row, name) and name not in by_hand),
            set_by_hand=frozenset(name for name in by_hand if getattr(conditions, name) is not None),
            last_place=self._last_place,
            last_state=last.state if last else None,
            rows_before=self._rows_before,
            places_before=self._places_before,
            channels_before=self._channels_before,
            frequencies_before=self._frequencies_before,
            newest_figures=self._newest_figures,
            newest_words=self._newest_words,
            own_words=self._own_words,
        )


NOWHERE: tuple[int | None, float | None] = (None, None)


def _where(there: Conditions) -> tuple[int | None, float | None]:
    return there.channel, there.frequency_hz


def _earlier(reading: Reading) -> Earlier | None:
    """A reading that a later sum may lean on: a figure, not a bound."""
    if reading.value is None or reading.bound is not None:
        return None
    conditions = reading.as_conditions
    indication = reading.quantity in POWERS and conditions.instrument == "own_meter"
    return Earlier(
        quantity=reading.quantity,
        value=reading.value,
        uncertainty=reading.uncertainty,
        conditions=conditions,
        phase=reading.phase,
        indication_only=indication,
    )


def state_of(job: Job | None, item: Item | None, loose_model: str | None = None) -> State:
    """The state of one item of a job, read from the database; without a job a bare one, judged by a model at most."""
    if job is None:
        return State(None, None, (), (), loose_model)
    item = item or job.items.first()
    # what was sent stays in the file: a slip shows what was made of it
    lines = tuple(job.lines.select_related("by", "picture").defer("raw").filter(item=item).order_by("number"))
    return State(job, item, lines, _kept.of(job, item))


class _Kept:
    """Readings as they were read last: a reading is never edited, so that a long slip need not be read anew with
    each line.

    The moment at which a reading was made belongs to its key: an id may come again after a line that was not kept."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._found: OrderedDict[tuple[UUID, str, datetime], Reading] = OrderedDict()

    def of(self, job: Job, item: Item | None) -> tuple[Reading, ...]:
        """The readings of an item, in the order of its slip."""
        there = Reading.objects.filter(line__job=job, line__item=item).order_by("line__number", "position")
        keys = list(there.values_list("id", "phase", "at"))
        with self._lock:
            known = {key: self._found[key] for key in keys if key in self._found}
        missing = [key[0] for key in keys if key not in known]
        for n in range(0, len(missing), 500):
            known |= {(r.id, r.phase, r.at): r for r in Reading.objects.filter(pk__in=missing[n : n + 500])}
        with self._lock:
            for key in keys:
                self._found[key] = known[key]
                self._found.move_to_end(key)
            while len(self._found) > KEPT_READINGS:
                self._found.popitem(last=False)
        return tuple(known[key] for key in keys)


_kept = _Kept()


def _turn(order: int, told: StoryLine) -> Turn:
    passed = told.on_the_way or figures_on_the_way(told.words)
    return Turn(order, told.adjuster or told.words, told.value_found or "", passed)
