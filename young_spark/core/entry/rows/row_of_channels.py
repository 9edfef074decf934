"""Channels in a row and as many figures: '1/19/40 3.2 3.7 3.1', 'ch 1 20 40: 3.8 3.9 3.8'."""

from young_spark.core.entry.facts.said import Item
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.entry.rows.row_of_megahertz import LEAST_ROW
from young_spark.core.entry.rows.where_alone import channel_at


def slashed_channels(s: Sentence) -> None:
    """'1/19/40 3.2 3.7 3.1': as many figures as channels."""
    _slashed_behind_a_name(s)
    run: list[Item] = []
    for item in s.items:
        if run and not (s.has_text(item.at - 1, "/") and item.at == run[-1].at + 2):
            break
        run.append(item)
    figures = s.items[len(run) :]
    if len(run) < LEAST_ROW or len(run) != len(figures) or not all(channel_at(s, i.fact) for i in run):
        return
    for place, figure in zip(run, figures, strict=True):
        figure.address["channel"] = place.fact.value
        s.drop(place)
    s.take(*[n for n, f in enumerate(s.facts) if f.text == "/"])


def _slashed_behind_a_name(s: Sentence) -> None:
    """'ch1/20/40 fm dev 1.9 1.9 1.8': the first of them by its name."""
    run = next((r for r in _runs(s) if s.facts[r[0]].of == "channel" and len(r) >= LEAST_ROW), None)
    if run is None:
        return
    more, figures = [s.item_at(n) for n in run[1:]], [i for i in s.items if i.at > run[-1]]
    if len(figures) != len(run) or len(s.items) != len(more) + len(figures) or None in more:
        return
    channels = [float(str(s.facts[run[0]].is_)), *(i.fact.value for i in more if i is not None)]
    for channel, figure in zip(channels, figures, strict=True):
        figure.address["channel"] = channel
    for item in [i for i in more if i is not None]:
        s.drop(item)
    s.take(run[0], *[n for n in range(run[-1]) if s.facts[n].text == "/"])


def find_slashed(s: Sentence) -> None:
    """'pwr 3.9/3.8/3.7 ch 1/20/40': two runs of the same length, one of them channels."""
    runs = _runs(s)
    channels = next((r for r in runs if s.facts[r[0]].of == "channel"), None)
    figures = next((r for r in runs if r is not channels), None)
    if channels is None or figures is None or len(runs) != 2 or not LEAST_ROW <= len(channels) == len(figures):
        return
    for place, at in zip(channels, figures, strict=True):
        said, figure, number = s.facts[place], s.item_at(at), s.item_at(place)
        if figure is not None:
            figure.address["channel"] = float(str(said.is_)) if said.of == "channel" else said.value
        if number is not None:
            s.drop(number)
    s.take(*channels, *[n for n, f in enumerate(s.facts) if f.text == "/"])


def _runs(s: Sentence) -> list[list[int]]:
    """Positions of figures and channels, those with a stroke between them together."""
    runs: list[list[int]] = []
    for n, fact in enumerate(s.facts):
        if fact.kind == "figure" or fact.of == "channel":
            fresh = not runs or not (s.has_text(n - 1, "/") and runs[-1][-1] == n - 2)
            runs = [*runs, [n]] if fresh else [*runs[:-1], [*runs[-1], n]]
    return runs


def channels_then_figures(s: Sentence) -> None:
    """'ch 1 20 40: 3.8 3.9 3.8': a channel by its name, more of them, then as many figures."""
    _as_many_channels(s)
    said = [n for n in s.free("where") if s.facts[n].of == "channel"]
    more = len(s.items) // 2
    if len(said) != 1 or len(s.items) % 2 == 0 or not more:
        return  # 'ch 6 24, ch 16 24.1': each by its name
    first = said[0]
    channels, figures = s.items[:more], s.items[more:]
    in_a_row = all(i.at == first + 1 + n and channel_at(s, i.fact) for n, i in enumerate(channels))
    if not in_a_row or len({i.fact.unit for i in figures} - {None}) > 1:
        return
    places = [float(str(s.facts[first].is_)), *(i.fact.value for i in channels)]
    for place, figure in zip(places, figures, strict=True):
        figure.address["channel"] = place
    for item in channels:
        s.drop(item)
    s.take(first)


def figures_then_channels(s: Sentence) -> None:
    """'25.2 24.8 24.9 w ch1 4 8': figures, a channel by its name, and more of them behind it."""
    first = next((n for n in s.free("where") if s.facts[n].of == "channel"), None)
    more = [i for i in s.items if first is not None and i.at > first]
    figures = [i for i in s.items if first is not None and i.at < first]
    if first is None or not more or len(figures) != len(more) + 1 or not all(channel_at(s, i.fact) for i in more):
        return
    if [i.at for i in more] != list(range(first + 1, first + 1 + len(more))):
        return
    for place, figure in zip([float(str(s.facts[first].is_)), *(i.fact.value for i in more)], figures, strict=True):
        figure.address["channel"] = place
    for item in more:
        s.drop(item)
    s.take(first)


def _as_many_channels(s: Sentence) -> None:
    """'ch16 ch6 ch77 24 24.5 23.8': channels in a row, then as many figures."""
    channels = [n for n in s.free("where") if s.facts[n].of == "channel"]
    figures = [i for i in s.items if channels and i.at > channels[-1]]
    in_a_row = channels == list(range(channels[0], channels[0] + len(channels))) if channels else False
    if len(channels) < LEAST_ROW or not in_a_row or len(figures) != len(channels) or len(s.items) != len(figures):
        return
    for n, figure in zip(channels, figures, strict=True):
        figure.address["channel"] = float(str(s.facts[n].is_))
    s.take(*channels)
