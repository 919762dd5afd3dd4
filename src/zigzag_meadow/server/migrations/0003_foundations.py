from typing import Any

import django.db.models.deletion
from django.db import migrations, models


def free_holdings(apps: Any, schema_editor: Any) -> None:
    """Files that were there before anybody held them may go on being used by every project."""
    holding = apps.get_model("server", "Holding")
    names = apps.get_model("server", "Asset").objects.values_list("sha256", flat=True)
    holding.objects.bulk_create([holding(project=None, asset=name) for name in names], batch_size=500)


class Migration(migrations.Migration):
    dependencies = [("server", "0002_kits")]

    operations = [
        migrations.AlterModelOptions(name="job", options={"ordering": ("failures", "created_at")}),
        migrations.RemoveField(model_name="job", name="heartbeat_at"),
        migrations.AddField(model_name="job", name="beat", field=models.IntegerField(default=0)),
        migrations.AddField(model_name="job", name="failures", field=models.IntegerField(default=0)),
        migrations.AddField(model_name="job", name="run", field=models.CharField(default="", max_length=32)),
        migrations.AddField(model_name="job", name="worker", field=models.CharField(default="", max_length=32)),
        migrations.AddField(model_name="project", name="summary", field=models.JSONField(null=True)),
        migrations.CreateModel(
            name="Holding",
            fields=[
                (
                    "id",
                    models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID"),
                ),
                ("asset", models.CharField(db_index=True, max_length=64)),
                (
                    "project",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="holdings",
                        to="server.project",
                    ),
                ),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(fields=("project", "asset"), name="one_holding_a_project"),
                    models.UniqueConstraint(
                        condition=models.Q(("project", None)), fields=("asset",), name="one_free_holding"
                    ),
                ],
            },
        ),
        migrations.RunPython(free_holdings, migrations.RunPython.noop),
    ]
