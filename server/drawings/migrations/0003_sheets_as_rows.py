"""Sheets become rows of their own, and stored drawings with their logs take the present format."""

from django.db import migrations, models

from drafting import upgrades


def split(apps, schema_editor):
    Drawing, Sheet = apps.get_model("drawings", "Drawing"), apps.get_model("drawings", "DrawingSheet")
    for drawing in Drawing.objects.iterator(chunk_size=1):
        old = drawing.document
        entries = list(drawing.log.order_by("sequence"))
        if old.get("format", 1) < upgrades.PRESENT:
            log = upgrades.upgraded_log(old, [(e.patch, e.inverse) for e in entries], drawing.log_position)
            for entry, (patch, inverse) in zip(entries, log, strict=True):
                entry.patch, entry.inverse = patch, inverse
                entry.save(update_fields=["patch", "inverse"])
        data = upgrades.read(old).model_dump(mode="json")
        sheets = data.pop("sheets")
        drawing.head, drawing.size = data, sheets[0]["size"]
        drawing.save(update_fields=["head", "size"])
        Sheet.objects.bulk_create(
            Sheet(drawing=drawing, key=s["id"], place=n, data=s) for n, s in enumerate(sheets)
        )


class Migration(migrations.Migration):
    dependencies = [("drawings", "0002_derivations")]

    operations = [
        migrations.CreateModel(
            name="DrawingSheet",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=64)),
                ("place", models.PositiveIntegerField()),
                ("data", models.JSONField()),
                ("lost", models.PositiveIntegerField(default=0)),
                ("drawing", models.ForeignKey(on_delete=models.deletion.CASCADE, related_name="sheet_rows", to="drawings.drawing")),
            ],
        ),
        migrations.AddConstraint(
            model_name="drawingsheet", constraint=models.UniqueConstraint(fields=["drawing", "key"], name="one_sheet_key")
        ),
        migrations.AddField(model_name="drawing", name="size", field=models.CharField(blank=True, max_length=20)),
        migrations.AddField(model_name="drawing", name="open", field=models.PositiveIntegerField(default=0)),
        migrations.AddField(model_name="drawing", name="counted_for", field=models.CharField(blank=True, max_length=64)),
        migrations.AddField(model_name="drawing", name="head", field=models.JSONField(default=dict), preserve_default=False),
        migrations.RunPython(split, migrations.RunPython.noop),
        migrations.RemoveField(model_name="drawing", name="document"),
    ]
