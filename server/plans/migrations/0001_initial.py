"""Plans move into an app of their own; their table stays as it is."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True
    dependencies = [
        ("accounts", "0001_initial"),
        ("cases", "0003_lines_and_limits"),
        ("diets", "0004_plans_move"),
    ]
    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="Plan",
                    fields=[
                        (
                            "id",
                            models.BigAutoField(
                                auto_created=True,
                                primary_key=True,
                                serialize=False,
                                verbose_name="ID",
                            ),
                        ),
                        ("version", models.PositiveIntegerField(default=1)),
                        ("created", models.DateTimeField(auto_now_add=True)),
                        ("updated", models.DateTimeField(auto_now=True)),
                        ("turns", models.JSONField(default=list)),
                        ("items", models.JSONField(default=list)),
                        (
                            "case",
                            models.OneToOneField(
                                on_delete=django.db.models.deletion.CASCADE,
                                related_name="plan",
                                to="cases.case",
                            ),
                        ),
                        (
                            "practice",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE,
                                related_name="+",
                                to="accounts.practice",
                            ),
                        ),
                    ],
                    options={"db_table": "diets_plan"},
                )
            ]
        )
    ]
