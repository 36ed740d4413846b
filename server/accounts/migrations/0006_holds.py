"""What columns may hold is said to the database; what they must not hold is put aside before."""

import django.db.models.lookups
from django.db import migrations, models
from wire.holds import reshaped


class Migration(migrations.Migration):
    dependencies = [
        ("events", "0001_initial"),
        ("accounts", "0005_roles"),
    ]

    operations = [
        reshaped("accounts_practice", "conventions", dict, owner="id"),
        migrations.AddConstraint(
            model_name="practice",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("conventions"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("object"),
                    )
                ),
                name="accounts_practice_conventions_can_be",
            ),
        ),
    ]
