"""What columns may hold is said to the database; what they must not hold is put aside before."""

import django.db.models.lookups
from django.db import migrations, models
from wire.holds import reshaped


class Migration(migrations.Migration):
    dependencies = [
        ("events", "0001_initial"),
        ("accounts", "0006_holds"),
        ("cases", "0009_holds"),
        ("followup", "0003_plan_of_a_day"),
    ]

    operations = [
        reshaped("followup_followentry", "data", dict),
        reshaped("followup_labresult", "data", dict),
        reshaped("followup_followtrial", "data", dict),
        migrations.AddConstraint(
            model_name="followentry",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("data"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("object"),
                    )
                ),
                name="followup_followentry_data_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="followtrial",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("data"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("object"),
                    )
                ),
                name="followup_followtrial_data_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="labresult",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("data"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("object"),
                    )
                ),
                name="followup_labresult_data_can_be",
            ),
        ),
    ]
