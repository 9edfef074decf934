"""The demo workshop: made-up jobs told through the same services that the web uses, dated around today."""

import io
import itertools
import uuid
from collections.abc import Iterator
from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone
from PIL import Image, ImageDraw
from pydantic import Field

from young_spark.core.figure import Accuracy, Conditions, Detector
from young_spark.core.ground import SHIPPED, Frozen, load
from young_spark.core.path import Path, path_of
from young_spark.server.accounts.models import Person
from young_spark.server.benches import services as benches
from young_spark.server.benches.models import SavedBench
from young_spark.server.jobs import services as jobs
from young_spark.server.jobs.models import Job, Line
from young_spark.server.library.demo_shelf import mark_as_demo
from young_spark.server.library.models import ShopInstrument
from young_spark.server.readings import services as readings
from young_spark.server.readings.models import Reading
from young_spark.server.readings.state import State, state_of
from young_spark.server.tracing import boards
from young_spark.server.tracing import services as tracing
from young_spark.server.tracing.models import Trace

SEED = uuid.UUID("5ba2c0de-0000-4000-8000-000000000001")
STEP = timedelta(minutes=3)


class DemoPerson(Frozen):
    """Somebody of the workshop."""

    name: str
    shown: str
    role: str
    is_keeper: bool = False


class DemoInstrument(Frozen):
    """An instrument; `calibrated` and `due` in days from today."""

    id: str
    name: str
    kind: str
    serial: str
    detector: Detector = "unknown"
    elements_w: tuple[float, ...] = ()
    directivity_db: float | None = None
    functions: dict[str, Accuracy] = {}
    calibrated: int
    due: int
    remark: str = ""
    address: str = ""
    definition: str = ""
    position: int = 9
    key_down_s: float | None = None
    cool_off_s: float | None = None


class DemoBench(Frozen):
    """A bench as the workshop has it laid out."""

    name: str
    path: Path


class DemoJob(Frozen):
    """A job as it was told, or loose lines where it has no words."""

    words: str = ""
    serial: str = ""
    days_ago: int
    by: str
    ceiling: float | None = None
    steps: tuple[str, ...] = Field(min_length=1)


class Workshop(Frozen):
    """The whole demo file."""

    people: tuple[DemoPerson, ...]
    instruments: tuple[DemoInstrument, ...]
    benches: tuple[DemoBench, ...]
    jobs: tuple[DemoJob, ...]
    loose: tuple[DemoJob, ...]


@transaction.atomic
def make_workshop(now: datetime | None = None) -> None:
    """Fill an empty data folder with the demo workshop."""
    mark_as_demo()
    now = now or timezone.now()
    told = load(SHIPPED / "demo" / "workshop.toml", Workshop)
    people = {person.name: _person(person) for person in told.people}
    for instrument in told.instruments:
        _instrument(instrument, now)
    for bench in told.benches:
        benches.save_bench(actor=people[told.people[0].name], name=bench.name, path=bench.path)
    for number, job in enumerate((*told.jobs, *told.loose)):
        _Teller(job, number, people, now).tell()


def _person(told: DemoPerson) -> Person:
    person = Person(username=told.name, first_name=told.shown, role=told.role, is_keeper=told.is_keeper)
    person.set_unusable_password()
    person.save()
    return person


def _instrument(told: DemoInstrument, now: datetime) -> None:
    ShopInstrument.objects.create(
        **told.model_dump(exclude={"calibrated", "due", "functions", "elements_w"}),
        elements_w=list(told.elements_w),
        functions={name: accuracy.model_dump(exclude_defaults=True) for name, accuracy in told.functions.items()},
        calibrated_on=(now + timedelta(days=told.calibrated)).date(),
        calibration_due=(now + timedelta(days=told.due)).date(),
    )


class _Teller:
    """Tells one job step by step, as hands would have, with times of its own."""

    def __init__(self, told: DemoJob, number: int, people: dict[str, Person], now: datetime) -> None:
        self.told, self.people, self.actor = told, people, people[told.by]
        self.ids = _ids(number)
        start = (now - timedelta(days=told.days_ago)).replace(hour=9, minute=10, second=0, microsecond=0) + timedelta(
            minutes=7 * number
        )
        self.clock = min(start, now - STEP * (len(told.steps) + 2))
        self.chips = Conditions()
        self.job: Job | None = None

    def tell(self) -> None:
        """Check in, then every step."""
        if self.told.words:
            self.job = jobs.check_in(actor=self.actor, job_id=next(self.ids), words=self.told.words)
            Job.objects.filter(pk=self.job.pk).update(created_at=self.clock, ceiling=self.told.ceiling)
            Line.objects.filter(job=self.job).update(at=self.clock)
            item = self.job.items.get()
            jobs.change_item(actor=self.actor, item=item, name=None, model=None, serial=self.told.serial)
        for step in self.told.steps:
            self.clock += STEP
            if step.startswith("@"):
                self._beside(*step[1:].split(maxsplit=1))
            else:
                self._line(step)
        if self.job is not None:
            Job.objects.filter(pk=self.job.pk).update(touched_at=self.clock)

    def _beside(self, what: str, words: str = "") -> None:
        if self.job is None:
            raise ValueError(f"loose lines know no @{what}")
        self.job.refresh_from_db()
        if what == "part":
            jobs.change_job(actor=self.actor, job=self.job, changes={"part": words})
            readings.refresh(self.job)
        elif what == "chips":
            self._chips(words)
        elif what == "bench":
            bench = SavedBench.objects.get(name=words)
            benches.use(
                actor=self.actor, job=self.job, path=path_of(bench.path, words), name=words, most_w=None, keyed=False
            )
        elif what == "later":
            self.clock += timedelta(minutes=int(words))
        elif what == "by":
            self.actor = self.people[words]
        elif what == "tick":
            line = next(
                line
                for line in self.job.lines.filter(kind__in=("wish", "wait"))
                if line.story["words"].startswith(words)
            )
            readings.tick(actor=self.actor, line=line, settled=True)
        elif what == "picture":
            self._stamp(
                readings.add_picture(
                    actor=self.actor, job=self.job, line_id=next(self.ids), data=_drawn(words), words=words
                )
            )
        elif what == "board":
            self._board(words)
        elif what == "trace":
            self._trace(*words.split(maxsplit=1))
        elif what == "back":
            jobs.hand_back(actor=self.actor, job=self.job, back=True)
            readings.refresh(self.job)
            Job.objects.filter(pk=self.job.pk).update(handed_back_at=self.clock)
        else:
            raise ValueError(f"no step @{what}")

    def _trace(self, chain: str, words: str) -> None:
        """'chain cause: symptom, then each look' as 'probe=answer', and the fault that was proven."""
        assert self.job is not None
        symptom, looks, proven = (part.strip() for part in words.split("|"))
        trace = tracing.begin(
            actor=self.actor, trace_id=next(self.ids), job=self.job, item=None, chain=chain, symptom=symptom
        )
        Trace.objects.filter(pk=trace.pk).update(at=self.clock)
        for look in looks.split():
            self.clock += STEP
            probe, seen = look.split("=")
            made = tracing.look(actor=self.actor, trace=trace, line_id=next(self.ids), probe=probe, seen=seen)
            self._stamp(made.line)
        tracing.change(actor=self.actor, trace=trace, strategy=None, proven=proven, closed=True)
        Trace.objects.filter(pk=trace.pk).update(closed_at=self.clock)
        Line.objects.filter(job=self.job, at__gt=self.clock).update(at=self.clock)

    def _board(self, words: str) -> None:
        """'side | probe x y name | …': the newest picture is that side of the board, with its pins."""
        assert self.job is not None
        side, *pins = (part.strip() for part in words.split("|"))
        line = self.job.lines.filter(kind="picture").latest("number")
        boards.keep_board(actor=self.actor, job=self.job, line=line, side=side)
        for pin in pins:
            probe, x, y, name = pin.split(maxsplit=3)
            boards.keep_pin(
                actor=self.actor,
                board=line.board,
                pin_id=next(self.ids),
                probe=probe,
                name=name,
                x=float(x),
                y=float(y),
            )

    def _chips(self, words: str) -> None:
        for chip in words.split():
            name, value = chip.split("=")
            self.chips = self.chips.model_copy(update={name: value})
            if name in {"covers", "configuration"}:
                self._line(f"changed {name} {value}")

    def _line(self, text: str) -> None:
        state = state_of(self.job, None) if self.job else State(None, None, (), ())
        row = state.open_lines[0].row if state.open_lines else None
        conditions = row.conditions(self.chips) if row else self.chips
        line = readings.take_line(
            actor=self.actor,
            line_id=next(self.ids),
            text=text,
            job=self.job,
            conditions=conditions,
            row=row.id if row else None,
        )
        self._stamp(line)

    def _stamp(self, line: Line) -> None:
        Line.objects.filter(pk=line.pk).update(at=self.clock)
        Reading.objects.filter(line=line).update(at=self.clock)


def _ids(number: int) -> Iterator[uuid.UUID]:
    """Ids that are the same each time the demo is made."""
    count = 0
    while True:
        yield uuid.uuid5(SEED, f"{number}-{count}")
        count += 1


# a made-up board: its parts, and where their middles are, as shares of its width and height
PARTS = {
    "X1": (0.10, 0.18),
    "IC1": (0.24, 0.22),
    "IC2": (0.24, 0.50),
    "IC3": (0.12, 0.82),
    "R61": (0.40, 0.80),
    "D7": (0.30, 0.86),
    "L9": (0.46, 0.20),
    "Q8": (0.52, 0.34),
    "TP4": (0.585, 0.36),
    "L12": (0.60, 0.22),
    "Q9": (0.68, 0.44),
    "R34": (0.62, 0.52),
    "L14": (0.76, 0.36),
    "C71": (0.80, 0.54),
    "Q10": (0.86, 0.26),
    "L20": (0.91, 0.42),
    "L21": (0.91, 0.56),
    "RL1": (0.86, 0.74),
    "T5": (0.62, 0.78),
    "IC5": (0.46, 0.58),
    "VR3": (0.52, 0.90),
}


def _drawn(words: str) -> bytes:
    """A drawing, plainly no photograph: the whole board, or a part of one with a ring around what the words speak
    of."""
    image = Image.new("RGB", (1200, 800), (52, 74, 60))
    draw = ImageDraw.Draw(image)
    if words.startswith("Whole board"):
        _whole_board(draw)
    else:
        _detail(draw, words)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=85)
    return out.getvalue()


def _whole_board(draw: ImageDraw.ImageDraw) -> None:
    places = [(1200 * x, 800 * y) for x, y in PARTS.values()]
    for (x, y), (to_x, to_y) in itertools.pairwise(places):
        draw.line([(x, y), (to_x, y), (to_x, to_y)], fill=(150, 120, 70), width=5)
    for name, (x, y) in zip(PARTS, places, strict=True):
        wide, high = {"I": (62, 30), "R": (30, 13), "T": (16, 16), "L": (34, 34), "V": (26, 26)}.get(name[0], (26, 22))
        box = [x - wide, y - high, x + wide, y + high]
        if name[0] in "LTV":
            draw.ellipse(box, fill=(188, 132, 84), outline=(30, 30, 26), width=3)
        else:
            draw.rounded_rectangle(box, radius=7, fill=(44, 44, 42), outline=(20, 20, 18), width=2)
        draw.text((x - 5 * len(name), y + high + 4), name, fill=(236, 228, 206), font_size=19)


def _detail(draw: ImageDraw.ImageDraw, words: str) -> None:
    for n in range(14):
        y = 60 + n * 52
        draw.line(
            [(40, y), (300 + (n * 173) % 700, y), (380 + (n * 173) % 700, y + 40), (1160, y + 40)],
            fill=(150, 120, 70),
            width=5,
        )
    for n in range(22):
        x, y = 70 + (n * 211) % 1040, 70 + (n * 137) % 640
        draw.rounded_rectangle(
            [x, y, x + 70 + n % 3 * 24, y + 34],
            radius=8,
            fill=(196 - n * 5, 178 - n * 3, 140),
            outline=(30, 30, 26),
            width=2,
        )
        draw.text((x + 8, y + 10), f"{'RCLQ'[n % 4]}{n + 3}", fill=(20, 20, 18))
    draw.ellipse([760, 420, 940, 560], outline=(240, 170, 40), width=9)
    draw.text((760, 575), words, fill=(245, 236, 214), font_size=30)
