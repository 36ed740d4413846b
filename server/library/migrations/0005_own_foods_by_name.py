"""Own foods are listed a page at a time, by their names."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("accounts", "0007_roles_held"),
        ("library", "0004_holds"),
    ]

    operations = [
        migrations.AddIndex(
            model_name="ownfood",
            index=models.Index(fields=["practice", "name", "id"], name="own_food_by_name"),
        ),
    ]
