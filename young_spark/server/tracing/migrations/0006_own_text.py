"""The chains of this shop move to the own texts of the library."""

from typing import Any

from django.db import migrations


def move(apps: Any, schema_editor: Any) -> None:
    own = apps.get_model("library", "OwnText")
    same = ("name", "number", "text", "by_id", "at", "withdrawn_at")
    for row in apps.get_model("tracing", "ShopChain").objects.all():
        own.objects.create(kind="chains", **{name: getattr(row, name) for name in same})


class Migration(migrations.Migration):
    dependencies = [("tracing", "0005_doubts"), ("library", "0005_own_text")]
    operations = [migrations.RunPython(move, migrations.RunPython.noop), migrations.DeleteModel(name="ShopChain")]
