"""The answers to a question: the forms that a text may stand for, each understood as if it had been typed."""

import re
from collections.abc import Callable, Iterable, Iterator
from functools import cache

from young_spark.core.entry.meaning import Choice, EntryContext, Meaning, Understanding
from young_spark.core.figure import format_value, quantity
from young_spark.core.ground import SHIPPED, Frozen, load

MOST = 4
LONGEST_ASKED = 40  # signs
ENOUGH = 2  # forms that make sense: what is known besides is not looked for
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
    text: str, plain: str, context: EntryContext, read: Read, known: Iterable[Meaning] = ()
) -> Understanding | None:
    """The question that the forms of a text make, with an answer for each that has a sense here; None where none has.
    `known` are senses that were found already."""
    meanings: list[Meaning] = []
    choices: list[Choice] = []
    points = {p.quantity for p in context.points}
    for form, must_be_wanted in forms_of(plain, context):
        if len(choices) == MOST:
            break
        meant = read(form, context)
        if meant is None:
            continue
        if must_be_wanted and (meant.chosen is None or meant.meanings[0].readings[0].quantity not in points):
            continue
        if meant.sets:
            choices.append(Choice(label=f"now at {_words(meant.sets)}", sets=meant.sets))
        elif meant.chosen is not None:
            meaning = meant.meanings[meant.chosen]
            if not any(_same(meaning, m) for m in meanings):
                choices.append(Choice(label=label_of(meaning), sense=len(meanings)))
                meanings.append(meaning)
    for meaning in known if len(choices) < ENOUGH else ():
        first, count = meaning.readings[0], len(meaning.readings)
        there = any(
            (m.readings[0].quantity, m.readings[0].value, len(m.readings)) == (first.quantity, first.value, count)
            for m in meanings
        )
        if len(choices) < MOST and not there:
            choices.append(Choice(label=label_of(meaning), sense=len(meanings)))
            meanings.append(meaning)
    if not choices:
        return None
    if len({c.label for c in choices}) < len(choices):  # the first figure does not tell them apart
        choices = [
            c if c.sense is None else c.model_copy(update={"label": _each_of(meanings[c.sense])}) for c in choices
        ]
    question = f"{text.strip()}: which of these?" if len(choices) > 1 else f"{choices[0].label}: is that meant?"
    if len(choices) == 1 and len(choices[0].label) > LONGEST_ASKED:
        question = "Is this what was read?"  # the answer below says it once
    if all(_leaves_a_figure(m) for m in meanings) and not any(c.sets for c in choices):
        question = ""  # none says all of it: what is unclear says more
    return Understanding(text=text, meanings=tuple(meanings), question=question, choices=tuple(choices))


def _same(one: Meaning, other: Meaning) -> bool:
    if len(one.readings) != len(other.readings):
        return False
    pairs = zip(one.readings, other.readings, strict=True)
    same = all((a.quantity, a.value, a.result) == (b.quantity, b.value, b.result) for a, b in pairs)
    return same and [one.conditions_of(n) for n in range(len(one.readings))] == [
        other.conditions_of(n) for n in range(len(other.readings))
    ]


def _leaves_a_figure(meaning: Meaning) -> bool:
    """Whether a figure of the text is only words beside this sense."""
    return re.search(r"(?<![a-z])\d", meaning.remark) is not None


def _each_of(meaning: Meaning) -> str:
    """Every reading of a sense with its point: 'carrier suppression usb 52 dB, lsb 49 dB'."""
    told: list[str] = []
    for n, reading in enumerate(meaning.readings):
        where = meaning.conditions_of(n)
        channel = None if where.channel is None else f"channel {where.channel}"
        figure = reading.result or "" if reading.value is None else format_value(reading.value, reading.unit)
        again = n > 0 and reading.quantity == meaning.readings[n - 1].quantity
        name = "" if again else quantity(reading.quantity).name.lower()
        told.append(" ".join(w for w in (name, where.place, where.mode or channel or where.state, figure) if w))
    return ", ".join(told)


def label_of(meaning: Meaning) -> str:
    """A sense in a few words, for an answer."""
    if len(meaning.readings) > 1 and all(r.quantity != "carrier_frequency" for r in meaning.readings):
        return _each_of(meaning)
    counted = next((r.value for r in meaning.readings if r.quantity == "carrier_frequency"), None)
    if counted is not None:
        error = f", {meaning.figure.split(' ± ')[0]} off" if len(meaning.readings) > 1 else ""
        channel = meaning.conditions.channel
        return f"counted {counted / 1e6:.7g} MHz{f' on channel {channel}' if channel is not None else ''}{error}"
    where = meaning.conditions
    how = {"high": " on high", "low": " on low"}.get(where.power_setting or "", "")
    return f"{meaning.title.lower()} {meaning.figure.split(' ± ')[0]}{how}"


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
        f"{float(str(v)) / 1e6:g} MHz" if k == "frequency_hz" else named.get(k, f"{k.replace('_', ' ')} {{}}").format(v)
        for k, v in sets.items()
    ]
    return ", ".join(parts)
