"""Models and kinds as sheets: read, corrected in place, copied, taken out as one open file and in with the difference
shown first."""

from uuid import UUID

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from ninja import Field, File, Form, Router, Schema
from ninja.files import UploadedFile

from young_spark.core.gear import MOST_REVISIONS, Alias, Difference, Model, ModelNote, Revision, differences
from young_spark.server.accounts.models import SignedIn
from young_spark.server.accounts.services import require_technician
from young_spark.server.jobs.models import Item
from young_spark.server.library.demo_shelf import demo_models
from young_spark.server.library.own_models import OWN_MODELS, gear, known_models, model_id, model_text, write_model
from young_spark.server.problems import Refused, TooLarge
from young_spark.server.slip.gear_sheet import GearSheet, gear_sheet
from young_spark.server.tracing import gear_boards
from young_spark.server.writing import writing

router = Router(tags=["library"])


class GearText(Schema):
    """A model as its open file; `sure` once the difference was seen."""

    text: str = Field(max_length=200_000)
    sure: bool = False


class GearCopy(Schema):
    name: str = Field(min_length=1, max_length=100)  # maker and model, as they stand on the unit


class GearDue(Schema):
    due: float | None = Field(allow_inf_nan=False)  # in the quantity's unit; none where nobody knows


class GearKnownAs(Schema):
    """The names that a model goes by, and its revisions: all of them."""

    goes_by: list[Alias] = Field([], max_length=20)
    revisions: list[Revision] = Field([], max_length=MOST_REVISIONS)


class GearNote(Schema):
    text: str = Field(min_length=1, max_length=300)
    revision: str = Field("", max_length=40)
    proven: bool = False
    gone: bool = False  # take it off the sheet


class GearBoardIn(Schema):
    """Which side a board is, what it shows, and all of its pins."""

    side: gear_boards.Side
    words: str = Field("", max_length=120)
    pins: list[gear_boards.BoardPin] = Field([], max_length=gear_boards.MOST_PINS)


class GearRead(Schema):
    """What a file would change, and the sheet as it stands."""

    id: str
    kept: bool
    differences: list[Difference]
    sheet: GearSheet | None


def _sheet(name: str) -> GearSheet:
    sheet = gear_sheet(name)
    if sheet is None:
        raise Http404
    return sheet


def _own(name: str) -> Model:
    """A model of this shop, to be changed; 404 of a name that nobody knows, Refused of what ships."""
    model = gear(name)
    if model is None:
        raise Http404
    if name not in OWN_MODELS.standing():
        raise Refused(f"{model.title} is as shipped: copy it under a name of this shop, then correct the copy.")
    return model


@router.get("/gear/{name}", response=GearSheet, operation_id="gear_sheet")
def sheet(request: SignedIn, name: str) -> GearSheet:
    """Everything that is known of a model or a kind."""
    return _sheet(name)


@router.get("/gear/{name}/file", operation_id="gear_file", include_in_schema=True)
def file(request: HttpRequest, name: str) -> HttpResponse:
    """A model as one open file."""
    model = gear(name)
    if model is None:
        raise Http404
    answer = HttpResponse(model_text(model), content_type="application/toml; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{name}.toml"'
    return answer


@router.get("/gear/{name}/packed", operation_id="gear_packed")
def packed(request: SignedIn, name: str) -> HttpResponse:
    """A model's open file with the pictures of its boards beside it, zipped."""
    model = gear(name)
    if model is None:
        raise Http404
    answer = HttpResponse(gear_boards.packed(name, model_text(model)), content_type="application/zip")
    answer["Content-Disposition"] = f'attachment; filename="{name}.zip"'
    return answer


@router.post("/gear-packed", response=GearRead, operation_id="gear_packed_read")
def read_packed(request: SignedIn, file: File[UploadedFile], sure: Form[bool] = False) -> GearRead:
    """Read a packed model: what it would change here, and, once that was seen, its next version and its boards."""
    require_technician(request.user)
    if (file.size or 0) > gear_boards.LARGEST_PACKED:
        raise TooLarge("That model is over 64 MB.")
    found = gear_boards.unpacked(file.read())
    there = OWN_MODELS.checked("model", found.text)
    name = model_id(there.title)
    told = [*differences(known_models().get(name), there), *_new_boards(name, found)]
    if sure and told:
        with writing():
            write_model(actor=request.user, name=name, model=there)
            gear_boards.keep_new(actor=request.user, name=name, found=found)
    return GearRead(id=name, kept=sure, differences=told, sheet=gear_sheet(name))


def _new_boards(name: str, found: gear_boards.Unpacked) -> list[Difference]:
    return [
        Difference(what=f"board, {board.words or board.side}", here="", there=f"{len(board.pins)} pins")
        for board, _ in gear_boards.new_of(name, found)
    ]


@router.post("/gear/{name}/boards", response=GearSheet, operation_id="gear_board_add")
def add_board(
    request: SignedIn,
    name: str,
    file: File[UploadedFile],
    id: Form[UUID],
    side: Form[gear_boards.Side] = "component",
    words: Form[str] = "",
) -> GearSheet:
    """Put a picture of a board onto a model's sheet: JPEG, PNG or WebP of at most 20 MB; re-encoded."""
    require_technician(request.user)
    _own(name)
    if (file.size or 0) > settings.LARGEST_UPLOAD:
        raise TooLarge("That picture is over 20 MB. Take it at a smaller size.")
    gear_boards.add(actor=request.user, model=name, board_id=id, data=file.read(), side=side, words=words)
    return _sheet(name)


@router.put("/gear/{name}/boards/{board_id}", response=GearSheet, operation_id="gear_board_put")
def put_board(request: SignedIn, name: str, board_id: UUID, data: GearBoardIn) -> GearSheet:
    """Say which side a board of the sheet is, and where its pins are."""
    require_technician(request.user)
    _own(name)
    gear_boards.put(actor=request.user, model=name, board_id=board_id, side=data.side, words=data.words, pins=data.pins)
    return _sheet(name)


@router.delete("/gear/{name}/boards/{board_id}", response=GearSheet, operation_id="gear_board_drop")
def drop_board(request: SignedIn, name: str, board_id: UUID) -> GearSheet:
    """Take a board off the sheet."""
    require_technician(request.user)
    _own(name)
    gear_boards.drop(actor=request.user, model=name, board_id=board_id)
    return _sheet(name)


@router.put("/gear/{name}/rows/{row}", response=GearSheet, operation_id="gear_due")
def due(request: SignedIn, name: str, row: str, data: GearDue) -> GearSheet:
    """Say what is due at a line of the plan: the next version of the model."""
    require_technician(request.user)
    with writing():  # what it is changed from is read under the writer: two hands lose nothing of each other
        model = _own(name)
        if model.row(row) is None:
            raise Http404
        plan = tuple(r.model_copy(update={"expected": data.due}) if r.id == row else r for r in model.plan)
        write_model(actor=request.user, name=name, model=model.model_copy(update={"plan": plan}))
    return _sheet(name)


@router.post("/gear/{name}/notes", response=GearSheet, operation_id="gear_note")
def note(request: SignedIn, name: str, data: GearNote) -> GearSheet:
    """Put what is known onto the sheet, or take it off: a weak point, a trap, hearsay until it is proven."""
    require_technician(request.user)
    text = " ".join(data.text.split())
    made = () if data.gone else (ModelNote(text=text, proven=data.proven, revision=data.revision),)
    with writing():
        model = _own(name)
        others = tuple(n for n in model.notes if n.text != text)
        write_model(actor=request.user, name=name, model=model.model_copy(update={"notes": (*others, *made)}))
    return _sheet(name)


@router.put("/gear/{name}/known-as", response=GearSheet, operation_id="gear_known_as")
def known_as(request: SignedIn, name: str, data: GearKnownAs) -> GearSheet:
    """Say by which names a model goes, and which revisions of it there are: its next version."""
    require_technician(request.user)
    names = [revision.name for revision in data.revisions]
    twice = next((one for one in names if names.count(one) > 1), None)
    if twice is not None:
        raise Refused(f"There are two revisions {twice}: one name each.")
    with writing():
        model = _own(name)
        told = {"goes_by": tuple(dict.fromkeys(data.goes_by)), "revisions": tuple(data.revisions)}
        write_model(actor=request.user, name=name, model=model.model_copy(update=told))
    return _sheet(name)


@router.post("/gear/{name}/copy", response=GearSheet, operation_id="gear_copy")
def copy(request: SignedIn, name: str, data: GearCopy) -> GearSheet:
    """A model of this shop from a kind or from a sibling, under a name of its own."""
    require_technician(request.user)
    model, made = gear(name), model_id(data.name)
    if model is None:
        raise Http404
    if gear(made) is not None:
        raise Refused(f"There is a {data.name} already.")
    maker, _, rest = " ".join(data.name.split()).partition(" ")
    named = {"maker": maker if rest else "", "name": rest or maker, "kind_id": None, "rated_w": None, "generic": False}
    of_its_own = {"goes_by": (), "revisions": ()}  # the names and the serial numbers are the sibling's
    _write(request, made, model.model_copy(update=named | of_its_own))
    return _sheet(made)


@router.post("/gear-file", response=GearRead, operation_id="gear_read")
def read(request: SignedIn, data: GearText) -> GearRead:
    """Read a model's open file: what it would change here, and, once that was seen, the model's next version."""
    require_technician(request.user)
    there = OWN_MODELS.checked("model", data.text)
    name = model_id(there.title)
    told = differences(known_models().get(name), there)
    if data.sure and told:
        _write(request, name, there)
    return GearRead(id=name, kept=data.sure, differences=list(told), sheet=gear_sheet(name))


@router.post("/gear/{name}/withdraw", response=GearSheet | None, operation_id="gear_withdraw")
def withdraw(request: SignedIn, name: str) -> GearSheet | None:
    """Take this shop's model away, or have the shipped one stand again; jobs keep what they were judged by."""
    require_technician(request.user)
    model = _own(name)
    if name not in demo_models() and (there := Item.objects.filter(model=name).count()):
        raise Refused(f"{there} units of {model.title} are on slips: they would be left without a plan.")
    with writing():
        OWN_MODELS.withdraw(name)
    return gear_sheet(name)


def _write(request: SignedIn, name: str, model: Model) -> None:
    with writing():
        write_model(actor=request.user, name=name, model=model)
