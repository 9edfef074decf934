"""The commands that measure without a server: analyse a file, work out the levels of a path. Their output is a fixed
contract."""

import json
import math
import sys
from pathlib import Path
from typing import Annotated, Any

import typer

from young_spark.core.ground import CoreError, UnknownName, nearest

MODES = ("am", "fm", "ssb", "two-tone", "cw")
MOST_PATH_BYTES = 4 << 20
OPTION_OF = {"tones_hz": "tone_hz"}  # where an option is not called as the analysis calls it
FINE, NOT_WELL, REFUSED = 0, 1, 2
# what each option may be: (lowest, highest, unit)
ALLOWED: dict[str, tuple[float, float, str]] = {
    "nominal-hz": (1.0, 1e12, "Hz"),
    "full-scale-dbm": (-200.0, 200.0, "dBm"),
    "path-loss-db": (-100.0, 300.0, "dB"),
    "tone-hz": (1.0, 1e6, "Hz"),
    "hz-per-unit": (1e-6, 1e9, "Hz"),
    "deemphasis-us": (0.0, 1e5, "µs"),
    "load-ohm": (0.01, 1e6, "Ω"),
    "probe-ratio": (1e-3, 1e5, ""),
    "limit-swr": (1.001, 100.0, ""),
    "rbw-hz": (1e-3, 1e9, "Hz"),
    "mixer-dbm": (-200.0, 100.0, "dBm"),
    "reference-ppm": (0.0, 1e5, "ppm"),
    "level-uncertainty-db": (0.0, 60.0, "dB"),
    "reference-depth": (0.1, 100.0, "%"),
    "reference-deviation-hz": (1.0, 1e7, "Hz"),
    "power-w": (1e-12, 1e7, "W"),
    "at-hz": (1.0, 1e12, "Hz"),
}


class BadOption(CoreError):
    """An option that cannot be: which, what was given, what is allowed."""

    code = "bad_option"


def allowed(name: str, value: float | None) -> float | None:
    """The value of an option, if it may be that. Raises BadOption."""
    if value is None:
        return None
    low, high, unit = ALLOWED[name]
    if not low <= value <= high:  # written this way round, NaN is refused too
        raise BadOption(f"--{name} is {value:g}; expected {low:g} to {high:g} {unit}".rstrip())
    return value


def refuse(sentence: str) -> typer.Exit:
    """One line on standard error, and the exit status of a refusal."""
    print(f"spark: {' '.join(sentence.split())}", file=sys.stderr)
    return typer.Exit(REFUSED)


def analyse(
    file: Annotated[Path, typer.Argument(help="Record or trace: .csv (.txt, .tsv), .sigmf-meta, .wav, .s1p, .s2p")],
    mode: Annotated[str | None, typer.Option(help="am, fm, ssb, two-tone or cw (baseband)")] = None,
    sideband: Annotated[str, typer.Option(help="usb or lsb")] = "usb",
    nominal_hz: Annotated[float | None, typer.Option(help="Assigned frequency")] = None,
    full_scale_dbm: Annotated[
        float | None, typer.Option(help="Power at the unit's connector of a tone at full scale")
    ] = None,
    path_loss_db: Annotated[float | None, typer.Option(help="Loss of the path")] = None,
    path: Annotated[Path | None, typer.Option(help="The path as a file, as for 'level'")] = None,
    at: Annotated[str | None, typer.Option(help="Part of the path where this was recorded")] = None,
    tone_hz: Annotated[list[float] | None, typer.Option(help="Tone that was sent; twice for two-tone")] = None,
    hz_per_unit: Annotated[float | None, typer.Option(help="Deviation for amplitude 1.0 (WAV)")] = None,
    audio_bandwidth_hz: Annotated[str | None, typer.Option(help="LOW,HIGH of the audio")] = None,
    deemphasis_us: Annotated[float | None, typer.Option(help="Time constant of the de-emphasis")] = None,
    envelope: Annotated[bool, typer.Option("--envelope", help="Volts against time are an envelope")] = False,
    channel: Annotated[int | None, typer.Option(help="Channel of a WAV or of a table, from 1")] = None,
    column: Annotated[
        list[str] | None, typer.Option(help="NAME=UNIT of a table's column whose name does not say it")
    ] = None,
    load_ohm: Annotated[float, typer.Option(help="Load that a scope looks at")] = 50.0,
    probe_ratio: Annotated[float, typer.Option(help="10 for a x10 probe that the scope does not know of")] = 1.0,
    limit_swr: Annotated[float, typer.Option(help="SWR whose bandwidth is wanted")] = 2.0,
    rbw_hz: Annotated[float | None, typer.Option(help="Resolution bandwidth of a spectrum")] = None,
    detector: Annotated[str | None, typer.Option(help="Detector of a spectrum: sample, peak or rms")] = None,
    mixer_dbm: Annotated[float | None, typer.Option(help="Level at the analyser's mixer")] = None,
    reference_ppm: Annotated[float | None, typer.Option(help="How good the frequency reference is")] = None,
    level_uncertainty_db: Annotated[float | None, typer.Option(help="How well the level is known, 95 %")] = None,
    reference_depth: Annotated[float, typer.Option(help="Depth that hum and noise are held against, %")] = 100.0,
    reference_deviation_hz: Annotated[
        float | None, typer.Option(help="Deviation that hum and noise are held against")
    ] = None,
    unmodulated: Annotated[Path | None, typer.Option(help="A record of the same without modulation")] = None,
    profile: Annotated[str | None, typer.Option(help="Limit profile to judge against")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print one JSON object")] = False,
) -> None:
    """Every figure that a record or trace gives, with its uncertainty."""
    from young_spark.core.analysis import Options, phrased, verdicts
    from young_spark.core.analysis import analyse as analysis_of
    from young_spark.core.captures import read

    try:
        if channel is not None and channel < 1:
            raise BadOption(f"--channel is {channel}; channels count from 1")
        columns = _columns(column or [])
        options = Options(
            mode=_one_of("mode", mode, MODES),  # type: ignore[arg-type]
            sideband=_one_of("sideband", sideband, ("usb", "lsb")),  # type: ignore[arg-type]
            nominal_hz=allowed("nominal-hz", nominal_hz),
            full_scale_dbm=allowed("full-scale-dbm", full_scale_dbm),
            path_loss_db=allowed("path-loss-db", path_loss_db),
            path=_path_loss(path, at, path_loss_db),
            tones_hz=_tones(tone_hz, mode),
            hz_per_unit=allowed("hz-per-unit", hz_per_unit),
            audio_band_hz=_band(audio_bandwidth_hz),
            deemphasis_s=None if deemphasis_us is None else (allowed("deemphasis-us", deemphasis_us) or 0.0) * 1e-6,
            load_ohm=allowed("load-ohm", load_ohm) or 50.0,
            probe_ratio=allowed("probe-ratio", probe_ratio) or 1.0,
            limit_swr=allowed("limit-swr", limit_swr) or 2.0,
            rbw_hz=allowed("rbw-hz", rbw_hz),
            detector=_one_of("detector", detector, ("sample", "peak", "rms")),  # type: ignore[arg-type]
            mixer_dbm=allowed("mixer-dbm", mixer_dbm),
            reference_ppm=allowed("reference-ppm", reference_ppm),
            level_uncertainty_db=allowed("level-uncertainty-db", level_uncertainty_db),
            reference_depth=allowed("reference-depth", reference_depth) or 100.0,
            reference_deviation_hz=allowed("reference-deviation-hz", reference_deviation_hz),
            unmodulated=None
            if unmodulated is None
            else read(unmodulated, envelope=envelope, channel=channel, columns=columns),
            profile=_profile(profile),
        )
        analysis = analysis_of(read(file, envelope=envelope, channel=channel, columns=columns), options)
        judged = [(reading, verdicts(reading, analysis, options)) for reading in analysis.readings]
    except CoreError as refusal:
        raise refuse(phrased(str(refusal), _option_words)) from refusal
    except OSError as refusal:
        raise refuse(f"{file.name}: {refusal.strerror or 'cannot be read'}") from refusal
    judged = [(reading.model_copy(update={"remarks": _told(reading.remarks)}), lines) for reading, lines in judged]
    remarks = _told(analysis.remarks)
    print(_as_json(file.name, analysis, judged, remarks) if as_json else _in_words(judged, remarks))


def _columns(told: list[str]) -> dict[str, str]:
    """Units of columns by name, as told and as the shipped definitions say. Raises BadOption."""
    from young_spark.core.captures import COLUMN_UNITS
    from young_spark.core.live import columns_of, definitions

    made = {}
    for words in told:
        name, _, unit = words.rpartition("=")
        if not name.strip() or unit.strip().lower() not in COLUMN_UNITS:
            raise BadOption(f"--column is {words!r}; expected NAME=UNIT with one of {', '.join(sorted(COLUMN_UNITS))}")
        made[name.strip()] = unit.strip().lower()
    return {**columns_of(definitions().values()), **made}


def _told(remarks: tuple[str, ...]) -> tuple[str, ...]:
    from young_spark.core.analysis import phrased

    return tuple(phrased(remark, _option_words) for remark in remarks)


def _option_words(names: tuple[str, ...]) -> str:
    """What an analysis asks for, as options of the command."""
    return f" ({', '.join('--' + OPTION_OF.get(name, name).replace('_', '-') for name in names)})"


def _one_of(name: str, value: str | None, known: tuple[str, ...]) -> str | None:
    if value is not None and value not in known:
        raise BadOption(f"--{name} is {value!r}; expected {', '.join(known)}")
    return value


def _tones(given: list[float] | None, mode: str | None) -> tuple[float, ...]:
    tones = tuple(given or ())
    for tone in tones:
        allowed("tone-hz", tone)
    if len(tones) > 2 or (len(tones) == 2 and mode != "two-tone"):
        raise BadOption("--tone-hz is given more often than there are tones")
    if len(tones) == 2 and tones[0] == tones[1]:
        raise BadOption("--tone-hz: the two tones are the same")
    return tones


def _band(text: str | None) -> tuple[float, float] | None:
    if text is None:
        return None
    try:
        low, high = (float(part) for part in text.split(","))
    except ValueError as problem:
        raise BadOption(f"--audio-bandwidth-hz is {text[:40]!r}; expected LOW,HIGH in Hz") from problem
    if not 0 <= low < high <= 1e6:
        raise BadOption(f"--audio-bandwidth-hz is {text[:40]!r}; expected 0 ≤ LOW < HIGH ≤ 1000000 Hz")
    return low, high


def _path_loss(path: Path | None, at: str | None, loss: float | None) -> Any:
    if path is None:
        if at is not None:
            raise BadOption("--at names a part of a path: give --path too")
        return None
    from young_spark.core.path import loss_to, read_path

    if at is None:
        raise BadOption("--path needs --at: the part where this was recorded")
    if loss is not None:
        raise BadOption("--path and --path-loss-db say the same: give one of them")
    return loss_to(read_path(_text(path), path.name), at)


def _text(file: Path) -> str:
    try:
        if file.stat().st_size > MOST_PATH_BYTES:
            raise BadOption(f"{file.name}: larger than {MOST_PATH_BYTES >> 20} MB")
        return file.read_bytes().decode("utf-8-sig")
    except OSError as problem:
        raise BadOption(f"{file.name}: {problem.strerror or 'cannot be read'}") from problem
    except UnicodeDecodeError as problem:
        raise BadOption(f"{file.name}: not a text in UTF-8") from problem


def _profile(name: str | None) -> Any:
    if name is None:
        return None
    from young_spark.core.judging import profiles

    known = profiles()
    if name not in known:
        raise UnknownName("limit profile", name, nearest(name, known))
    return name, known[name]


def _as_json(file: str, analysis: Any, judged: list[tuple[Any, Any]], remarks: tuple[str, ...]) -> str:
    keys = ("quantity", "value", "unit", "uncertainty", "interval", "bound", "reason", "at_hz", "method", "remarks")
    of_verdict = ("kind", "row", "low", "high", "unit", "verdict", "reason", "source", "confidence")
    readings = []
    for reading, lines in judged:
        told = reading.model_dump(mode="json")
        verdicts = [{k: line.model_dump(mode="json")[k] for k in of_verdict} for line in lines]
        readings.append({k: told[k] for k in keys} | {"verdicts": verdicts})
    whole = {
        "file": file,
        "kind": analysis.kind,
        "mode": analysis.mode,
        "readings": readings,
        "remarks": list(remarks),
    }
    return json.dumps(whole, ensure_ascii=False, allow_nan=False)


def _in_words(judged: list[tuple[Any, Any]], remarks: tuple[str, ...]) -> str:
    from young_spark.core.figure import VERDICT_WORDS, format_figure, quantity
    from young_spark.core.judging import worst

    lines = []
    for reading, verdicts in judged:
        figure = format_figure(reading.quantity, reading.value, reading.uncertainty, reading.bound)
        first = worst(verdicts)
        judged_as = f"  {VERDICT_WORDS[first.verdict]} ({first.reason or first.words})" if first else ""
        lines.append(f"{quantity(reading.quantity).name:32} {figure}{judged_as}")
        lines += [f"{'':32} ({remark})" for remark in reading.remarks]
    return "\n".join([*lines, *(f"({remark})" for remark in remarks)])


def level(
    path: Annotated[Path, typer.Option(help="The path: a tree of parts, in JSON")],
    power_w: Annotated[float, typer.Option(help="Greatest power of the start: the carrier, or the PEP for SSB")],
    at_hz: Annotated[float, typer.Option(help="Frequency")],
    mode: Annotated[str, typer.Option(help="am, fm, cw or ssb")] = "cw",
    as_json: Annotated[bool, typer.Option("--json", help="Print one JSON object")] = False,
) -> None:
    """What reaches each part of a path, and whether it stands it. Exit 0 all well, 1 something is not, 2 refused."""
    from young_spark.core.path import MEAN_AND_CREST, driven_by, levels, read_path

    try:
        wanted = _one_of("mode", mode, tuple(MEAN_AND_CREST))
        watts, hz = allowed("power-w", power_w), allowed("at-hz", at_hz)
        reached = levels(read_path(_text(path), path.name), driven_by(watts or 0.0, wanted), hz or 0.0)  # type: ignore[arg-type]
    except CoreError as refusal:
        raise refuse(str(refusal)) from refusal
    if as_json:
        print(json.dumps(reached.model_dump(mode="json"), ensure_ascii=False, allow_nan=False))
    else:
        for node in reached.nodes:
            rating = "" if node.rating_dbm is None else f", stands {node.rating_dbm:+.1f} dBm"
            print(
                f"{node.part:16} {node.mean_dbm:+7.1f} dBm mean {node.pep_dbm:+7.1f} dBm PEP "
                f"{_volts(node.peak_v)} peak{rating}  {node.state}"
            )
            if node.advice:
                print(f"{'':16} {node.advice}")
    if reached.state != "ok":
        raise typer.Exit(NOT_WELL)


def _volts(volts: float) -> str:
    return f"{volts:.3g} V" if volts >= 0.1 or not math.isfinite(volts) else f"{1e3 * volts:.3g} mV"
