"""Marks of the red pencil in millimeters of their view, so that they follow its scale."""

from typing import Any

from django.db import migrations


def in_view_mm(apps: Any, schema_editor: Any) -> None:
    Mark, Sheet = apps.get_model("drawings", "PencilMark"), apps.get_model("drawings", "DrawingSheet")
    for mark in Mark.objects.exclude(anchor=""):
        sheet = Sheet.objects.filter(drawing=mark.drawing_id, key=mark.sheet).first()
        data = sheet.data if sheet else {}
        view = next((v for v in data.get("views", []) if v["id"] == mark.anchor), None)
        scale = view and (view.get("scale") or data.get("scale"))
        if scale:
            factor = scale["drawn"] / scale["true"]
            mark.places = [[x / factor, y / factor] for x, y in mark.places]
            mark.save(update_fields=["places"])


class Migration(migrations.Migration):
    dependencies = [("drawings", "0007_red_pencil")]
    operations = [migrations.RunPython(in_view_mm, migrations.RunPython.noop)]
