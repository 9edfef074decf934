"""A data folder of its own for every test process, set before Django's settings are read; no deadline for a generated case."""

import os
import tempfile

from hypothesis import settings

os.environ["YOUNG_SPARK_DATA"] = tempfile.mkdtemp(prefix="young-spark-test-")

settings.register_profile("house", deadline=None)  # nothing here measures time
settings.load_profile("house")
