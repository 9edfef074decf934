"""From tokens to one expression: figures in their roles, multipliers, pads, range, bound."""

from dataclasses import dataclass

from young_spark.core.entry.tokens import Figure, Mark, Token, Unclear, Word


@dataclass(frozen=True, slots=True)
class Expression:
    """What stands behind the keyword, each figure in its role."""

    figures: tuple[Figure, ...] = ()  # one, or several with / between
    ends: tuple[Figure, Figure] | None = None  # a figure that bounces
    arrow: tuple[Figure, Figure] | None = None  # from → to
    multiplier: float | None = None
    slope_hz_per_v: float | None = None
    pads_db: tuple[float, ...] = ()
    losses_db: tuple[float, ...] = ()
    elements: tuple[float, ...] = ()
    receiver_error_hz: float = 0.0
    at: Figure | None = None
    bound: str | None = None
    nothing: bool = False
    weak: bool = False
    words: tuple[str, ...] = ()


NOTHING = {"none", "nothing", "nil", "nowt", "dead"}
WEAK = {"weak", "faint"}


class _Reader:
    """Walks the tokens once; each `take_…` moves on only when it fits."""

    def __init__(self, tokens: list[Token]) -> None:
        self.tokens = tokens
        self.at = 0

    def peek(self, ahead: int = 0) -> Token | None:
        place = self.at + ahead
        return self.tokens[place] if place < len(self.tokens) else None

    def mark(self, *kinds: str) -> str | None:
        token = self.peek()
        if isinstance(token, Mark) and token.kind in kinds:
            self.at += 1
            return token.kind
        return None

    def figure(self) -> Figure | None:
        token = self.peek()
        if isinstance(token, Figure):
            self.at += 1
            return token
        return None

    def wanted(self, after: str) -> Figure:
        found = self.figure()
        if found is None:
            raise Unclear(f"What figure comes after '{after}'?")
        return found

    def list_of_figures(self, after: str) -> tuple[Figure, ...]:
        found = [self.wanted(after)]
        while self.mark("/"):
            found.append(self.wanted("/"))
        return tuple(found)


def _scale_fraction(figures: tuple[Figure, ...], scale: Figure) -> Figure:
    """'7/10 of 5w', '0.7 of 10w': a share of a scale."""
    share = figures[0].value if len(figures) == 1 else figures[0].value / _not_zero(figures[1])
    if len(figures) > 2 or not 0 <= share <= 1:
        raise Unclear("What share of the scale? For example '7/10 of 5w'.")
    return Figure(share * scale.value, scale.unit, 0.0, f"{share:g} of {scale.text}")


def _not_zero(figure: Figure) -> float:
    if figure.value == 0:
        raise Unclear("Nothing can be a share of 0. What is the full scale?")
    return figure.value


def _is_pad(token: Token | None) -> bool:
    return isinstance(token, Figure) and token.unit == "dB" and token.signed


def _range(first: Figure, second: Figure) -> tuple[Figure, Figure]:
    if first.unit and second.unit and first.unit != second.unit:
        raise Unclear(f"{first.text} to {second.text}: two different units?")
    return _like(first, second), _like(second, first)


def _like(figure: Figure, companion: Figure) -> Figure:
    """A figure typed without its unit takes unit and prefix of its companion: '3.4..3.9mw'."""
    return (
        figure
        if figure.unit is not None or companion.unit is None
        else figure.in_unit(companion.unit, companion.factor)
    )


def share_units(figures: tuple[Figure, ...]) -> tuple[Figure, ...]:
    """In '2.1/1.9k' the unit that stands last counts for those before it that have none."""
    return tuple(_like(figure, figures[-1]) for figure in figures)


def read_expression(tokens: list[Token]) -> Expression:
    """The expression of the tokens; raises Unclear with one question where something is left over or missing."""
    reader = _Reader(tokens)
    found: dict[str, object] = {}
    words: list[str] = []
    while (token := reader.peek()) is not None:
        if isinstance(token, Word):
            reader.at += 1
            _word(token.text, found, words)
        elif isinstance(token, Mark):
            reader.at += 1
            _mark(token.kind, reader, found)
        elif _is_pad(token) and ("figures" in found or "ends" in found):
            reader.at += 1
            found["pads_db"] = (*found.get("pads_db", ()), token.value)  # type: ignore[misc]
        else:
            _value(reader, found)
    return Expression(words=tuple(words), **found)  # type: ignore[arg-type]


def _word(text: str, found: dict[str, object], words: list[str]) -> None:
    if text in NOTHING:
        found["nothing"] = True
    elif text in WEAK:
        found["weak"] = True
    else:
        words.append(text)


def _mark(kind: str, reader: _Reader, found: dict[str, object]) -> None:
    if kind in "<>":
        found["bound"] = "upper" if kind == "<" else "lower"
    elif kind == "between":
        first = reader.wanted("between")
        if not reader.mark("and", ".."):
            raise Unclear("Between what and what?")
        found["ends"] = _range(first, reader.wanted("and"))
    elif kind == "x":
        times = reader.wanted("x")
        found["slope_hz_per_v" if times.unit == "Hz/V" else "multiplier"] = times.value
    elif kind == "loss":
        found["losses_db"] = tuple(f.value for f in reader.list_of_figures("loss"))
    elif kind == "el":
        found["elements"] = tuple(f.value for f in reader.list_of_figures("el"))
    elif kind == "cal":
        found["receiver_error_hz"] = reader.wanted("cal").value
    elif kind == "at":
        found["at"] = reader.wanted("at")
    elif kind == "half":
        reader.mark("of")
        scale = reader.wanted("half of")
        found["figures"] = (Figure(scale.value / 2, scale.unit, 0.0, f"half of {scale.text}"),)
    else:
        raise Unclear("What stands before that sign?")


def _value(reader: _Reader, found: dict[str, object]) -> None:
    first = reader.wanted("")
    if "ends" in found or "arrow" in found:
        raise Unclear(f"What is {first.text} there?")
    if "figures" in found:
        _second_figure(first, found)
        return
    if reader.mark(".."):
        found["ends"] = _range(first, reader.wanted(".."))
        return
    if reader.mark("->"):
        found["arrow"] = _range(first, reader.wanted("->"))
        return
    figures = [first]
    while reader.mark("/"):
        figures.append(reader.wanted("/"))
    found["figures"] = tuple(figures)
    if reader.mark("of"):
        found["figures"] = (_scale_fraction(tuple(figures), reader.wanted("of")),)


def _second_figure(second: Figure, found: dict[str, object]) -> None:
    """'3.4-3.9w' is a range; any other two figures side by side are a question."""
    figures: tuple[Figure, ...] = found["figures"]  # type: ignore[assignment]
    first = figures[-1]
    if len(figures) == 1 and second.signed and second.value < 0 <= first.value and first.unit in (None, second.unit):
        upper = Figure(-second.value, second.unit, second.step, second.text.lstrip("-"))
        found["ends"] = _range(first, upper)
        del found["figures"]
        return
    raise Unclear(f"Two figures, {first.text} and {second.text}: which is which?")
