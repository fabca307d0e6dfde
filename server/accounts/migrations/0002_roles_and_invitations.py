import uuid

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def first_is_owner(apps, schema_editor):
    """Of each workspace whoever belongs to it for longest."""
    membership = apps.get_model("accounts", "Membership")
    for workspace in apps.get_model("accounts", "Workspace").objects.all():
        first = membership.objects.filter(workspace=workspace).order_by("pk").first()
        if first is not None:
            membership.objects.filter(pk=first.pk).update(role="owner")


class Migration(migrations.Migration):
    dependencies = [
        ("accounts", "0001_initial"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField("membership", "role", models.CharField(default="member", max_length=10)),
        migrations.RunPython(first_is_owner, migrations.RunPython.noop),
        migrations.CreateModel(
            name="Invitation",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, editable=False, primary_key=True, serialize=False)),
                ("digest", models.CharField(max_length=64, unique=True)),
                ("name", models.CharField(max_length=80)),
                ("role", models.CharField(default="member", max_length=10)),
                ("expires", models.DateTimeField()),
                (
                    "user",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.CASCADE, to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "workspace",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="invitations",
                        to="accounts.workspace",
                    ),
                ),
            ],
        ),
    ]
