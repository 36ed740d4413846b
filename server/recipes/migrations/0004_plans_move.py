"""Plans belong to an app of their own from here on; the table stays."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("diets", "0003_lines_and_limits")]
    operations = [
        migrations.SeparateDatabaseAndState(state_operations=[migrations.DeleteModel("Plan")])
    ]
