"""How food energy is found. Cases from before keep the table's figures they were worked out with."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("cases", "0004_basis"),
    ]

    operations = [
        migrations.AddField(
            model_name="case",
            name="me_method",
            field=models.CharField(default="table", max_length=16),
        ),
        migrations.AlterField(
            model_name="case",
            name="me_method",
            field=models.CharField(default="4-9-4", max_length=16),
        ),
    ]
