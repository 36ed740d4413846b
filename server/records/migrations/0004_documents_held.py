"""Words are held by the database; what is none of them is put aside before."""

from django.db import migrations, models
from wire.holds import set_aside


class Migration(migrations.Migration):
    dependencies = [
        ("events", "0001_initial"),
        ("accounts", "0007_roles_held"),
        ("records", "0003_holds"),
    ]

    operations = [
        # A link to what nobody knows opens nothing any more.
        migrations.RunSQL(
            "UPDATE records_sharelink SET revoked = CURRENT_TIMESTAMP WHERE revoked IS NULL AND document NOT IN "
            "('sheet', 'intake', 'letter', 'owner', 'report')",
            migrations.RunSQL.noop,
        ),
        set_aside(
            "records_sharelink",
            "document",
            "document IN ('sheet', 'intake', 'letter', 'owner', 'report')",
            "'sheet'",
        ),
        migrations.AddConstraint(
            model_name="sharelink",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("document__in", ["sheet", "intake", "letter", "owner", "report"])
                ),
                name="records_sharelink_document_can_be",
            ),
        ),
    ]
