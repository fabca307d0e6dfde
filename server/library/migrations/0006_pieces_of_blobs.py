"""Blobs are kept in pieces, so that nobody needs the memory for a whole one."""

import django.db.models.deletion
import django.utils.timezone
from django.db import migrations, models

SPLIT = """
INSERT INTO library_blobpiece (blob_id, number, data)
SELECT sha256, n, substring(data FROM n * 1048576 + 1 FOR 1048576)
FROM library_blob, generate_series(0, greatest((octet_length(data) - 1) / 1048576, 0)) AS n
"""
JOIN = """
UPDATE library_blob SET data =
(SELECT string_agg(data, ''::bytea ORDER BY number) FROM library_blobpiece WHERE blob_id = sha256)
"""


class Migration(migrations.Migration):
    dependencies = [("library", "0005_same_parts_and_stated_masses")]

    operations = [
        migrations.CreateModel(
            name="BlobPiece",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("number", models.PositiveIntegerField()),
                ("data", models.BinaryField()),
                (
                    "blob",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="pieces",
                        to="library.blob",
                    ),
                ),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(fields=["blob", "number"], name="one_piece_a_number")
                ]
            },
        ),
        migrations.AddField(
            model_name="blob",
            name="used",
            field=models.DateTimeField(default=django.utils.timezone.now),
        ),
        migrations.RunSQL(SPLIT, JOIN),
        migrations.AlterField(model_name="blob", name="data", field=models.BinaryField(default=b"")),
        migrations.RemoveField(model_name="blob", name="data"),
    ]
