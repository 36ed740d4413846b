"""What columns may hold is said to the database; what they must not hold is put aside before."""

import django.db.models.lookups
from django.db import migrations, models
from wire.holds import bounded, reshaped, set_aside


class Migration(migrations.Migration):
    dependencies = [
        ("events", "0001_initial"),
        ("accounts", "0006_holds"),
        ("cases", "0008_finding"),
    ]

    operations = [
        reshaped("cases_client", "conventions", dict),
        set_aside("cases_dog", "sex", "sex IN ('female', 'male', 'unknown')", "'unknown'"),
        bounded("cases_dog", "ideal_weight_kg", 0, 1000),
        bounded("cases_dog", "adult_weight_kg", 0, 1000),
        # Of a food nobody knows to be had none is proposed.
        set_aside(
            "cases_clientfood",
            "mark",
            "mark IN ('can-get', 'special-order', 'cannot-get', 'will-not-use')",
            "'cannot-get'",
        ),
        reshaped("cases_case", "conditions", list),
        reshaped("cases_case", "reactions", list),
        reshaped("cases_case", "intake", dict),
        reshaped("cases_case", "decisions", list),
        reshaped("cases_case", "strict_groups", list),
        bounded("cases_case", "multiplier", 0, 1000),
        bounded("cases_case", "kcal_per_day", 0, 1_000_000),
        migrations.AddConstraint(
            model_name="case",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("conditions"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("array"),
                    )
                ),
                name="cases_case_conditions_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="case",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("reactions"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("array"),
                    )
                ),
                name="cases_case_reactions_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="case",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("intake"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("object"),
                    )
                ),
                name="cases_case_intake_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="case",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("decisions"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("array"),
                    )
                ),
                name="cases_case_decisions_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="case",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("strict_groups"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("array"),
                    )
                ),
                name="cases_case_strict_groups_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="case",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("multiplier__isnull", True),
                    models.Q(("multiplier__gt", 0), ("multiplier__lte", 1000)),
                    _connector="OR",
                ),
                name="cases_case_multiplier_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="case",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("kcal_per_day__isnull", True),
                    models.Q(("kcal_per_day__gt", 0), ("kcal_per_day__lte", 1000000)),
                    _connector="OR",
                ),
                name="cases_case_kcal_per_day_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="client",
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
                name="cases_client_conventions_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="clientfood",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("mark__in", ["can-get", "special-order", "cannot-get", "will-not-use"])
                ),
                name="cases_clientfood_mark_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="dog",
            constraint=models.CheckConstraint(
                condition=models.Q(("sex__in", ["female", "male", "unknown"])),
                name="cases_dog_sex_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="dog",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("ideal_weight_kg__isnull", True),
                    models.Q(("ideal_weight_kg__gt", 0), ("ideal_weight_kg__lte", 1000)),
                    _connector="OR",
                ),
                name="cases_dog_ideal_weight_kg_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="dog",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("adult_weight_kg__isnull", True),
                    models.Q(("adult_weight_kg__gt", 0), ("adult_weight_kg__lte", 1000)),
                    _connector="OR",
                ),
                name="cases_dog_adult_weight_kg_can_be",
            ),
        ),
    ]
