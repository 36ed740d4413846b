"""When a plan begins, and over how many days the old food gives way."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("plans", "0002_holds")]

    operations = [
        migrations.AddField(
            model_name="plan", name="begins", field=models.DateField(blank=True, null=True)
        ),
        migrations.AddField(
            model_name="plan",
            name="change_days",
            field=models.PositiveSmallIntegerField(default=7),
        ),
    ]
