"""The models that this shop keeps: units that it knows, beside those that ship."""

from typing import Any

import tomli_w

from young_spark.core.gear import Model, gear_of
from young_spark.core.ground import parse
from young_spark.server.accounts.models import Person
from young_spark.server.library.demo_shelf import demo_models
from young_spark.server.library.models import OwnText
from young_spark.server.library.own_texts import OwnTexts

HEAD = "# A model of gear, kept by this shop. What is at its default is left out.\n"
OWN_MODELS = OwnTexts(OwnText.Kind.MODELS, lambda text, name: parse(text, f"{name}.toml", Model))


def model_text(model: Model) -> str:
    """The open file of a model, which reads back as the same."""
    told: dict[str, Any] = model.model_dump(mode="json", exclude_defaults=True, exclude_none=True)
    return HEAD + tomli_w.dumps(told)


def own_models() -> dict[str, Model]:
    """This shop's models by id; one that this version of the program does not understand is left out."""
    return _understood(OWN_MODELS.standing())


def _understood(standing: dict[str, OwnText]) -> dict[str, Model]:
    return {name: OWN_MODELS.value(row) for name, row in standing.items() if not OWN_MODELS.why_not(row)}


def known_models() -> dict[str, Model]:
    """Every model by id: the shop's own, and in a demo the invented ones that none of those replaces."""
    standing = OWN_MODELS.standing()
    return {name: model for name, model in demo_models().items() if name not in standing} | _understood(standing)


def gear(model: str, rated_w: float | None = None) -> Model | None:
    """What is known of a unit by the name of its model or its kind; None of one that nobody knows."""
    return gear_of(model, rated_w, known_models()) if model else None


def write_model(*, actor: Person, name: str, model: Model) -> None:
    """Write a model down as the next version of that name; the caller holds the writer."""
    text = model_text(model)
    OWN_MODELS.checked(name, text)
    OWN_MODELS.add(name, text, actor)
