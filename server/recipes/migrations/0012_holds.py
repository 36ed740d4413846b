"""What columns may hold is said to the database; what they must not hold is put aside before."""

import django.db.models.lookups
from django.db import migrations, models
from wire.holds import bounded, reshaped, set_aside

OF_RECIPE = "(SELECT r.practice_id FROM diets_recipe r WHERE r.id = recipe_id)"


class Migration(migrations.Migration):
    dependencies = [
        ("events", "0001_initial"),
        ("accounts", "0006_holds"),
        ("cases", "0009_holds"),
        ("diets", "0011_recipeversion_closed_recipeversion_held"),
        ("records", "0003_holds"),
    ]

    operations = [
        bounded("diets_recipe", "covers_days", 0, 1000, "1"),
        reshaped("diets_recipe", "tones", dict),
        set_aside(
            "diets_line",
            "measures",
            "measures IN ('us', 'metric', 'australian')",
            "'us'",
            owner=OF_RECIPE,
        ),
        bounded("diets_line", "grams", -1, 1_000_000_000, owner=OF_RECIPE),
        bounded("diets_recipeversion", "covers_days", 0, 1000, "1"),
        reshaped("diets_recipeversion", "lines", list),
        reshaped("diets_brought", "left_out", list),
        reshaped("diets_brought", "asked", list),
        migrations.AddConstraint(
            model_name="brought",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("left_out"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("array"),
                    )
                ),
                name="diets_brought_left_out_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="brought",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("asked"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("array"),
                    )
                ),
                name="diets_brought_asked_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="line",
            constraint=models.CheckConstraint(
                condition=models.Q(("measures__in", ["us", "metric", "australian"])),
                name="diets_line_measures_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="line",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("grams__isnull", True),
                    models.Q(("grams__gte", 0), ("grams__lte", 1000000000)),
                    _connector="OR",
                ),
                name="diets_line_grams_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="recipe",
            constraint=models.CheckConstraint(
                condition=models.Q(("covers_days__gt", 0), ("covers_days__lte", 1000)),
                name="diets_recipe_covers_days_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="recipe",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("tones"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("object"),
                    )
                ),
                name="diets_recipe_tones_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="recipeversion",
            constraint=models.CheckConstraint(
                condition=models.Q(("covers_days__gt", 0), ("covers_days__lte", 1000)),
                name="diets_recipeversion_covers_days_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="recipeversion",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("lines"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("array"),
                    )
                ),
                name="diets_recipeversion_lines_can_be",
            ),
        ),
    ]
