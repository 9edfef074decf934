"""Limits, channels and chains edited as what they are; kept by the door of each as a text."""

from typing import Literal

from ninja import Field, Router, Schema

from young_spark.server.accounts.models import SignedIn
from young_spark.server.accounts.services import require_technician
from young_spark.server.slip.edited import Edit, EditKind, edited

router = Router(tags=["library"])


class EditIn(Schema):
    """A cell set to a value (none: taken out), another row like one, or one taken off."""

    act: Literal["set", "another", "off"] = "set"
    table: str = Field(max_length=80)
    row: str = Field(max_length=80)
    field: str = Field("", max_length=40)
    value: bool | float | str | None = None


class TextToEdit(Schema):
    """A text as it stands in the editor, and what is to be changed in it."""

    name: str = Field(max_length=60, pattern=r"^[a-z0-9][a-z0-9-]*$")
    text: str = Field(max_length=200_000)
    edit: EditIn | None = None


class EditColumnOut(Schema):
    field: str
    words: str
    kind: Literal["figure", "words", "choice", "yes"]
    unit: str
    choices: list[str]


class EditRowOut(Schema):
    """`off`: whether it can be taken off."""

    id: str
    name: str
    about: str
    unit: str
    values: dict[str, bool | float | str | None]
    off: bool


class EditTableOut(Schema):
    """`more`: whether another row can be added."""

    id: str
    title: str
    columns: list[EditColumnOut]
    rows: list[EditRowOut]
    more: bool


class EditedOut(Schema):
    """The text with the change, its tables, how it differs from what stands, and what that would do."""

    text: str
    tables: list[EditTableOut]
    changes: list[str]
    would: list[str]


@router.post("/edited/{kind}", response=EditedOut, operation_id="text_edited")
def text_edited(request: SignedIn, kind: EditKind, data: TextToEdit) -> EditedOut:
    """A text as tables, with one change made; nothing is kept."""
    require_technician(request.user)
    asked = Edit(**data.edit.dict()) if data.edit is not None else None
    made = edited(kind, data.name, data.text, asked)
    return EditedOut(
        text=made.text,
        tables=[
            EditTableOut(
                id=table.id,
                title=table.title,
                columns=[EditColumnOut(**column.model_dump()) for column in table.columns],
                rows=[
                    EditRowOut(
                        **row.model_dump(include={"id", "name", "about", "unit", "values"}), off=row.stands is not None
                    )
                    for row in table.rows
                ],
                more=table.rows_in != "",
            )
            for table in made.tables
        ],
        changes=list(made.changes),
        would=list(made.would),
    )
