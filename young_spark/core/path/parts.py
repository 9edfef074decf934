"""Parts with the data of their class, so that set-up never stands between a person and the first figure."""

from functools import cache
from typing import Any

from pydantic import Field

from young_spark.core.ground import SHIPPED, Frozen, load
from young_spark.core.path.signal_path import Path, PathPart, path_of, walk


class PartClass(Frozen):
    """What is typical of a part of this class; `part` holds its fields without an id."""

    name: str
    part: dict[str, Any] = Field(min_length=1)


class _PartFile(Frozen):
    parts: dict[str, PartClass]


@cache
def part_classes() -> dict[str, PartClass]:
    """The shipped classes by id."""
    return load(SHIPPED / "path_parts.toml", _PartFile).parts


def typical_part(class_id: str, part_id: str) -> PathPart:
    """A part of a class under an id of its own, marked typical."""
    kind = part_classes()[class_id]
    told = {"id": part_id, "name": kind.name, "typical": True, **kind.part}
    return path_of({"from": part_id, "parts": [told]}, "path_parts.toml").parts[0]


def padded_part(path: Path, instrument: str | None) -> str | None:
    """The part whose pad the chip means: the named instrument; without a name the first that hangs behind an
    attenuator, else the first that ends a line. None where there is none."""
    there = [(part, steps) for part, steps in walk(path) if part.instrument is not None]
    if instrument is not None:
        return next((part.id for part, _ in there if part.instrument == instrument), None)
    behind = [part.id for part, steps in there if any(before.kind == "attenuator" for before, _ in steps)]
    ends = [part.id for part, _ in there if part.kind == "instrument"]
    return next(iter([*behind, *ends]), None)


def with_pad(path: Path, part_id: str, pad_db: float) -> Path:
    """The path with another pad right before a part: the attenuator that is there changes, or one is put in; 0 dB takes
    it out. Raises UnknownName."""
    path.part(part_id)
    before = next((p for p in path.parts if part_id in _outlets(p).values()), None)
    told = path.model_dump(by_alias=True)
    if before is not None and before.kind == "attenuator":
        if pad_db == 0:
            return _without(told, before.id, part_id)
        changed = [p | {"loss_db": pad_db, "measured": False} if p["id"] == before.id else p for p in told["parts"]]
        return path_of(told | {"parts": changed}, "path")
    if pad_db == 0:
        return path
    name = next(n for n in (f"pad{i or ''}" for i in range(101)) if n not in {p.id for p in path.parts})
    pad = typical_part("pad", name).model_dump() | {"loss_db": pad_db, "to": part_id}
    led = _led(told, part_id, name)
    return path_of(led | {"parts": [*led["parts"], pad]}, "path")


def _outlets(part: PathPart) -> dict[str, str]:
    return {key: to for key in ("to", "through", "coupled") if (to := getattr(part, key, None)) is not None}


def _led(told: dict[str, Any], part_id: str, name: str) -> dict[str, Any]:
    """What fed a part feeds another one."""
    parts = [
        {k: name if k in {"to", "through", "coupled"} and v == part_id else v for k, v in p.items()}
        for p in told["parts"]
    ]
    return told | {"parts": parts, "from": name if told["from"] == part_id else told["from"]}


def _without(told: dict[str, Any], gone: str, behind: str) -> Path:
    left = [p for p in told["parts"] if p["id"] != gone]
    return path_of(_led(told | {"parts": left}, gone, behind), "path")
