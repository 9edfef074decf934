"""Pictures: bounded, re-encoded (so location data is gone)."""

import io
import warnings
from collections.abc import Iterator
from contextlib import contextmanager

from django.conf import settings
from PIL import Image, ImageOps, UnidentifiedImageError

from young_spark.server.problems import Refused, TooLarge

FORMATS = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}
LARGEST_SIDE = 3000
MOST_PIXELS = 60_000_000
MOST_SCANNED = 400_000_000  # points times scans: a progressive picture of 40 million points has ten


def _scans(data: bytes) -> int:
    """How many times a JPEG goes over all of its points: in what is packed, the mark of a scan cannot stand."""
    return data.count(b"\xff\xda")


@contextmanager
def _opened(data: bytes) -> Iterator[Image.Image]:
    """The picture, its bounds checked before a point of it is unpacked; Refused for what is no whole one."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=tuple(FORMATS)) as image:
                if image.width * image.height > MOST_PIXELS:
                    raise TooLarge("That picture has more than 60 million points. Take it at a smaller size.")
                if image.format == "JPEG" and image.width * image.height * _scans(data) > MOST_SCANNED:
                    raise TooLarge("That picture is drawn over itself too often. Save it again as a plain JPEG.")
                yield image
    except (
        UnidentifiedImageError,
        OSError,
        SyntaxError,
        ValueError,
        KeyError,
        Image.DecompressionBombError,
        Image.DecompressionBombWarning,
    ) as found:
        raise Refused("That is not a whole JPEG, PNG or WebP picture.") from found


def kind_of(data: bytes) -> tuple[str, int, int]:
    """Media type, width and height of a picture as it stands. Raises as `reencoded` does."""
    with _opened(data) as image:
        image.load()
        return FORMATS[image.format or ""], image.width, image.height


def reencoded(data: bytes) -> tuple[bytes, str, int, int]:
    """The picture turned upright, at most 3000 px a side and without metadata: (bytes, media type, width, height).

    Raises TooLarge over the bounds, and Refused for anything but a whole JPEG, PNG or WebP."""
    if len(data) > settings.LARGEST_UPLOAD:
        raise TooLarge("That picture is over 20 MB. Take it at a smaller size.")
    with _opened(data) as image:
        media_type, kind = FORMATS[image.format or ""], image.format or ""
        upright = ImageOps.exif_transpose(image)
        upright.thumbnail((LARGEST_SIDE, LARGEST_SIDE))
        plain = upright.convert("RGB" if kind == "JPEG" else "RGBA" if "A" in upright.getbands() else "RGB")
        out = io.BytesIO()
        plain.save(out, kind, quality=88) if kind != "PNG" else plain.save(out, kind, optimize=False)
    return out.getvalue(), media_type, plain.width, plain.height


def plain(data: bytes) -> tuple[bytes, str, int, int]:
    """A picture as it stands where it is small enough and says nothing but itself; else re-encoded. Raises as
    `reencoded` does."""
    if len(data) > settings.LARGEST_UPLOAD:
        raise TooLarge("That picture is over 20 MB. Take it at a smaller size.")
    with _opened(data) as image:
        image.load()
        says_more = bool(image.getexif()) or {"exif", "xmp", "comment", "icc_profile"} & set(image.info)
        if not says_more and max(image.size) <= LARGEST_SIDE:
            return data, FORMATS[image.format or ""], image.width, image.height
    return reencoded(data)
