from django.db import migrations, models

import zigzag_meadow.server.models


class Migration(migrations.Migration):
    dependencies = [("server", "0001_first")]

    operations = [
        migrations.CreateModel(
            name="Kit",
            fields=[
                (
                    "id",
                    models.CharField(
                        default=zigzag_meadow.server.models.new_id, max_length=32, primary_key=True, serialize=False
                    ),
                ),
                ("name", models.CharField(max_length=60)),
                ("content", models.JSONField()),
                ("created_at", models.DateTimeField(auto_now_add=True)),
            ],
            options={"ordering": ("name",)},
        ),
    ]
