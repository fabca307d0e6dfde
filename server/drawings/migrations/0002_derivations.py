from django.db import migrations, models


def drop(apps, schema_editor):
    """Derived views are a cache; those of the engine before are of no use."""
    apps.get_model("drawings", "DerivedView").objects.all().delete()


class Migration(migrations.Migration):
    dependencies = [("drawings", "0001_initial")]

    operations = [
        migrations.RunPython(drop, migrations.RunPython.noop),
        migrations.RemoveField(model_name="derivedview", name="orientation"),
        migrations.AddField(model_name="derivedview", name="derivation", field=models.JSONField()),
        migrations.AddField(model_name="derivedview", name="rough", field=models.BinaryField(null=True)),
    ]
