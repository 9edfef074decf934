"""Limits, channels and chains edited as what they are: one value changes and nothing else of the text, what that does
is said, and nothing is kept before a hand keeps it."""

import difflib

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.server.conftest import take
from young_spark.core.ground import BadKnowledge, EditTable, changed, parse, shipped_text, table_of
from young_spark.core.judging import ChannelPlan, Profile, channel_plans, channel_table, limit_tables, profiles
from young_spark.core.trace import chain_from, chain_names, chain_tables
from young_spark.server.library.models import OwnText

JSON = "application/json"
READERS = {
    "limits": lambda text: limit_tables(parse(text, "t", Profile)),
    "channels": lambda text: channel_table(parse(text, "t", ChannelPlan)),
    "chains": lambda text: chain_tables(chain_from(text, "t", "t"), text, "t"),
}
SHIPPED = (
    [("limits", name) for name in profiles()]
    + [("channels", name) for name in channel_plans()]
    + [("chains", name) for name in chain_names()]
)


def cells(tables: tuple[EditTable, ...]) -> dict[tuple[str, str, str], object]:
    return {(t.id, row.id, field): value for t in tables for row in t.rows for field, value in row.values.items()}


@pytest.mark.long
@pytest.mark.parametrize(("kind", "name"), SHIPPED, ids=[f"{k} {n}" for k, n in SHIPPED])
@settings(max_examples=12, deadline=None)
@given(data=st.data())
def test_one_cell_changes_and_nothing_else_of_the_text_or_its_meaning(kind, name, data):
    text = shipped_text(kind, name)
    before = READERS[kind](text)
    words = {k for k, v in cells(before).items() if isinstance(v, str | float) and not isinstance(v, bool)}
    free = sorted(k for k in words if k[2] not in {"effect", "confidence", "tolerance_unit"})
    table, row, field = data.draw(st.sampled_from(free))
    was = cells(before)[table, row, field]
    new = f"{was} so".strip() if isinstance(was, str) else (round(was * 1.01 + 0.125, 3) or 1.0)
    try:
        made = changed(text, "t", table_of(before, table), row, field, new)
        after = READERS[kind](made)
    except BadKnowledge:
        return  # refused, as from a hand: low above high, say
    differing = {k for k, v in cells(after).items() if cells(before).get(k) != v}
    assert differing == {(table, row, field)}
    assert cells(after)[table, row, field] == new
    moved = [line for line in difflib.ndiff(text.splitlines(), made.splitlines()) if line[0] in "+-"]
    assert len(moved) <= 4, moved  # its own line, or a change where a block is used


def test_a_limit_is_edited_with_what_it_would_judge_and_kept_by_a_hand_only(bench, job):
    take(bench, job, "3.7w ch19 am")
    text = bench.get("/api/library/profiles/sheet-tarnbeck-m27").json()["text"]

    def edited(edit, text=text):
        body = {"name": "sheet-tarnbeck-m27", "text": text, "edit": edit}
        return bench.post("/api/library/edited/limits", body, content_type=JSON)

    as_it_is = edited(None).json()
    assert as_it_is["text"] == text and not as_it_is["changes"] and not as_it_is["would"]
    ranges = as_it_is["tables"][0]
    assert ranges["rows"][0]["values"] | {"low": 3.6, "high": 4.0} == ranges["rows"][0]["values"]
    power = {"table": "ranges", "row": ranges["rows"][0]["id"], "field": "low"}
    made = edited(power | {"value": 2.0}).json()
    assert made["changes"] == ["Carrier: at least 2 W, was 3.6 W"]
    assert len(made["would"]) == 1 and made["would"][0].startswith(
        f"Job {job.number}: Carrier power 3.7 W would be Within"
    )
    assert edited(power | {"value": 2.0}, made["text"]).json()["text"] == made["text"]
    assert not OwnText.objects.exists()
    refused = edited(power | {"value": 5})
    assert refused.status_code == 400 and "low 5 is above high 4" in refused.json()["detail"]
    assert "did you mean" in edited(power | {"field": "lo"}).json()["detail"]
    other = edited({"act": "another", "table": "ranges", "row": power["row"]}).json()
    assert other["changes"] == ["Carrier: new"] and other["tables"][0]["rows"][-1]["id"] == f"{power['row']}-2"
    off = edited({"act": "off", "table": "ranges", "row": power["row"]}).json()
    assert off["changes"] == ["Carrier: not there any more"]
    kept = bench.put("/api/library/profiles/sheet-tarnbeck-m27", {"text": made["text"]}, content_type=JSON)
    assert kept.status_code == 200
    assert edited(None, made["text"]).json()["changes"] == []  # it is what stands now


def test_a_channel_and_what_a_shared_block_brings_are_edited_alike(bench, db):
    def edited(kind, name, edit):
        body = {"name": name, "text": shipped_text(kind, name), "edit": edit}
        return bench.post(f"/api/library/edited/{kind}", body, content_type=JSON).json()

    plan = edited("channels", "uk-27-81", {"act": "another", "table": "channels", "row": "40"})
    assert plan["tables"][0]["rows"][-1]["name"] == "Channel 41" and plan["changes"] == ["Channel 41: new"]
    made = edited("chains", "cb-fm-mobile", {"table": "faults", "row": "fuse", "field": "weight", "value": 9})
    assert made["changes"] == ["fuse blown: how often, beside the others 9, was 4"]
    fuse = next(f for f in chain_from(made["text"], "t", "t").faults if f.id == "fuse")
    other = next(f for f in chain_from(shipped_text("chains", "cb-am-mobile"), "t", "t").faults if f.id == "fuse")
    assert (fuse.weight, other.weight) == (9, 4)  # here, and not in the other chains that share the block
    looks = edited("chains", "cb-fm-mobile", {"table": "probes", "row": "receive", "field": "minutes", "value": 7})
    assert looks["changes"] == ["Receive works: takes 7 min, was 0.5 min"]  # the function of that name has no minutes
    rows = {row["id"]: row for table in made["tables"] for row in table["rows"]}
    assert rows["low_resistor"]["off"] and not rows["fuse"]["off"]  # what a block brings is not taken off from here
