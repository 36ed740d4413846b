"""Words are held by the database; what is none of them is put aside before."""

from django.db import migrations, models
from wire.holds import set_aside


class Migration(migrations.Migration):
    dependencies = [
        ("events", "0001_initial"),
        ("accounts", "0006_holds"),
        ("auth", "0012_alter_user_first_name_max_length"),
    ]

    operations = [
        # Who has a role nobody knows may nothing until an owner gives one.
        set_aside(
            "accounts_user", "role", "role IN ('', 'owner', 'consultant', 'assistant')", "''"
        ),
        migrations.AddConstraint(
            model_name="user",
            constraint=models.CheckConstraint(
                condition=models.Q(("role__in", ["owner", "consultant", "assistant", ""])),
                name="accounts_user_role_can_be",
            ),
        ),
    ]
