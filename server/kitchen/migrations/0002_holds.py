"""What columns may hold is said to the database; what they must not hold is put aside before."""

import django.db.models.lookups
from django.db import migrations, models
from wire.holds import bounded, reshaped


class Migration(migrations.Migration):
    dependencies = [
        ("events", "0001_initial"),
        ("accounts", "0006_holds"),
        ("diets", "0012_holds"),
        ("kitchen", "0001_initial"),
    ]

    operations = [
        reshaped("kitchen_batch", "lines", list),
        reshaped("kitchen_batch", "ask", dict),
        reshaped("kitchen_batch", "plan", dict),
        reshaped("kitchen_batch", "finished", dict),
        reshaped("kitchen_batch", "cooked", dict),
        reshaped("kitchen_batch", "gone", list),
        bounded("kitchen_batch", "covers_days", 0, 1000, "1"),
        migrations.AddConstraint(
            model_name="batch",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("lines"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("array"),
                    )
                ),
                name="kitchen_batch_lines_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="batch",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("ask"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("object"),
                    )
                ),
                name="kitchen_batch_ask_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="batch",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("plan"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("object"),
                    )
                ),
                name="kitchen_batch_plan_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="batch",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("finished"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("object"),
                    )
                ),
                name="kitchen_batch_finished_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="batch",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("cooked"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("object"),
                    )
                ),
                name="kitchen_batch_cooked_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="batch",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("gone"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("array"),
                    )
                ),
                name="kitchen_batch_gone_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="batch",
            constraint=models.CheckConstraint(
                condition=models.Q(("covers_days__gt", 0), ("covers_days__lte", 1000)),
                name="kitchen_batch_covers_days_can_be",
            ),
        ),
    ]
