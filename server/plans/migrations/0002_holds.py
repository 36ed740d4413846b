"""What columns may hold is said to the database; what they must not hold is put aside before."""

import django.db.models.lookups
from django.db import migrations, models
from wire.holds import reshaped


class Migration(migrations.Migration):
    dependencies = [
        ("events", "0001_initial"),
        ("accounts", "0006_holds"),
        ("cases", "0009_holds"),
        ("plans", "0001_initial"),
    ]

    operations = [
        reshaped("diets_plan", "turns", list),
        reshaped("diets_plan", "items", list),
        migrations.AddConstraint(
            model_name="plan",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("turns"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("array"),
                    )
                ),
                name="diets_plan_turns_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="plan",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("items"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("array"),
                    )
                ),
                name="diets_plan_items_can_be",
            ),
        ),
    ]
