"""A chain drawn from its stages, for a unit without documents: one stage a line, as the signal goes. What comes out
is the text of a chain file, to be corrected like any other."""

import json
import re
from dataclasses import dataclass, field

from young_spark.core.ground import CoreError
from young_spark.core.trace.chain_file import chain_from

KINDS = ("rail", "key", "audio")
LEVEL = re.compile(r"\s+(about\s+)?\d+(?:[.,]\d+)?\s*(?:mW|W|mV|V|dBm)$", re.IGNORECASE)
MOST_STAGES = 60


class BadDrawing(CoreError):
    """Stages that make no chain; names the line."""

    code = "bad_drawing"


@dataclass
class _Drawn:
    stages: list[dict[str, object]] = field(default_factory=list)
    faults: list[dict[str, object]] = field(default_factory=list)
    probes: list[dict[str, object]] = field(default_factory=list)
    signal: str = ""  # the signal stage that was drawn last
    audio: str = ""
    feeds: list[str] = field(default_factory=list)  # rails and key lines drawn so far


def drawn(title: str, lines: str) -> str:
    """The chain file of a unit: 'rail Supply 12 V', 'key Key line', 'audio Microphone amplifier', and stages of the
    signal in order, each with its level if that is known. Raises BadDrawing with the line, or BadKnowledge for a
    chain that is none."""
    made = _Drawn()
    told = [(n, line.strip()) for n, line in enumerate(lines.splitlines(), 1) if line.strip()]
    if len(told) > MOST_STAGES:
        raise BadDrawing(f"{len(told)} stages are more than a chain has: {MOST_STAGES} at most")
    for number, line in told:
        _stage(made, number, line)
    if not made.signal:
        raise BadDrawing("no stage of the signal is drawn: at least the one that gives the output")
    made.probes.append(
        {
            "id": "output",
            "kind": "level",
            "at": made.signal,
            "what": "Power into the load",
            "where": "wattmeter and load",
            "minutes": 1,
            "reads": ["carrier_power", "peak_envelope_power"],
        }
    )
    head = [
        f"title = {json.dumps(title.strip() or 'Own chain', ensure_ascii=False)}",
        'about = "Drawn here from its stages."',
        f'output = "{made.signal}"',
        "not_listed = 0.12",
    ]
    rows = [_rows(name, getattr(made, name)) for name in ("stages", "faults")]
    if made.audio:
        rows.append(
            _rows(
                "functions",
                [{"id": "modulation", "name": "modulation", "shows_at": [made.audio], "carried_by": [made.signal]}],
            )
        )
        made.probes.append(
            {
                "id": "modulation",
                "kind": "function",
                "function": "modulation",
                "what": "Modulation heard or seen",
                "minutes": 1,
                "reads": ["am_depth", "fm_deviation"],
            }
        )
    text = "\n".join([*head, "", *rows, _rows("probes", made.probes), ""])
    chain_from(text, "drawn", "the chain as drawn")
    return text


def _stage(made: _Drawn, number: int, line: str) -> None:
    first, _, rest = line.partition(" ")
    kind = first.lower() if first.lower() in KINDS and rest else "signal"
    words = rest.strip() if kind != "signal" else line
    level = LEVEL.search(words)
    name = words[: level.start()].strip() if level else words
    stage = re.sub(r"\W+", "_", name.lower()).strip("_")[:30]
    if not stage or stage[0].isdigit():
        raise BadDrawing(f"line {number}: {line[:40]!r} names no stage; begin with its name")
    if any(s["id"] == stage for s in made.stages):
        raise BadDrawing(f"line {number}: {name!r} stands there twice")
    row: dict[str, object] = {"id": stage, "name": name}
    if kind != "signal":
        row["kind"] = kind
    before = {"signal": made.signal, "audio": made.audio}.get(kind, "")
    if before:
        row["after"] = [before]
    if made.feeds and kind in ("signal", "audio"):
        row["needs"] = list(made.feeds)
    if level:
        row["level"] = level[0].strip()
    made.stages.append(row)
    _what_can_be_wrong(made, stage, name, kind)
    if kind in ("signal", "audio"):
        setattr(made, kind, stage)
    else:
        made.feeds.append(stage)


def _what_can_be_wrong(made: _Drawn, stage: str, name: str, kind: str) -> None:
    made.faults.append({"id": f"{stage}_dead", "stage": stage, "name": f"{name.lower()}: dead", "weight": 2})
    if kind in ("signal", "audio"):
        made.faults.append({"id": f"{stage}_weak", "stage": stage, "name": f"{name.lower()}: weak", "effect": "weak"})
        seen = "level" if kind == "signal" else "audio"
        made.probes.append(
            {
                "id": f"{stage}_out",
                "kind": seen,
                "at": stage,
                "what": f"{'RF' if kind == 'signal' else 'Audio'} after the {name.lower()}",
                "minutes": 4,
                "covers": True,
            }
        )
    else:
        made.probes.append(
            {
                "id": f"{stage}_v",
                "kind": "dc",
                "at": stage,
                "what": f"Volts of {name.lower()}",
                "minutes": 2,
                "covers": True,
            }
        )


def _rows(name: str, rows: list[dict[str, object]]) -> str:
    """A list of inline tables, one a line."""
    body = "\n".join(
        "  { " + ", ".join(f"{k} = {json.dumps(v, ensure_ascii=False)}" for k, v in row.items()) + " }," for row in rows
    )
    return f"{name} = [\n{body}\n]"
