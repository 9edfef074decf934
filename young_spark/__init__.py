"""Young Spark: the slip of paper beside a transmitter under test that does the sums."""

import os

# whatever is installed beside it has no say in our models; looking for it costs each start
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
# matrices here are small: several threads at one only wait for each other, twice as long as one takes
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
