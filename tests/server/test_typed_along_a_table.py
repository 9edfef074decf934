"""What is typed along a table, cell by cell, stands in the cell that it was typed for."""

import uuid

import pytest

from tests.server.test_dialogues import Hand
from young_spark.server.jobs.services import check_in

# the unit, what opens the table, which table, and what is typed into every cell of a column
SCENES = [
    ("HF transceiver 100 W", ["7.1 101w", "14.2 98w"], "bands", ["91", "92", "93", "94", "95"]),
    ("valve linear 400 W", ["7.1 60w in 390w out", "14.2 60w in 380w out"], "bands", ["50", "51", "52", "53", "54"]),
    ("Tarnbeck M27", ["ch1 3.4w", "ch40 3.8w"], "channels", ["3.5", "3.6", "3.7"]),
    ("Tarnbeck M27", ["c7 61uf of 100uf", "c12 46uf of 47uf"], "parts", ["48u", "49u"]),
    ("Tarnbeck M27", ["q7 base 0.65 collector 12.9", "q8 base 0 collector 13.1"], "electrodes", ["0.71", "0.72"]),
    ("marine VHF 25 W", ["hi 24.6w lo 0.9w"], "settings", ["1.1", "22.1"]),
    ("Tarnbeck M27", ["standby 110ma", "rx 0.25a"], "states", ["0.12", "0.26"]),
]  # fmt: skip


@pytest.mark.parametrize(("unit", "opens", "name", "typed"), SCENES, ids=lambda v: v if isinstance(v, str) else "")
def test_a_text_begun_by_a_cell_lands_in_it(bench, wren, unit, opens, name, typed):
    job = check_in(actor=wren, job_id=uuid.uuid4(), words=f"{unit}, marshal 9: weak")
    hand = Hand(bench, job.pk)
    for text in opens:
        hand.says(text)
    told = next(t for t in hand.slip()["tables"] if t["id"] == name)
    walked = [n for n, column in enumerate(told["columns"]) if column["begins"] is not None]
    assert walked, told["columns"]
    for n in walked:
        column = told["columns"][n]
        for row, figure in zip(told["rows"], typed, strict=False):
            hand.says(f"{row['begins']}{column['begins']}{figure}")
        table = next(t for t in hand.slip()["tables"] if t["id"] == name)
        assert [r["where"] for r in table["rows"]] == [r["where"] for r in told["rows"]]
        at = next(m for m, c in enumerate(table["columns"]) if c["name"] == column["name"])
        shown = [row["cells"][at]["now"] or row["cells"][at]["before"] for row in table["rows"]]
        for figure, cell in zip(typed, shown, strict=False):
            digits = figure.rstrip("u").lstrip("0").replace(".", "")
            assert digits in cell.replace(".", ""), (figure, cell, column)
