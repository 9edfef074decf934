"""What hands typed in whole repairs of units that no model fits, on the ground of their kind: read at its place, or
asked about, and never something else."""

import tomllib
from pathlib import Path

import pytest

from young_spark.core.entry import EntryContext, Expected, Point, understand
from young_spark.core.figure import Conditions
from young_spark.core.gear import Model, gear_of, models
from young_spark.core.judging import channel_plans, profiles

TEXTS = tomllib.loads((Path(__file__).parent / "corpus" / "kinds.toml").read_text())["text"]
OF_A_POINT = set(Point.model_fields)


def ground_of_kind(kind: str, row: str) -> EntryContext:
    """The slip of a unit of a kind, its line of this plan row current."""
    model = gear_of(kind, None, models())
    assert isinstance(model, Model)
    wanted = model.row(row)
    assert wanted is not None, [r.id for r in model.plan]
    return EntryContext(
        conditions=wanted.under(Conditions()),
        expected=Expected(quantity=wanted.quantity, ask=wanted.ask, row=row, expected=wanted.expected),
        profiles={name: profiles()[name] for name in model.profiles},
        channel_plan=channel_plans().get(model.channel_plan or ""),
        greatest_power_w=model.greatest_power_w,
        high_voltage=model.high_voltage,
        points=tuple(Point.model_validate(r.model_dump(include=OF_A_POINT)) for r in model.plan),
        modes=model.modes,
        lent=tuple(name for name in ("modulation", "mode") if getattr(wanted, name)),
    )


@pytest.mark.parametrize("told", TEXTS, ids=lambda t: f"{t['text']} ({t['kind']})")
def test_it_is_read_at_its_place_or_asked_about(told):
    meant = understand(told["text"], ground_of_kind(told["kind"], told["row"]))
    if not told["says"]:
        assert meant.chosen is None
        return
    assert meant.chosen is not None, meant.question
    meaning = meant.meanings[meant.chosen]
    assert len(meaning.readings) == len(told["says"])
    for n, (reading, said) in enumerate(zip(meaning.readings, told["says"], strict=True)):
        quantity, figure, *where = said.split(" ")
        assert reading.quantity == quantity
        assert reading.result == figure or reading.value == pytest.approx(float(figure), rel=1e-5)
        there = meaning.conditions_of(n).model_dump()
        for key, value in (part.split("=") for part in where):
            assert str(there[key]) == value.replace("_", " " if key in {"place", "item", "setting"} else "_")
