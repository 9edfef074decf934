"""Channel plans and words of the field are own texts, too."""

from typing import ClassVar

from django.db import migrations, models
from django.db.migrations.operations.base import Operation


class Migration(migrations.Migration):
    """Two more kinds of own text; of those that stand it is not known what shipped when they were written."""

    dependencies: ClassVar[list[tuple[str, str]]] = [("library", "0006_own_models")]

    operations: ClassVar[list[Operation]] = [
        migrations.AlterField(
            model_name="owntext",
            name="kind",
            field=models.CharField(
                choices=[
                    ("limits", "Limits"),
                    ("chains", "Chains"),
                    ("models", "Models"),
                    ("channels", "Channels"),
                    ("words", "Words"),
                ],
                max_length=12,
            ),
        ),
        migrations.AddField(model_name="owntext", name="shipped", field=models.TextField(blank=True, default=""), preserve_default=False),
    ]
