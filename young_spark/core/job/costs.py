"""What a job cost: parts that were fitted and what came for it, each once, so that the page adds up."""

import re
from collections.abc import Sequence

from young_spark.core.entry import StoryLine
from young_spark.core.ground import Frozen


class Cost(Frozen):
    """One line of what was used: its words, and what it cost where that was said."""

    words: str
    cost: float | None


def costs(told: Sequence[StoryLine]) -> tuple[Cost, ...]:
    """Every part that was fitted and everything that cost something, in the order of the slip. What arrived and was
    fitted counts once: by the line of the repair where that names the sum too. A wish or a wait costs nothing yet."""
    done = [line for line in told if line.kind == "did"]
    paid = set().union(*(_words(line) for line in done if line.cost is not None)) if done else set()
    found = []
    for line in told:
        counts = line.kind == "arrived" and line.cost is not None and not _words(line) & paid
        if line.kind == "did" and (line.part_in or line.cost is not None):
            found.append(Cost(words=_part_words(line), cost=line.cost))
        elif counts:
            found.append(Cost(words=line.words, cost=line.cost))
    return tuple(found)


def spent(told: Sequence[StoryLine]) -> float:
    """What a job has cost so far."""
    return sum(cost.cost or 0.0 for cost in costs(told))


def _part_words(line: StoryLine) -> str:
    if line.part_in is None:
        return line.words
    return f"{line.part_out} → {line.part_in}" if line.part_out else line.part_in


def _words(line: StoryLine) -> set[str]:
    return {
        word for word in re.findall(r"[a-z]+\d+|[a-z]{4,}", line.words.lower()) if word not in {"arrived", "fitted"}
    }
