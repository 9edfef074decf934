"""Revisions of a model: which of them a unit is, told by its serial number."""

import re
from collections.abc import Sequence

from pydantic import Field

from young_spark.core.ground import Frozen

MOST = 40
_NUMBERED = re.compile(r"(?P<series>.*?)(?P<number>\d+)\D*$")


class Revision(Frozen):
    """A revision by the name that it goes by, the serial numbers that it was built with, both inclusive and open where
    nobody knows, and what is other in it."""

    name: str = Field(min_length=1, max_length=40)
    first: str = Field("", max_length=60)
    last: str = Field("", max_length=60)
    differs: str = Field("", max_length=300)


def revision_of(serial: str, revisions: Sequence[Revision]) -> Revision | None:
    """The revision that a serial number is of: the one whose range holds it. None of a number that no range holds, that
    several hold, or that is of another series of letters."""
    held = [revision for revision in revisions if _holds(revision, serial)]
    return held[0] if len(held) == 1 else None


def _holds(revision: Revision, serial: str) -> bool:
    number = _numbered(serial)
    ends = [_numbered(end) if end else None for end in (revision.first, revision.last)]
    known = [end for end in ends if end is not None]
    if number is None or not known or any(end[0] != number[0] for end in known):
        return False
    first, last = ends
    return (first is None or first[1] <= number[1]) and (last is None or number[1] <= last[1])


def _numbered(serial: str) -> tuple[str, int] | None:
    """The letters of a serial number and what is counted in it; None where nothing is."""
    found = _NUMBERED.match(serial)
    return None if found is None else (re.sub(r"[^a-z0-9]", "", found["series"].lower()), int(found["number"]))
