"""How a text that was understood stands against what it must mean: right, asked, or wrong.

The comparison is that of the corpora: a key that is given must match; a key of the place that is not given must be
empty, or what the hand says, or what an open line of the same quantity adds."""

import re
import tomllib
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from young_spark.core.entry import Earlier, EntryContext, Expected, Meaning, Point, understand
from young_spark.core.entry.facts.said import Breath, Said
from young_spark.core.entry.frames.results_said import CONDITION
from young_spark.core.figure import QUANTITIES, Conditions, Measured
from young_spark.core.gear import BANDS_M
from young_spark.core.judging import channel_plans

FOLDER = Path(__file__).parent / "corpus"
PLACE_KEYS = (
    "channel", "channels", "frequency_hz", "band", "mode", "state", "power_setting", "setting", "place", "item", "heat",
    "after_s", "covers", "configuration",
)  # fmt: skip
NO_ADDRESS = {"quantity", "value", "unit", "low", "high", "result", "bound", "about", "derived", "unsigned"}
SMALL = {"a", "the", "is", "it", "at", "of", "on", "in", "and", "but", "to"}


@dataclass(frozen=True)
class Text:
    """One text of a corpus with the context that it is typed in."""

    text: str
    told: dict[str, Any]
    context: dict[str, Any]


@cache
def contexts() -> dict[str, dict[str, Any]]:
    return tomllib.loads((FOLDER / "shared.toml").read_text())["contexts"]


def texts(name: str) -> Iterator[Text]:
    for told in tomllib.loads((FOLDER / f"{name}.toml").read_text())["text"]:
        yield Text(told["text"], told, contexts()[told["context"]])


KNOWN = set(Conditions.model_fields)
OF_A_POINT = set(Point.model_fields) - {"quantity"}


def context_of(context: dict[str, Any]) -> EntryContext:
    """A corpus' context as the slip would hand it to the field."""
    lines = context.get("lines", ())
    current = next((line for line in lines if line["id"] == context.get("current")), None)
    told = {**context.get("chips", {}), **context.get("hand", {}), **(current or {})}
    return EntryContext(
        conditions=Conditions.model_validate({k: v for k, v in told.items() if k in KNOWN}),
        expected=Expected(quantity=current["quantity"]) if current and current["quantity"] in QUANTITIES else None,
        channel_plan=channel_plans().get(context.get("channel_plan", "")),
        greatest_power_w=context.get("greatest_power_w"),
        power_settings=tuple(context.get("power_settings", ())),
        modes=tuple(context.get("modes", ())),
        earlier=_last_of(context),
        points=tuple(
            Point.model_validate({k: v for k, v in line.items() if k in OF_A_POINT | {"quantity"}}) for line in lines
        ),
    )


def _last_of(context: dict[str, Any]) -> tuple[Earlier, ...]:
    last = context.get("last")
    if last is None:
        return ()
    told = Conditions.model_validate({k: v for k, v in last.items() if k in KNOWN})
    return (
        Earlier(quantity=last["quantity"], value=last["value"], uncertainty=None, conditions=told, phase="in_work"),
    )


def breath_of(text: Text) -> Breath:
    """What the field understood, as readings at their addresses."""
    meant = understand(text.text, context_of(text.context))
    if meant.story is not None and meant.chosen is None:
        return Breath(remark=meant.story.words, sure=True)
    if meant.chosen is None:
        return Breath(sure=False)
    meaning = meant.meanings[meant.chosen]
    return Breath(readings_of(meaning, text.context), meaning.remark)


def readings_of(meaning: Meaning, context: dict[str, Any]) -> tuple[Said, ...]:
    """The readings of a meaning as the corpora tell them."""
    return tuple(_said(r, meaning.conditions_of(n), context) for n, r in enumerate(meaning.readings))


def _said(reading: Measured, conditions: Conditions, context: dict[str, Any]) -> Said:
    """A reading as the corpora tell one; what only the bench's own chips say is no part of its address."""
    chips = context.get("chips", {})
    told = {k: v for k, v in conditions.model_dump(exclude_defaults=True).items() if chips.get(k) != v}
    if told.get("instrument") not in {"own_meter", "rf_probe"}:
        told.pop("instrument", None)
    if reading.at_hz is not None:
        told["at_hz"] = reading.at_hz
    result = "none" if reading.read_as == "nothing" else reading.result
    low, high = reading.ends or (None, None)
    return Said(
        quantity=None if reading.quantity == CONDITION else reading.quantity,
        value=None if reading.read_as == "nothing" or _is_between(reading) else reading.value,
        low=low,
        high=high,
        unit=reading.unit,
        result=result,
        bound=None if reading.read_as == "nothing" else reading.bound,
        about=any(remark.startswith("about") for remark in reading.remarks),
        derived=True,
        address=told,
    )


def _is_between(reading: Measured) -> bool:
    """A figure that moves is told by its ends; a width between two edges is a figure of its own."""
    return reading.ends is not None and reading.ends[0] <= (reading.value or 0.0) <= reading.ends[1]


def verdict(text: Text, breath: Breath) -> tuple[str, str]:
    """`right`, `asked`, `missed` (a reading taken for a remark or a note) or `wrong`, and why."""
    told = text.told
    if "means" not in told:
        if breath.said:
            return "wrong", f"a reading where there is none: {[(s.quantity, s.value, s.result) for s in breath.said]}"
        if "sets" in told:
            return _of_sets(text)
        return "right", ""  # a note or a question: whoever reads no figure leaves it to those
    if not breath.sure or not breath.said:
        return "asked", "nothing sure"
    found = list(breath.said)
    for wanted in told["means"]:
        fits = next((s for s in found if not differs(wanted, s, text.context)), None)
        if fits is None:
            near = [differs(wanted, s, text.context) for s in found if s.quantity == wanted.get("quantity")]
            return (
                "wrong",
                f"no {wanted.get('quantity')} {wanted.get('value')}: {near or [(s.quantity, s.value) for s in found]}",
            )
        found.remove(fits)
    if found and not ({"return_loss"} >= {s.quantity for s in found}):  # an SWR in other words
        return "wrong", f"too much: {[(s.quantity, s.value) for s in found]}"
    if words_of(told.get("remark", "")) != words_of(breath.remark):
        return "wrong", f"remark {breath.remark!r} for {told.get('remark', '')!r}"
    return "right", ""


def _of_sets(text: Text) -> tuple[str, str]:
    sets = understand(text.text, context_of(text.context)).sets
    if not sets:
        return "asked", "no place"
    same = len(sets) == len(text.told["sets"]) and not of_address(text.told["sets"], Said(None, address=sets), {})
    return ("right", "") if same else ("wrong", f"{sets}")


def words_of(remark: str) -> list[str]:
    return [w for w in re.findall(r"[\w%.]+", remark.lower()) if w not in SMALL]


def alike(found: object, wanted: object) -> bool:
    if isinstance(wanted, int | float) and not isinstance(wanted, bool) and isinstance(found, int | float):
        return abs(float(found) - float(wanted)) <= 0.005 * abs(float(wanted)) + 1e-15
    return str(found).lower() == str(wanted).lower()


def differs(wanted: dict[str, Any], said: Said, context: dict[str, Any]) -> str:
    """What of a reading is not as it must be; an empty string where all of it is."""
    if said.quantity != wanted.get("quantity") or said.result != wanted.get("result"):
        return f"{said.quantity} {said.result}"
    for name in ("value", "low", "high"):
        if not near(getattr(said, name), wanted.get(name), wanted.get("unit", "")):
            return f"{name} {getattr(said, name)}"
    if (said.bound or None) != wanted.get("bound") or said.about != wanted.get("about", False):
        return f"bound {said.bound} about {said.about}"
    if wanted.get("derived", False) and not said.derived:
        return "typed, not derived"
    return of_address(wanted, said, context)


def near(found: float | None, wanted: float | None, unit: str) -> bool:
    if found is None or wanted is None:
        return found is wanted
    within = 0.1 if unit in {"dB", "dBm", "dBc"} else 1.0 if unit == "Hz" and abs(wanted) > 1e5 else 0
    return abs(found - wanted) <= max(within, 0.005 * abs(wanted)) + 1e-15


def of_address(wanted: dict[str, Any], said: Said, context: dict[str, Any]) -> str:
    place = dict(said.address)
    for key in wanted.keys() - NO_ADDRESS:
        of_metres = key == "band" and str(wanted[key]).rstrip("m").isdigit()
        by_frequency = of_metres or (key == "frequency_hz" and "channel" not in place)
        there = place.get(
            key, context.get("chips", {}).get(key)
        )  # what the bench's chips say is no part of the address
        if not (same_band(place, wanted[key]) if by_frequency else alike(there, wanted[key])):
            return f"{key} {place.get('frequency_hz' if by_frequency else key)}"
        place.pop("frequency_hz" if by_frequency else key, None)
    lines = [line for line in context.get("lines", ()) if line["quantity"] == said.quantity]
    strange = [
        k for k in PLACE_KEYS if k in place and k not in wanted and not may_stand(k, place[k], lines, wanted, context)
    ]
    return f"{strange[0]} {place[strange[0]]} not said" if strange else ""


def same_band(place: dict[str, Any], value: object) -> bool:
    metres = int(re.sub(r"\D", "", str(value)) or 0) if isinstance(value, str) else None
    hz = BANDS_M.get(metres) if metres is not None else float(str(value))
    there = place.get("frequency_hz")
    return hz is not None and there is not None and abs(float(str(there)) / hz - 1) <= (0.08 if metres else 1e-4)


def may_stand(
    key: str, value: object, lines: list[dict[str, Any]], wanted: dict[str, Any], context: dict[str, Any]
) -> bool:
    """Whether a part of the place that was not asked for may stand there: the hand says it, an open line of the same
    quantity does, or it follows from the quantity."""
    if key in {"channel", "frequency_hz"} and {"channel", "frequency_hz", "band"} & wanted.keys():
        return False
    allowed = [context.get("hand", {}).get(key), *(line.get(key) for line in lines)]
    return (key == "mode" and value in {"am", "fm"}) or any(alike(value, a) for a in allowed if a is not None)
