from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = (("server", "0003_foundations"),)

    operations = (migrations.AddField("delivery", "placed", models.JSONField(null=True)),)
