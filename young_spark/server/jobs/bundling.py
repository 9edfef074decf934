"""What an app declares of its tables, once, so that bundles carry them: how a part is written, checked and read in
again."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from pydantic import BaseModel, ConfigDict

from young_spark.server.accounts.models import Person
from young_spark.server.jobs.models import Job


class BundlePart(BaseModel):
    """A part of a bundle: nothing in it that nobody knows."""

    model_config = ConfigDict(extra="forbid")


@dataclass(frozen=True)
class BundledFile:
    """A file beside the jobs, named by the hash of its bytes; `check` refuses bytes that are not what the job says
    of them."""

    folder: str
    sha256: str
    most_bytes: int
    check: Callable[[str, bytes], None] = lambda name, data: None


@dataclass
class Joining:
    """The job that a bundle is read into, and how many lines of it were new or brought up to date."""

    job: Job
    number: int  # of the job where it came from
    people: dict[str, Person]
    items: set[UUID] = field(default_factory=set)
    fresh: int = 0
    mended: int = 0


def _nobody(told: Any) -> Iterable[str | None]:
    return ()


def _no_files(told: Any) -> Iterable[BundledFile]:
    return ()


def _unchecked(job: Any, told: Any) -> None:
    return None


@dataclass(frozen=True)
class Section:
    """One field of a job in a bundle. `kind` and `default` are those of the field; `written` makes it from a job,
    `merge` reads it in.

    `people` are the short names in it, `files` what lies beside it, `check` refuses (with Refused) what the core
    does not know; it is given the whole job as told, and this part of it."""

    name: str
    kind: Any
    default: Any
    written: Callable[[Job], Any]
    merge: Callable[[Joining, Any], None]
    people: Callable[[Any], Iterable[str | None]] = _nobody
    files: Callable[[Any], Iterable[BundledFile]] = _no_files
    check: Callable[[Any, Any], None] = _unchecked
