"""What the frames of their own have in common: the hand's place, names, words, and using a figure up."""

from collections.abc import Callable

from young_spark.core.entry.facts.said import Item, Said
from young_spark.core.entry.facts.sentence import Sentence

Frame = Callable[[Sentence], list[Said]]
OF_THE_HAND = {"channel", "frequency_hz", "mode"}
OF_A_DEPTH = {"am_depth", "am_depth_positive", "am_depth_negative"}


def hand(s: Sentence, *, without: str = "") -> dict[str, object]:
    """Where the hand is, as far as a figure of the whole unit stands there."""
    return {k: v for k, v in s.ground.hand.items() if k in OF_THE_HAND and k != without}


def use(s: Sentence, item: Item) -> None:
    """A figure that is no reading of its own."""
    item.used = True
    s.take(item.at)
    s.items = [i for i in s.items if i is not item]


def named(s: Sentence, *quantities: str) -> list[int]:
    """Positions of the free names of these quantities."""
    return [n for n in s.free("quantity") if s.facts[n].of in quantities]


def typed(s: Sentence, *texts: str) -> list[int]:
    """Positions of free facts that were typed so."""
    return [n for n, f in enumerate(s.facts) if f.text in texts and n not in s.taken]
