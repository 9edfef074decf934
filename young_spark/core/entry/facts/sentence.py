"""A text on its way to be understood: its facts, its figures, and what of it is explained so far."""

import re
from collections.abc import Sequence
from itertools import accumulate

from young_spark.core.entry.facts.fact import AS_TYPED, Fact
from young_spark.core.entry.facts.said import Ground, Item
from young_spark.core.entry.wording.changes import ARROWS, FALLS_NOW

LONELY_WORDS = {
    "a", "the", "is", "it", "its", "at", "of", "on", "in", "and", "but", "to", "with", "reads", "reading", "by",
    "an", "dc", "from", "into",
}  # fmt: skip
# a change that the pair of figures tells by itself
BETWEEN_TWO = {*(f"{verb} to" for verb in FALLS_NOW), *ARROWS, "=", "to"}


class Unexplained(Exception):
    """A fact that no frame explains, where dropping it would change what is meant."""


SIGNS = "+-<>→@="  # that tell something by themselves
WORDS = re.compile(r"(?:\.(?=\d))?[^\s.,;:!?]+(?:[.,:][^\s.,;:!?]+)*")


class Sentence:
    """The facts of one text; whoever explains one marks it as taken. What is left in the end is the remark."""

    def __init__(self, facts: Sequence[Fact], ground: Ground) -> None:
        self.facts = list(facts)
        self.ground = ground
        self.taken: set[int] = set()
        self.items: list[Item] = []
        self.shared: dict[str, object] = {}  # where and how, as the text says it for the whole line
        self.everywhere: dict[str, object] = {}  # what a frame found out about every figure
        self.keep_words: set[int] = set()  # facts that stay in the remark although they were used
        self.pairs: list[tuple[Item, Item]] = []  # of two rows: in and out

    def find_figures(self) -> None:
        """An item for every figure that is not explained yet."""
        clauses = list(accumulate(int(fact.fresh) for fact in self.facts))
        figures = ((n, f) for n, f in enumerate(self.facts) if f.kind == "figure" and n not in self.taken)
        self.items = [Item(self.ground.in_hertz_if_counted(f), n, clause=clauses[n]) for n, f in figures]

    def fact(self, n: int) -> Fact | None:
        """The fact at a position, None beyond either end."""
        return self.facts[n] if 0 <= n < len(self.facts) else None

    def is_link(self, n: int, *kinds: str) -> bool:
        """Whether a link of one of these kinds stands at a position."""
        fact = self.fact(n)
        return fact is not None and fact.kind == "link" and fact.of in kinds

    def has_text(self, n: int, *texts: str) -> bool:
        """Whether a fact was typed as one of these at a position."""
        fact = self.fact(n)
        return fact is not None and fact.text in texts

    def item_at(self, n: int) -> Item | None:
        """The figure that stands at a position."""
        for item in self.items:  # asked for at every fact by every frame: a plain loop is three times as fast
            if item.at == n and not item.used:
                return item
        return None

    def free(self, *kinds: str) -> list[int]:
        """Positions of facts of these kinds that nothing explained yet."""
        return [n for n, f in enumerate(self.facts) if f.kind in kinds and n not in self.taken]

    def take(self, *positions: int) -> None:
        """Mark facts as explained."""
        self.taken |= set(positions)

    def drop(self, item: Item) -> None:
        """A figure that belongs to another one, or says where: it is no reading of its own."""
        item.used = True
        self.items = [i for i in self.items if i is not item]
        self.taken.add(item.at)

    def nearest_item(self, n: int, within: int = 99) -> Item | None:
        """The figure nearest to a position, the one before it where two are as near."""
        near = min(self.items, key=lambda i: (abs(i.at - n), i.at > n), default=None)
        return near if near is not None and abs(near.at - n) <= within else None

    def remark(self) -> str:
        """The words that nothing explained, in their order."""
        used = {i.at for i in self.items} | self.taken
        used -= self.keep_words
        used -= {i.at for i in self.items if i.fact.of == "kept words"}
        left = [f for n, f in enumerate(self.facts) if n not in used and f.text not in BETWEEN_TWO]
        kept = [word for fact in left for word in ([fact.text] if fact.of == AS_TYPED else WORDS.findall(fact.text))]
        kept = [word for word in kept if any(sign.isalnum() or sign in SIGNS for sign in word)]
        while kept and kept[0] in LONELY_WORDS and not (kept[0] in {"and", "but"} and len(kept) > 1):
            kept.pop(0)
        while kept and kept[-1] in LONELY_WORDS:
            kept.pop()
        return "" if kept in (["for"], ["@"]) else " ".join(kept)
