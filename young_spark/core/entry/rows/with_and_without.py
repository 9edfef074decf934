"""Two figures of one thing, read with something and without it."""

from young_spark.core.entry.facts.said import Item
from young_spark.core.entry.facts.sentence import Sentence

BOTH = {"with", "without"}
ARTICLES = {"the", "a", "an", "its", "it", "one"}
MOST_WORDS = 3  # of what was there or not
OF_A_THING = {"word", "quantity", "item", "place"}


def find_with_and_without(s: Sentence) -> None:
    """'input swr 1.7 without drive pad, 1.2 with', '3.4w with the cover, 3.9 without': how each of the two stood."""
    marks = [n for n, f in enumerate(s.facts) if f.text in BOTH]
    if len(marks) != len(BOTH) or {s.facts[n].text for n in marks} != BOTH or len(s.items) != len(BOTH):
        return
    spans = [_behind(s, n) for n in marks]
    things = {" ".join(s.facts[n].text for n in span if s.facts[n].text not in ARTICLES) for span in spans} - {""}
    figures = _figures_of(s, marks)
    if len(things) != 1 or figures is None:
        return
    thing = things.pop()
    for mark, span, figure in zip(marks, spans, figures, strict=True):
        figure.address["setting"] = f"{s.facts[mark].text} {thing}"
        s.take(mark, *span)


def _behind(s: Sentence, mark: int) -> list[int]:
    """The words behind a mark as far as its clause and the next figure."""
    span: list[int] = []
    for n in range(mark + 1, len(s.facts)):
        fact = s.facts[n]
        named = fact.kind in OF_A_THING or (fact.kind == "how" and fact.of == "state")  # 'with tx'
        if fact.fresh or not named or fact.text in BOTH | {"and", "but"} or len(span) > MOST_WORDS:
            break
        span.append(n)
    return span


def _figures_of(s: Sentence, marks: list[int]) -> list[Item] | None:
    """The figure of each mark: all stand in front of theirs, or all behind."""
    one, two = s.items
    if one.at < marks[0] < two.at < marks[1] or marks[0] < one.at < marks[1] < two.at:
        return [one, two]
    return None
