"""The models that this shop keeps: units that it knows, beside those that ship."""

import re
from dataclasses import dataclass
from typing import Any

import tomli_w

from young_spark.core.gear import Model, gear_of, kinds, models
from young_spark.core.ground import parse
from young_spark.server.accounts.models import Person
from young_spark.server.library.demo_shelf import demo_models
from young_spark.server.library.models import OwnText
from young_spark.server.library.own_texts import OwnTexts
from young_spark.server.problems import Refused

LONGEST_ID = 50
HEAD = "# A model of gear, kept by this shop. What is at its default is left out.\n"
OWN_MODELS = OwnTexts(OwnText.Kind.MODELS, lambda text, name: parse(text, f"{name}.toml", Model))


def model_text(model: Model) -> str:
    """The open file of a model, which reads back as the same."""
    told: dict[str, Any] = model.model_dump(mode="json", exclude_defaults=True, exclude_none=True)
    return HEAD + tomli_w.dumps(told)


@dataclass(frozen=True)
class Kept:
    """A version of a model that a unit keeps to."""

    name: str
    number: int


def newest_version(name: str) -> int | None:
    """The number of the version of a model that stands; None of a kind, and of an invented one."""
    newest = OWN_MODELS.newest(name) if name else None
    return None if newest is None else newest.number


def own_models() -> dict[str, Model]:
    """This shop's models by id; one that this version of the program does not understand is left out."""
    return _understood(OWN_MODELS.standing())


def _understood(standing: dict[str, OwnText]) -> dict[str, Model]:
    return {name: OWN_MODELS.value(row) for name, row in standing.items() if not OWN_MODELS.why_not(row)}


def known_models(kept: Kept | None = None) -> dict[str, Model]:
    """Every model by id: the shop's own, the one that a unit keeps in the version that it keeps, and in a demo the
    invented ones that none of those replaces."""
    standing = OWN_MODELS.standing()
    if kept is not None and (now := standing.get(kept.name)) is not None and now.number != kept.number:
        row = OWN_MODELS.numbered(kept.name, kept.number)
        standing[kept.name] = now if row is None or OWN_MODELS.why_not(row) else row  # never without a plan
    return {name: model for name, model in demo_models().items() if name not in standing} | _understood(standing)


def gear(
    model: str,
    rated_w: float | None = None,
    words: str | None = None,
    fed_v: float | None = None,
    *,
    version: int | None = None,
) -> Model | None:
    """What is known of a unit by the name of its model or its kind, in the `version` that it keeps to, by the words
    that it came in by, and by the volts that were read at its supply; None of one that nobody knows. A unit that an
    earlier version of the program took for one of the invented models keeps its plan, though none of them is on the
    shelf."""
    kept = None if version is None else Kept(model, version)
    return gear_of(model, rated_w, models() | known_models(kept), words, fed_v) if model else None


def model_id(name: str) -> str:
    """The id that a model is kept under. Raises Refused where nothing of the name is left, or where it is a kind's."""
    made = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:LONGEST_ID]
    if not made:
        raise Refused("Under which name? Maker and model, as they stand on it.")
    if made in kinds():
        raise Refused(f"'{name.strip()}' is the name of a kind: maker and model, as they stand on it.")
    return made


def write_model(*, actor: Person, name: str, model: Model) -> None:
    """Write a model down as the next version of that name; the caller holds the writer."""
    text = model_text(model)
    OWN_MODELS.checked(name, text)
    OWN_MODELS.add(name, text, actor)
