"""Words are held by the database; what is none of them is put aside before."""

from django.db import migrations, models
from wire.holds import set_aside


class Migration(migrations.Migration):
    dependencies = [
        ("events", "0001_initial"),
        ("accounts", "0007_roles_held"),
        ("jobs", "0001_initial"),
    ]

    operations = [
        set_aside(
            "jobs_job",
            "state",
            "state IN ('waiting', 'running', 'done', 'failed', 'cancelled')",
            "'failed'",
        ),
        migrations.AddConstraint(
            model_name="job",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("state__in", ["waiting", "running", "done", "failed", "cancelled"])
                ),
                name="jobs_job_state_can_be",
            ),
        ),
    ]
