"""Own texts of every kind are one table; the copies of limit profiles move into it."""

from typing import Any

import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models


def move(apps: Any, schema_editor: Any) -> None:
    own = apps.get_model("library", "OwnText")
    same = ("number", "text", "by_id", "at", "withdrawn_at")
    for row in apps.get_model("library", "ShopProfile").objects.all():
        own.objects.create(kind="limits", name=row.of, **{name: getattr(row, name) for name in same})


class Migration(migrations.Migration):
    dependencies = [migrations.swappable_dependency(settings.AUTH_USER_MODEL), ("library", "0004_shop_profile")]
    operations = [
        migrations.CreateModel(
            name="OwnText",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("kind", models.CharField(choices=[("limits", "Limits"), ("chains", "Chains")], max_length=12)),
                ("name", models.SlugField(max_length=60)),
                ("number", models.PositiveIntegerField()),
                ("text", models.TextField(max_length=200000)),
                ("at", models.DateTimeField(default=django.utils.timezone.now)),
                ("withdrawn_at", models.DateTimeField(blank=True, null=True)),
                (
                    "by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={
                "ordering": ["kind", "name", "number"],
                "constraints": [
                    models.UniqueConstraint(fields=("kind", "name", "number"), name="one_own_text_a_version")
                ],
            },
        ),
        migrations.RunPython(move, migrations.RunPython.noop),
        migrations.DeleteModel(name="ShopProfile"),
    ]
