"""Pictures of boards on a model's sheet: put there from the library or read in with the model, beside those that slips
of such units have; and all of them packed with the model's open file in one zip."""

import io
import tomllib
import uuid
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal, cast

import tomli_w
from pydantic import Field, ValidationError

from young_spark.core.ground import ZIP_DAMAGE, Frozen
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.jobs import kept_files, pictures
from young_spark.server.problems import Refused, TooLarge
from young_spark.server.tracing.boards import of_model
from young_spark.server.tracing.models import Board, GearBoard
from young_spark.server.writing import writing

Side = Literal["component", "solder"]
MODEL_FILE, BOARDS_FILE, FOLDER = "model.toml", "boards.toml", "boards"
MOST_BOARDS, MOST_PINS, LARGEST_TEXT, LARGEST_PACKED = 24, 200, 1 << 20, 64 << 20
UNREADABLE: tuple[type[Exception], ...] = (*ZIP_DAMAGE, OSError)
ENDINGS = {"image/jpeg": "jpg", "image/png": "png", "image/webp": "webp"}


class BoardPin(Frozen):
    """A named place, as shares of the picture's width and height; `probe` is the look of the chain that is made
    there."""

    name: str = Field(min_length=1, max_length=60)
    probe: str = Field("", max_length=60, pattern=r"^[a-z0-9_]*$")
    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)


class PackedBoard(Frozen):
    """A board as the zip says it; `picture` is a file of it."""

    picture: str = Field(pattern=r"^boards/[A-Za-z0-9._-]{1,80}$")
    side: Side
    words: str = Field("", max_length=120)
    pins: tuple[BoardPin, ...] = Field((), max_length=MOST_PINS)


class PackedBoards(Frozen):
    """The boards of a packed model."""

    boards: tuple[PackedBoard, ...] = Field((), max_length=MOST_BOARDS)


@dataclass(frozen=True)
class ModelBoard:
    """A board of a model; `on_sheet` where it is the model's own and its pins are set here, not on a slip."""

    id: uuid.UUID
    sha256: str
    media_type: str
    width: int
    height: int
    words: str
    side: Side
    pins: tuple[BoardPin, ...]
    on_sheet: bool


def boards_of_model(name: str) -> tuple[ModelBoard, ...]:
    """The boards of a model: those on its sheet, then those on slips of such units, each picture once."""
    own = [
        ModelBoard(
            b.pk, b.sha256, b.media_type, b.width, b.height, b.words, cast(Side, b.side),
            tuple(BoardPin(**pin) for pin in b.pins), True,
        )
        for b in GearBoard.objects.filter(model=name)
    ]  # fmt: skip
    there = {b.sha256 for b in own}
    return (*own, *(_of_a_slip(b) for b in of_model(name) if b.line.picture.sha256 not in there))


def _of_a_slip(board: Board) -> ModelBoard:
    picture, pins = board.line.picture, board.pins.all()
    return ModelBoard(
        board.line_id, picture.sha256, picture.media_type, picture.width, picture.height, board.line.text,
        cast(Side, board.side), tuple(BoardPin(name=p.name, probe=p.probe, x=p.x, y=p.y) for p in pins), on_sheet=False,
    )  # fmt: skip


def add(*, actor: Person, model: str, board_id: uuid.UUID, data: bytes, side: Side, words: str) -> None:
    """Put a picture onto a model's sheet; its file is safely on disk before the row commits. The same id again changes
    nothing. Raises Refused for what is no picture."""
    require_technician(actor)
    clean = pictures.reencoded(data)
    with writing():
        if not GearBoard.objects.filter(pk=board_id).exists():
            _keep(actor, model, board_id, clean, side, words, ())


def _keep(
    actor: Person,
    model: str,
    board_id: uuid.UUID,
    clean: tuple[bytes, str, int, int],
    side: Side,
    words: str,
    pins: Sequence[BoardPin],
) -> None:
    if GearBoard.objects.filter(model=model).count() >= MOST_BOARDS:
        raise Refused(f"A model has at most {MOST_BOARDS} boards.")
    data, media_type, width, height = clean
    GearBoard.objects.create(
        pk=board_id,
        model=model,
        sha256=kept_files.store(data),
        media_type=media_type,
        width=width,
        height=height,
        words=words.strip()[:120] or "board",
        side=side,
        pins=[pin.model_dump() for pin in pins],
        by=actor,
    )


def put(*, actor: Person, model: str, board_id: uuid.UUID, side: Side, words: str, pins: Sequence[BoardPin]) -> None:
    """Say which side it is, what it shows, and where its pins are. Raises Refused where it is not on this sheet."""
    require_technician(actor)
    with writing():
        told = {"side": side, "words": words.strip()[:120] or "board", "pins": [pin.model_dump() for pin in pins]}
        if not GearBoard.objects.filter(pk=board_id, model=model).update(**told):
            raise Refused("That board is on the slip of a unit: its pins are set there.")


def drop(*, actor: Person, model: str, board_id: uuid.UUID) -> None:
    """Take a board off the sheet; one that is gone already is gone."""
    require_technician(actor)
    with writing():
        GearBoard.objects.filter(pk=board_id, model=model).delete()


def packed(name: str, model_file: str) -> bytes:
    """A model's open file with its boards beside it, as one zip; a picture that is not whole is left out."""
    out, told = io.BytesIO(), []
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        archive.writestr(MODEL_FILE, model_file)
        for board in boards_of_model(name):
            if kept_files.standing(board.sha256) != "whole":
                continue
            picture = f"{FOLDER}/{board.sha256[:16]}.{ENDINGS[board.media_type]}"
            archive.writestr(picture, kept_files.kept(board.sha256, "A board"))
            told.append(PackedBoard(picture=picture, side=board.side, words=board.words[:120], pins=board.pins))
        boards: dict[str, Any] = PackedBoards(boards=tuple(told)).model_dump(mode="json")
        archive.writestr(BOARDS_FILE, tomli_w.dumps(boards))
    return out.getvalue()


@dataclass(frozen=True)
class Unpacked:
    """What a zip holds, read and found whole: the model's text, and each board with its picture."""

    text: str
    boards: tuple[tuple[PackedBoard, tuple[bytes, str, int, int]], ...]


def unpacked(data: bytes) -> Unpacked:
    """What a packed model holds. Raises Refused and TooLarge, with what is wrong with it."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if sum(entry.file_size for entry in archive.infolist()) > LARGEST_PACKED:
                raise TooLarge("That model holds more than 64 MB of pictures: it was not unpacked.")
            text = _entry(archive, MODEL_FILE, LARGEST_TEXT).decode()
            told = PackedBoards.model_validate(tomllib.loads(_entry(archive, BOARDS_FILE, LARGEST_TEXT).decode()))
            boards = tuple((b, pictures.plain(_entry(archive, b.picture, LARGEST_PACKED))) for b in told.boards)
    except (Refused, TooLarge):
        raise
    except ValidationError as problem:
        first = problem.errors()[0]
        place = ".".join(str(step) for step in first["loc"])
        raise Refused(f"{BOARDS_FILE} in it, {place}: {first['msg']}.") from problem
    except (tomllib.TOMLDecodeError, RecursionError) as problem:
        raise Refused(f"{BOARDS_FILE} in it is not understood: {str(problem)[:120]}.") from problem
    except UNREADABLE as problem:
        raise Refused("That is not a whole packed model: the zip is damaged, cut off, or locked.") from problem
    return Unpacked(text, boards)


def _entry(archive: zipfile.ZipFile, name: str, most: int) -> bytes:
    """An entry's bytes; its own word for its size is not believed."""
    if name not in archive.namelist():
        raise Refused(f"{name} is missing in it: that is no packed model.")
    with archive.open(name) as source:
        data = source.read(most + 1)
    if len(data) > most:
        raise TooLarge(f"{name} in it is larger than it may be.")
    return data


def new_of(name: str, found: Unpacked) -> list[tuple[PackedBoard, tuple[bytes, str, int, int]]]:
    """The boards of a packed model that this shop does not have on its sheet."""
    there = {b.sha256 for b in boards_of_model(name)}
    return [(board, clean) for board, clean in found.boards if kept_files.name_of(clean[0]) not in there]


def keep_new(*, actor: Person, name: str, found: Unpacked) -> None:
    """Put the boards that are new here onto the model's sheet; the caller holds the writer."""
    for board, clean in new_of(name, found):
        _keep(actor, name, uuid.uuid4(), clean, board.side, board.words, board.pins)
