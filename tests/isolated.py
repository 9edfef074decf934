"""A data folder of its own for every test process, set before Django's settings are read; no deadline for a
generated case."""

import atexit
import os
import shutil
import tempfile
from pathlib import Path

from hypothesis import settings


def _folder_of_this_run(prefix: str) -> str:
    folder = tempfile.mkdtemp(prefix=f"young-spark-{prefix}-")
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return folder


os.environ["YOUNG_SPARK_DATA"] = _folder_of_this_run("test")
# the invented models are known here, as in a demo
(Path(os.environ["YOUNG_SPARK_DATA"]) / "demo-workshop").touch()
# what is made once for all test processes of a run: the first of them, who starts the others, says where
if "YOUNG_SPARK_PREPARED" not in os.environ:
    os.environ["YOUNG_SPARK_PREPARED"] = _folder_of_this_run("prepared")

settings.register_profile("house", deadline=None)  # nothing here measures time
settings.load_profile("house")


def pytest_collection_modifyitems(items):
    """What takes long is begun first, so that nobody waits for it alone at the end."""
    items.sort(key=lambda item: item.get_closest_marker("long") is None)
