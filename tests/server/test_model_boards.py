"""Boards on a model's sheet: put there, pinned, found on the slip of the next unit, and packed with the model's file
into one zip that is the same after a round trip."""

import io
import random
import tomllib
import uuid
import zipfile

import pytest

from tests.server.conftest import picture_bytes
from young_spark.server.jobs import kept_files
from young_spark.server.jobs.services import check_in
from young_spark.server.tracing.models import GearBoard

pytestmark = pytest.mark.django_db
JSON = "application/json"
PINS = [
    {"name": "VR7 deviation", "probe": "", "x": 0.25, "y": 0.5},
    {"name": "TP2", "probe": "pa_rail_v", "x": 0.75, "y": 0.25},
]


@pytest.fixture
def sheet(bench):
    """A model of this shop with one board, pinned."""
    bench.post("/api/gear/cb-fm-mobile/copy", {"name": "Aske R2"}, content_type=JSON)
    board = str(uuid.uuid4())
    file = {"file": io.BytesIO(picture_bytes()), "id": board, "words": "main board"}
    assert bench.post("/api/gear/aske-r2/boards", file).status_code == 200
    told = {"side": "solder", "words": "main board", "pins": PINS}
    return bench.put(f"/api/gear/aske-r2/boards/{board}", told, content_type=JSON).json()


def packed(bench):
    return bench.get("/api/gear/aske-r2/packed").content


def read(bench, data, sure=False):
    return bench.post("/api/gear-packed", {"file": io.BytesIO(data), "sure": str(sure).lower()})


def changed(data: bytes, **entries: bytes | None) -> bytes:
    """A zip with other entries; None leaves one out."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            content = entries.get(name.replace(".", "_"), old.read(name))
            if content is not None:
                new.writestr(name, content)
    return out.getvalue()


def test_a_board_says_what_is_known_of_each_place_and_stands_on_the_slip_of_the_next_unit(bench, sheet, wren):
    (board,) = sheet["boards"]
    assert (board["words"], board["side"], board["on_sheet"]) == ("main board", "solder", True)
    about = {pin["name"]: pin["about"] for pin in board["pins"]}
    assert "11 to 14.4 V due" in about["TP2"]
    assert bench.get(f"/api/pictures/{board['sha256']}")["Content-Type"] == "image/jpeg"
    job = check_in(actor=wren, job_id=uuid.uuid4(), words="Aske R2, marshal 9: no output")
    (found,) = bench.get(f"/api/jobs/{job.pk}/boards").json()
    assert found["fixed"] and [pin["name"] for pin in found["pins"]] == ["VR7 deviation", "TP2"]
    pin = {"name": "x", "x": 0.1, "y": 0.1}
    moved = bench.put(f"/api/jobs/{job.pk}/boards/{found['line']}/pins/{uuid.uuid4()}", pin, content_type=JSON)
    assert moved.status_code == 404  # its pins are set on the sheet
    shipped = bench.put("/api/gear/cb-fm-mobile/boards/" + board["id"], {"side": "solder"}, content_type=JSON)
    assert shipped.status_code == 400 and "copy it under a name of this shop" in shipped.json()["detail"]
    assert bench.delete(f"/api/gear/aske-r2/boards/{board['id']}").json()["boards"] == []
    assert bench.delete(f"/api/gear/aske-r2/boards/{board['id']}").status_code == 200


def test_a_sequence_of_the_model_says_what_an_adjuster_sets_and_what_is_read_again(bench, sheet):
    text = bench.get("/api/gear/aske-r2/file").content.decode()
    sequences = """
[[sequences]]
id = "fm"
title = "FM"
source = "Aske"
[[sequences.steps]]
id = "freq"
adjuster = "TC1"
read = "frequency_error"
aim = { aim = "to", value = 0.0, allowed = 100.0 }
upsets = ["dev"]
[[sequences.steps]]
id = "dev"
adjuster = "VR7 deviation"
read = "fm_deviation"
aim = { aim = "to", value = 2000.0, allowed = 100.0 }
"""
    kept = bench.post("/api/gear-file", {"text": text + sequences, "sure": True}, content_type=JSON)
    assert kept.status_code == 200, kept.json()
    about = {pin["name"]: pin["about"] for pin in kept.json()["sheet"]["boards"][0]["pins"]}
    assert about["VR7 deviation"].startswith("sets peak deviation to ") and "again" not in about["VR7 deviation"]


def test_a_model_goes_out_with_its_boards_and_comes_in_the_same_with_the_difference_first(bench, sheet):
    data = packed(bench)
    told = tomllib.loads(zipfile.ZipFile(io.BytesIO(data)).read("boards.toml").decode())["boards"]
    assert [pin["name"] for pin in told[0]["pins"]] == ["VR7 deviation", "TP2"]
    same = read(bench, data).json()
    assert (same["differences"], same["kept"]) == ([], False)
    bench.delete(f"/api/gear/aske-r2/boards/{sheet['boards'][0]['id']}")
    bench.post("/api/gear/aske-r2/withdraw")
    shown = read(bench, data).json()
    assert {"what": "board, main board", "here": "", "there": "2 pins"} in shown["differences"]
    assert shown["sheet"] is None and not GearBoard.objects.exists()
    kept = read(bench, data, sure=True).json()
    assert [b["pins"] for b in kept["sheet"]["boards"]] == [b["pins"] for b in sheet["boards"]]
    assert (
        packed(bench) == data
        or tomllib.loads(zipfile.ZipFile(io.BytesIO(packed(bench))).read("boards.toml").decode())["boards"] == told
    )
    assert read(bench, packed(bench)).json()["differences"] == []  # identical after the round trip


def test_a_picture_that_is_not_whole_is_left_out_of_what_goes_out(bench, sheet, settings):
    (settings.PICTURES / sheet["boards"][0]["sha256"]).write_bytes(b"rot")
    assert tomllib.loads(zipfile.ZipFile(io.BytesIO(packed(bench))).read("boards.toml").decode()) == {"boards": []}
    assert kept_files.standing(sheet["boards"][0]["sha256"]) == "damaged"


@pytest.mark.parametrize(
    ("entries", "words"),
    [
        ({"model_toml": None}, "model.toml is missing"),
        ({"boards_toml": b"boards = 3"}, "boards.toml in it, boards"),
        ({"boards_toml": b"[["}, "boards.toml in it is not understood"),
        (
            {"boards_toml": b'[[boards]]\npicture = "../../etc/x"\nside = "solder"'},
            "boards.toml in it, boards.0.picture",
        ),
        ({"boards_toml": b'[[boards]]\npicture = "boards/none.jpg"\nside = "solder"'}, "boards/none.jpg is missing"),
        ({"boards_toml": b'[[boards]]\npicture = "boards/x"\nside = "up"'}, "boards.toml in it, boards.0.side"),
        ({"model_toml": b"kind = 3"}, "model.toml: line 1"),
        ({"model_toml": b"\xff\xfe"}, "is not a whole packed model"),
    ],
)
def test_a_packed_model_that_is_wrong_is_one_sentence_and_keeps_nothing(bench, sheet, entries, words):
    data = changed(packed(bench), **entries)
    before = GearBoard.objects.count()
    answer = read(bench, data, sure=True)
    assert answer.status_code == 400 and words in answer.json()["detail"]
    assert GearBoard.objects.count() == before


def test_a_hundred_damaged_zips_are_one_sentence_each(bench, sheet):
    data = packed(bench)
    for seed in range(100):
        chance = random.Random(seed)
        broken = bytearray(data[: chance.randrange(1, len(data))] if seed % 2 else data)
        for _ in range(8):
            broken[chance.randrange(len(broken))] ^= 1 << chance.randrange(8)
        answer = read(bench, bytes(broken))
        assert answer.status_code in {200, 400, 413}, (seed, answer.content[:200])
        if answer.status_code != 200:
            assert 10 < len(answer.json()["detail"]) < 400
