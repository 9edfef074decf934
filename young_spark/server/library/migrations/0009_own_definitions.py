"""Definition files of instruments are own texts, too."""

from typing import ClassVar

from django.db import migrations, models
from django.db.migrations.operations.base import Operation


class Migration(migrations.Migration):
    """One more kind of own text."""

    dependencies: ClassVar[list[tuple[str, str]]] = [("library", "0008_reference_of_a_receiver")]

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
                    ("definitions", "Definitions"),
                ],
                max_length=12,
            ),
        ),
    ]
