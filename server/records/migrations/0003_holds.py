"""What columns may hold is said to the database; what they must not hold is put aside before."""

import django.db.models.lookups
from django.db import migrations, models
from wire.holds import reshaped


class Migration(migrations.Migration):
    dependencies = [
        ("events", "0001_initial"),
        ("accounts", "0006_holds"),
        ("records", "0002_released_links"),
    ]

    operations = [
        reshaped("records_sharelink", "change", dict),
        migrations.AlterModelOptions(
            name="sharelink",
            options={},
        ),
        migrations.AddConstraint(
            model_name="sharelink",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("change"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("object"),
                    )
                ),
                name="records_sharelink_change_can_be",
            ),
        ),
    ]
