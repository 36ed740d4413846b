"""Words are held by the database; what is none of them is put aside before."""

from django.db import migrations, models
from wire.holds import set_aside


class Migration(migrations.Migration):
    dependencies = [
        ("events", "0001_initial"),
        ("accounts", "0007_roles_held"),
        ("diets", "0012_holds"),
        ("release", "0001_initial"),
    ]

    operations = [
        # A plan of which nobody knows how far it is is out no longer.
        set_aside(
            "release_release",
            "state",
            "state IN ('draft', 'checked', 'with the vet', 'approved', 'issued', 'superseded', 'withdrawn')",
            "'withdrawn'",
        ),
        migrations.AddConstraint(
            model_name="release",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    (
                        "state__in",
                        [
                            "draft",
                            "checked",
                            "with the vet",
                            "approved",
                            "issued",
                            "superseded",
                            "withdrawn",
                        ],
                    )
                ),
                name="release_release_state_can_be",
            ),
        ),
    ]
