"""Words are held by the database; what is none of them is put aside before."""

from django.db import migrations, models
from wire.holds import set_aside


class Migration(migrations.Migration):
    dependencies = [
        ("events", "0001_initial"),
        ("accounts", "0007_roles_held"),
        ("people", "0001_initial"),
    ]

    operations = [
        # An invitation to what nobody knows opens nothing any more.
        migrations.RunSQL(
            "UPDATE people_invitation SET revoked = CURRENT_TIMESTAMP WHERE revoked IS NULL AND role NOT IN "
            "('owner', 'consultant', 'assistant')",
            migrations.RunSQL.noop,
        ),
        set_aside(
            "people_invitation",
            "role",
            "role IN ('owner', 'consultant', 'assistant')",
            "'assistant'",
        ),
        migrations.AddConstraint(
            model_name="invitation",
            constraint=models.CheckConstraint(
                condition=models.Q(("role__in", ["owner", "consultant", "assistant"])),
                name="people_invitation_role_can_be",
            ),
        ),
    ]
