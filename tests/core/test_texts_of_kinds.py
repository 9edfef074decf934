"""What hands typed in whole repairs of units that no model fits, on the ground of their kind: read at its place, or
asked about, and never something else."""

import tomllib
from pathlib import Path

import pytest

from young_spark.core.entry import EntryContext, Expected, Point, understand
from young_spark.core.entry.believed.surety import possible
from young_spark.core.figure import Conditions, quantity
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
    ground = ground_of_kind(told["kind"], told["row"])
    meant = understand(told["text"], ground)
    if not told["says"]:
        assert meant.chosen is None
        return
    assert meant.chosen is not None, meant.question
    meaning = meant.meanings[meant.chosen]
    assert len(meaning.readings) == len(told["says"])
    lent = ground.conditions.model_dump()
    for n, (reading, said) in enumerate(zip(meaning.readings, told["says"], strict=True)):
        quantity, figure, *where = said.split(" ")
        assert reading.quantity == quantity
        assert reading.result == figure or reading.value == pytest.approx(float(figure), rel=1e-5)
        there = meaning.conditions_of(n).model_dump()
        for key, value in (part.split("=") for part in where):
            assert str(there[key]) == value.replace("_", " " if key in SEVERAL_WORDS else "_")
        said_of = {part.split("=")[0] for part in where}
        strange = {k: there[k] for k in NEVER_LENT if k not in said_of and there[k] not in {None, lent[k]}}
        assert not strange, f"nobody said {strange} of {quantity}"


SEVERAL_WORDS = {"place", "item", "setting", "function"}
# parts of an address that nothing but the text or the line's own point may bring
NEVER_LENT = ("place", "item", "setting", "power_setting", "heat", "after_s", "function", "band")


@pytest.mark.parametrize("name", sorted(possible()))
def test_what_cannot_be_is_never_taken_without_asking(name):
    """A figure three times beyond what a quantity can be, typed behind the quantity's own name."""
    low, high = possible()[name]
    assert low < high
    unit = {"1": "", "°C": "c", "Ω": "ohm", "S": ""}.get(quantity(name).unit, quantity(name).unit)
    for value in (3 * high, 3 * low):
        if value in {0, 3 * low} and low >= 0:
            continue
        meant = understand(f"{quantity(name).name.lower()} {value:.0f}{unit}", EntryContext())
        taken = [] if meant.chosen is None else meant.meanings[meant.chosen].readings
        assert name not in {r.quantity for r in taken if r.value is not None and not low <= r.value <= high}


@pytest.mark.parametrize(
    "named", ["swr 1.4", "idle 50ma", "ripple 20mv", "freq err +40hz", "q7 base 0.7v", "sens 0.3uv"]
)
@pytest.mark.parametrize("bare", ["3.8", "2.6"])
def test_the_current_line_alone_says_nothing_of_a_bare_figure_beside_another_unit(named, bare):
    """Watts are wanted; what stands bare beside a figure of something else may be anything."""
    meant = understand(f"{named} {bare}", ground_of_kind("cb-am-mobile", "power-am-19"))
    taken = () if meant.chosen is None else meant.meanings[meant.chosen].readings
    assert not any(r.quantity == "carrier_power" for r in taken)


def test_a_line_of_more_figures_than_a_hand_types_is_to_be_split():
    """What looks at each figure beside each other would take its time over them."""
    meant = understand("1 " * 900, ground_of_kind("valve-linear", "output-14"))
    assert meant.chosen is None and meant.question is not None and "Split it in two" in meant.question
