"""The answers to a question: the forms that a text may stand for, each understood as if it had been typed."""

import re
from collections.abc import Callable, Iterable, Iterator
from functools import cache
from itertools import chain

from young_spark.core.entry.believed.nothing_lost import WORKED_OUT
from young_spark.core.entry.facts.meaning import Choice, EntryContext, Meaning, Understanding
from young_spark.core.entry.understood.one_figure import figure_words
from young_spark.core.figure import Conditions, quantity
from young_spark.core.ground import SHIPPED, Frozen, load

MOST = 4
LONGEST_ASKED = 40  # signs
ENOUGH = 2  # forms that make sense: loose senses are not looked for
WHOLE = re.compile(r"(?P<n>\d+(?:\.\d+)?) as read")

Read = Callable[[str, EntryContext], Understanding | None]


class Ask(Frozen):
    """A pattern over the whole text, and the forms it may stand for."""

    text: str
    forms: tuple[str, ...]
    wanted: bool = False  # only for a quantity that an open line wants


class AsksFile(Frozen):
    ask: tuple[Ask, ...]


@cache
def _asks() -> tuple[tuple[re.Pattern[str], Ask], ...]:
    return tuple((re.compile(a.text), a) for a in load(SHIPPED / "entry" / "asks.toml", AsksFile).ask)


def forms_of(plain: str, context: EntryContext) -> Iterator[tuple[str, bool]]:
    """Every form that a folded text may stand for, in the order of the file, and whether it must be wanted."""
    channels = _channels(plain, context)
    for pattern, ask in _asks():
        if (found := pattern.fullmatch(plain)) is not None:
            told = {**channels, **{k: v or "" for k, v in found.groupdict().items()}}
            yield from ((form.format(**told), ask.wanted) for form in ask.forms)


def _channels(plain: str, context: EntryContext) -> dict[str, str]:
    """The channel of the hand, and the one nearest to a counted frequency."""
    plan, counted = context.channel_plan, re.search(r"(?<![\d.])(\d+)\.(\d+)(?:\.(\d+))?(?: ?m(?:hz)?)?$", plain)
    if plan is None or counted is None:
        return {"here": str(context.conditions.channel or ""), "near": ""}
    hz = float(f"{counted[1]}.{counted[2]}{counted[3] or ''}") * 1e6
    on = plan.on_channel(hz)
    return {"here": str(context.conditions.channel or ""), "near": "" if on is None else str(on.number)}


def answers_to(
    text: str,
    plain: str,
    context: EntryContext,
    read: Read,
    known: Iterable[Meaning] = (),
    loose: Iterable[Meaning] = (),
) -> Understanding | None:
    """The question that the forms of a text make, with an answer for each that has a sense here; None where none has.
    `known` are senses that were found already, `loose` those that are looked for where there are few. The question is
    empty where no answer holds every figure."""
    offered = _Offered()
    points = {p.quantity for p in context.points}
    for form, must_be_wanted in forms_of(plain, context):
        meant = read(form, context) if len(offered.choices) < MOST else None
        chosen = _chosen(meant)
        if must_be_wanted and (chosen is None or chosen.readings[0].quantity not in points):
            continue
        if meant is not None and meant.sets:
            offered.choices.append(Choice(label=f"now at {_words(meant.sets)}", sets=meant.sets))
        elif chosen is not None and not any(_same(chosen, m) for m in offered.meanings):
            offered.add(chosen)
    for meaning in chain(known, loose if len(offered.choices) < ENOUGH else ()):
        if len(offered.choices) < MOST and not offered.begins_as(meaning):
            offered.add(meaning)
    return offered.asked(text) if offered.choices else None


def _chosen(meant: Understanding | None) -> Meaning | None:
    return None if meant is None or meant.chosen is None else meant.meanings[meant.chosen]


class _Offered:
    """The senses that are offered so far, each with its answer."""

    def __init__(self) -> None:
        self.meanings: list[Meaning] = []
        self.choices: list[Choice] = []

    def add(self, meaning: Meaning) -> None:
        """One more sense."""
        rest = REST_AS_WORDS if leaves_a_figure(meaning) else ""
        self.choices.append(Choice(label=f"{label_of(meaning)}{rest}", sense=len(self.meanings)))
        self.meanings.append(meaning)

    def begins_as(self, meaning: Meaning) -> bool:
        """Whether a sense of as many figures that begins alike is there."""
        return _beginning(meaning) in map(_beginning, self.meanings)

    def asked(self, text: str) -> Understanding:
        """The question with all of them."""
        choices = self.choices
        if len({c.label for c in choices}) < len(choices):  # the first figure does not tell them apart
            choices = [self._in_full(c) for c in choices]
        question = f"{text.strip()}: which of these?" if len(choices) > 1 else f"{choices[0].label}: is that meant?"
        if len(choices) == 1 and len(choices[0].label) > LONGEST_ASKED:
            question = "Is this what was read?"  # the answer below says it once
        if all(leaves_a_figure(m) for m in self.meanings) and not any(c.sets for c in choices):
            question = ""  # none says all of it: what is unclear says more
        return Understanding(text=text, meanings=tuple(self.meanings), question=question, choices=tuple(choices))

    def _in_full(self, choice: Choice) -> Choice:
        if choice.sense is None:
            return choice
        rest = REST_AS_WORDS if leaves_a_figure(self.meanings[choice.sense]) else ""
        return choice.model_copy(update={"label": f"{_each_of(self.meanings[choice.sense])}{rest}"})


REST_AS_WORDS = ", the rest as words"


def said_unlike(asked: Understanding) -> Understanding:
    """A question without answers that are said in the same words: nobody could choose between them. Where one only says
    less of the point than the other, the fuller is offered; where they are at different points, the answers say
    these."""
    groups: dict[str, list[Choice]] = {}
    for choice in asked.choices:
        groups.setdefault(choice.label, []).append(choice)
    if asked.question is None or len(groups) == len(asked.choices):
        return asked
    told = tuple(kept for alike in groups.values() for kept in _apart(alike, asked.meanings))
    return asked.model_copy(update={"choices": told})


def _apart(alike: list[Choice], meanings: tuple[Meaning, ...]) -> list[Choice]:
    """Answers in the same words: the fullest of them, or each with its points."""
    senses = [meanings[c.sense] for c in alike if c.sense is not None]
    if len(alike) < 2 or len(senses) < len(alike):
        return alike[:1]
    points = [_points_of(sense) for sense in senses]
    if all(_goes_with(a, b) for a in points for b in points):
        fullest = max(range(len(points)), key=lambda n: sum(len(point) for point in points[n]))
        return [alike[fullest]]
    unlike = {key for point in zip(*points, strict=False) for key in POINTS if len({p.get(key) for p in point}) > 1}
    return [
        choice.model_copy(update={"label": f"{choice.label} ({_in_words(sense, unlike)})"})
        for choice, sense in zip(alike, senses, strict=True)
    ]


def _points_of(sense: Meaning) -> list[dict[str, object]]:
    """What each reading of a sense says of its point."""
    every = [sense.conditions_of(n) for n in range(len(sense.readings))]
    keys = (*POINTS, "place", "item", "setting", "band", "instrument")
    return [{k: v for k in keys if (v := getattr(where, k)) is not None} for where in every]


def _goes_with(one: list[dict[str, object]], other: list[dict[str, object]]) -> bool:
    pairs = zip(one, other, strict=False)
    return len(one) == len(other) and all(a[k] == b[k] for a, b in pairs for k in a.keys() & b.keys())


def _in_words(sense: Meaning, keys: set[str]) -> str:
    each = [sense.conditions_of(n) for n, r in enumerate(sense.readings) if r.method != WORKED_OUT]
    points = [" ".join(filter(None, (words(where) for key, words in POINTS.items() if key in keys))) for where in each]
    return ", ".join(point or "not said" for point in points)


def _beginning(meaning: Meaning) -> tuple[str, float | None, int]:
    first = meaning.readings[0]
    return first.quantity, first.value, len(meaning.readings)


def _same(one: Meaning, other: Meaning) -> bool:
    if len(one.readings) != len(other.readings):
        return False
    pairs = zip(one.readings, other.readings, strict=True)
    same = all((a.quantity, a.value, a.result) == (b.quantity, b.value, b.result) for a, b in pairs)
    return same and [one.conditions_of(n) for n in range(len(one.readings))] == [
        other.conditions_of(n) for n in range(len(other.readings))
    ]


def leaves_a_figure(meaning: Meaning) -> bool:
    """Whether a figure of the text is only words beside this sense."""
    return re.search(r"(?<![a-z])\d", meaning.remark) is not None


COUNTED = {"carrier_frequency", "frequency_error"}


def _each_of(meaning: Meaning) -> str:
    """Every reading of a sense with its point: 'carrier suppression usb 52 dB, lsb 49 dB'."""
    told: list[str] = []
    apart = _what_tells_apart(meaning)
    for n, reading in enumerate(meaning.readings):
        where = meaning.conditions_of(n)
        channel = None if where.channel is None else f"channel {where.channel}"
        point = " ".join(filter(None, (words(where) for words in apart))) or where.mode or channel or where.state
        if n > 0 and reading.method == WORKED_OUT:
            continue  # it follows from the others
        figure = figure_words(reading).split(" ± ")[0]
        again = n > 0 and reading.quantity == meaning.readings[n - 1].quantity
        name = "" if again else quantity(reading.quantity).name.lower()
        told.append(" ".join(w for w in (name, where.place, point, figure) if w))
    return ", ".join(told)


def _what_tells_apart(meaning: Meaning) -> list[Callable[[Conditions], str]]:
    """How the points of readings of one quantity are said, by what they differ in: channels, bands, settings, heat."""
    every = [meaning.conditions_of(n) for n, r in enumerate(meaning.readings) if r.method != WORKED_OUT]
    return [words for key, words in POINTS.items() if len({getattr(where, key) for where in every}) > 1]


POINTS: dict[str, Callable[[Conditions], str]] = {
    "mode": lambda where: where.mode or "",
    "channel": lambda where: "" if where.channel is None else f"channel {where.channel}",
    "frequency_hz": lambda where: "" if where.frequency_hz is None else f"{where.frequency_hz / 1e6:.9g} MHz",
    "state": lambda where: where.state or "",
    "power_setting": lambda where: where.power_setting or "",
    "heat": lambda where: where.heat or "",
    "after_s": lambda where: "" if where.after_s is None else f"after {where.after_s:g} s",
}


def label_of(meaning: Meaning) -> str:
    """A sense in a few words, for an answer."""
    together = {r.quantity for r in meaning.readings}
    if len(meaning.readings) > 1 and not together <= COUNTED:
        return _each_of(meaning)
    counted = next((r.value for r in meaning.readings if r.quantity == "carrier_frequency"), None)
    if counted is not None:
        error = f", {meaning.figure.split(' ± ')[0]} off" if len(meaning.readings) > 1 else ""
        channel = meaning.conditions.channel
        return f"counted {counted / 1e6:.7g} MHz{f' on channel {channel}' if channel is not None else ''}{error}"
    where = meaning.conditions
    how = {"high": " on high", "low": " on low"}.get(where.power_setting or "", "")
    return f"{meaning.title.lower()} {meaning.figure.split(' ± ')[0]}{how}"


def label_with_its_point(meaning: Meaning) -> str:
    """A sense in a few words, with the point inside that its first figure stands at."""
    place = meaning.conditions.place
    return f"{label_of(meaning)} at {place}" if place else label_of(meaning)


def _words(sets: dict[str, object]) -> str:
    named = {
        "channel": "channel {}",
        "band": "{}",
        "mode": "{}",
        "state": "{}",
        "place": "{}",
        "power_setting": "{} power",
    }
    parts = [
        f"{float(str(v)) / 1e6:.9g} MHz"
        if k == "frequency_hz"
        else named.get(k, f"{k.replace('_', ' ')} {{}}").format(v)
        for k, v in sets.items()
    ]
    return ", ".join(parts)
