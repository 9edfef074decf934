"""What differs between two versions of a model, as a hand would read it before one takes the other's place: every value
that the file holds, so that nothing takes another's place unseen."""

from collections.abc import Iterator, Mapping

from young_spark.core.gear.model import Model
from young_spark.core.ground import Frozen

NAMED_BY = ("id", "probe", "text", "name", "pin")  # what tells one line of a list from the next


class Difference(Frozen):
    """One thing that differs: what it is, as it stands here, as it would stand; an empty string where it is not."""

    what: str
    here: str
    there: str


def differences(here: Model | None, there: Model) -> tuple[Difference, ...]:
    """Everything that would change if `there` took the place of `here`; all of it where nothing stands here."""
    return tuple(_between("", {} if here is None else here.model_dump(), there.model_dump()))


def _between(what: str, here: object, there: object) -> Iterator[Difference]:
    if here == there:
        return
    old, new = _parts(here), _parts(there)
    if not old and not new:
        yield Difference(what=what, here=_shown(here), there=_shown(there))
        return
    for key in [*new, *(k for k in old if k not in new)]:
        yield from _between(f"{what}, {key}".removeprefix(", ").replace("_", " "), old.get(key), new.get(key))
    if [k for k in old if k in new] != [k for k in new if k in old]:
        yield Difference(what=f"{what}, order".removeprefix(", "), here=", ".join(old), there=", ".join(new))


def _parts(value: object) -> Mapping[str, object]:
    """The parts of a value by their names; none of what is one word or figure."""
    if isinstance(value, Mapping):
        return {str(k): v for k, v in value.items() if v is not None and v != () and v != ""}
    if isinstance(value, list | tuple) and value and all(isinstance(one, Mapping) for one in value):
        named: dict[str, object] = {}
        for n, one in enumerate(value):
            name = _name(one, n)
            named[f"{name}, {n + 1}" if name in named else name] = one
        return named
    return {}


def _name(one: Mapping[str, object], n: int) -> str:
    return next((str(one[key]) for key in NAMED_BY if one.get(key)), str(n + 1))


def _shown(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:g}"
    return ", ".join(map(str, value)) if isinstance(value, list | tuple) else str(value)
