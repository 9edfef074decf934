"""Traces that an instrument hands over while a slip is open: kept as records, as if their files had been dropped."""

import uuid

from young_spark.core.captures import written
from young_spark.core.figure import Conditions
from young_spark.core.ground import CoreError
from young_spark.core.live import TraceAsk
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.jobs.models import Item, Job
from young_spark.server.library.models import ShopInstrument
from young_spark.server.library.services import known_definitions
from young_spark.server.live.bench import live_bench
from young_spark.server.problems import Refused, must_be_the_same
from young_spark.server.records.models import Record
from young_spark.server.records.services import keep


def at_hand() -> list[dict[str, str]]:
    """Every trace that could be had now: the instrument, its name, the trace's name."""
    known, connected = known_definitions(), live_bench().presence.connected
    return [
        {"instrument": row.pk, "name": row.name, "trace": ask.name}
        for row in ShopInstrument.objects.exclude(address="").order_by("position", "name")
        if row.pk in connected
        for ask in (known[row.definition].traces if row.definition in known else ())
    ]


def take_trace(
    *,
    actor: Person,
    record_id: uuid.UUID,
    job: Job,
    item: Item | None,
    instrument_id: str,
    name: str,
    conditions: Conditions,
    row: str | None,
) -> Record:
    """Have a trace now and keep it on the job. The same id again returns the record. Raises Refused with why there
    is none."""
    require_technician(actor)
    if (there := Record.objects.filter(pk=record_id).first()) is not None:
        must_be_the_same("record", (there.job_id, job.pk), (there.name.rpartition(".")[0], name))
        return there
    instrument, ask = _asked(instrument_id, name)
    if ask.kind == "reflection" and live_bench().clock.up:
        raise Refused(f"The unit is keyed: {instrument.name} looks into its socket and would be hurt. Unkey first.")
    traced = live_bench().trace(instrument.pk, ask.name)
    try:
        file = written(ask.kind, ask.name, traced.start, traced.stop, traced.values)
    except CoreError as refusal:
        raise Refused(f"{instrument.name}: {refusal}.") from refusal
    return keep(
        actor=actor,
        record_id=record_id,
        job=job,
        item=item,
        files=[file],
        conditions=conditions.model_copy(update={"instrument": instrument.pk}),
        row=row,
    )


def _asked(instrument_id: str, name: str) -> tuple[ShopInstrument, TraceAsk]:
    instrument = ShopInstrument.objects.filter(pk=instrument_id).first()
    definition = known_definitions().get(instrument.definition) if instrument is not None else None
    ask = next((t for t in definition.traces if t.name == name), None) if definition is not None else None
    if instrument is None or ask is None:
        raise Refused("No instrument that talks gives that trace.")
    return instrument, ask
