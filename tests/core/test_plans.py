"""What a change makes stale, what is open, and the report: worked as a practitioner would tell them."""

from datetime import datetime, timedelta

import pytest

from young_spark.core.entry import StoryLine
from young_spark.core.figure import Conditions, Verdict
from young_spark.core.gear import gear_of, models
from young_spark.core.job import (
    Change,
    Pending,
    ReadingFact,
    adjustment_warning,
    area_from_before,
    compare,
    costs,
    dependencies,
    ghost,
    minutes_by_part,
    open_lines,
    spent,
    still_pending,
    story,
    what_was_not_measured,
)
from young_spark.core.job.phases import part_of_reading, part_of_words, phase_of, wanted_phase
from young_spark.core.job.plans import (
    Standing,
    is_dead,
    next_step,
    on_its_channel,
    read_again,
    retest,
    rows_wanted,
    stale_readings,
)
from young_spark.core.judging import VerdictLine, channel_plans

M27 = models()["tarnbeck-m27"]
MARINE = gear_of("marine-vhf", 25.0, {})


def fact(
    order: int, row: str, *, phase: str = "as_left", quantity: str | None = None, value: float = 3.8, **chips: object
) -> ReadingFact:
    wanted = M27.row(row)
    return ReadingFact(
        id=f"r{order}", line=f"l{order}", order=order, quantity=quantity or wanted.quantity, phase=phase, plan_row=row,
        conditions=Conditions(supply_v=13.2, **chips), value=value, verdict=Verdict.PASS, figure=f"{value} there",
    )  # fmt: skip


PROVEN = [
    fact(n, row)
    for n, row in enumerate(
        ("current-transmit", "power-am-19", "frequency-19", "depth-am-19", "deviation-fm-19", "harmonic-2-19"), 1
    )
]


def stale_rows(*changes: Change, facts=PROVEN) -> set[str]:
    stale = stale_readings(facts, changes, M27, dependencies())
    return {f.plan_row for f in facts if f.id in stale}


def repair(area: str | None, order: int = 9) -> Change:
    return Change(order=order, kind="repair", words="a part", area=area)


@pytest.mark.parametrize(
    ("area", "stale"),
    [
        ("final", {"current-transmit", "power-am-19", "depth-am-19", "harmonic-2-19"}),
        ("microphone", {"depth-am-19", "deviation-fm-19"}),
        ("output_filter", {"power-am-19", "harmonic-2-19"}),
        ("meter", set()),
        ("cooling", set()),  # of no figure of this plan, and yet never of another kind of unit
        ("receiver", set()),
        ("supply", {f.plan_row for f in PROVEN}),
        (None, {f.plan_row for f in PROVEN}),
    ],
)
def test_a_repair_makes_stale_what_depends_on_its_stage_and_no_more(area, stale):
    assert stale_rows(repair(area)) == stale


def test_a_repair_does_not_touch_what_was_measured_after_it():
    assert stale_rows(repair("supply", order=3)) == {"current-transmit", "power-am-19"}


def test_covers_taken_off_make_stale_and_put_back_on_do_not():
    off = Change(order=8, kind="condition", words="covers off", condition="covers", value="off")
    on = Change(order=9, kind="condition", words="covers on", condition="covers", value="on")
    taken_on = [f.model_copy(update={"conditions": f.conditions.model_copy(update={"covers": "on"})}) for f in PROVEN]
    assert "frequency-19" in stale_rows(off, facts=taken_on) and "deviation-fm-19" not in stale_rows(
        off, facts=taken_on
    )
    assert stale_rows(off, on, facts=taken_on) == set()


def test_the_supply_the_plan_asks_for_outlives_a_changed_supply():
    other = Change(order=9, kind="condition", words="supply 13.8", condition="supply_v", value="13.8")
    assert stale_rows(other) == set()
    loose = [PROVEN[1].model_copy(update={"plan_row": None})]
    assert len(stale_readings(loose, [other], M27, dependencies())) == 1


def test_the_retest_list_is_the_stale_rows_and_nothing_never_measured():
    stale = stale_readings(PROVEN, [repair("final")], M27, dependencies())
    assert [o.row.id for o in retest(M27.plan, PROVEN, stale)] == [
        "current-transmit",
        "power-am-19",
        "depth-am-19",
        "harmonic-2-19",
    ]
    still_open = {o.row.id for o in open_lines(M27.plan, "as_left", PROVEN, {})}
    assert still_open == {"power-am-1", "power-am-40"}


@pytest.mark.parametrize(
    ("chips", "why"), [({"covers": "off"}, "covers off"), ({"configuration": "the shop's valves"}, "the shop's valves")]
)
def test_a_figure_not_as_the_unit_leaves_does_not_count(chips, why):
    facts = [fact(1, "power-am-19", **chips)]
    wanted = [o for o in open_lines(M27.plan, "as_left", facts, {}) if o.row.id == "power-am-19"]
    assert why in wanted[0].why


def test_a_dead_unit_is_asked_for_both_sides_of_its_fuse_and_a_short_before_a_new_one():
    nothing = [
        fact(1, "current-standby", phase="as_received", value=0.001, state="standby").model_copy(
            update={"nothing": True}
        )
    ]
    assert is_dead(nothing)
    assert [row.ask for row in rows_wanted(M27, nothing)[:3]] == [
        "Fuse, supply side", "Fuse, unit side", "Ohms across the supply input, unplugged, BEFORE a new fuse goes in",
    ]  # fmt: skip
    assert rows_wanted(M27, [fact(1, "current-standby", phase="as_received", value=0.12, state="standby")]) == M27.plan


def test_before_and_after_follow_what_was_touched_and_nobody_presses_them():
    depends, final = dependencies(), [repair("final", order=4)]
    assert phase_of("carrier_power", 3, final, depends) == "as_received"
    assert phase_of("carrier_power", 5, final, depends) == "as_left"
    assert phase_of("frequency_error", 5, final, depends) == "as_received", "a final moves no frequency"
    assert phase_of("frequency_error", 5, [repair(None, order=4)], depends) == "as_left", "nobody said what it moves"
    assert wanted_phase("find", []) == "as_received" and wanted_phase("find", final) == "as_left"
    covers = [Change(order=4, kind="condition", words="covers off", condition="covers", value="off")]
    assert wanted_phase("find", covers) == "as_received"


def test_the_parts_of_the_job_follow_the_work():
    power, standby = M27.row("power-am-19"), M27.row("current-standby")
    here, inside, done = Conditions(), Conditions(place="Q7 base"), [repair("final")]
    assert part_of_reading("in", standby, here, []) == "in" and part_of_reading("in", power, here, []) == "find"
    assert part_of_reading("in", None, inside, []) == "find"
    assert part_of_reading("fix", power, here, done) == "prove" and part_of_reading("fix", None, inside, done) == "fix"
    assert part_of_words("find", "did") == "fix" and part_of_words("prove", "found") == "find"
    assert part_of_words("in", "found") == "in" and part_of_words("prove", "note") == "prove"


def test_what_nobody_touched_leaves_as_it_came():
    facts = [
        fact(1, "power-am-19", phase="as_received", value=1.1),
        fact(2, "frequency-19", phase="as_received", value=90),
    ]
    stale = stale_readings(facts, [repair("final", order=4)], M27, dependencies())
    assert [(c.before, c.after) for c in compare(M27.plan, facts, stale, {})] == [
        ("1.1 there", None), ("90 there", "90 there"),
    ]  # fmt: skip


def test_each_lock_and_each_wait_is_ended_by_itself():
    lead, bleeder = Pending(id="a", order=1, words="mains lead bare"), Pending(id="b", order=2, words="bleeder open")
    ends = Pending(id="c", order=3, words="lead replaced, earth tested")
    assert still_pending([lead, bleeder], [ends]) == (bleeder,)
    unclear = ends.model_copy(update={"words": "all done"})
    assert still_pending([lead, bleeder], [unclear]) == (lead, bleeder), "none ends where it could be either"
    assert still_pending([lead], [unclear]) == ()
    ticked = bleeder.model_copy(update={"ticked": 2})
    assert still_pending([lead, ticked], [unclear]) == ()


def test_the_warning_before_the_fault_is_found():
    assert "put it back" in adjustment_warning(["reading", "note"], [])
    assert adjustment_warning(["reading", "stage"], ["weak"]) is None and adjustment_warning(["did"], []) is None


def test_the_next_step_says_what_stops_the_job_first():
    proven = Standing(part="prove")
    assert next_step(proven) == "Proven: hand it back."
    assert next_step(proven.model_copy(update={"locked": "bleeder open"})) == "Not safe to power: bleeder open"
    again = open_lines(M27.plan, "as_left", PROVEN, {"r2": "x"})[:1]
    assert next_step(proven.model_copy(update={"retest": again})).startswith("Prove it: measure 1 again")


def test_nothing_is_called_proven_without_a_plan_or_before_all_is_settled():
    assert next_step(Standing(part="prove", planned=False)) == "Nothing is planned: what will you prove?"
    wish = Standing(part="prove", unsettled=("keep the beep",))
    assert next_step(wish) == "Every line is read. Still to settle: keep the beep"


def test_minutes_run_by_themselves_and_pauses_do_not_count():
    start = datetime(2026, 11, 25, 9, 0)
    stamps = [
        ("in", start),
        ("in", start + timedelta(minutes=4)),
        ("find", start + timedelta(minutes=10)),
        ("find", start + timedelta(hours=3)),
    ]
    assert minutes_by_part(stamps) == {"in": 5, "find": 7}


def test_the_ghost_is_the_median_of_other_units():
    assert ghost([], "W") is None
    known = ghost([3.6, 3.7, 3.8, 4.0], "W")
    assert (known.median, known.units, known.half_spread) == (
        pytest.approx(3.75),
        4,
        pytest.approx(0.1625),
    )  # quartiles 3.625, 3.95


def told(n: int, kind: str, words: str, **more: object) -> story.ToldLine:
    return story.ToldLine(id=str(n), line=StoryLine(kind=kind, words=words, **more))


def test_the_report_uses_no_stale_figure_and_says_what_was_not_measured():
    received = [fact(1, "power-am-19", phase="as_received", value=1.1)]
    left = [fact(5, "power-am-19"), fact(6, "frequency-19", value=-20)]
    facts = received + left
    stale = stale_readings(facts, [repair("final", order=4), repair("synthesiser", order=7)], M27, dependencies())
    compared = compare(M27.plan, facts, stale, {})
    assert [(c.before, c.after) for c in compared if c.row == "power-am-19"] == [
        ("1.1 there", None)
    ]  # the synthesiser moves power too
    assert [(c.before, c.after, c.in_work) for c in compared if c.row == "frequency-19"] == [
        (None, None, "-20 there in work (repair after it: a part)")
    ]  # read after the first repair; the second made it stale, and it is told all the same
    missing = what_was_not_measured(M27.plan, facts, stale)
    assert any("Frequency error" in m and "not measured again (repair after it" in m for m in missing)
    assert any(m == "Peak deviation, FM · channel 19 · 13.2 V: not measured" for m in missing)


def test_what_was_dead_when_it_came_and_never_tried_again_is_no_unit_that_is_well():
    deaf = fact(1, "power-am-19", quantity="condition", phase="as_received", function="receive").model_copy(
        update={"plan_row": None, "figure": "dead", "verdict": None}
    )
    heard = fact(9, "power-am-19", quantity="sensitivity_12db_sinad").model_copy(update={"plan_row": None})
    left = "Receive: dead as received, not tried again"
    assert left in what_was_not_measured(M27.plan, [deaf], {})
    assert left in what_was_not_measured(M27.plan, [deaf, *PROVEN], {"r1": "repair after it"})
    assert left not in what_was_not_measured(M27.plan, [deaf, heard], {})
    mute = deaf.model_copy(update={"conditions": Conditions(function="am")})
    in_am = fact(9, "power-am-19").model_copy(update={"conditions": Conditions(mode="am")})
    assert "Am: dead as received, not tried again" in what_was_not_measured(M27.plan, [mute], {})
    assert "Am: dead as received, not tried again" not in what_was_not_measured(M27.plan, [mute, in_am], {})
    well = deaf.model_copy(update={"id": "r8", "order": 8, "phase": "as_left", "figure": "ok"})
    assert left not in what_was_not_measured(M27.plan, [deaf, well], {})


def test_less_than_full_power_is_no_figure_of_a_line_that_is_due_at_full():
    hand = Conditions(state="transmit", power_setting="low")
    wanted = [row for row in MARINE.plan if row.quantity in {"supply_current", "carrier_power"}]
    assert read_again(wanted, "supply_current", hand) is None
    assert read_again(wanted, "supply_current", Conditions(state="transmit")) == "current-transmit"
    there = on_its_channel(
        Conditions(mode="fm", power_setting="low", frequency_hz=156.8e6), channel_plans()["itu-marine-vhf"]
    )
    assert there.channel == 16 and read_again(wanted, "carrier_power", there) == "power-low-16"


def test_the_story_is_drafted_from_the_lines_and_admits_when_no_cause_was_found():
    lines = [
        told(1, "said", "dead since the lamp was changed"),
        told(2, "wish", "keep the beep"),
        told(3, "did", "x", part_out="Q9", part_in="same type", reason="bad"),
        told(4, "adjusted", "x", adjuster="VR3", value_found="2.6k", value_left="1.9k"),
    ]
    texts = [s.text for s in story.draft("the set", lines, [], [])]
    assert texts == [
        "You told us: “dead since the lamp was changed”.", "You asked: “keep the beep” – kept as it was.",
        "Q9 replaced by same type: it was bad.", "VR3 set: found at 2.6k, left at 1.9k.",
    ]  # fmt: skip
    assert any(
        "No cause was found. Which function was in use" in s.text for s in story.draft("the set", lines[:1], [], [])
    )
    set_right = [s.text for s in story.draft("the set", [lines[0], lines[3]], [], [])]
    assert not any("No cause" in text for text in set_right)  # what stood wrong was found, and set


def test_a_wish_is_done_kept_refused_or_not_done():
    def became(wish: str, *lines: story.ToldLine, settled: bool = False) -> str:
        asked = story.ToldLine(id="w", line=StoryLine(kind="wish", words=wish), settled=settled)
        (sentence,) = (s for s in story.draft("the set", [asked, *lines], [], []) if s.key.startswith("wish"))
        return sentence.text.rsplit(" – ", 1)[1]

    assert became("fit a bigger meter lamp") == "not done." and became("fit a lamp", settled=True) == "done."
    assert became("leave the echo board alone") == "kept as it was."
    assert became("leave the echo board alone", told(1, "did", "echo board removed")) == "not done."
    refused = told(3, "note", "refused: more power is not allowed on these channels")
    assert became("more power please", refused) == f"{refused.line.words}."
    assert became("a louder beep", refused) == "not done."


def test_what_was_not_tried_or_struck_off_is_said_beside_what_is_missing():
    lines = [told(1, "note", "scan not tried"), told(2, "struck", "FM: not fitted"), told(3, "note", "knob loose")]
    missing = [s.text for s in story.draft("the set", lines, [], ["SWR: not measured"]) if s.section == "not_measured"]
    assert missing == ["FM: not fitted.", "Scan not tried.", "SWR: not measured."]


def test_costs_count_once_and_add_up():
    lines = [
        StoryLine(kind="wish", words="no more than 40", cost=40), StoryLine(kind="wait", words="Q12 ordered", cost=4.6),
        StoryLine(kind="arrived", words="arrived Q12", cost=4.6),
        StoryLine(kind="did", words="Q12 fitted", part_in="Q12", cost=4.6),
        StoryLine(kind="arrived", words="fuse holder came", cost=1.2),
    ]  # fmt: skip
    assert [(c.words, c.cost) for c in costs(lines)] == [("Q12", 4.6), ("fuse holder came", 1.2)]
    assert spent(lines) == pytest.approx(5.8)


def test_every_figure_that_counts_stands_in_the_report_by_its_address():
    inner = Conditions(place="Q7 base")
    volts = {"quantity": "dc_voltage", "phase": "as_received", "plan_row": None, "conditions": inner}
    dead = fact(1, "power-am-19", value=0.05).model_copy(update=volts)
    mended = dead.model_copy(update={"id": "r6", "order": 6, "phase": "as_left", "figure": "0.68 there"})
    open_covers = fact(7, "power-am-19", value=3.9, covers="off")
    changes = [repair(None, order=4)]
    facts = [dead, mended, open_covers]
    rows = compare(M27.plan, facts, stale_readings(facts, changes, M27, dependencies()), {})
    assert [(r.group, r.where, r.before, r.after) for r in rows] == [
        ("also", "Q7 base", "0.05 there", "0.68 there"),
        ("not_as_it_leaves", "taken with the covers off", None, "3.9 there"),
    ]


def test_what_the_hand_set_stands_and_the_row_fills_the_rest():
    row = next(r for r in models()["tarnbeck-m27"].plan if r.channel == 19 and r.mode == "am")
    assert row.under(Conditions(pad_db=20)).model_dump(exclude_defaults=True)["channel"] == 19
    by_hand = row.under(Conditions(channel=40, frequency_hz=None, pad_db=20))
    assert (by_hand.channel, by_hand.frequency_hz, by_hand.mode, by_hand.pad_db) == (40, None, "am", 20)
    assert row.under(Conditions(mode=None)).mode is None, "emptied by hand is said by hand"


@pytest.mark.parametrize(
    ("words", "part", "before", "area"),
    [
        ("Q23 replaced", "Q23", ("driver q23 c-e short", "freq 27.1851"), "driver"),
        ("Q23 replaced", "Q23", ("freq 27.1851",), None),
        ("cleaned, now 0.3 ohms", None, ("ch19 3.8w", "lpf relay k7 contacts pitted"), "output_filter"),
        ("cleaned and dried", None, ("swr 3.1", "water in the aerial plug"), "output_filter"),
        ("new plug 1.4", "plug", ("antenna vswr 4.1",), "aerial"),
        ("owner collects", None, ("lpf relay k7 pitted",), None),
    ],
)
def test_a_repair_that_names_no_stage_touched_what_the_slip_said_of_it(words, part, before, area):
    assert area_from_before(words, part, before) == area


def test_figures_of_one_side_are_no_before_and_after_of_each_other():
    """An SWR without a channel and another on 40, both as it came: nothing was done between them."""

    def rows(since: str) -> int:
        first = fact(1, "power-am-19", phase="as_received", quantity="swr", value=1.5)
        second = fact(2, "power-am-19", phase=since, quantity="swr", value=2.9, channel=40)
        return len(compare((), (first, second), {}, {}))

    assert (rows("as_received"), rows("as_left")) == (2, 1)


@pytest.mark.parametrize(
    ("quantity", "one", "other", "where"),
    [
        ("fm_deviation", {"audio": "voice"}, {"audio": "whistle"}, "whistle"),
        ("s_meter_reading", {"input_dbm": -73.7}, {"input_dbm": -53.4, "over_db": 20}, "20 dB over"),
        ("filter_bandwidth", {"at_db": 6}, {"at_db": 60}, "60 dB down"),
        ("resistance", {"test_v": 250}, {"test_v": 500}, "at 500 V"),
        ("audio_power", {"load_ohm": 4}, {"load_ohm": 8}, "into 8 Ω"),
        ("am_depth", {"tone_hz": 300}, {"tone_hz": 2500}, "tone 2.5 kHz"),
        ("carrier_power", {"supply_v": 13.8}, {"supply_v": 11}, "fed with 11 V"),
        ("carrier_power", {"supply_v": 13.7}, {"supply_v": 13.8}, None),
    ],
)
@pytest.mark.parametrize("row", [None, "power-am-19"])
def test_two_ways_to_read_a_point_are_no_two_readings_of_one(row, quantity, one, other, where):
    """What was read with a voice is not replaced by what a whistle gives; the same way once more is."""
    read = [
        ReadingFact(
            id=f"r{n}", line=f"l{n}", order=n, quantity=quantity, phase="as_left", plan_row=row,
            conditions=Conditions(**way), value=n, verdict=None, figure=f"{n}",
        )
        for n, way in enumerate((one, other), 1)
    ]  # fmt: skip
    shown = compare(M27.plan if row else (), read, {}, {})
    assert [c.after for c in shown] == (["2"] if where is None else ["1", "2"])
    assert where is None or where in shown[-1].where


def read_at(order: int, quantity: str, value: float, row: str | None, phase: str = "as_left", **chips: object):
    return ReadingFact(
        id=f"r{order}", line=f"l{order}", order=order, quantity=quantity, phase=phase, plan_row=row,
        conditions=Conditions(**chips), value=value, verdict=None, figure=f"{value:g}",
    )  # fmt: skip


def test_the_errors_of_two_sidebands_are_no_before_and_after():
    plan = gear_of("cb-am-fm-ssb-mobile", 12.0, {}).plan
    row = next(r for r in plan if r.quantity == "frequency_error" and r.mode is None)
    said = {"channel": 19, "row": row.id}
    found = compare(
        plan,
        [
            read_at(1, "frequency_error", -480, phase="as_received", mode="lsb", **said),
            read_at(2, "frequency_error", 150, mode="am", **said),
        ],
        {"r1": "adjustment after it"},
        {},
    )
    assert [(c.before, c.after) for c in found] == [("-480", None), (None, "150")]


@pytest.mark.parametrize(("band", "row"), [("vhf", True), ("uhf", None), ("6m", None)])
def test_a_band_by_its_name_is_the_line_of_that_band(band, row):
    """A set of two metres whose plan says 145.5 MHz: 'vhf 50w' stands there, and no other band does."""
    plan = [r for r in gear_of("vhf-uhf-fm-mobile", 50.0, {}).plan if r.frequency_hz]
    found = read_again(plan, "carrier_power", Conditions(mode="fm", band=band, supply_v=13.8))
    assert found == (row and next(r.id for r in plan if r.quantity == "carrier_power"))


def test_what_comes_out_at_less_drive_is_not_too_little():
    """180 W at 20 W of drive beside 420 W at 55 W: the 300 W that are due are due at full drive."""
    due = VerdictLine(
        kind="house", row="power", words="too little", low=300.0, high=500.0, unit="W", verdict=Verdict.FAIL,
        source="", confidence="typical", profile="due", version="1",
    )  # fmt: skip
    facts = []
    for line, (drive, out) in enumerate(((20.0, 180.0), (55.0, 420.0)), 1):
        for quantity, value in (("drive_power", drive), ("carrier_power", out)):
            one = read_at(10 * line + len(facts), quantity, value, None, frequency_hz=14.2e6)
            facts.append(one.model_copy(update={"line": f"l{line}", "verdict": Verdict.FAIL if value == 180 else None}))
    little = next(f for f in facts if f.value == 180)
    shown = {c.where: c for c in compare((), facts, {}, {little.id: (due,)}) if c.name == "Carrier power"}
    assert [(c.after, c.after_verdict) for c in shown.values()] == [("420", None), ("180", None)]
    assert any("20 W drive" in where for where in shown)
    too_much = due.model_copy(update={"low": 50.0, "high": 100.0})
    judged = compare((), facts, {}, {little.id: (too_much,)})
    assert any(c.after_verdict is Verdict.FAIL for c in judged)
