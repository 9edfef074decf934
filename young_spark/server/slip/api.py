"""Jobs: the shelf, check-in, the slip, pictures, hand-back."""

from uuid import UUID

from django.conf import settings
from django.http import Http404, HttpResponse
from ninja import File, Form, Router, Status
from ninja.files import UploadedFile

from young_spark.core.entry import SetUpAct
from young_spark.core.job import SideBySide
from young_spark.server.accounts.models import SignedIn
from young_spark.server.jobs import kept_files
from young_spark.server.jobs import services as jobs
from young_spark.server.jobs.models import Item, Job, Line, Picture
from young_spark.server.problems import TooLarge
from young_spark.server.readings import kept_models, set_ups
from young_spark.server.readings import services as readings
from young_spark.server.readings.api import find_place
from young_spark.server.slip import assemble, comparing
from young_spark.server.slip.schemas import (
    BackIn,
    CheckIn,
    ItemChange,
    ItemIn,
    JobChange,
    JobRow,
    KeepAsModelIn,
    PinIn,
    SetUpIn,
    ShelfOut,
    SlipOut,
)
from young_spark.server.tracing.models import GearBoard

router = Router(tags=["jobs"])
SHOWN = 100
SHOWN_FOUND = 30  # while one types each key asks anew, and who wants more types on


def _job(job_id: UUID) -> Job:
    job, _ = find_place(job_id, None)
    if job is None:
        raise Http404
    return job


@router.get("/shelf", response=ShelfOut, operation_id="shelf")
def shelf(request: SignedIn, find: str = "") -> dict[str, object]:
    """Jobs by what each waits for, the first of each; `find` looks in serial, owner, model and the words of the
    slip."""
    found, most = (jobs.search(find[:200]), SHOWN_FOUND) if find.strip() else (Job.objects.all(), SHOWN)
    rows = found.values(*JobRow.model_fields)
    here = rows.filter(handed_back_at=None)
    shelves = {
        "on_the_bench": list(here.filter(waiting_for="").order_by("-touched_at")[:most]),
        "waiting": list(here.exclude(waiting_for="").order_by("touched_at")[:most]),
        "handed_back": list(rows.exclude(handed_back_at=None).order_by("-handed_back_at")[:most]),
    }
    whole = all(len(jobs_there) < most for jobs_there in shelves.values())
    return shelves | {"total": sum(map(len, shelves.values())) if whole else found.count()}


@router.post("/jobs", response={201: SlipOut}, operation_id="job_check_in")
def check_in(request: SignedIn, data: CheckIn) -> Status[SlipOut]:
    """Check a unit in with one line; the rest can come later."""
    job = jobs.check_in(actor=request.user, job_id=data.id, words=data.words)
    readings.refresh(job)
    return Status(201, assemble.slip(job))


@router.get("/jobs/{job_id}", response=SlipOut, operation_id="job_slip")
def slip(request: SignedIn, job_id: UUID, item: UUID | None = None) -> SlipOut:
    """The slip of a job, of its first item or of the one named."""
    job, chosen = find_place(job_id, item)
    if job is None:
        raise Http404
    return assemble.slip(job, chosen)


@router.get("/jobs/{job_id}/compared", response=SideBySide, operation_id="job_compared")
def compared(request: SignedIn, job_id: UUID, item: UUID | None = None) -> SideBySide:
    """A unit beside how it came in, its siblings, the last visit and this shop's own."""
    job, chosen = find_place(job_id, item)
    if job is None:
        raise Http404
    return comparing.compared(job, chosen)


@router.patch("/jobs/{job_id}", response=SlipOut, operation_id="job_change")
def change(request: SignedIn, job_id: UUID, data: JobChange) -> SlipOut:
    """Change what is known of a job; only what is sent changes."""
    job = jobs.change_job(actor=request.user, job=_job(job_id), changes=data.dict(exclude_unset=True))
    readings.refresh(job)
    return assemble.slip(job)


@router.post("/jobs/{job_id}/items", response={201: SlipOut}, operation_id="item_add")
def add_item(request: SignedIn, job_id: UUID, data: ItemIn) -> Status[SlipOut]:
    """Another box of the same job."""
    job = _job(job_id)
    item = jobs.add_item(actor=request.user, job=job, item_id=data.id, name=data.name)
    return Status(201, assemble.slip(job, item))


@router.patch("/items/{item_id}", response=SlipOut, operation_id="item_change")
def change_item(request: SignedIn, item_id: UUID, data: ItemChange) -> SlipOut:
    """Name an item, its model or its serial number."""
    item = Item.objects.select_related("job").filter(pk=item_id).first()
    if item is None:
        raise Http404
    item = jobs.change_item(
        actor=request.user,
        item=item,
        name=data.name,
        model=data.model,
        serial=data.serial,
        selector=data.selector,
        rated_w=data.rated_w,
    )
    job = _job(item.job_id)
    readings.refresh(job)
    return assemble.slip(job, item)


@router.post("/items/{item_id}/model", response=SlipOut, operation_id="item_keep_as_model")
def keep_as_model(request: SignedIn, item_id: UUID, data: KeepAsModelIn) -> SlipOut:
    """Keep a unit as a model of this shop: the next one opens with what this one taught."""
    item = Item.objects.select_related("job").filter(pk=item_id).first()
    if item is None:
        raise Http404
    kept_models.keep_as_model(actor=request.user, item=item, name=data.name)
    job = _job(item.job_id)
    readings.refresh(job)
    return assemble.slip(job, item)


@router.post("/items/{item_id}/follow", response=SlipOut, operation_id="item_follow_model")
def follow_model(request: SignedIn, item_id: UUID) -> SlipOut:
    """Have a unit follow the newest version of its model; until then it keeps to the one that it was planned by."""
    item = Item.objects.select_related("job").filter(pk=item_id).first()
    if item is None:
        raise Http404
    item = jobs.follow_model(actor=request.user, item=item)
    job = _job(item.job_id)
    readings.refresh(job)
    return assemble.slip(job, item)


@router.post("/jobs/{job_id}/set-up", response={201: SlipOut}, operation_id="job_set_up")
def set_up(request: SignedIn, job_id: UUID, data: SetUpIn) -> Status[SlipOut]:
    """Begin or end a sequence of adjustments, leave a step of it out, or take one up again; a line of the slip."""
    job, item = find_place(job_id, data.item)
    if job is None:
        raise Http404
    act = SetUpAct(sequence=data.sequence, act=data.act, step=data.step)
    set_ups.take_act(actor=request.user, job=job, item=item, line_id=data.id, act=act)
    return Status(201, assemble.slip(job, item))


@router.post("/jobs/{job_id}/pin", response=SlipOut, operation_id="job_pin_loose")
def pin_loose(request: SignedIn, job_id: UUID, data: PinIn) -> SlipOut:
    """Pin loose lines to this job."""
    job = _job(job_id)
    readings.pin_loose(actor=request.user, job=job, lines=list(Line.objects.filter(pk__in=data.lines)))
    return assemble.slip(job)


@router.post("/jobs/{job_id}/hand-back", response=SlipOut, operation_id="job_hand_back")
def hand_back(request: SignedIn, job_id: UUID, data: BackIn) -> SlipOut:
    """Hand the unit back, or take it onto the bench again."""
    job = jobs.hand_back(actor=request.user, job=_job(job_id), back=data.back)
    readings.refresh(job)
    return assemble.slip(job)


@router.post("/jobs/{job_id}/pictures", response={201: SlipOut}, operation_id="picture_add")
def add_picture(
    request: SignedIn, job_id: UUID, file: File[UploadedFile], id: Form[UUID], words: Form[str] = ""
) -> Status[SlipOut]:
    """A picture as a line: JPEG, PNG or WebP of at most 20 MB; re-encoded, location removed."""
    job = _job(job_id)
    if (file.size or 0) > settings.LARGEST_UPLOAD:
        raise TooLarge("That picture is over 20 MB. Take it at a smaller size.")
    readings.add_picture(actor=request.user, job=job, line_id=id, data=file.read(), words=words[:300])
    return Status(201, assemble.slip(job))


def _pictured(sha256: str) -> tuple[str, str]:
    """What a picture is of, and its media type; 404 of one that neither a slip nor a sheet has."""
    of_a_slip = Picture.objects.filter(sha256=sha256).values_list("line__text", "media_type").first()
    of_a_sheet = GearBoard.objects.filter(sha256=sha256).values_list("words", "media_type").first()
    if of_a_slip is None and of_a_sheet is None:
        raise Http404
    words, media_type = of_a_slip or of_a_sheet or ("", "")
    return words, media_type


@router.get("/pictures/{sha256}", operation_id="picture")
def picture(request: SignedIn, sha256: str) -> HttpResponse:
    """A picture by its hash."""
    words, media_type = _pictured(sha256)
    response = HttpResponse(kept_files.kept(sha256, f"The picture '{words}'"), content_type=media_type)
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
