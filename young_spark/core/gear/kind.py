"""Kinds of gear: what a unit without a model is measured by, as functions of what it should give.

Each figure that is due is typical of the kind, and of no maker: the verdict says so."""

import re
import tomllib
from collections.abc import Iterable, Mapping, Sequence
from functools import cache
from typing import Any

from pydantic import Field

from young_spark.core.gear.bands import NAME_ENDS, band_said, frequency_said
from young_spark.core.gear.kind_sequence import KindSequence
from young_spark.core.gear.model import Model, Stage
from young_spark.core.gear.plan_row import AT_FULL_POWER, SAME_BAND, PlanRow
from young_spark.core.gear.sequence import AdjustmentSequence
from young_spark.core.ground import SHIPPED, BadKnowledge, Frozen, Spelling
from young_spark.core.judging import Applies, Profile, RangeRow, channel_plans

TYPICAL = "typical of the kind"
ACCESSORY = "accessory"  # a box that sends nothing
UNNAMED = "any-transmitter"  # stands in until somebody says what it is
SWEEP = 0.007  # of its frequency to either side: about a band of the amateur service, or that of a service of its own
VERSION, DATE = "2026-1", "2026-11-01"
# hands write one for the other
_SAME = {
    "tube": "valve",
    "tubes": "valve",
    "valves": "valve",
    "bottle": "valve",
    "bottles": "valve",
    "triodes": "triode",
    "tetrodes": "tetrode",
    "liner": "linear",
    "boat": "marine",
    "ship": "marine",
    "ships": "marine",
    "transistors": "transistor",
    "mosfets": "mosfet",
    "ldmos": "mosfet",
    "antenna": "aerial",
    "metre": "m",
    "meter": "m",
    "portable": "handheld",
    "handportable": "handheld",
    "walkie": "handheld",
    "handhelds": "handheld",
    "mobiles": "mobile",
    "receivers": "receiver",
    "linears": "linear",
    "amplifiers": "amplifier",
    "bases": "base",
    "aircraft": "airband",
    "aviation": "airband",
}
_IN_FIGURES = {"two": "2", "ten": "10"}
OF_MANY = {"mobile", "base", "set", "rig", "transceiver", "handheld"}  # words that tell little of the kind
OF_A_BAND = {
    "10m", "28", "hf", "vhf", "uhf", "2m", "70cm", "476", "477", "118", "marine", "airband", "aircraft", "airfield",
    "aerodrome", "aero", "aeronautical", "aviation", "glider", "tower",
}  # fmt: skip  # they decide over modes
HIGH_TENSION = {
    "valve",
    "hybrid",
    "triode",
    "tetrode",
    "pentode",
}  # hands are at stake: what says it counts more than a mode
SOLID = {"solid", "transistor", "mosfet"}  # and what says that there is none
PEAKS_OVER_CARRIER = 3.0  # 12 W of peaks beside 4 W of carrier (47 CFR 95.967)
OFF_ITS_CHANNELS = 20.0  # more than all words of a name can say
ABOVE = 1.2  # times the highest band of a kind: another class of gear
LEAST_SHARE = 4.0  # of the power that a line says over the kind's: beyond it the name is of something else
OF_A_CARRIER = {"am", "fm"}
HEADS = {"linear", "amplifier", "amp", "receiver", "transverter", "transvertor"}  # and so does what it is at all
# an amplifier inside of the set, or one that came with it
_PART_OR_EXTRA = re.compile(r"\b(?:audio|af|mic|rf|if|buffer|pre|with(?: an?| the| his| its)?) ?-?amp(?:lifier)?\b")
_ALL_SHORT_WAVES = re.compile(
    r"\b(?:160|80)m? ?(?:-|to|through) ?(?:10|6|2)m\b|\b(?:10|6|2)m? ?(?:-|to|through) ?(?:160|80|40)m\b"
)
_AERIAL = re.compile(r"\b(?:aerial|antenna|whip|dipole|vertical|yagi|beam|mag ?mount|colinear)s?$")
_ACCESSORY = re.compile(
    r"\b(?:pre-?amp|preamplifier|mic|mike|microphone|psu|power supply|power pack|swr (?:meter|bridge)|watt ?meter|"
    r"power meter|dummy load|atu|"
    r"(?:aerial|antenna) tuner|extension speaker|reverb|echo box|frequency counter|voltage (?:reducer|dropper))s?$"
)
_OVER_BANDS = re.compile(r"\d ?m? ?(?:-|–|/|to) ?\d{1,3} ?(?:m|met(?:er|re)s?|mhz)\b", re.IGNORECASE)
_ON_ONE_BAND = re.compile(r"\b(?:kit|qrp|mono-?band(?:er)?|single[- ]band)\b", re.IGNORECASE)
_FED = re.compile(
    r"(?:(?<![\w.])|^)(?P<volts>\d{1,2}(?:\.\d)?) ?v(?:olts?)?(?: dc)?(?= (?:supply|psu|set|system|in\b|dc|fed)|,|$)"
    r"|^(?P<first>\d{1,2}(?:\.\d)?) ?v(?:olts?)?\b",
    re.IGNORECASE,
)
FED_V = (4.5, 60.0)  # V: of batteries and of what stands on a bench
NOMINAL_V = 12.0  # as cars are called that give 13.8 V
_RATED_TWICE = re.compile(r"(?<![\w./])(\d+(?:\.\d+)?) ?/ ?(\d+(?:\.\d+)?) ?w(?:atts?)?\b", re.IGNORECASE)
_IN_AND_OUT = re.compile(r"\b\d+(?:\.\d+)? ?w? ?in[ ,/]*(\d+) ?w? ?out\b", re.IGNORECASE)
_RATED = re.compile(r"(?<![\w.])(\d+(?:[.,]\d+)?) ?([km]?)w(?:atts?)?\b", re.IGNORECASE)
_TIMES = {"": 1.0, "k": 1000.0, "m": 0.001}


class KindRow(PlanRow):
    """A line of a kind's plan: what is due there in the quantity's unit, or as so many times the rated power."""

    expected_times: float | None = None
    due: tuple[float, float] | None = None
    due_times: tuple[float, float] | None = None

    def for_rated(self, rated_w: float, kind: "Kind") -> "KindRow":
        """The line with its figures worked out; a kind without channels takes it at its own frequency."""
        told: dict[str, Any] = {"supply_v": kind.supply_v if self.supply_v is not None else None}
        if self.expected_times is not None and rated_w:
            told["expected"] = self.expected_times * rated_w
        if self.due_times is not None and rated_w:
            told["due"] = (self.due_times[0] * rated_w, self.due_times[1] * rated_w)
        elsewhere = kind.frequency_hz is not None or not kind.channel_plan
        if elsewhere and self.frequency_hz is None and self.state is None:
            told |= {"channel": None, "frequency_hz": kind.frequency_hz}
        return self.model_copy(update=told)

    def drawing(self, share: float) -> "KindRow":
        """The line with so many times the amps for each watt."""
        due = self.due_times
        told = {
            "expected_times": None if self.expected_times is None else self.expected_times * share,
            "due_times": None if due is None else (due[0] * share, due[1] * share),
        }
        return self.model_copy(update=told)

    def around(self, hz: float) -> "KindRow":
        """The line at a frequency in place of its channel."""
        ask = self.ask.replace("channel", "frequency") if self.ask else self.ask
        return self.model_copy(update={"channel": None, "frequency_hz": round(hz, -4), "within": SWEEP / 2, "ask": ask})

    def as_plan_row(self) -> PlanRow:
        """The line as every plan has it."""
        return PlanRow(**{name: getattr(self, name) for name in PlanRow.model_fields})

    def as_limit(self) -> RangeRow | None:
        """What is due there as a row of limits."""
        if self.due is None:
            return None
        near = self.frequency_hz
        return RangeRow(
            id=self.id,
            type="range",
            quantity=self.quantity,
            low=self.due[0],
            high=self.due[1],
            applies=Applies(
                mode=(self.mode,) if self.mode else (),
                state=self.state,
                power_setting=self.power_setting or ("high" if self.quantity in AT_FULL_POWER else None),
                band_hz=(near * (1 - SAME_BAND), near * (1 + SAME_BAND)) if near else None,
                supply_v=self.supply_v if self.quantity == "supply_current" else None,
            ),
            source=TYPICAL,
            date=DATE,
            confidence="check",
        )


class Kind(Frozen):
    """A class of gear with its ratings; `names` are the words by which a check-in line says it."""

    title: str
    names: tuple[str, ...] = ()
    was: tuple[str, ...] = ()  # ids under which earlier versions kept it
    chain: str | None = None
    channel_plan: str = ""
    profiles: tuple[str, ...] = ()
    modes: tuple[str, ...] = ()
    supply_v: float | None = None
    any_supply: bool = False  # its makers choose the volts: what is read at its supply is what it is made for
    frequency_hz: float | None = None  # where a kind without channels is measured
    is_aerial: bool = False  # measured at both ends and the middle of its channels, or of the band that its name says
    of_its_one_band: bool = False  # one whose name says a band is for that alone: '10m valve linear'
    frequency_said: str = ""  # words of a unit that is measured there, as a pattern; without one of them nobody knows
    rated_w: float = Field(ge=0)  # what it should give, until told otherwise; 0: nothing is known
    rated_peak_from_w: float | None = None  # a rating of so many watts or more is of the peaks on a sideband
    most_times: float = Field(2.0, ge=1)  # the most that can come out, as a multiple of that
    most_w: float | None = None  # or the most that can come out where no power is rated
    high_voltage: bool = False
    key_down_s: float | None = None
    cool_off_s: float | None = None
    cautions: tuple[str, ...]
    stages: tuple[Stage, ...]
    plan: tuple[KindRow, ...]
    sequences: tuple[KindSequence, ...] = ()

    def as_model(self, kind_id: str, rated_w: float | None = None) -> Model:
        """A unit of this kind as a model, for what it should give in W."""
        if self.is_aerial and self.frequency_hz is not None:
            return self._off_its_channels(self.frequency_hz).as_model(kind_id, rated_w)
        if self._has_bands() and self.frequency_hz is not None:
            return self._off_its_bands(self.frequency_hz).as_model(kind_id, rated_w)
        rated = self._carrier_of(rated_w or self.rated_w)
        rows = [row.for_rated(rated, self) for row in self.plan if self._has(row)]
        return Model(
            maker="",
            name=self.title,
            kind=self.title,
            kind_id=kind_id,
            rated_w=rated or None,
            generic=True,
            profiles=self.profiles,
            typical=_typical(kind_id, self.title, rows),
            channel_plan=self.channel_plan or None,
            chain=self.chain,
            modes=self.modes,
            supply_v=self.supply_v,
            greatest_power_w=max(rated * self.most_times, self.most_w or 0.0),
            high_voltage=self.high_voltage,
            key_down_s=self.key_down_s,
            cool_off_s=self.cool_off_s,
            cautions=self.cautions,
            stages=self.stages,
            plan=tuple(row.as_plan_row() for row in rows),
            sequences=self._sequences_of(rows, rated),
        )

    def _sequences_of(self, rows: Sequence[KindRow], rated_w: float) -> tuple[AdjustmentSequence, ...]:
        """How a unit with this plan is set up."""
        plan = [row.as_plan_row() for row in rows]
        due = {row.id: row.due for row in rows if row.due is not None}
        told = (sequence.for_unit(plan, due, rated_w, TYPICAL) for sequence in self.sequences)
        return tuple(sequence for sequence in told if sequence is not None)

    def _carrier_of(self, rated_w: float) -> float:
        """The carrier in W of a rating: '12 W' of a sideband set of the citizens band is what its peaks reach."""
        of_peaks = self.rated_peak_from_w is not None and rated_w >= self.rated_peak_from_w
        return rated_w / PEAKS_OVER_CARRIER if of_peaks else rated_w

    def _has(self, row: KindRow) -> bool:
        return row.mode is None or not self.modes or row.mode in self.modes

    def for_unit(self, words: str) -> "Kind":
        """The kind as it is measured of a unit by its words: '23cm' says where a linear stands, and a marine set is on
        no amateur frequency."""
        words = words_of_gear().mended(words)
        volts = volts_in(words)
        if volts == CELLS_V and (self.supply_v or 0.0) < NOMINAL_V:
            volts = None  # a kind that is held in the hand says by itself how it is fed
        return self._with_modes_of(words)._at_frequency_of(words).fed_with(volts)

    def fed_with(self, volts: float | None) -> "Kind":
        """The kind as it is fed with so many volts: what it draws for each watt goes down as they go up."""
        if self.supply_v is None or volts is None or volts == self.supply_v:
            return self
        share = self.supply_v / volts
        plan = tuple(row.drawing(share) if row.quantity == "supply_current" else row for row in self.plan)
        return self.model_copy(update={"supply_v": volts, "plan": plan})

    def _with_modes_of(self, words: str) -> "Kind":
        """'10m FM mobile': of carriers with AM and FM the one that the name says."""
        said = OF_A_CARRIER & _words(NAME_ENDS.split(words)[0])
        planned = {row.mode for row in self.plan}
        if len(said) != 1 or not set(self.modes) >= OF_A_CARRIER or said.isdisjoint(planned):
            return self
        return self.model_copy(update={"modes": tuple(m for m in self.modes if m not in OF_A_CARRIER - said)})

    def _at_frequency_of(self, words: str) -> "Kind":
        if self.is_aerial:
            there = frequency_said(words)
            off = there is not None and not self._has_a_channel_near(there)
            return self.model_copy(update={"frequency_hz": there}) if off else self
        said = None if self.channel_plan else frequency_said(words)
        if self._has_bands():
            alone = _ON_ONE_BAND.search(words) or (self.of_its_one_band and not _OVER_BANDS.search(words))
            own = said and (self._is_above_its_bands(said) or alone)
            return self.model_copy(update={"frequency_hz": said}) if own else self
        if said is not None:
            there = self._near(said) if said == band_said(words) else said
            return self.model_copy(update={"frequency_hz": there})
        elsewhere = self.frequency_said and re.search(self.frequency_said, words, re.IGNORECASE) is None
        return self.model_copy(update={"frequency_hz": None}) if elsewhere else self

    def _off_its_channels(self, hz: float) -> "Kind":
        """The kind measured around a frequency that is on none of its channels."""
        channels = sorted({row.channel for row in self.plan if row.channel is not None})
        points = dict(zip(channels, (hz * (1 - SWEEP), hz, hz * (1 + SWEEP)), strict=True))
        plan = tuple(row if row.channel is None else row.around(points[row.channel]) for row in self.plan)
        return self.model_copy(update={"plan": plan, "channel_plan": "", "profiles": (), "frequency_hz": None})

    def is_off_its_channels(self, words: str) -> bool:
        """Whether the name says a frequency that is near none of the kind's channels: 'AM transmitter 1386 kHz'."""
        said = frequency_said(words) if self.channel_plan else None
        return said is not None and not self._has_a_channel_near(said)

    def _off_its_bands(self, hz: float) -> "Kind":
        """The kind measured at one frequency that is in none of its bands: of lines that differ only in theirs, one."""
        kept: dict[tuple[object, ...], KindRow] = {}
        for row in self.plan:
            alike = row.quantity, row.mode, row.state, row.power_setting, row.channel
            kept.setdefault(alike, row if row.frequency_hz is None else row.model_copy(update={"frequency_hz": hz}))
        return self.model_copy(update={"plan": tuple(kept.values()), "frequency_hz": None})

    def _is_above_its_bands(self, hz: float) -> bool:
        """'2m valve linear': a fault 'on 160m' of a set of the short waves is another thing."""
        return hz > ABOVE * max(row.frequency_hz or 0.0 for row in self.plan)

    def _has_a_channel_near(self, hz: float) -> bool:
        channels = channel_plans()[self.channel_plan].channels if self.channel_plan else ()
        return any(abs(channel.hz / hz - 1) < SAME_BAND for channel in channels)

    def _has_bands(self) -> bool:
        return any(row.frequency_hz is not None for row in self.plan)

    def _near(self, hz: float) -> float:
        """The kind's own frequency where that is in the band."""
        own = self.frequency_hz
        return own if own is not None and abs(own / hz - 1) < SAME_BAND else hz


def _typical(kind_id: str, title: str, rows: Iterable[KindRow]) -> Profile | None:
    limits: dict[tuple[object, ...], RangeRow] = {}
    for limit in (row.as_limit() for row in rows):
        if limit is not None:
            limits.setdefault((limit.quantity, limit.applies, limit.low, limit.high), limit)
    if not limits:
        return None
    return Profile(
        title=f"{title}, typical", kind="specification", version=VERSION, source=TYPICAL, rows=tuple(limits.values())
    )


@cache
def kinds() -> dict[str, Kind]:
    """The shipped kinds by id."""
    return {path.stem: kind_of(path.stem) for path in sorted((SHIPPED / "kinds").glob("*.toml"))}


@cache
def kind_of(name: str) -> Kind:
    """A shipped kind: its file over the one that it is like."""
    return Kind.model_validate(_told(name))


def _told(name: str) -> dict[str, Any]:
    path = SHIPPED / "kinds" / f"{name}.toml"
    try:
        own: dict[str, Any] = tomllib.loads(path.read_text("utf-8"))
    except (OSError, tomllib.TOMLDecodeError) as problem:
        raise BadKnowledge(path.name, (str(problem),)) from problem
    like = own.pop("like", None)
    without, more = set(own.pop("without", ())), own.pop("more", [])
    base = {k: v for k, v in _told(like).items() if k not in {"names", "was"}} if like else {}
    told = base | own
    told["plan"] = [*(row for row in told.get("plan", []) if row["id"] not in without), *more]
    return told


def kind_named(words: str) -> str | None:
    """The kind that the words of a check-in line say: of all names whose every word stands there, the one that says
    most; None where none does."""
    words = words_of_gear().mended(words)
    there = _words(words)
    if _sends_nothing(words) and there.isdisjoint(HIGH_TENSION):
        return ACCESSORY
    named = [(kind_id, kind, _words(name)) for kind_id, kind in kinds().items() for name in kind.names]
    told = [
        (_told_by(wanted) + _fits(kind, wanted, words), kind_id) for kind_id, kind, wanted in named if wanted <= there
    ]
    best = max(told, key=lambda one: one[0], default=(0.0, ""))
    return best[1] if best[0] > 0 and not _sends_to_many(words) else None


@cache
def words_of_gear() -> Spelling:
    """What units and what belongs to them are called, as hands mean it."""
    named = {word for kind in kinds().values() for name in kind.names for word in re.findall(r"[a-z]+", name.lower())}
    return Spelling(named | _SAME.keys() | HEADS | HIGH_TENSION | SOLID | _OF_UNITS)


_OF_UNITS = frozenset(
    {
        "accessory", "antenna", "bands", "bench", "broadcast", "channel", "channels", "colinear", "counter", "dipole",
        "dropper", "dummy", "export", "frequency", "load", "megahertz", "meters", "metres", "microphone", "plate",
        "modulated", "power", "reducer", "single", "sideband", "speaker", "supply", "tuner", "vertical", "volts",
        "watts", "wattmeter",
    }
)  # fmt: skip


def _told_by(wanted: set[str]) -> float:
    """How much the words of a name tell of the kind."""
    of_many = len(wanted) - len(wanted & OF_MANY) / 2
    weighed = (
        (OF_A_BAND, 3),
        (HEADS, 5),
        ({"receiver"}, 4),
        ({"ssb"}, 0.5),
        ({"handheld"}, 2),
        (HIGH_TENSION, 3),
        (SOLID, 5),
        ({"home", "homebrew", "homemade"}, 3.5),
    )
    return of_many + sum(weight for words, weight in weighed if not wanted.isdisjoint(words))


def _fits(kind: Kind, wanted: set[str], words: str) -> float:
    """How well a kind goes with the modes, the power and the frequency that a line says."""
    modes, rated = _modes_in(_words(words)), rated_in(words)
    fit = 0.4 * (bool(kind.modes) and modes == set(kind.modes))
    fit -= 2 * len(modes - set(kind.modes)) if kind.modes else 0
    fit -= 2 * (rated is not None and "cb" not in wanted and 0 < kind.rated_w * LEAST_SHARE < rated)
    fit += 6 * (kind.is_aerial and _ends_on_an_aerial(words))
    return fit - OFF_ITS_CHANNELS * (not kind.is_aerial and kind.is_off_its_channels(words))


def _sends_nothing(words: str) -> bool:
    """'echo mic for cb', '30A power supply': what belongs to a set, and is none."""
    named = re.split(r"\b(?:for|with|of|from)\b|&|\+", NAME_ENDS.split(words.lower())[0])[0]
    plain = " ".join(word for word in named.split() if not re.search(r"\d", word))
    return _ACCESSORY.search(plain) is not None


def _sends_to_many(words: str) -> bool:
    """'AM broadcast tx 100 W': a service whose limits and figures no kind knows."""
    return (
        re.search(r"\b(?:broadcast\w*|medium ?wave)\b(?!.*\breceiver)", NAME_ENDS.split(words.lower())[0]) is not None
    )


def _ends_on_an_aerial(words: str) -> bool:
    """'2m vertical aerial, high swr': what is named is the aerial; of a 'handheld with whip' it is not."""
    named = re.split(r"\b(?:with|without|no|and|plus)\b|&", NAME_ENDS.split(words.lower())[0])[0].strip()
    return _AERIAL.search(named) is not None


def _modes_in(there: set[str]) -> set[str]:
    """The modes that a line says: a kind without one of them is not what is meant."""
    sideband = {"usb"} if not there.isdisjoint({"ssb", "sideband", "usb", "lsb"}) else set()
    return ({"am", "fm", "cw"} & there) | sideband


def volts_in(words: str) -> float | None:
    """The volts in V that a check-in line says that the unit is fed with, or None: '28V supply', '24 V set'."""
    found = _FED.search(NAME_ENDS.split(words)[0].strip())
    volts = float(found["volts"] or found["first"]) if found else NOMINAL_V
    if volts != NOMINAL_V and FED_V[0] <= volts <= FED_V[1]:
        return volts
    return CELLS_V if volts == NOMINAL_V and not found and _IN_THE_HAND.search(words.lower()) else None


CELLS_V = 7.4  # of two lithium cells in series, as the sets that a hand holds have
_IN_THE_HAND = re.compile(r"\b(?:hand[- ]?held|hand[- ]?portable|walkie|handy)\b")


def rated_in(words: str) -> float | None:
    """The power in W that a check-in line says that the unit should give, or None."""
    if (both := _RATED_TWICE.search(words)) is not None:
        return max(float(both[1]), float(both[2]))  # '50/35W' of two bands
    if (gives := _IN_AND_OUT.search(words)) is not None:
        return float(gives[1])
    found = _RATED.search(words)
    return float(found[1].replace(",", ".")) * _TIMES[found[2].lower()] if found else None


def _words(text: str) -> set[str]:
    lower = re.sub(r"\b(two|ten) ?met(?:re|er)s?\b", lambda m: f"{_IN_FIGURES[m[1]]}m", text.lower())
    joined = re.sub(r"(\d) ?(?:m|met(?:re|er)s?)\b", r"\1m", lower)  # '10 w' and '6 m' are no '10 m'
    joined = re.sub(r"(\d) ?cm\b", r"\1cm", joined)
    joined = re.sub(r"\b\w+[- ]less\b|\bno (?:valves?|tubes?)\b", " ", joined)  # 'valve-less'
    joined = re.sub(r"\bhand[- ](held|portable)\b", r"hand\1", joined)
    joined = re.sub(r"\b(?:all[- ]?modes?|multi[- ]?modes?)\b(?! cb)", "multimode", joined)
    joined = re.sub(r"\b(?:dual|twin)[- ]?band(?:er)?s?\b", "dual band", joined)
    joined = re.sub(r"\bboat[- ]?anchors?\b", "valve", joined)  # what is so old and heavy glows
    joined = re.sub(r"\bvale(?= (?:linear|amp|am|pa|tx|base|cb))", "valve", joined)  # hands are at stake
    joined = _PART_OR_EXTRA.sub("stage", _ALL_SHORT_WAVES.sub("hf", joined))
    cut = re.findall(r"(?<![\d.])(?<!\b[a-z])(?:\d+c?m\b|\d+(?:\.\d+)?)|[a-z]+", joined)  # 'M27' is a name
    return {_SAME.get(word, word) for word in cut}


MADE_FOR_MORE = 1.5  # times its kind's volts; as much below them is a fault


def gear_of(
    model_id: str,
    rated_w: float | None,
    models: Mapping[str, Model],
    words: str | None = None,
    fed_v: float | None = None,
) -> Model | None:
    """What is known of a unit: its model, or its kind for what it should give, and for the volts that were read at its
    supply; None of a name that nobody knows."""
    if model_id in models:
        return models[model_id]
    known = kinds()
    kind_id = model_id if model_id in known else next((k for k, v in known.items() if model_id in v.was), None)
    if kind_id is None:
        return None
    kind = known[kind_id] if words is None else known[kind_id].for_unit(words)
    least = MADE_FOR_MORE * (kind.supply_v or 0.0)
    if fed_v and kind.any_supply and 0 < least < fed_v <= FED_V[1]:  # the mains feed it through a supply of its own
        kind = kind.fed_with(fed_v)
    return _made(kind_id, rated_w, kind.frequency_hz, kind.modes, kind.supply_v)


@cache
def _made(
    kind_id: str, rated_w: float | None, frequency_hz: float | None, modes: tuple[str, ...], supply_v: float | None
) -> Model:
    told = kinds()[kind_id].model_copy(update={"frequency_hz": frequency_hz, "modes": modes})
    of_this_unit = told.fed_with(supply_v)
    return of_this_unit.as_model(kind_id, rated_w)
