"""Models that the shop keeps are own texts, too."""

from typing import ClassVar

from django.db import migrations, models
from django.db.migrations.operations.base import Operation


class Migration(migrations.Migration):
    """One more kind of own text; no row changes."""

    dependencies: ClassVar[list[tuple[str, str]]] = [("library", "0005_own_text")]

    operations: ClassVar[list[Operation]] = [
        migrations.AlterField(
            model_name="owntext",
            name="kind",
            field=models.CharField(
                choices=[("limits", "Limits"), ("chains", "Chains"), ("models", "Models")], max_length=12
            ),
        ),
    ]
