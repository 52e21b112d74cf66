from typing import Any

from django.db import migrations, models
from django.db.models import F, Max


def join(apps: Any, editor: Any) -> None:
    """Until now each edit was made from the one before it, and redo led to the last."""
    edit, effect = apps.get_model("library", "Edit"), apps.get_model("library", "Effect")
    edit.objects.filter(number__gt=0).update(parent=F("number") - 1)
    for each in effect.objects.annotate(last=Max("edits__number")).iterator():
        effect.objects.filter(pk=each.pk).update(tip=each.last or 0)


class Migration(migrations.Migration):
    dependencies = [("library", "0006_shelves")]

    operations = [
        migrations.AddField("effect", "tip", models.PositiveIntegerField(default=0)),
        migrations.AddField("edit", "parent", models.PositiveIntegerField(default=None, null=True)),
        migrations.RunPython(join, migrations.RunPython.noop),
    ]
