"""The shop's instruments with their lines: what is known of each, what it says now, and how it stood against the
standard."""

import json
import re
import uuid
from collections.abc import Mapping
from datetime import date
from typing import Any

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from young_spark.core.figure import FUNCTION_UNITS, format_value, instrument_classes, quantity
from young_spark.core.live import LIVE_QUANTITIES, Definition, LiveName, is_nothing, reference_error_ppm
from young_spark.core.measures import accuracy_terms, element_for
from young_spark.server import last_check
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.bulletin import bulletin
from young_spark.server.library.api import accuracy_words
from young_spark.server.library.models import QuickCheck, ShopInstrument
from young_spark.server.library.services import known_definitions
from young_spark.server.live.bench import live_bench
from young_spark.server.problems import Refused, must_be_the_same
from young_spark.wire import SIMULATED_FILE, LineState

SHOWN_CHECKS = 20
ADDRESS = re.compile(r"(simulated:[a-z-]+|IQ::[\w.-]+::\d{1,5}|(TCPIP|USB|ASRL|GPIB)[\w./:\-]*::\w+)", re.IGNORECASE)


def shown(*, for_keeper: bool = False) -> dict[str, Any]:
    """Every instrument for the page."""
    today, files = timezone.now().date(), known_definitions()
    rows = ShopInstrument.objects.order_by("position", "name").prefetch_related("checks__by", "certificates")
    return {
        "instruments": [_shown(row, today, files.get(row.definition)) for row in rows],
        "definitions": {name: d.title for name, d in files.items()},
        "values": {name: quantity(of).unit for name, of in LIVE_QUANTITIES.items()},
        "kinds": {name: c.name for name, c in instrument_classes().items()},
        "present": live_bench().presence.present,
        "simulated_hands": _simulated_hands(),
        "held": len(live_bench().held),
        "last_check": last_check.last(),
        "followers": bulletin.followers if for_keeper else None,
    }


def _simulated_hands() -> str | None:
    """Address of the simulated unit's control page, where one runs."""
    try:
        return f"http://127.0.0.1:{int(json.loads((settings.DATA / SIMULATED_FILE).read_text())['control'])}/"
    except (OSError, ValueError, KeyError, TypeError):
        return None


def _shown(row: ShopInstrument, today: date, asked: Definition | None) -> dict[str, Any]:
    presence = live_bench().presence
    line = presence.lines.get(row.pk) or LineState(instrument=row.pk, connected=False)
    last = presence.last.get(row.pk)
    connected = bool(row.address) and line.connected
    return {
        "id": row.pk,
        "name": row.name,
        "kind": row.kind,
        "kind_name": instrument_classes()[row.kind].name,
        "serial": row.serial,
        "detector": row.detector,
        "accuracy": accuracy_words(row, today),
        "functions": _functions(row, today),
        "elements_w": list(row.as_instrument(today).elements_w),
        "certificates": [{"id": c.pk, "at": c.at} for c in row.certificates.all()],
        "calibrated_on": row.calibrated_on,
        "calibration_due": row.calibration_due,
        "overdue": row.calibration_due is not None and row.calibration_due < today,
        "drifted": row.drifted(),
        "remark": row.remark,
        "address": row.address,
        "definition": row.definition,
        "connected": connected,
        "identity": line.identity,
        "sentence": line.sentence if row.address else "",
        "error": line.error,
        "last": answer_words(last.values, _floors(asked)) if last else "",
        "last_at": last.at if last else None,
        "checks": [_check(c) for c in list(row.checks.all())[:SHOWN_CHECKS]],
        "checkable": sorted(row.as_instrument(today).functions),
    }


def _functions(row: ShopInstrument, today: date) -> list[dict[str, Any]]:
    """How far each function may be out, and whether that is this one's own or typical of its kind."""
    return [
        {"name": name, "unit": FUNCTION_UNITS.get(name, ""), "own": name in row.functions, **accuracy.model_dump()}
        for name, accuracy in row.as_instrument(today).functions.items()
    ]


VALUE_WORDS: dict[LiveName, str] = {"power": "forward", "pep": "crest", "volts": "", "amps": "", "frequency": ""}


def answer_words(values: Mapping[LiveName, float | None], floors: Mapping[LiveName, float]) -> str:
    """An answer in words: 'forward 3.8 W, reflected 12 mW, crest 3.8 W'; what is under the floor is none."""
    power = values.get("power")
    if "power" in values and is_nothing(power, floors.get("power", 0.0)):
        return "no power"
    return ", ".join(
        f"{VALUE_WORDS.get(n, n)} "
        f"{format_value(v, quantity(LIVE_QUANTITIES[n]).unit, figures=7 if n == 'frequency' else 3)}".strip()
        if v is not None and not is_nothing(v, floors.get(n, 0.0))
        else f"no {VALUE_WORDS.get(n) or n}"
        for n, v in values.items()
    )


def _floors(asked: Definition | None) -> dict[LiveName, float]:
    return {gives.value: gives.floor for gives in asked.given} if asked else {}


def _check(row: QuickCheck) -> dict[str, Any]:
    off = 100 * (row.read / row.standard - 1) if row.standard else 0.0
    return {
        "at": row.at,
        "function": row.function,
        "standard": row.standard,
        "read": row.read,
        "percent": off,
        "outside": row.outside,
        "by": row.by.display_name,
    }


@transaction.atomic
def keep(*, actor: Person, instrument_id: str, changes: dict[str, Any]) -> None:
    """Add or change an instrument; its line is opened anew where that changed. Raises Refused with what does not
    fit."""
    require_technician(actor)
    if not re.fullmatch(r"[a-z0-9-]{1,50}", instrument_id):
        raise Refused("An instrument's id is small letters, figures and dashes.")
    row = ShopInstrument.objects.filter(pk=instrument_id).first() or ShopInstrument(
        pk=instrument_id, name=instrument_id, kind=""
    )
    _state_accuracy(row, changes.pop("functions", None) or {})
    for name, value in changes.items():
        if value is None and name not in {"calibrated_on", "calibration_due"}:
            raise Refused(f"{name.replace('_', ' ')}: empty words are fine, nothing at all is not.")
        setattr(row, name, value.strip() if isinstance(value, str) else value)
    if row.kind not in instrument_classes():
        raise Refused(f"Which kind: {', '.join(sorted(instrument_classes()))}?")
    if row.address:
        must_be_an_address(row.address)
    if row.address and row.definition not in known_definitions():
        raise Refused(f"How is it asked? Choose a definition: {', '.join(known_definitions())}.")
    row.save()
    transaction.on_commit(live_bench().send_instruments)


def _state_accuracy(row: ShopInstrument, told: Mapping[str, Mapping[str, Any] | None]) -> None:
    """Take an instrument's own accuracy of a function, or that of its kind where there is none."""
    for name, accuracy in told.items():
        if name not in FUNCTION_UNITS:
            raise Refused(f"No instrument has a function '{name[:40]}'.")
        if accuracy is None:
            row.functions.pop(name, None)
        else:
            row.functions[name] = dict(accuracy)


def must_be_an_address(address: str) -> None:
    """Raises Refused where nothing can be opened by it."""
    if not ADDRESS.fullmatch(address) or _has_wrong_port(address):
        raise Refused(
            "An address reads like TCPIP::10.0.0.7::5025::SOCKET (a port is 1 to 65535), ASRL/dev/ttyUSB0::INSTR, "
            "USB0::…::INSTR, IQ::10.0.0.7::1234 of a receiver that streams, or simulated:wattmeter."
        )


def _has_wrong_port(address: str) -> bool:
    """Whether a LAN address names a port that there cannot be."""
    port = re.fullmatch(r"(?:TCPIP\d*::[^:]+::(?=.*::SOCKET)|IQ::[^:]+::)(\d+)(?:::SOCKET)?", address, re.IGNORECASE)
    return port is not None and not 0 < int(port[1][:6]) < 65536


@transaction.atomic
def check(
    *, actor: Person, instrument_id: str, check_id: uuid.UUID, function: str, standard: float, read: float
) -> None:
    """Hold an instrument against the shop's standard; whether it is outside is judged by its own accuracy."""
    require_technician(actor)
    row = ShopInstrument.objects.filter(pk=instrument_id).first()
    if row is None:
        raise Refused("There is no such instrument.")
    known = row.as_instrument(timezone.now().date())
    if function not in known.functions:
        raise Refused(f"{row.name} has no '{function}'. It has {', '.join(sorted(known.functions))}.")
    accuracy = known.functions[function]
    full_scale = element_for(abs(read), known.elements_w) if function == "power" else abs(standard)
    bound = sum(t.half_width for t in accuracy_terms(accuracy, read, full_scale=full_scale))
    if accuracy.db and FUNCTION_UNITS.get(function) == "W":
        bound += abs(standard) * (10 ** (accuracy.db / 10) - 1)
    made, is_new = QuickCheck.objects.get_or_create(
        pk=check_id,
        defaults={
            "instrument": row,
            "function": function,
            "standard": standard,
            "read": read,
            "outside": abs(read - standard) > bound > 0 and not _is_taken_off(row, function),
            "by": actor,
        },
    )
    if is_new and _is_taken_off(row, function):
        row.reference_ppm = reference_error_ppm(row.reference_ppm or 0.0, standard, read)
        row.save(update_fields=["reference_ppm"])
        transaction.on_commit(live_bench().send_instruments)
    if not is_new:
        same = (made.instrument_id, made.function, made.standard, made.read)
        must_be_the_same("check", (same, (row.pk, function, standard, read)))


def _is_taken_off(row: ShopInstrument, function: str) -> bool:
    """Whether what the check shows is taken off from now on: a receiver that streams is tuned by its own reference."""
    definition = known_definitions().get(row.definition)
    return function == "frequency" and definition is not None and definition.stream is not None
