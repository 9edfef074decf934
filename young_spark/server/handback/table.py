"""Readings as CSV: open, complete, and harmless when a spreadsheet opens it."""

import csv
import io

from young_spark.core.figure import VERDICT_WORDS, Verdict
from young_spark.core.judging import verdict_words
from young_spark.server.jobs.models import Job
from young_spark.server.readings.state import state_of

COLUMNS = (
    "time",
    "by",
    "item",
    "phase",
    "quantity",
    "value",
    "unit",
    "uncertainty",
    "low",
    "high",
    "bound",
    "method",
    "working",
    "verdict",
    "limits",
    "mode",
    "channel",
    "supply_v",
    "instrument",
    "plan_row",
    "stale",
    "withdrawn",
    "typed",
    "remarks",
)


def defused(cell: object) -> object:
    """A cell that no spreadsheet takes for a formula: text that begins like one gets an apostrophe."""
    if isinstance(cell, str) and cell[:1] in {"=", "+", "-", "@", "\t", "\r", "\n"}:
        return "'" + cell
    return cell


def readings_csv(job: Job) -> str:
    """Every reading of a job, withdrawn and stale ones too, each said to be so. Numbers in the quantity's own unit."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    for item in job.items.all():
        state = state_of(job, item)
        lines = {line.pk: line for line in state.lines}
        phases = {fact.id: fact.phase for fact in state.facts}
        for reading in state.readings:
            found, conditions, line = reading.as_measured, reading.as_conditions, lines[reading.line_id]
            low, high = found.interval or (None, None)
            limits = "; ".join(
                f"{v['kind']}: {v['words']}: {VERDICT_WORDS[Verdict(v['verdict'])]}" for v in reading.verdicts
            )
            first = verdict_words(reading.worst_verdict)
            row = (
                line.at.isoformat(),
                line.by.display_name,
                item.name,
                phases.get(str(reading.pk), reading.phase),
                reading.quantity,
                reading.value,
                reading.unit,
                reading.uncertainty,
                low,
                high,
                reading.bound,
                found.method,
                found.working,
                first,
                limits,
                conditions.mode,
                conditions.channel,
                conditions.supply_v,
                conditions.instrument,
                reading.plan_row,
                state.stale.get(str(reading.pk)),
                line.withdrawn_reason if line.withdrawn_at else None,
                line.text,
                "; ".join(found.remarks),
            )
            writer.writerow([defused(cell) for cell in row])
    return out.getvalue()
