"""The transmit chain as a graph: stages with what they need, functions, faults, probes. Data files say it
(`chain_file`)."""

from functools import cached_property
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field, model_validator

from young_spark.core.ground import Frozen, UnknownName, nearest

Name = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z][a-z0-9_]*$")]
Effect = Literal["dead", "weak", "none"]  # none: its stage goes on, and only looks that name it tell
StageKind = Literal["signal", "audio", "reference", "rail", "key", "control"]
ProbeKind = Literal["level", "dc", "audio", "function", "current", "resistance", "part", "look", "stress", "ear"]
Risk = Literal["low", "medium", "high", "lethal"]
Draw = Literal["normal", "low", "no_rise", "high"]
Stress = Literal["warm", "cold", "tap", "flex"]
ALL_OF_IT = "*"
HIGH = "high"  # more than is due
LAST_HAND = "last_hand"  # the probe that every chain with faults made by hand has: whether somebody was inside

# how often an answer of this kind of test is not the one that the fault gives: ear, tap and in-circuit tests err more
ERROR: dict[ProbeKind, float] = {
    "level": 0.03,
    "dc": 0.02,
    "audio": 0.05,
    "function": 0.03,
    "current": 0.05,
    "resistance": 0.07,
    "part": 0.03,
    "look": 0.08,
    "stress": 0.12,
    "ear": 0.12,
}
ANSWERS: dict[ProbeKind, tuple[str, ...]] = {
    "level": ("good", "weak", "dead"),
    "dc": ("good", "weak", "dead"),
    "audio": ("good", "weak", "dead"),
    "ear": ("good", "weak", "dead"),
    "function": ("works", "weak", "dead"),
    "current": ("normal", "low", "no_rise", "high"),
    "resistance": ("good", "bad"),
    "part": ("good", "bad"),
    "look": ("nothing", "seen"),
    "stress": ("no_change", "changes"),
}
USUAL_WORDS = {"nothing": "nothing wrong seen", "seen": "something wrong seen", "no_rise": "does not rise"}


class ChainStage(Frozen):
    """A stage, or a rail, key line or control that stages need. `after` is what feeds it: two or more are
    alternatives of one path, each of which must be well. `level` is what is due at its output, in its own plane,
    in words. One that `holds` (a regulator) gives its full output while what feeds it is only weak; one that `idles`
    (class AB, a valve) draws its current at rest while it is not driven. A changeover passes `at_rest` another stage
    on, while what it needs is dead: of an amplifier that is not keyed the exciter's own power comes out, too little."""

    id: Name
    name: str = Field(min_length=1, max_length=80)
    kind: StageKind = "signal"
    after: tuple[str, ...] = ()
    needs: tuple[str, ...] = ()
    level: str = Field("", max_length=120)
    place: str = Field("", max_length=120)
    holds: bool = False
    idles: bool = False
    at_rest: str = Field("", max_length=60)


class Fault(Frozen):
    """What can go wrong in a stage. `weight` is how often, against the others of its chain; `pulls` are rails that
    it drags down, `weakens` stages that share with its own what it spoils; `stress` is what brings a thermal or loose
    one out; `killed_by` and `takes` are the company it keeps; `clear` is what is put right before power comes back.
    One that is made `by_hand` is likelier where somebody was inside."""

    id: Name
    stage: str
    name: str = Field(min_length=1, max_length=120)
    weight: float = Field(1.0, gt=0, le=1000, allow_inf_nan=False)
    effect: Effect = "dead"
    current: Draw | None = None
    pulls: tuple[str, ...] = ()
    weakens: tuple[str, ...] = ()
    stress: tuple[Stress, ...] = ()
    ages: bool = False
    minutes: float = Field(15.0, gt=0, le=6000, allow_inf_nan=False)
    cost: float = Field(1.0, ge=0, le=1e5, allow_inf_nan=False)
    killed_by: tuple[str, ...] = ()
    takes: tuple[str, ...] = ()
    clear: tuple[str, ...] = ()
    by_hand: bool = False


class Function(Frozen):
    """Something that the unit does, and the stages at whose output it shows: all that feeds them and that they need
    is used. What it is `carried_by` must be there, weak or not: modulation on a weak carrier is modulation. A
    reading taken in one of its `modes`, or between its `mhz`, is a try of it."""

    id: Name
    name: str = Field(min_length=1, max_length=80)
    shows_at: tuple[str, ...] = Field(min_length=1)
    carried_by: tuple[str, ...] = ()
    modes: tuple[str, ...] = ()
    mhz: tuple[float, float] | None = None


class DueFigure(Frozen):
    """A figure that is an answer by its range: `good`, below `dead_below` dead, between them weak."""

    unit: str = Field(max_length=8)
    good: tuple[float, float]
    dead_below: float | None = None


class AnyProbe(Frozen):
    """Something to look at. `tests` are the faults it tells, with what each of them answers; `exceptions` are
    answers that the graph would get wrong. A figure of the slip of a quantity that it `reads` (in that `state` of
    the unit) is an answer by its share of what is due. One that is only `told` is known from the check-in and
    never advised. `words` say an answer in its own way, where its name could be taken the wrong way round: with
    another microphone it transmits, so this one is bad."""

    needs: ClassVar[tuple[str, ...]] = ()  # what no probe of its kind can be without

    id: Name
    kind: ProbeKind
    what: str = Field(min_length=1, max_length=160)
    where: str = Field("", max_length=160)
    tests: dict[str, str] = {}
    exceptions: dict[str, str] = {}
    words: dict[str, str] = {}
    minutes: float = Field(2.0, gt=0, le=600, allow_inf_nan=False)
    fragile: float = Field(0.0, ge=0, le=60, allow_inf_nan=False)
    covers: bool = False
    risk: Risk = "low"
    caution: str = Field("", max_length=200)
    figure: DueFigure | None = None  # in a file `unit`, `good` and `dead_below` beside the rest
    error: float | None = Field(None, gt=0, lt=0.5)
    due: str = Field("", max_length=80)  # what a healthy unit shows, where that is not the level of its stage
    reads: tuple[str, ...] = ()
    state: Literal["standby", "receive", "transmit"] | None = None
    told: bool = False
    of_the_signal: bool = False  # it asks how that is which goes out: nothing to ask where nothing does
    live: bool = False  # power is on for it, although it is a test of a part
    damage: bool = False  # what it finds (an arc, a burnt part) bars keyed looks until the cold tests are done

    @model_validator(mode="before")
    @classmethod
    def _whole(cls, row: Any) -> Any:
        """Fold a figure's range into one; refuse half a probe."""
        if not isinstance(row, dict):
            return row
        if any(not row.get(name) for name in cls.needs):
            raise ValueError(f"a probe of kind {row.get('kind')} needs {' and '.join(cls.needs)}")
        figure = {name: row[name] for name in ("unit", "good", "dead_below") if name in row}
        if not figure:
            return row
        good = figure.get("good")
        if "unit" not in figure or (isinstance(good, list) and len(good) == 2 and good[0] > good[1]):
            raise ValueError("its range needs a unit, and runs from low to high")
        return {name: value for name, value in row.items() if name not in figure} | {"figure": figure}

    @property
    def stages(self) -> tuple[str, ...]:
        """The stages that it names."""
        return ()

    @property
    def special(self) -> tuple[str, ...]:
        """Answers that its file gives."""
        return (*self.tests.values(), *self.exceptions.values())

    @property
    def answers(self) -> tuple[str, ...]:
        """The answers it can have, the healthy one first."""
        more = dict.fromkeys(self.special)
        if self.kind == "dc" and self.figure is not None:
            more.setdefault(HIGH)  # a rail at 13.8 V that should be 8 is not well
        told = [a for a in more if a not in ANSWERS[self.kind]]
        base = ANSWERS[self.kind]
        return (base[0], *told) if told and set(more) == set(told) and self.kind == "resistance" else (*base, *told)

    def said(self, answer: str) -> str:
        """An answer in words."""
        return self.words.get(answer) or USUAL_WORDS.get(answer) or answer.replace("_", " ")

    def with_words(self, words: str) -> str:
        """What was looked at, and what was seen there."""
        return f"{self.what} {words}" if self.what.endswith("?") else f"{self.what}: {words}"

    @property
    def is_powered(self) -> bool:
        """Whether the unit is on for it."""
        return self.live or self.kind not in {"resistance", "part", "look"}

    @property
    def is_live_danger(self) -> bool:
        """Whether it is a measurement at a lethal point while it is live: its hazard is confirmed by name before it."""
        return self.risk == "lethal"

    @property
    def errs(self) -> float:
        """How often its answer is not the one that the fault gives."""
        return ERROR[self.kind] if self.error is None else self.error


class OutputProbe(AnyProbe):
    """What a stage gives: `at` its output. A signal that is put in goes `past` a stage: what is wrong there does not
    show."""

    needs = ("at",)

    kind: Literal["level", "dc", "audio", "current", "ear"]
    at: str
    past: str | None = None

    @property
    def stages(self) -> tuple[str, ...]:
        """The stages that it names."""
        return (self.at,) if self.past is None else (self.at, self.past)


class FunctionProbe(AnyProbe):
    """Whether a `function` of the unit works."""

    needs = ("function",)

    kind: Literal["function"]
    function: str


class StressProbe(AnyProbe):
    """Whether warmth, cold, a tap or a hand on a lead `at` a stage changes anything."""

    needs = ("at", "stress")

    kind: Literal["stress"]
    at: str
    stress: Stress

    @property
    def stages(self) -> tuple[str, ...]:
        """The stages that it names."""
        return (self.at,)


class PartProbe(AnyProbe):
    """A look at parts, or a test of one: the faults that it tells. `where_dead` are its answers while a stage is dead
    that it hangs on: no idle current without a rail."""

    needs = ("tests",)

    kind: Literal["resistance", "part", "look"]
    where_dead: dict[str, str] = {}

    @property
    def stages(self) -> tuple[str, ...]:
        """The stages that it names."""
        return tuple(self.where_dead)

    @property
    def special(self) -> tuple[str, ...]:
        """Answers that its file gives."""
        return (*super().special, *self.where_dead.values())


Probe = Annotated[OutputProbe | FunctionProbe | StressProbe | PartProbe, Field(discriminator="kind")]


class Compound(Frozen):
    """Two faults that come together: damage in company."""

    faults: tuple[str, str]
    weight: float = Field(0.3, gt=0, le=1000, allow_inf_nan=False)
    why: str = Field("", max_length=160)


class Chain(Frozen):
    """A whole chain: every name in it is there, nothing feeds itself. `output` is the stage that gives what goes
    out. `high_voltage` are the stages from which on it is in the unit; ALL_OF_IT for the whole of it."""

    id: str
    title: str
    about: str = ""
    stages: tuple[ChainStage, ...] = Field(min_length=1)
    faults: tuple[Fault, ...] = Field(min_length=1)
    functions: tuple[Function, ...] = ()
    probes: tuple[Probe, ...] = ()
    compounds: tuple[Compound, ...] = ()
    output: str
    not_listed: float = 0.06
    high_voltage: tuple[str, ...] = ()

    def is_lethal(self, probe: "Probe") -> bool:
        """Whether a look is made with the covers off and power on where high voltage is, whatever the point."""
        if not (probe.covers and probe.is_powered and self.high_voltage):
            return False
        everywhere = ALL_OF_IT in self.high_voltage
        return everywhere or any(not self.behind[stage].isdisjoint(self.high_voltage) for stage in probe.stages)

    @cached_property
    def by_stage(self) -> dict[str, ChainStage]:
        """Stages by id, in signal order."""
        return {s.id: s for s in self.stages}

    @cached_property
    def by_fault(self) -> dict[str, Fault]:
        """Faults by id."""
        return {f.id: f for f in self.faults}

    @cached_property
    def by_probe(self) -> dict[str, Probe]:
        """Probes by id."""
        return {p.id: p for p in self.probes}

    @cached_property
    def by_function(self) -> dict[str, Function]:
        """Functions by id."""
        return {f.id: f for f in self.functions}

    @cached_property
    def behind(self) -> dict[str, frozenset[str]]:
        """For each stage, itself and everything that must be well for its output to be: what feeds it and what it
        needs."""
        found: dict[str, frozenset[str]] = {}

        def through(name: str) -> frozenset[str]:
            if name not in found:
                stage = self.by_stage[name]
                found[name] = frozenset({name}).union(*(through(n) for n in (*stage.after, *stage.needs)))
            return found[name]

        for stage in self.stages:
            through(stage.id)
        return found

    @cached_property
    def order(self) -> dict[str, int]:
        """How far along the signal each stage stands, from the source on."""
        return {s.id: len(self.behind[s.id]) * 1000 + n for n, s in enumerate(self.stages)}

    def probe(self, probe_id: str) -> Probe:
        """A probe by id. Raises UnknownName."""
        if probe_id not in self.by_probe:
            raise UnknownName("probe", probe_id, nearest(probe_id, self.by_probe))
        return self.by_probe[probe_id]
