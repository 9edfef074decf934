"""The text in a file that a bench exported: whatever it is encoded in, with plain signs and line ends."""

import codecs
from pathlib import Path

from young_spark.core.captures.capture import CannotRead

MARKS = ((codecs.BOM_UTF8, "utf-8-sig"), (codecs.BOM_UTF16_LE, "utf-16"), (codecs.BOM_UTF16_BE, "utf-16"))
# a minus that is longer, spaces that keep together, micro as a Greek letter
PLAIN = str.maketrans({"−": "-", "–": "-", "\u00a0": " ", "\u202f": " ", "\u2009": " ", "μ": "µ"})
MOST_ODD = 0.05  # of bytes beyond ASCII in a text of a country's own code page
ASCII, CONTROL = bytes(range(128)), bytes(set(range(32)) - {9, 10, 13})


def plain_text(path: Path) -> str:
    """The text of a file with '\\n' at its line ends. Raises CannotRead, naming the line, where it is none."""
    text = _decoded(path.read_bytes(), path.name)
    if "\0" in text:
        raise CannotRead(path.name, "not a text: it holds a zero byte", text[: text.index("\0")].count("\n") + 1)
    return text.replace("\r\n", "\n").replace("\r", "\n").translate(PLAIN)


def _decoded(data: bytes, file: str) -> str:
    encoding = next((name for mark, name in MARKS if data.startswith(mark)), "utf-8")
    try:
        return data.decode(encoding)
    except UnicodeDecodeError as problem:
        if encoding == "utf-8" and _is_of_a_code_page(data):
            return data.decode("cp1252", errors="replace")
        line = data[: problem.start].count(b"\n") + 1
        raise CannotRead(file, "not a text in UTF-8", line) from problem


def _is_of_a_code_page(data: bytes) -> bool:
    """Whether bytes that are no UTF-8 are a text of western Europe: hardly any beyond ASCII, and no control signs."""
    odd = len(data.translate(None, ASCII))
    return odd <= MOST_ODD * len(data) and len(data.translate(None, CONTROL)) == len(data)
