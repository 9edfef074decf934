"""A reading, and behind it words that make the whole look like a line of words: 'heatsink 74c fan not turning'."""

from young_spark.core.entry.believed.surety import turning
from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.said import Ground, Said
from young_spark.core.entry.frames.together import read

DENYING = {"not", "no"}  # of what stands before them in the words: 'fan not turning'
NOUNS = {"fan", "noise", "knob", "photo"}  # that turn a figure of theirs, and no other
HAPPENED = {"arcs", "flashes", "flashed", "flashover", "trips"}  # 'in 55 out 300 arcs': while it was read
WARM = "°C"


def read_in_front(plain: str, ground: Ground) -> tuple[str, str] | None:
    """The part of a folded text that is a reading by itself, named or of a place's warmth, and the words behind it;
    None where the words may be of that figure, or hold another."""
    figures = [f for f in cut(plain) if f.kind == "figure"]
    if not figures:
        return None
    end = plain.rfind(figures[-1].text) + len(figures[-1].text)
    front, words = plain[:end], plain[end:].strip(" ,;.")
    if not words or plain[:end] == plain or _turn_it(words) or any(f.kind == "figure" for f in cut(words)):
        return None
    breath = read(cut(front), ground)
    said = [s for s in breath.said if not s.derived]
    return (front, words) if breath.sure and not breath.remark and said and all(map(_in_full, said)) else None


def _turn_it(words: str) -> bool:
    """Whether words say that the figure before them was not read: what is due, told, or of a part that came in."""
    first, *others = words.split()
    denied = first in DENYING or bool((turning() - NOUNS - HAPPENED).intersection((first, *others)))
    return denied or "?" in words


def _in_full(said: Said) -> bool:
    if said.value is None or said.leans or said.as_wanted:
        return False
    return said.named or (said.unit == WARM and bool(said.address.get("place")) and not said.lent)
