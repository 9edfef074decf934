"""What differs between two versions of a model, as a hand would read it before one takes the other's place."""

from collections.abc import Mapping

from young_spark.core.gear.model import Model, PlanRow
from young_spark.core.ground import Frozen

# what of a model is one value each; its lists are compared line by line
VALUES = (
    "maker", "name", "kind", "modes", "supply_v", "greatest_power_w", "channel_plan", "chain", "high_voltage",
    "key_down_s", "cool_off_s", "profiles", "value",
)  # fmt: skip
OF_A_ROW = ("ask", "channel", "frequency_hz", "mode", "state", "power_setting", "supply_v", "expected", "caution")


class Difference(Frozen):
    """One thing that differs: what it is, as it stands here, as it would stand; an empty string where it is not."""

    what: str
    here: str
    there: str


def differences(here: Model | None, there: Model) -> tuple[Difference, ...]:
    """Everything that would change if `there` took the place of `here`; all of it where nothing stands here."""
    told = [
        Difference(what=name.replace("_", " "), here=_shown(getattr(here, name, None)), there=_shown(value))
        for name in VALUES
        if (value := getattr(there, name)) != getattr(here, name, None)
    ]
    told += _of_rows({r.id: r for r in here.plan} if here else {}, {r.id: r for r in there.plan})
    told += _of_lines("caution", here.cautions if here else (), there.cautions)
    told += _of_lines("known", [n.text for n in here.notes] if here else (), [n.text for n in there.notes])
    told += _of_lines("point", [p.probe for p in here.points] if here else (), [p.probe for p in there.points])
    return tuple(
        told + _of_lines("stage", [s.name for s in here.stages] if here else (), [s.name for s in there.stages])
    )


def _of_rows(here: Mapping[str, PlanRow], there: Mapping[str, PlanRow]) -> list[Difference]:
    told = []
    for name in [*there, *(n for n in here if n not in there)]:
        old, new = here.get(name), there.get(name)
        if old is None or new is None:
            told.append(Difference(what=f"line {name}", here=_named(old), there=_named(new)))
            continue
        told += [
            Difference(what=f"line {name}, {key.replace('_', ' ')}", here=_shown(was), there=_shown(becomes))
            for key in OF_A_ROW
            if (was := getattr(old, key)) != (becomes := getattr(new, key))
        ]
    return told


def _of_lines(what: str, here: "tuple[str, ...] | list[str]", there: "tuple[str, ...] | list[str]") -> list[Difference]:
    gone = [Difference(what=what, here=words, there="") for words in here if words not in there]
    return gone + [Difference(what=what, here="", there=words) for words in there if words not in here]


def _named(row: PlanRow | None) -> str:
    return "" if row is None else row.quantity.replace("_", " ")


def _shown(value: object) -> str:
    if value is None or value == "":
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:g}"
    return ", ".join(map(str, value)) if isinstance(value, tuple) else str(value)
