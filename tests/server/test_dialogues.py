"""What stands where after each of some sixty short dialogues, said as the page says them."""

import re
import tomllib
import uuid
from pathlib import Path

import pytest

from young_spark.server.jobs.models import Item, Line
from young_spark.server.jobs.services import check_in
from young_spark.server.readings.models import Reading

TOLD = tomllib.loads((Path(__file__).parent / "dialogues.toml").read_text())["dialogue"]
UNITS = {
    "m27": "Tarnbeck M27", "q100": "Corrie Q100", "40f": "Fellgate 40F", "12 base": "Beckside 12 base",
    "400": "Hollin Linear 400", "476": "Scarth Ridge 476", "amp": "mobile linear 100W",
    "vhf": "vhf fm mobile 25w", "marine": "marine vhf 25w",
}  # fmt: skip
JSON = "application/json"
OF_THE_POINT = {"mode", "channel", "frequency_hz", "power_setting", "supply_v", "state", "modulation"}
DERIVED = {"gain", "efficiency", "carrier_frequency", "return_loss", "am_depth_positive", "power_flatness"}


ANSWERED = re.compile(r"(.*?)(?: #(\d))?")  # a text and the number of the answer to its question


class Hand:
    """What a page does with what is typed: the line that comes next, the chips that a place sets, the answers."""

    def __init__(self, client, job, item=None) -> None:
        self.client, self.job, self.item = client, job, item
        self.sticky: dict[str, object] = {}
        self.here: tuple[str | None, dict[str, object]] = (None, {})

    def slip(self) -> dict:
        where = f"?item={self.item}" if self.item else ""
        return self.client.get(f"/api/jobs/{self.job}{where}").json()

    def says(self, text: str) -> None:
        text, answer = ANSWERED.fullmatch(text).groups()
        row = self.slip()["next_row"]
        chips = {**self.sticky, **(self.here[1] if self.here[0] == row else {})}
        body = {"text": text, "job": str(self.job), "item": self.item, "row": row, "conditions": chips}
        meant = self.client.post("/api/understand", body, content_type=JSON).json()
        sense, moved = None, meant["sets"]
        if answer:
            choice = meant["choices"][int(answer) - 1]
            sense, moved = choice["sense"], choice["sets"]
        if moved is not None:
            self._moves(moved, row)
            return
        kept = meant["question"] is not None and sense is None
        sent = {**body, "id": str(uuid.uuid4()), "sense": sense, "as_note": kept}
        found = self.client.post("/api/lines", sent, content_type=JSON)
        assert found.status_code == 201, found.content

    def _moves(self, sets: dict[str, object], row: str | None) -> None:
        told = {k: v for k, v in sets.items() if v is not None and k not in {"multiplier", "pad_db"}}
        self.here = (row, {k: v for k, v in told.items() if row and k in OF_THE_POINT})
        self.sticky |= {k: v for k, v in told.items() if not (row and k in OF_THE_POINT)}


def where(conditions: dict) -> str:
    parts = [
        conditions.get("instrument") or "",
        conditions.get("item") or "",
        conditions.get("place") or "",
        conditions.get("power_setting") or "",
        conditions.get("mode") or "",
        f"ch{conditions['channel']}" if conditions.get("channel") is not None else "",
        f"{conditions['frequency_hz'] / 1e6:g}MHz" if conditions.get("frequency_hz") else "",
    ]
    return " ".join(p for p in parts if p)


def standing(job, item) -> dict[str, list[object]]:
    """The figures that stand, by the line of the plan or by quantity and place, oldest first."""
    found: dict[str, list[object]] = {}
    standing = Reading.objects.filter(line__job=job, line__item=item, line__withdrawn_at=None)
    for reading in standing.order_by("line__number", "position"):
        if reading.quantity in DERIVED and not reading.plan_row:
            continue
        value = reading.value if reading.value is not None else reading.as_measured.result
        key = reading.plan_row or f"{reading.quantity}@{where(reading.conditions)}"
        found.setdefault(key, []).append(value)
    return found


def agrees(found: dict[str, list[object]], wanted: dict[str, object]) -> None:
    for key, value in wanted.items():
        values = value if isinstance(value, list) else [value]
        assert key in found, (key, found)
        newest = found[key][-len(values) :]
        for have, due in zip(newest, values, strict=True):
            assert have == (
                pytest.approx(due, rel=5e-3, abs=0.51 if abs(due) > 1e5 else 1e-9) if not isinstance(due, str) else due
            )
    planned = {key for key in found if "@" not in key}
    assert planned == {key for key in wanted if "@" not in key}, found


@pytest.mark.parametrize("told", TOLD, ids=lambda t: t["says"])
def test_what_is_said_stands_where_it_was_meant(bench, wren, told):
    job = check_in(actor=wren, job_id=uuid.uuid4(), words=f"{UNITS[told['unit']]}, marshal 9: weak")
    second = (
        Item.objects.create(job=job, name=told["second"], model=job.items.first().model, position=1)
        if "second" in told
        else None
    )
    bench.patch(f"/api/jobs/{job.pk}", {"part": told["part"]}, content_type=JSON)
    hand = Hand(bench, job.pk)
    other = Hand(bench, job.pk, str(second.pk)) if second else None
    for text in told["texts"]:
        if text.startswith(">"):
            bench.patch(f"/api/jobs/{job.pk}", {"part": text[1:]}, content_type=JSON)
        elif text == "!back":
            last = Line.objects.filter(job=job, withdrawn_at=None).latest("number")
            bench.post(f"/api/lines/{last.pk}/withdraw", {"reason": "misread"}, content_type=JSON)
        elif found := re.match(r"!replace (.+)", text):
            last = Line.objects.filter(job=job, withdrawn_at=None).latest("number")
            bench.post(
                "/api/lines",
                {
                    "id": str(uuid.uuid4()),
                    "text": found[1],
                    "job": str(job.pk),
                    "row": "power-am-19",
                    "supersedes": str(last.pk),
                    "reason": "mistyped",
                },
                content_type=JSON,
            )
        elif text.startswith("@2 "):
            other.says(text[3:])
        else:
            hand.says(text)
    agrees(standing(job, job.items.get(position=0)), told["stands"])
    if second:
        agrees(standing(job, second), told["second_stands"])
    if "next" in told:
        assert hand.slip()["next_row"] == told["next"]


def test_there_are_sixty_of_them():
    assert len(TOLD) >= 60


def test_a_repair_that_asks_for_its_figure_is_both_or_only_words(bench, wren):
    """Which of the two is the hand's to say; without an answer nothing is stored."""
    job = check_in(actor=wren, job_id=uuid.uuid4(), words=f"{UNITS['m27']}, marshal 9: weak")
    bench.patch(f"/api/jobs/{job.pk}", {"part": "find"}, content_type=JSON)
    hand = Hand(bench, job.pk)
    hand.says("swr 4.1")
    text = {"text": "new plug 1.4", "job": str(job.pk)}
    unanswered = bench.post("/api/lines", {**text, "id": str(uuid.uuid4())}, content_type=JSON)
    assert unanswered.status_code == 422 and "was that read then?" in unanswered.json()["detail"]
    for answer, readings in (({"sense": 0}, [1.4]), ({"as_note": True}, [])):
        line = bench.post("/api/lines", {**text, **answer, "id": str(uuid.uuid4())}, content_type=JSON).json()
        assert (line["kind"], [round(r["measured"]["value"], 6) for r in line["readings"]]) == ("did", readings)
