from django.db import migrations, models

import recipes.models


def give_keys(apps, schema_editor):
    """Every stored line a key of its own."""
    line = apps.get_model("diets", "Line")
    rows = list(line.objects.only("pk"))
    for row in rows:
        row.key = recipes.models.new_key()
    line.objects.bulk_update(rows, ["key"], batch_size=500)


class Migration(migrations.Migration):
    dependencies = [
        ("diets", "0005_version_snapshots"),
    ]

    operations = [
        migrations.AddField(
            model_name="line",
            name="key",
            field=models.CharField(default=recipes.models.new_key, max_length=40),
        ),
        migrations.RunPython(give_keys, migrations.RunPython.noop),
        migrations.AddConstraint(
            model_name="line",
            constraint=models.UniqueConstraint(fields=["recipe", "key"], name="line_key_once"),
        ),
        migrations.AddField(
            model_name="recipeversion",
            name="automatic",
            field=models.BooleanField(default=False),
        ),
    ]
