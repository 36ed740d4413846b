from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("diets", "0006_line_keys_and_automatic_versions"),
    ]

    operations = [
        migrations.AddField(
            model_name="recipe",
            name="archived",
            field=models.BooleanField(default=False),
        ),
    ]
