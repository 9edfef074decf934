"""What a unit of a kind should give, where somebody said it."""

from typing import ClassVar

from django.db import migrations, models
from django.db.migrations.operations.base import Operation


class Migration(migrations.Migration):
    """A column that is empty for every unit that is there already."""

    dependencies: ClassVar[list[tuple[str, str]]] = [("jobs", "0003_touched_in_order")]

    operations: ClassVar[list[Operation]] = [
        migrations.AddField(model_name="item", name="rated_w", field=models.FloatField(blank=True, null=True)),
    ]
