"""Tables to look something up in beside the slip: searched, or read whole."""

from uuid import UUID

from django.http import Http404
from ninja import Router, Schema

from young_spark.core.reference import Shelf, Table, asked, look_up, table_names, whole_table
from young_spark.server.accounts.models import SignedIn
from young_spark.server.jobs.models import Item
from young_spark.server.library.models import ShopInstrument
from young_spark.server.library.own_models import gear, known_models
from young_spark.server.library.services import known_plans

router = Router(tags=["library"])
LONGEST = 100  # signs of a search that are read


class RowOut(Schema):
    cells: list[str]
    field_text: str  # what the field takes of it


class TableOut(Schema):
    """A table, or the rows of it that answer a search; `more` where it has others."""

    id: str
    title: str
    source: str
    note: str
    columns: list[str]
    rows: list[RowOut]
    more: bool


class TableNameOut(Schema):
    id: str
    title: str


def _shelf(job: UUID | None) -> Shelf:
    """What the shop brings, and the channel plan of the unit that a job opens with."""
    item = Item.objects.filter(job=job).order_by("position").first() if job else None
    model = gear(item.model, item.rated_w, version=item.model_version) if item else None
    meters = ShopInstrument.objects.exclude(elements_w=[]).order_by("name")
    return Shelf(
        plans=known_plans(),
        plan=model.channel_plan if model else None,
        models=known_models(),
        elements=tuple((m.name, float(element)) for m in meters for element in m.elements_w),
    )


def _out(name: str, table: Table, *, more: bool) -> TableOut:
    rows = [RowOut(cells=list(r.cells), field_text=r.field_text) for r in table.rows]
    return TableOut(
        id=name,
        title=table.title,
        source=table.source,
        note=table.note,
        columns=list(table.columns),
        rows=rows,
        more=more,
    )


@router.get("/reference", response=list[TableNameOut], operation_id="tables")
def tables(request: SignedIn) -> list[TableNameOut]:
    """Every table there is."""
    return [TableNameOut(id=t.id, title=t.title) for t in table_names(_shelf(None))]


@router.get("/reference/look-up", response=list[TableOut], operation_id="look_up")
def looked_up(request: SignedIn, q: str = "", job: UUID | None = None) -> list[TableOut]:
    """The tables, and their rows, that answer a search, the best first."""
    return [_out(name, table, more=more) for name, table, more in look_up(asked(q[:LONGEST]), _shelf(job))]


@router.get("/reference/tables/{name}", response=TableOut, operation_id="table")
def table(request: SignedIn, name: str, q: str = "", job: UUID | None = None) -> TableOut:
    """One table whole, worked out for the figures of a search."""
    found = whole_table(name, asked(q[:LONGEST]), _shelf(job))
    if found is None:
        raise Http404
    return _out(name, found, more=False)
