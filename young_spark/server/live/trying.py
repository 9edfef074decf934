"""An instrument that no file describes: what is typed goes out on its line, what comes back is shown figure by figure,
and what a hand names in it becomes a definition of this shop."""

import uuid
from collections.abc import Sequence
from typing import Any, Literal

import tomli_w

from young_spark.core.live import (
    Ask,
    Definition,
    LineManner,
    NotAFigure,
    figures_of,
    figures_seen,
    identity_pattern,
    values_of,
)
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.bulletin import bulletin
from young_spark.server.library.own_texts import NAME
from young_spark.server.library.services import OWN_DEFINITIONS
from young_spark.server.live import instruments
from young_spark.server.live.bench import live_bench
from young_spark.server.problems import Refused
from young_spark.server.writing import writing
from young_spark.wire import TryLine

HEAD = "# How an instrument of this shop is asked. What is at its default is left out.\n"


def tried(
    *, actor: Person, address: str, manner: LineManner, words: str, form: Literal["text", "block", "none"], times: int
) -> dict[str, Any]:
    """Send something on a line, as often as `times` says, and show what comes back. Raises Refused with why nothing
    does."""
    require_technician(actor)
    instruments.must_be_an_address(address)
    order = TryLine(id=str(uuid.uuid4()), address=address, manner=manner, words=words, form=form, times=times)
    answer = live_bench().try_line(order)
    first = answer.answers[0] if answer.answers else ""
    return {
        "answer": first,
        "count": len(answer.answers),
        "took_s": answer.took_s,
        "figures": [f.model_dump() for f in figures_seen(answer.answers)],
        "identity": identity_pattern(first),
    }


def read_as(ask: Ask, answer: str) -> str:
    """An answer in words, as this question of a definition would be understood. Raises Refused where it would not."""
    wanted = 1 + max(gives.index for gives in ask.gives)
    try:
        figures = figures_of(answer, wanted)
        values = values_of(ask, figures)
    except NotAFigure as problem:
        raise Refused(f"That is not read as figures: {problem}.") from problem
    except OverflowError as problem:
        raise Refused("That is an overload: more than its range.") from problem
    return instruments.answer_words(values, {gives.value: gives.floor for gives in ask.gives})


def keep_definition(*, actor: Person, name: str, made: Definition) -> None:
    """Keep a definition as this shop's next version of that name. Raises Refused with what does not fit."""
    require_technician(actor)
    if not NAME.fullmatch(name):
        raise Refused("A definition's name is small letters, figures and dashes.")
    _must_give_each_value_once(made.asks)
    text = HEAD + tomli_w.dumps(made.model_dump(mode="json", exclude_defaults=True, exclude_none=True))
    OWN_DEFINITIONS.checked(name, text)
    with writing():
        OWN_DEFINITIONS.add(name, text, actor)
    bulletin.publish("definitions", {"name": name})


def _must_give_each_value_once(asks: Sequence[Ask]) -> None:
    names = [gives.value for ask in asks for gives in ask.gives]
    for name in names:
        if names.count(name) > 1:
            raise Refused(f"Two figures are both {name.replace('_', ' ')}: which one is it?")
