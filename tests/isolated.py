"""A data folder of its own for every test process, set before Django's settings are read."""

import os
import tempfile

os.environ["YOUNG_SPARK_DATA"] = tempfile.mkdtemp(prefix="young-spark-test-")
