"""The command line: every word after ./spark."""

import getpass
import os
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import typer

from young_spark import headless, people_command, tracing_command
from young_spark.listening import HERE, Listening, fingerprint, listening
from young_spark.starting import ROOT, in_one_sentence, migrated, refuse, use_data

MOST_NAMED = 20  # of what is not whole, at the end of a sentence
app = typer.Typer(
    name="spark",
    help="Young Spark: the slip of paper beside a transmitter under test that does the sums.",
    no_args_is_help=True,
    add_completion=False,
)
Port = Annotated[
    int, typer.Option(min=1, max=65535, help="Port on 127.0.0.1; the next free one is taken if it is in use.")
]
Data = Annotated[Path | None, typer.Option(help="Folder that holds everything entered.")]


@app.command()
def demo(port: Port = 8300, data: Data = None) -> None:
    """Start with the demo workshop in a data folder of its own, and print one address that opens signed in."""
    from young_spark.serving import alone, run_web

    folder = (data or ROOT / "data" / "demo").resolve()
    use_data(folder)
    with in_one_sentence(), alone(folder):
        migrated(folder)
        from young_spark.server.accounts.models import Person
        from young_spark.server.accounts.services import make_way_in
        from young_spark.server.demo.workshop import make_workshop
        from young_spark.server.library.demo_shelf import mark_as_demo

        mark_as_demo()
        if not Person.objects.exists():
            print("Making the demo workshop …", file=sys.stderr, flush=True)
            make_workshop()
        token = make_way_in(Person.objects.get(username="wren"))
        run_web(
            port,
            folder,
            lambda port: (
                "Young Spark, demo workshop. Open once, within ten minutes:\n\n  "
                f"http://127.0.0.1:{port}/enter/{token}\n\nCtrl-C ends it."
            ),
            simulated=True,
        )


@app.command()
def serve(
    port: Port = 8310,
    data: Data = None,
    listen: Annotated[
        str, typer.Option(help="Address of this machine to listen at, for a tablet or a second bench; needs TLS.")
    ] = HERE,
    name: Annotated[list[str] | None, typer.Option(help="Name that others reach it by (can be repeated).")] = None,
    certificate: Annotated[Path | None, typer.Option(help="The shop's own certificate, PEM.")] = None,
    key: Annotated[Path | None, typer.Option(help="The key of that certificate, PEM.")] = None,
    make_certificate: Annotated[bool, typer.Option("--make-certificate", help="Make one, and keep it.")] = False,
    proxy: Annotated[str, typer.Option(help="Address of a proxy in front, whose word for the client counts.")] = "",
) -> None:
    """Start the shop's own. The first start asks for the first person, or takes YOUNG_SPARK_NAME and
    YOUNG_SPARK_PASSWORD. docs/running-a-shop.md says what to mind when others are let in."""
    from young_spark.serving import alone, run_web

    folder = (data or ROOT / "data" / "shop").resolve()
    use_data(folder)
    with in_one_sentence(), alone(folder):
        where = listening(
            folder,
            address=listen,
            names=name or (),
            certificate=certificate,
            key=key,
            make_certificate=make_certificate,
            proxy=proxy,
        )
        where.tell_the_server()
        migrated(folder)
        from young_spark.server.accounts.models import Person

        if not Person.objects.exists() and not where.is_open:
            _first_person()
        if where.is_open:
            _must_have_sign_in()
        run_web(port, folder, lambda port: _where_it_is(where, port), simulated=False, where=where)


def _must_have_sign_in() -> None:
    from young_spark.server.accounts.models import Person

    keepers = Person.objects.filter(is_active=True, is_keeper=True)
    if not any(keeper.has_usable_password() for keeper in keepers):
        raise typer.Exit(
            refuse("others are let in only once a keeper has a password: './spark person add NAME --keeper' first")
        )


def _where_it_is(where: Listening, port: int) -> str:
    words = f"Young Spark is at {where.home(port)}/ (Ctrl-C ends it)"
    if where.certificate is not None:
        words += f"\nIts certificate, for a browser that asks: SHA-256 {fingerprint(where.certificate)}"
    return words


def _first_person() -> None:
    from young_spark.server.accounts.keeping_people import add_person
    from young_spark.server.problems import Refused

    name, password = os.environ.get("YOUNG_SPARK_NAME", ""), os.environ.get("YOUNG_SPARK_PASSWORD", "")
    if not (name and password):
        if not sys.stdin.isatty():
            raise typer.Exit(
                refuse("nobody is known yet: set YOUNG_SPARK_NAME and YOUNG_SPARK_PASSWORD, or start it at a terminal")
            )
        name = input("First person, a technician who keeps the shop. Name: ").strip()
        password = getpass.getpass("Password: ")
    try:
        add_person(name, role="technician", password=password, is_keeper=True)
    except Refused as refusal:
        raise typer.Exit(refuse(refusal.sentence)) from refusal


@app.command()
def backup(file: Path, data: Data = None) -> None:
    """Write everything into one file, beside a server that runs."""
    from young_spark import keeping

    with in_one_sentence():
        made = keeping.backup((data or ROOT / "data" / "shop").resolve(), file.resolve())
    print(
        f"Backed up into {file}, and read back: every job, {made.files} pictures and records.{_named(made.not_whole)}"
    )


@app.command()
def restore(file: Path, data: Data = None) -> None:
    """Put a backup in the place of the data. Refused while a server runs on them."""
    from young_spark import keeping
    from young_spark.serving import alone, use_folder

    folder = (data or ROOT / "data" / "shop").resolve()
    with in_one_sentence():
        use_folder(folder)
        with alone(folder):
            restored = keeping.restore(file.resolve(), folder)
    words = f"every job, {restored.files} pictures and records"
    print(f"Restored from {file}: {words}.{_named(restored.not_whole)}")


def _named(not_whole: Sequence[str]) -> str:
    """What is not whole, for the end of a command's sentence."""
    if not not_whole:
        return ""
    shown = "; ".join(not_whole[:MOST_NAMED])
    more = f"; and {len(not_whole) - MOST_NAMED} more" if len(not_whole) > MOST_NAMED else ""
    return f" Not whole: {shown}{more}."


@app.command()
def check(data: Data = None) -> None:
    """Read everything that is kept, beside a server or without one, and say what is not whole."""
    from young_spark import keeping

    folder = (data or ROOT / "data" / "shop").resolve()
    if not (folder / keeping.DATABASE).exists() and not folder.is_dir():
        raise typer.Exit(refuse(f"there is no data folder {folder}"))
    use_data(folder)
    migrated(folder)
    from young_spark.server.wholeness.check import check_all

    found = check_all()
    print(found.words)
    for problem in found.problems:
        print(f"  {problem}")
    if found.problems:
        print("A backup may have what is not whole: './spark restore'. docs/running-a-shop.md says more.")
        raise typer.Exit(1)


@app.command()
def salvage(
    damaged: Annotated[Path, typer.Argument(help="The data folder that is damaged; it is only read.")],
    data: Annotated[Path, typer.Option(help="The new folder that what still reads goes into.")],
) -> None:
    """Bring over what still reads of a damaged data folder: every job, and what of it is lost by name."""
    from young_spark import keeping
    from young_spark.serving import alone, use_folder

    folder = data.resolve()
    with in_one_sentence():
        use_folder(folder)
        with alone(folder):
            saved = keeping.salvage(damaged.resolve(), folder)
            use_data(folder)
            migrated(folder)
    lost = f" Lost: {'; '.join(saved.lost[:MOST_NAMED])}." if saved.lost else " Nothing was lost."
    print(f"Salvaged into {folder}: {saved.jobs} jobs, {saved.files} pictures and records.{lost}")


@app.command()
def hands(
    what: Annotated[
        list[str], typer.Argument(help="name=value, for example keyed=true channel=19 fault=weak tap=true")
    ],
    data: Data = None,
) -> None:
    """What hands do to the unit of the simulated bench."""
    from young_spark.bench.simulator.hands import CannotReach, do

    try:
        print(do((data or ROOT / "data" / "demo").resolve() / "simulated-bench.json", what))
    except CannotReach as refusal:
        raise typer.Exit(refuse(str(refusal))) from refusal


@app.command(name="openapi")
def openapi_document() -> None:
    """Print the API's OpenAPI document, as committed in openapi.json."""
    import tempfile

    with tempfile.TemporaryDirectory() as folder:
        use_data(Path(folder))
        import django

        django.setup()
        import json

        from young_spark.server.config.api import api

        print(json.dumps(api.get_openapi_schema(), indent=1, ensure_ascii=False))


@app.command()
def test(
    quick: Annotated[bool, typer.Option(help="Only static checks, the core and the plain server.")] = False,
    only: Annotated[
        str | None, typer.Option(help="One part: python, web, core, bench, server, browser or live.")
    ] = None,
) -> None:
    """Run everything: linters, types, layers, Python, web and browser tests; how long each part took comes last."""
    from tests.run import PARTS

    if only is not None and only not in PARTS:
        raise typer.Exit(refuse(f"there is no part '{only}'; parts are {', '.join(PARTS)}"))
    words = ["--quick"] if quick else ["--only", only] if only else []
    raise typer.Exit(subprocess.run([sys.executable, "-m", "tests.run", *words], cwd=ROOT).returncode)


@app.command()
def bench(
    kills: Annotated[int, typer.Option(help="How many times to kill it while lines are written.")] = 50,
    load_s: Annotated[float, typer.Option(help="How long eight clients write at once, in s.")] = 60,
    soak_s: Annotated[
        float, typer.Option(help="How long the soak lasts, in s; it runs only where it is asked for.")
    ] = 1800,
    only: Annotated[
        list[str] | None,
        typer.Option(help="One part (can be repeated): quick, measuring, tracing, capture, kills, load, shop or soak."),
    ] = None,
) -> None:
    """Print times and ratios of this machine: typing, coverage, tracing, capture, kills, load, a shop of ten
    thousand jobs."""
    words = [
        "--kills",
        str(kills),
        "--load-s",
        str(load_s),
        "--soak-s",
        str(soak_s),
        *(f"--only={part}" for part in only or ()),
    ]
    raise typer.Exit(subprocess.run([sys.executable, "-m", "tests.benchmark", *words], cwd=ROOT).returncode)


@app.command()
def shots() -> None:
    """Make the pictures of docs/screenshots from the demo data."""
    raise typer.Exit(subprocess.run([sys.executable, "-m", "tests.shots"], cwd=ROOT).returncode)


app.add_typer(people_command.app, name="person")
app.command()(headless.analyse)
app.command()(headless.level)
app.command()(tracing_command.trace)


def main() -> None:
    """Run a command; what is wrong with its words is said in one line."""
    words = sys.argv[1:] or ["--help"]
    try:
        code = app(words, prog_name="spark", standalone_mode=False)
    except typer.Abort:
        code = 1
    except Exception as problem:
        if not hasattr(problem, "format_message"):  # the parser's own refusals have it
            raise
        code = refuse(f"{' '.join(problem.format_message().split())} ('spark --help' shows what there is)")
    sys.exit(code if isinstance(code, int) else 0)


if __name__ == "__main__":
    main()
