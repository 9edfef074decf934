"""The base of all values."""

from pydantic import BaseModel, ConfigDict


class Frozen(BaseModel):
    """A value: compared by content, never changed, no field that nobody knows, no number that is none."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)
