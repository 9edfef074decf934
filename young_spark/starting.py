"""What every command does first: its data folder, the data file brought to this version, and refusals in one
sentence."""

import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import typer

ROOT = Path(__file__).resolve().parent.parent


@contextmanager
def in_one_sentence() -> Iterator[None]:
    """Ends the command with the sentence of what cannot be served or kept."""
    from young_spark.keeping import CannotKeep
    from young_spark.listening import CannotListen
    from young_spark.serving import CannotServe

    try:
        yield
    except (CannotServe, CannotKeep, CannotListen) as refusal:
        raise typer.Exit(refuse(str(refusal))) from refusal


def use_data(folder: Path) -> None:
    """Point the server at its data folder, before Django is loaded. Ends with one sentence when it cannot be
    written."""
    from young_spark.serving import use_folder

    with in_one_sentence():
        use_folder(folder)
    os.environ["YOUNG_SPARK_DATA"] = str(folder)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "young_spark.server.config.settings")


def refuse(sentence: str) -> int:
    """Say why not; returns the command's status."""
    print(f"spark: {sentence}", file=sys.stderr)
    return 2


def migrated(folder: Path) -> None:
    """Bring the data file to this version. Ends with one sentence when it cannot be used."""
    from young_spark.serving import migrate

    with in_one_sentence():
        migrate(folder)
