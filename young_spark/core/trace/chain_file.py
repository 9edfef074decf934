"""Chains as data files: blocks that several chains share, read together into one chain; what does not fit is named
with its line."""

import re
from collections.abc import Iterable
from functools import cache
from typing import Any

from pydantic import Field, TypeAdapter, ValidationError

from young_spark.core.ground import SHIPPED, BadKnowledge, Frozen, UnknownName, nearest, parse
from young_spark.core.trace.chain import (
    ALL_OF_IT,
    LAST_HAND,
    Chain,
    ChainStage,
    Compound,
    Fault,
    Function,
    FunctionProbe,
    PartProbe,
    Probe,
)

MOST = 400
HIGH_VOLTAGE_IS_NEAR = "High voltage is near: covers on wherever it goes; else clip on dead, hands off, then power."
ABSENT = "-"


class Block(Frozen):
    """Stages, faults and probes that several chains share. Names that begin with $ are given by the chain that uses
    it."""

    title: str = Field(min_length=1, max_length=120)
    stages: tuple[dict[str, Any], ...] = Field((), max_length=MOST)
    faults: tuple[dict[str, Any], ...] = Field((), max_length=MOST)
    probes: tuple[dict[str, Any], ...] = Field((), max_length=MOST)
    functions: tuple[dict[str, Any], ...] = Field((), max_length=MOST)
    compounds: tuple[dict[str, Any], ...] = Field((), max_length=MOST)


class Use(Frozen):
    """A block in a chain: what its $ names are here, a prefix for its own names where it is used twice, words for
    {}, and fields of its stages, faults and probes that are other here: by their id, or by "probes.ID" where a row of
    another kind has the same."""

    block: str
    given: dict[str, str] = {}
    prefix: str = Field("", pattern=r"^[a-z0-9_]*$")
    words: str = ""
    change: dict[str, dict[str, Any]] = {}
    without: tuple[str, ...] = ()


class ChainFile(Block):
    """A chain as its file says it: blocks, and what is its own."""

    about: str = Field("", max_length=600)
    use: tuple[Use, ...] = Field((), max_length=60)
    output: str
    not_listed: float = Field(0.06, gt=0, lt=0.5)
    high_voltage: tuple[str, ...] = Field((), max_length=MOST)


def chain_names() -> tuple[str, ...]:
    """The shipped chains, in order of name."""
    return tuple(sorted(p.stem for p in (SHIPPED / "chains").glob("*.toml")))


@cache
def shipped_chain(name: str) -> Chain:
    """A shipped chain by name. Raises UnknownName."""
    if name not in chain_names():
        raise UnknownName("chain", name, nearest(name, chain_names()))
    file = SHIPPED / "chains" / f"{name}.toml"
    return chain_from(file.read_text("utf-8"), name, file.name)


@cache
def block(name: str) -> tuple[Block, str]:
    """A shipped block with its text."""
    file = SHIPPED / "blocks" / f"{name}.toml"
    if not file.is_file():
        raise UnknownName("block", name, nearest(name, (p.stem for p in (SHIPPED / "blocks").glob("*.toml"))))
    text = file.read_text("utf-8")
    return parse(text, file.name, Block), text


def chain_from(text: str, chain_id: str, file: str) -> Chain:
    """A chain from its file's text. Raises BadKnowledge with every problem and its line."""
    told = parse(text, file, ChainFile)
    sources: dict[str, tuple[str, str]] = {}  # name → (file, text) that says it
    rows: dict[str, list[dict[str, Any]]] = {kind: [] for kind in PARTS}
    for use in told.use:
        try:
            shared, shared_text = block(use.block)
        except UnknownName as problem:
            raise BadKnowledge(file, (f"line {_line(text, use.block)}: {problem}",)) from problem
        for kind in PARTS:
            for row in getattr(shared, kind):
                made = used_row(kind, row, use)
                if made is not None:
                    rows[kind].append(made)
                    sources[str(made.get("id", ""))] = (f"{use.block}.toml", shared_text)
    for kind in PARTS:
        for row in getattr(told, kind):
            rows[kind].append(row)
            sources[str(row.get("id", ""))] = (file, text)
    problems = _Problems(file, text, sources)
    parts = {kind: tuple(problems.checked(kind, row) for row in rows[kind]) for kind in PARTS}
    problems.raise_if_any()
    parts["probes"] += _asked_at_check_in(parts["faults"])
    _check_names(parts, told, problems)
    problems.raise_if_any()
    chain = Chain(
        id=chain_id, title=told.title, about=told.about, output=told.output, not_listed=told.not_listed,
        high_voltage=told.high_voltage, **parts,
    )  # fmt: skip
    for probe in chain.probes:
        if chain.is_lethal(probe) and probe.risk != "lethal" and sources[probe.id][0] == file:
            problems.add(probe.id, 'covers off and power on in high-voltage gear: its risk is "lethal"', probe=True)
    problems.raise_if_any()
    return chain.model_copy(update={"probes": tuple(_as_lethal_as_it_is(chain, probe) for probe in chain.probes)})


def _as_lethal_as_it_is(chain: Chain, probe: Probe) -> Probe:
    """A look of a shared block, which does not know what gear it is used in: covers off and power on is lethal where
    high voltage is."""
    if not chain.is_lethal(probe) or probe.risk == "lethal":
        return probe
    return probe.model_copy(update={"risk": "lethal", "caution": HIGH_VOLTAGE_IS_NEAR})


def _asked_at_check_in(faults: tuple[Fault, ...]) -> tuple[Probe, ...]:
    """What is told of every unit: whether somebody was inside. It makes what hands do three times as likely, and no
    more."""
    by_hand = {fault.id: "seen" for fault in faults if fault.by_hand}
    if not by_hand:
        return ()
    what = "Somebody was inside before it failed"
    return (
        PartProbe(id=LAST_HAND, kind="look", what=what, where="told at check-in", tests=by_hand, error=0.25, told=True),
    )


PARTS: dict[str, TypeAdapter[Any]] = {
    "stages": TypeAdapter(ChainStage),
    "faults": TypeAdapter(Fault),
    "functions": TypeAdapter(Function),
    "probes": TypeAdapter(Probe),
    "compounds": TypeAdapter(Compound),
}


def used_row(kind: str, row: dict[str, Any], use: Use) -> dict[str, Any] | None:
    """A row of a block, of its stages, faults, functions, probes or compounds, as this chain uses it; None where it
    leaves it out."""
    if row.get("id") in use.without:
        return None
    name = str(row.get("id"))
    mine = {**row, **use.change.get(name, {}), **use.change.get(f"{kind}.{name}", {})}
    if any(_name(fault, use) == ABSENT for fault in mine.get("faults", ())):
        return None  # a pair of which one is not in this chain
    return {key: _renamed(key, value, use) for key, value in mine.items()}


NAMES = {
    "id",
    "stage",
    "after",
    "needs",
    "at_rest",
    "pulls",
    "weakens",
    "shows_at",
    "carried_by",
    "at",
    "past",
    "function",
    "faults",
    "killed_by",
    "takes",
}
TEXTS = {"name", "what", "where", "level", "place", "caution", "why"}


def _renamed(key: str, value: Any, use: Use) -> Any:
    if key in TEXTS and isinstance(value, str):
        return value.replace("{}", use.words).replace("  ", " ").strip()
    if key in {"tests", "exceptions", "where_dead"} and isinstance(value, dict):
        return {_name(k, use): v for k, v in value.items() if _name(k, use) != ABSENT}
    if key not in NAMES:
        return value
    if isinstance(value, list):
        return [_name(v, use) for v in value if _name(v, use) != ABSENT]
    return "" if _name(value, use) == ABSENT else _name(value, use)


def _name(value: Any, use: Use) -> Any:
    """A name of the block in the chain. One that the chain gives as '-' is not there; nor is one that ends in '?' and
    is not given: so that a chain that was written before a block asked for it stays whole."""
    if not isinstance(value, str):
        return value
    if value.startswith("$") and value.endswith("?"):
        return use.given.get(value[1:-1], ABSENT)
    if value.startswith("$"):
        return use.given.get(value[1:], value)
    return f"{use.prefix}{value}"


class _Problems:
    def __init__(self, file: str, text: str, sources: dict[str, tuple[str, str]]) -> None:
        self.file, self.text, self.sources = file, text, sources
        self.found: list[str] = []

    def checked(self, kind: str, row: dict[str, Any]) -> Any:
        try:
            return PARTS[kind].validate_python(row)
        except ValidationError as problem:
            for e in problem.errors():
                place = ".".join(str(part) for part in e["loc"])
                words = str(e["ctx"]["error"]) if e["type"] == "value_error" else f"{place}: {e['msg']}"
                self.add(str(row.get("id") or row.get("name") or place), words, probe=kind == "probes")
            return None

    def add(self, name: str, words: str, *, probe: bool = False) -> None:
        file, text = self.sources.get(name, (self.file, self.text))
        bare = name if _line(text, name) else next((n for n in (name.split("_", 1)[-1],) if _line(text, n)), name)
        line = _line(text, bare, probe=probe) or 1
        where = f"line {line}" if file == self.file else f"{file} line {line}"
        self.found.append(f"{where}: {name}: {words}")

    def raise_if_any(self) -> None:
        if self.found:
            raise BadKnowledge(self.file, tuple(self.found[:20]))


def _line(text: str, name: str, *, probe: bool = False) -> int:
    """The line that says a name (that of a probe, where others may be called so too), or 0."""
    named = rf'\bid\s*=\s*"{re.escape(name)}"'
    for pattern in (
        *((rf"{named}.*\bkind\s*=",) if probe else ()),
        named,
        rf'"{re.escape(name)}"',
        rf"\b{re.escape(name)}\b",
    ):
        for n, line in enumerate(text.splitlines(), 1):
            if re.search(pattern, line):
                return n
    return 0


def _check_names(parts: dict[str, tuple[Any, ...]], told: ChainFile, problems: _Problems) -> None:
    stages, faults = [s.id for s in parts["stages"]], [f.id for f in parts["faults"]]
    functions = [f.id for f in parts["functions"]]
    for kind, names in (
        ("stage", stages),
        ("fault", faults),
        ("probe", [p.id for p in parts["probes"]]),
        ("function", functions),
    ):
        for name in {n for n in names if names.count(n) > 1}:
            problems.add(name, f"two {kind}s are called so")

    def known(owner: str, names: Iterable[str], there: list[str], kind: str) -> None:
        for name in names:
            if name not in there:
                hint = nearest(name, there)
                problems.add(owner, f"no {kind} is called {name!r}" + (f"; did you mean {hint!r}?" if hint else ""))

    known(told.output, [told.output], stages, "stage")
    known(told.output, [name for name in told.high_voltage if name != ALL_OF_IT], stages, "stage")
    for stage in parts["stages"]:
        known(stage.id, _upstream(stage), stages, "stage")
    for fault in parts["faults"]:
        known(fault.id, (fault.stage, *fault.pulls, *fault.weakens), stages, "stage")
        known(fault.id, (*fault.killed_by, *fault.takes), faults, "fault")
    for function in parts["functions"]:
        known(function.id, (*function.shows_at, *function.carried_by), stages, "stage")
    for probe in parts["probes"]:
        known(probe.id, probe.stages, stages, "stage")
        known(probe.id, [probe.function] if isinstance(probe, FunctionProbe) else [], functions, "function")
        known(probe.id, (*probe.tests, *probe.exceptions), faults, "fault")
        _check_probe(probe, problems)
    for compound in parts["compounds"]:
        known(compound.faults[0], compound.faults, faults, "fault")
    if not problems.found:
        _check_circles(parts["stages"], problems)


def _check_probe(probe: Probe, problems: _Problems) -> None:
    for answer in probe.words:
        if answer not in probe.answers:
            problems.add(probe.id, f"it has words for {answer!r}, and answers {', '.join(probe.answers)}", probe=True)


def _upstream(stage: ChainStage) -> tuple[str, ...]:
    """The stages that it hangs on, keyed or at rest."""
    return (*stage.after, *stage.needs, *((stage.at_rest,) if stage.at_rest else ()))


def _check_circles(stages: tuple[ChainStage, ...], problems: _Problems) -> None:
    by_id = {s.id: s for s in stages}
    done: set[str] = set()

    def visit(name: str, above: tuple[str, ...]) -> None:
        if name in above:
            problems.add(name, f"feeds itself: {' → '.join((*above[above.index(name) :], name))}")
            return
        if name in done:
            return
        for other in _upstream(by_id[name]):
            visit(other, (*above, name))
        done.add(name)

    for stage in stages:
        if not problems.found:
            visit(stage.id, ())
