from typing import Any

from django.db import migrations, models

from kagero.core.document import upgrade


def note(apps: Any, editor: Any) -> None:
    """Note what cards say."""
    for effect in apps.get_model("library", "Effect").objects.all():
        document = upgrade(effect.document)
        clip = document["clip"]
        effect.facts = {key: clip[key] for key in ("first_frame", "last_frame", "frame_rate")} | {
            "emitters": len(document["emitters"])
        }
        effect.save(update_fields=["facts"])


class Migration(migrations.Migration):
    dependencies = [("library", "0005_storage")]

    operations = [
        migrations.AlterModelOptions(name="effect", options={"ordering": ["-saved", "-id"]}),
        migrations.AddField("effect", "facts", models.JSONField(default=dict)),
        migrations.AddField("effect", "folder", models.CharField(blank=True, default="", max_length=200)),
        migrations.AddField("effect", "tags", models.JSONField(default=list)),
        migrations.AddField("effect", "deleted", models.DateTimeField(default=None, null=True)),
        migrations.RunPython(note, migrations.RunPython.noop),
    ]
