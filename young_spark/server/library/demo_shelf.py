"""The invented models of the demo workshop: they stand on the shelf of a demo, and of no real shop."""

from django.conf import settings

from young_spark.core.gear import Model, models

MARK = "demo-workshop"  # a file of the data folder


def mark_as_demo() -> None:
    """Say that this data folder is a demo."""
    (settings.DATA / MARK).touch()


def demo_models() -> dict[str, Model]:
    """The invented models where this data folder is a demo; none elsewhere."""
    return models() if (settings.DATA / MARK).exists() else {}
