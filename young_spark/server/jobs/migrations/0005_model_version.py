"""Which version of this shop's model a unit is planned and judged by."""

from typing import ClassVar

from django.db import migrations, models
from django.db.migrations.operations.base import Operation


class Migration(migrations.Migration):
    """A column that is empty for every unit that is there already: those follow the newest."""

    dependencies: ClassVar[list[tuple[str, str]]] = [("jobs", "0004_rated_power")]

    operations: ClassVar[list[Operation]] = [
        migrations.AddField(
            model_name="item", name="model_version", field=models.PositiveIntegerField(blank=True, null=True)
        ),
    ]
