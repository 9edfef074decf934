"""Which model of the shelf a check-in line names."""

import re
from collections.abc import Iterable, Mapping

from young_spark.core.gear.kind import rated_in
from young_spark.core.gear.model import Model

# words of many names: 'Linear 400' without its maker is what half of them are called
COMMON = {"linear", "amp", "amplifier", "base", "mobile", "handheld", "receiver", "transceiver", "station", "set", "w"}
SAME_POWER = 1.5  # times: one model is told by its output, its peaks or what it is fed


def model_named(words: str, shelf: Mapping[str, Model]) -> str:
    """The id of the model whose maker and name, or a name that it goes by, or whose name alone where no other is called
    so, stand in the words; empty where none does."""
    models = {key: model for key, model in shelf.items() if not model.generic}
    own = [(key, m.name) for key, m in models.items() if not _is_common(m.name)]
    called = [(key, name) for key, m in models.items() for name in m.goes_by if not _is_common(name)]
    whole = [*called, *((key, m.title) for key, m in models.items())]
    return _longest(whole, words) or _longest(own, words) or _in_parts(models, words)


def _is_common(name: str) -> bool:
    """'Linear 400', '40': what many units are called alike names none of them."""
    return COMMON.issuperset(re.findall(r"[a-z]+", name.lower()))


def _longest(names: Iterable[tuple[str, str]], words: str) -> str:
    """The model with the longest of the names that stands in the words, however it is spaced: of '430-440 FM' no '40F'
    is a part."""
    said = words.lower()
    there = [
        (len(_run_together(name)), key)
        for key, name in names
        if _run_together(name) and re.search(rf"(?<![a-z0-9]){_spaced(name)}(?![a-z0-9])", said)
    ]
    return max(there, key=lambda found: found[0], default=(0, ""))[1]


def _in_parts(models: Mapping[str, Model], words: str) -> str:
    """'Hollin 400' of a Hollin Linear 400: the maker and another word of the name, where that is one model only."""
    said = _cut(words)
    near = [
        key
        for key, m in models.items()
        if len(_cut(m.title) & said) > 1
        and m.maker.lower() in said
        and not _is_numbered_otherwise(m, words)
        and not _is_rated_otherwise(m, words)
    ]
    return near[0] if len(near) == 1 else ""


def _is_numbered_otherwise(model: Model, words: str) -> bool:
    """'Hollin 80 valve linear' is no Hollin Linear 400: what follows the maker is the number of another model."""
    behind = re.search(rf"\b{re.escape(model.maker.lower())}\s+(?P<word>[\w-]*\d[\w-]*)", words.lower())
    return behind is not None and _cut(behind["word"]).isdisjoint(_cut(model.title))


def _is_rated_otherwise(model: Model, words: str) -> bool:
    """'Hollin Linear 1kW' is no Hollin Linear 400: it gives far more, or far less, than that model ever does."""
    rated = rated_in(words)
    if rated is None or model.greatest_power_w is None:
        return False
    return not 1 / SAME_POWER < rated / model.greatest_power_w < SAME_POWER


def _spaced(name: str) -> str:
    """A pattern for the letters and digits of a name, with anything else between them."""
    return "[^a-z0-9]*".join(_run_together(name))


def _run_together(words: str) -> str:
    return re.sub(r"[^a-z0-9]", "", words.lower())


def _cut(words: str) -> set[str]:
    return set(re.findall(r"[a-z0-9]+", words.lower()))
