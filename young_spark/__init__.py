"""Young Spark: the slip of paper beside a transmitter under test that does the sums."""

import os

# whatever is installed beside it has no say in our models; looking for it costs each start
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
