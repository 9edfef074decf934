"""What a reading was read as is a field of its own; before, the words of its method told it."""

from typing import Any

from django.db import migrations

READ_AS = {"nothing seen": "nothing", "wattmeter": "needle"}


def tell(apps: Any, schema_editor: Any) -> None:
    reading = apps.get_model("readings", "Reading")
    for method, read_as in READ_AS.items():
        for row in reading.objects.filter(measured__method=method).iterator():
            row.measured["read_as"] = read_as
            row.save(update_fields=["measured"])


class Migration(migrations.Migration):
    dependencies = [("readings", "0001_initial")]
    operations = [migrations.RunPython(tell, migrations.RunPython.noop)]
