"""What columns may hold is said to the database; what they must not hold is put aside before."""

import django.db.models.lookups
from django.db import migrations, models
from wire.holds import bounded, is_shaped, reshaped, set_aside


class Migration(migrations.Migration):
    dependencies = [
        ("events", "0001_initial"),
        ("accounts", "0006_holds"),
        ("library", "0003_shelfentry_label_shelfentry_retired"),
    ]

    operations = [
        reshaped("library_ownfood", "values", dict),
        reshaped("library_ownfood", "origin", dict),
        reshaped("library_shelfentry", "item", dict),
        set_aside(
            "library_shelfentry", "label", f'"label" IS NULL OR {is_shaped("label", dict)}', "NULL"
        ),
        reshaped("library_practicestandard", "stages", dict),
        reshaped("library_practicefood", "measures", dict),
        reshaped("library_practicefood", "strengths", dict),
        bounded("library_practicefood", "price", -1, 1_000_000),
        bounded("library_practicefood", "price_grams", 0, 1_000_000_000),
        migrations.AddConstraint(
            model_name="ownfood",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("values"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("object"),
                    )
                ),
                name="library_ownfood_values_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="ownfood",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("origin"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("object"),
                    )
                ),
                name="library_ownfood_origin_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="practicefood",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("measures"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("object"),
                    )
                ),
                name="library_practicefood_measures_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="practicefood",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("strengths"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("object"),
                    )
                ),
                name="library_practicefood_strengths_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="practicefood",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("price__isnull", True),
                    models.Q(("price__gte", 0), ("price__lte", 1000000)),
                    _connector="OR",
                ),
                name="library_practicefood_price_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="practicefood",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("price_grams__isnull", True),
                    models.Q(("price_grams__gt", 0), ("price_grams__lte", 1000000000)),
                    _connector="OR",
                ),
                name="library_practicefood_price_grams_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="practicestandard",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("stages"),
                            function="JSON_TYPE",
                            output_field=models.CharField(),
                        ),
                        models.Value("object"),
                    )
                ),
                name="library_practicestandard_stages_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="shelfentry",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("item"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("object"),
                    )
                ),
                name="library_shelfentry_item_can_be",
            ),
        ),
        migrations.AddConstraint(
            model_name="shelfentry",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("label__isnull", True),
                    django.db.models.lookups.Exact(
                        models.Func(
                            models.F("label"), function="JSON_TYPE", output_field=models.CharField()
                        ),
                        models.Value("object"),
                    ),
                    _connector="OR",
                ),
                name="library_shelfentry_label_can_be",
            ),
        ),
    ]
