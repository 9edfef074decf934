"""A healthy unit of every shipped model passes its own plan when its own maker's figures are typed; and what a
change does to it."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_spark.core.entry import Earlier, EntryContext, Expected, understand
from young_spark.core.figure import Conditions, Verdict
from young_spark.core.gear import Model, PlanRow, models
from young_spark.core.job import ReadingFact, dependencies, open_lines
from young_spark.core.job.plans import Change, answered_row, retest, stale_readings
from young_spark.core.judging import channel_plans, profiles

UNITS = {"W": "w", "Hz": "hz", "A": "a", "V": "v", "%": "%", "dBc": "dbc", "dB": "", "1": ""}
ROWS = [(name, row.id) for name, model in models().items() for row in model.plan]
M27 = models()["tarnbeck-m27"]


def typed(row: PlanRow, unit: str) -> str:
    """The maker's figure as a hand would type it."""
    sign = "+" if row.quantity == "frequency_error" else ""
    loss = " loss 20/20.4" if unit == "dBc" else ""
    return f"{sign}{row.expected:g}{UNITS[unit]}{loss}"


def where(model: Model, row: PlanRow) -> EntryContext:
    known = profiles()
    carrier = Earlier(
        quantity="carrier_power",
        value=model.greatest_power_w,
        uncertainty=0.1,
        conditions=Conditions(),
        phase="as_left",
    )
    return EntryContext(
        conditions=row.conditions(Conditions()),
        expected=Expected(quantity=row.quantity, row=row.id, expected=row.expected),
        profiles={name: known[name] for name in model.profiles},
        channel_plan=channel_plans().get(model.channel_plan or ""),
        earlier=(carrier,),
        greatest_power_w=model.greatest_power_w,
    )


@pytest.mark.parametrize(("name", "row_id"), ROWS)
def test_the_makers_own_figure_is_understood_within_every_limit_and_raises_no_question(name, row_id):
    model = models()[name]
    row = model.row(row_id)
    from young_spark.core.figure import quantity

    found = understand(typed(row, quantity(row.quantity).unit), where(model, row))
    assert found.chosen == 0 and found.question is None and found.guards == ()
    meaning = found.meanings[0]
    assert meaning.readings[0].quantity == row.quantity
    assert {v.verdict for v in meaning.verdicts[0] if not v.only_under} <= {Verdict.PASS, Verdict.PASS_CLOSE}
    answered = answered_row(open_lines(model.plan, row.phases[0], [], {}), [row.quantity], meaning.conditions, row.id)
    assert answered == row.id


@pytest.mark.parametrize("name", [name for name, model in models().items() if not model.generic])
def test_every_model_is_judged_by_somebody_and_says_its_cautions(name):
    model = models()[name]
    assert {profiles()[p].kind for p in model.profiles} & {"specification"}
    assert model.cautions and (not model.high_voltage or any("kills" in c for c in model.cautions))
    assert {row.quantity for row in model.plan} & {"carrier_power", "peak_envelope_power"}


def proven() -> list[ReadingFact]:
    rows = [row for row in M27.plan if "as_left" in row.phases]
    return [
        ReadingFact(
            id=f"r{n}",
            line=f"l{n}",
            order=n,
            quantity=row.quantity,
            phase="as_left",
            plan_row=row.id,
            conditions=row.conditions(Conditions()),
        )
        for n, row in enumerate(rows, 1)
    ]


changes = st.builds(
    Change,
    order=st.integers(1, 30),
    kind=st.sampled_from(["repair", "adjustment"]),
    words=st.just("something"),
    area=st.sampled_from([None, *dependencies().areas]),
)


@given(st.lists(changes, max_size=4), changes)
def test_another_change_never_makes_a_stale_figure_good_again(before, another):
    facts = proven()
    fewer = stale_readings(facts, before, M27, dependencies())
    more = stale_readings(facts, [*before, another], M27, dependencies())
    assert set(fewer) <= set(more)


@given(st.lists(changes, min_size=1, max_size=4))
def test_measuring_the_retest_list_proves_the_unit_and_nothing_less_does(made):
    facts = proven()
    wanted = retest(M27.plan, facts, stale_readings(facts, made, M27, dependencies()))
    again = [
        ReadingFact(
            id=f"again{n}",
            line=f"a{n}",
            order=100 + n,
            quantity=o.row.quantity,
            phase="as_left",
            plan_row=o.row.id,
            conditions=o.row.conditions(Conditions()),
        )
        for n, o in enumerate(wanted)
    ]
    stale = stale_readings([*facts, *again], made, M27, dependencies())
    assert retest(M27.plan, [*facts, *again], stale) == ()
    for left_out in again:
        kept = [*facts, *(f for f in again if f is not left_out)]
        assert [o.row.id for o in retest(M27.plan, kept, stale)] == [left_out.plan_row]
