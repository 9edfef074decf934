"""Pictures: re-encoded, location gone, bounded, refused in words."""

import io
import uuid

import pytest
from django.conf import settings
from PIL import Image

from tests.server.conftest import picture_bytes


def add(client, job, data: bytes, name: str = "board.jpg"):
    file = io.BytesIO(data)
    file.name = name
    return client.post(f"/api/jobs/{job.pk}/pictures", {"file": file, "id": str(uuid.uuid4()), "words": "joint at L14"})


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_a_picture_stands_on_its_line_without_location_and_under_its_hash(bench, job, kind):
    exif = Image.Exif()
    exif[0x010E] = "54.4609 N 3.0886 W"
    line = next(x for x in add(bench, job, picture_bytes(kind, exif=exif)).json()["lines"] if x["kind"] == "picture")
    assert (line["text"], line["picture"]["width"]) == ("joint at L14", 400)
    answer = bench.get(f"/api/pictures/{line['picture']['sha256']}")
    data = answer.content
    assert answer["Content-Type"] == f"image/{kind.lower()}" and b"54.4609" not in data
    assert (settings.PICTURES / line["picture"]["sha256"]).read_bytes() == data


def test_a_picture_is_turned_upright(bench, job):
    exif = Image.Exif()
    exif[0x0112] = 6  # camera held on its side
    picture = next(x["picture"] for x in add(bench, job, picture_bytes(exif=exif)).json()["lines"] if x["picture"])
    assert (picture["width"], picture["height"]) == (300, 400)


@pytest.mark.parametrize(
    ("data", "status"),
    [
        (b"", 422), (b"not a picture at all", 400), (picture_bytes()[:200], 400), (b"GIF89a" + b"\0" * 50, 400),
        (b"<svg onload='alert(1)'/>", 400),
        (picture_bytes("PNG", (9000, 9000)), 413), (picture_bytes() + b"\0" * (20 * 1024 * 1024), 413),
    ],
    ids=["empty", "text", "cut off", "gif", "svg", "too many points", "too large"],
)  # fmt: skip
def test_what_is_no_whole_picture_is_refused_in_one_sentence(bench, job, data, status):
    answer = add(bench, job, data)
    assert answer.status_code == status or (status == 422 and answer.status_code == 400)
    assert answer.json()["detail"].count(".") <= 2


def test_a_picture_is_named_by_hash_only(bench, db):
    for name in ("..%2f..%2fsecret-key", "secret-key", "0" * 64):
        assert bench.get(f"/api/pictures/{name}").status_code == 404
