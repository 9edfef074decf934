"""What a run of the tests needs more than once, made once by whoever comes first and copied: a data file of today's
schema, and the demo workshop."""

import fcntl
import os
import shutil
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
DATA_FILE = "young-spark.sqlite3"
MAKE_SCHEMA = (
    "from young_spark.serving import migrate; from young_spark.server.config.settings import DATA; migrate(DATA)"
)
MAKE_DEMO = f"{MAKE_SCHEMA}; from young_spark.server.demo.workshop import make_workshop; make_workshop()"


def new_shop(folder: Path) -> Path:
    """A data folder of a shop that nobody knows yet, its schema made."""
    return _copied("schema", make_schema, folder)


def demo_workshop(folder: Path) -> Path:
    """A data folder with the demo workshop in it."""
    return _copied("demo", make_demo, folder)


def make_schema(folder: Path) -> None:
    """Make a data folder with a schema and nothing else."""
    _run(MAKE_SCHEMA, folder)


def make_demo(folder: Path) -> None:
    """Make a data folder with the demo workshop."""
    _run(MAKE_DEMO, folder)


def _copied(name: str, make: Callable[[Path], None], folder: Path) -> Path:
    """A copy of what is made once, in the place of `folder`."""
    shutil.copytree(once(name, make), folder, dirs_exist_ok=True)
    return folder


def once(name: str, make: Callable[[Path], None]) -> Path:
    """The folder of that name, made by the first test process of this run that wants it; the others wait for it."""
    prepared = Path(os.environ["YOUNG_SPARK_PREPARED"])
    prepared.mkdir(exist_ok=True)
    folder = prepared / name
    with open(prepared / f"{name}.lock", "w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not folder.is_dir():
            partial = prepared / f"{name}.partial"
            shutil.rmtree(partial, ignore_errors=True)
            partial.mkdir()
            make(partial)
            partial.rename(folder)
    return folder


def _run(code: str, data: Path) -> None:
    """Run some code of the program in a process of its own, on a data folder."""
    settings = "young_spark.server.config.settings"
    environment = os.environ | {"YOUNG_SPARK_DATA": str(data), "DJANGO_SETTINGS_MODULE": settings}
    subprocess.run([sys.executable, "-c", code], cwd=ROOT, env=environment, check=True, stdout=subprocess.DEVNULL)
