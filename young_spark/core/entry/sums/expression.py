"""From tokens to one expression: figures in their roles, multipliers, pads, range, bound."""

from dataclasses import dataclass, replace

from young_spark.core.entry.wording.tokens import Figure, Mark, NotOneFigure, Token, Unclear, Word


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


PRINTED_ON_PARTS = {"F", "Ω"}
NOTHING = {"none", "nothing", "nil", "nowt", "dead"}
WEAK = {"weak", "faint"}


class _Reader:
    """Walks the tokens once; each `take_…` moves on only when it fits."""

    def __init__(self, tokens: list[Token]) -> None:
        self.tokens = tokens
        self.at = 0

    def peek(self) -> Token | None:
        return self.tokens[self.at] if self.at < len(self.tokens) else None

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
        figure = self.figure()
        if figure is None:
            raise NotOneFigure(f"What figure comes after '{after}'?")
        return figure

    def list_of_figures(self, after: str) -> tuple[Figure, ...]:
        figures = [self.wanted(after)]
        while self.mark("/"):
            figures.append(self.wanted("/"))
        return tuple(figures)


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
        raise NotOneFigure(f"{first.text} to {second.text}: two different units?")
    return _like(first, second), _like(second, first)


def _like(figure: Figure, companion: Figure) -> Figure:
    """A figure typed without its unit takes unit and prefix of its companion: '3.4..3.9mw'."""
    if figure.unit is not None or companion.unit is None:
        return figure
    return figure.in_unit(companion.unit, companion.factor)


def share_units(figures: tuple[Figure, ...]) -> tuple[Figure, ...]:
    """In '2.1/1.9k' the unit that stands last counts for those before it that have none."""
    return tuple(_like(figure, figures[-1]) for figure in figures)


def read_expression(tokens: list[Token]) -> Expression:
    """The expression of the tokens; raises Unclear with one question where something is left over or missing."""
    reader, expression = _Reader(tokens), Expression()
    while (token := reader.peek()) is not None:
        if isinstance(token, Word):
            reader.at += 1
            expression = _with_word(expression, token.text)
        elif isinstance(token, Mark):
            reader.at += 1
            expression = _with_mark(expression, token.kind, reader)
        elif _is_pad(token) and (expression.figures or expression.ends):
            expression = replace(expression, pads_db=(*expression.pads_db, reader.wanted("").value))
        else:
            expression = _with_figures(expression, reader)
    return expression


def _with_word(expression: Expression, text: str) -> Expression:
    if text in NOTHING:
        return replace(expression, nothing=True)
    if text in WEAK:
        return replace(expression, weak=True)
    return replace(expression, words=(*expression.words, text))


def _with_mark(expression: Expression, kind: str, reader: _Reader) -> Expression:
    if kind in {"<", ">"}:
        return replace(expression, bound="upper" if kind == "<" else "lower")
    if kind == "between":
        first = reader.wanted("between")
        if not reader.mark("and", ".."):
            raise Unclear("Between what and what?")
        return replace(expression, ends=_range(first, reader.wanted("and")))
    if kind == "x":
        times = reader.wanted("x")
        slope = times.unit == "Hz/V"
        return replace(expression, slope_hz_per_v=times.value) if slope else replace(expression, multiplier=times.value)
    if kind == "loss":
        return replace(expression, losses_db=tuple(f.value for f in reader.list_of_figures("loss")))
    if kind == "el":
        return replace(expression, elements=tuple(f.value for f in reader.list_of_figures("el")))
    if kind == "cal":
        return replace(expression, receiver_error_hz=reader.wanted("cal").value)
    if kind == "at":
        return replace(expression, at=reader.wanted("at"))
    if kind == "half":
        reader.mark("of")
        scale = reader.wanted("half of")
        return replace(expression, figures=(Figure(scale.value / 2, scale.unit, 0.0, f"half of {scale.text}"),))
    raise NotOneFigure("Which figure is which? Say what each of them is, for example 'power 3.8 w, swr 1.2'.")


def _with_figures(expression: Expression, reader: _Reader) -> Expression:
    """One figure, a pair, a range, an arrow or a share of a scale."""
    first = reader.wanted("")
    if expression.ends or expression.arrow:
        raise NotOneFigure(f"What is {first.text} there?")
    if expression.figures:
        return _with_second_figure(expression, first)
    if reader.mark(".."):
        return replace(expression, ends=_range(first, reader.wanted("..")))
    if reader.mark("->"):
        return replace(expression, arrow=_range(first, reader.wanted("->")))
    figures: tuple[Figure, ...] = (first,)
    while reader.mark("/"):
        figures = (*figures, reader.wanted("/"))
    if reader.mark("of"):
        if first.unit in PRINTED_ON_PARTS:
            raise NotOneFigure(f"{first.text} of what is printed on it?")
        figures = (_scale_fraction(figures, reader.wanted("of")),)
    return replace(expression, figures=figures)


def _with_second_figure(expression: Expression, second: Figure) -> Expression:
    """'3.4-3.9w' is a range; any other two figures side by side are a question."""
    first = expression.figures[-1]
    falls = second.signed and second.value < 0 <= first.value and not first.signed  # '+92 -84' are two peaks
    if len(expression.figures) == 1 and falls and first.unit in (None, second.unit):
        upper = replace(second, value=-second.value, text=second.text.lstrip("-"))
        return replace(expression, figures=(), ends=_range(first, upper))
    raise NotOneFigure(f"Two figures, {first.text} and {second.text}: which is which?")
