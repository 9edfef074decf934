"""The shop's own texts of data files: corrected copies of shipped ones, and those it wrote itself. One mechanism for
every kind.

A version is never edited, only followed by another or withdrawn; then the shipped one stands again."""

import re
from collections.abc import Callable
from dataclasses import dataclass, field
from difflib import unified_diff
from functools import lru_cache
from typing import Generic, TypeVar

from django.db.models import Max, QuerySet
from django.utils import timezone

from young_spark.core.ground import CoreError, shipped_text
from young_spark.server.accounts.models import Person
from young_spark.server.library.models import OwnText
from young_spark.server.problems import Refused

Value = TypeVar("Value")
NAME = re.compile(r"[a-z0-9][a-z0-9-]{0,59}")
CACHED = 256


@dataclass(frozen=True)
class OwnTexts(Generic[Value]):
    """The own texts of one kind; `read` makes a value of a text and its name, and raises CoreError with line and
    cause."""

    kind: OwnText.Kind
    read: Callable[[str, str], Value]
    _cached: Callable[[str, str], Value] = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "_cached", lru_cache(maxsize=CACHED)(self.read))

    def versions(self, name: str) -> QuerySet[OwnText]:
        """Every version there was of one, the oldest first."""
        return OwnText.objects.filter(kind=self.kind, name=name).select_related("by")

    def standing(self) -> dict[str, OwnText]:
        """The newest version of each that was not withdrawn, by name."""
        rows = OwnText.objects.filter(kind=self.kind, withdrawn_at=None)  # in order: the last of each stays
        return {row.name: row for row in rows}

    def newest(self, name: str) -> OwnText | None:
        """The version that stands, or None."""
        return OwnText.objects.filter(kind=self.kind, name=name, withdrawn_at=None).last()

    def numbered(self, name: str, number: int) -> OwnText | None:
        """A version by its number, withdrawn or not, or None."""
        return OwnText.objects.filter(kind=self.kind, name=name, number=number).first()

    def value(self, row: OwnText) -> Value:
        """What a version says. Raises CoreError where this version of the program does not understand it."""
        return self._cached(row.text, row.name)

    def why_not(self, row: OwnText) -> str:
        """Why a version is not understood, or an empty string."""
        try:
            self.value(row)
        except CoreError as refusal:
            return str(refusal)
        return ""

    def checked(self, name: str, text: str) -> Value:
        """What a new text says. Raises Refused with line and cause of each problem."""
        try:
            return self.read(text, name)
        except CoreError as refusal:
            raise Refused(str(refusal)) from refusal

    def add(self, name: str, text: str, by: Person) -> None:
        """Write a checked text down as the next version, unless it is what stands already."""
        newest = self.newest(name)
        if newest is None or newest.text != text:
            of_it = OwnText.objects.filter(kind=self.kind, name=name)
            last = of_it.aggregate(last=Max("number"))["last"] or 0
            OwnText.objects.create(
                kind=self.kind, name=name, number=last + 1, text=text, by=by, shipped=self.shipped(name)
            )

    def shipped(self, name: str) -> str:
        """What ships under that name, as it was written; an empty string where nothing does."""
        if not NAME.fullmatch(name):
            return ""
        try:
            return shipped_text(self.kind.value, name)
        except OSError:
            return ""

    def changed(self, row: OwnText) -> bool:
        """Whether what ships under that name is not what shipped when a version was written, as far as that is
        known."""
        return bool(row.shipped) and self.shipped(row.name) not in {"", row.shipped}

    def difference(self, row: OwnText) -> str:
        """What ships differently now than when a version was written, line by line; where it is not known what
        shipped then, the version itself held against what ships now. An empty string where nothing differs."""
        now = self.shipped(row.name)
        then, named = (row.shipped, "as it shipped") if row.shipped else (row.text, "as this shop has it")
        if not now:
            return ""
        return "\n".join(unified_diff(then.splitlines(), now.splitlines(), named, "as it ships now", lineterm="", n=1))

    def withdraw(self, name: str) -> None:
        """Have the shipped one stand again; the versions stay to be read."""
        OwnText.objects.filter(kind=self.kind, name=name, withdrawn_at=None).update(withdrawn_at=timezone.now())
