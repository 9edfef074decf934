"""Files that are kept under the hash of their bytes: pictures and records. One that is not what its name says is named,
and stops nothing else."""

import hashlib
import os
import tempfile
from functools import lru_cache
from typing import Literal

from django.conf import settings

from young_spark.server.problems import Refused

Standing = Literal["whole", "missing", "damaged"]
CACHED = 20_000


class NotWhole(Refused):
    """A kept file is missing or damaged."""

    status, code = 410, "not_whole"


def name_of(data: bytes) -> str:
    """The name under which bytes are kept: their SHA-256."""
    return hashlib.sha256(data).hexdigest()


def store(data: bytes) -> str:
    """Write the bytes under the name of their SHA-256, safely on disk before this returns it. A file of that name
    that is damaged is written anew."""
    name = name_of(data)
    settings.PICTURES.mkdir(parents=True, exist_ok=True)
    target = settings.PICTURES / name
    if standing(name) == "whole":
        return name
    handle, temporary = tempfile.mkstemp(dir=settings.PICTURES)
    try:
        with os.fdopen(handle, "wb") as out:
            out.write(data)
            out.flush()
            os.fsync(out.fileno())
        os.replace(temporary, target)
    except BaseException:
        os.unlink(temporary)
        raise
    folder = os.open(settings.PICTURES, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)
    return name


def kept(name: str, words: str) -> bytes:
    """The bytes of a file. Raises NotWhole, with what it is in `words`, where they are not what its name says."""
    try:
        data = (settings.PICTURES / name).read_bytes()
    except OSError:
        raise NotWhole(f"{words} is missing from the data folder: a backup may have it.") from None
    if name_of(data) != name:
        raise NotWhole(f"{words} is damaged on the disk: a backup may have it whole.")
    return data


def standing(name: str) -> Standing:
    """How a file stands; read again only once something about it on the disk has changed."""
    try:
        there = (settings.PICTURES / name).stat()
    except OSError:
        return "missing"
    return "whole" if _fits(name, str(settings.PICTURES), there.st_mtime_ns, there.st_size) else "damaged"


@lru_cache(maxsize=CACHED)
def _fits(name: str, folder: str, mtime_ns: int, size: int) -> bool:
    return read_anew(name) == "whole"


def read_anew(name: str) -> Standing:
    """How a file stands by what is on the disk now, whatever was seen before: a disk may rot without a trace."""
    total = hashlib.sha256()
    try:
        with open(settings.PICTURES / name, "rb") as file:
            while part := file.read(1 << 20):
                total.update(part)
    except FileNotFoundError:
        return "missing"
    except OSError:
        return "damaged"
    return "whole" if total.hexdigest() == name else "damaged"


def said(name: str, words: str) -> str:
    """What is wrong with a file, in words; an empty string where it is whole."""
    there = standing(name)
    return "" if there == "whole" else f"{words} is {there}: a backup may have it"
