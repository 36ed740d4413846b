"""Wire shapes of the library: search, profiles, own foods, import, what a practice knows."""

from drf_spectacular.utils import extend_schema_field
from library.facts import reference
from library.models import OwnFood, PracticeFood
from rest_framework import serializers

from .serializers import (
    MethodSerializer,
)
from .serializers_analysis import (
    StepSerializer,
)


class MeasureSerializer(serializers.Serializer):
    name = serializers.CharField()
    grams = serializers.FloatField()
    source = serializers.CharField()


class QuestionSerializer(serializers.Serializer):
    tag = serializers.CharField()
    unit = serializers.CharField()
    per = serializers.CharField()


class FoodSerializer(serializers.Serializer):
    """A search hit: `quantity` the amount to start with, as typed or a first one; `mark` why not to
    suggest it, `questions` what its label must tell."""

    id = serializers.CharField()
    name = serializers.CharField()
    klass = serializers.CharField()
    form = serializers.CharField()
    kcal_per_100g = serializers.FloatField(allow_null=True)
    methods = MethodSerializer(many=True)
    quantity = serializers.CharField()
    mark = serializers.CharField(allow_blank=True)
    questions = QuestionSerializer(many=True)
    incomplete = serializers.ListField(child=serializers.CharField())


class ShelfFoodSerializer(serializers.Serializer):
    """A row of the library list; `value` is the sorting nutrient per 1000 kcal."""

    id = serializers.CharField()
    name = serializers.CharField()
    klass = serializers.CharField()
    form = serializers.CharField()
    kcal_per_100g = serializers.FloatField(allow_null=True)
    known_share = serializers.FloatField()
    price_per_kg = serializers.FloatField(allow_null=True)
    unavailable = serializers.BooleanField()
    value = serializers.FloatField(allow_null=True)


class NamedSerializer(serializers.Serializer):
    id = serializers.CharField()
    name = serializers.CharField()


class ShelfSerializer(serializers.Serializer):
    foods = ShelfFoodSerializer(many=True)
    classes = serializers.ListField(child=serializers.CharField())
    allergens = serializers.ListField(child=serializers.CharField())
    nutrients = NamedSerializer(many=True)


class ProfileValueSerializer(serializers.Serializer):
    key = serializers.CharField()
    name = serializers.CharField()
    unit = serializers.CharField()
    group = serializers.CharField()
    decimals = serializers.IntegerField()
    per_100g = serializers.FloatField(allow_null=True)
    per_1000_kcal = serializers.FloatField(allow_null=True)
    per_100g_dry_matter = serializers.FloatField(allow_null=True)
    grade = serializers.CharField()
    provenance = serializers.CharField()
    citation = serializers.CharField()
    confidence = serializers.CharField()


class CompletenessSerializer(serializers.Serializer):
    group = serializers.CharField()
    known = serializers.FloatField()
    firm = serializers.FloatField()


class LinkedFormSerializer(serializers.Serializer):
    id = serializers.CharField()
    name = serializers.CharField()
    weight_share = serializers.FloatField(allow_null=True)


class HandlingSerializer(serializers.Serializer):
    form = serializers.CharField()
    step_g = serializers.FloatField()
    heat = serializers.CharField()
    add = serializers.CharField()
    block = serializers.CharField()


class PracticeFoodSerializer(serializers.ModelSerializer):
    price = serializers.FloatField(
        allow_null=True, min_value=0, max_value=1_000_000, required=False
    )
    price_grams = serializers.FloatField(allow_null=True, required=False)
    measures = serializers.DictField(child=serializers.FloatField(), required=False)
    strengths = serializers.DictField(child=serializers.FloatField(), required=False)

    class Meta:
        model = PracticeFood
        fields = [
            "price", "price_grams", "price_date", "shop", "season", "unavailable", "measures",
            "strengths",
        ]  # fmt: skip


class ProfileSerializer(FoodSerializer):
    """All that is known of a food; `own` is the number of an own food."""

    source_name = serializers.CharField()
    allergens = serializers.ListField(child=serializers.CharField())
    traits = serializers.DictField(child=serializers.CharField())
    measures = MeasureSerializer(many=True)
    values = ProfileValueSerializer(many=True)
    completeness = CompletenessSerializer(many=True)
    forms = LinkedFormSerializer(many=True)
    handling = HandlingSerializer(allow_null=True)
    practice = PracticeFoodSerializer(allow_null=True)
    own = serializers.IntegerField(allow_null=True)


class LabelInSerializer(serializers.Serializer):
    protein = serializers.FloatField()
    fat = serializers.FloatField()
    fibre = serializers.FloatField()
    moisture = serializers.FloatField()
    ash = serializers.FloatField(required=False, allow_null=True)
    dry_matter = serializers.BooleanField(required=False)
    method = serializers.ChoiceField(["modified-atwater", "nrc-predictive"], required=False)
    kcal_per_kg = serializers.FloatField(required=False, allow_null=True)
    kcal_per_cup = serializers.FloatField(required=False, allow_null=True)
    cup_grams = serializers.FloatField(required=False, allow_null=True)


class LabelOutSerializer(serializers.Serializer):
    """Per 100 g as fed by tag; the analysis on dry matter; share of energy by macro; steps."""

    per_100_g = serializers.DictField(child=serializers.FloatField())
    dry_matter = serializers.DictField(child=serializers.FloatField())
    kcal_per_kg = serializers.FloatField()
    energy_shares = serializers.DictField(child=serializers.FloatField())
    steps = StepSerializer(many=True)


class OwnFoodInSerializer(serializers.Serializer):
    """By values per 100 g, or by label; further values are added to those of the label."""

    name = serializers.CharField(max_length=160)
    klass = serializers.CharField(max_length=40, required=False)
    form = serializers.ChoiceField(["raw", "cooked", "canned", "dried", "plain"], required=False)
    ingredients = serializers.CharField(required=False, allow_blank=True)
    values = serializers.DictField(child=serializers.FloatField(min_value=0), required=False)
    label = LabelInSerializer(required=False, allow_null=True)


class RevisionSerializer(serializers.Serializer):
    revision = serializers.IntegerField()
    replaced = serializers.DateTimeField()


class OwnFoodSerializer(serializers.ModelSerializer):
    food_id = serializers.CharField(read_only=True)
    values = serializers.DictField(child=serializers.FloatField())
    revisions = RevisionSerializer(many=True)
    allergens = serializers.SerializerMethodField()

    class Meta:
        model = OwnFood
        fields = [
            "id", "food_id", "slug", "name", "klass", "form", "ingredients", "values", "origin",
            "revision", "revisions", "allergens",
        ]  # fmt: skip

    @extend_schema_field(serializers.DictField(child=serializers.CharField()))
    def get_allergens(self, food: OwnFood) -> dict[str, str]:
        return reference().allergens.found_in(f"{food.name}. {food.ingredients}")


class ImportInSerializer(serializers.Serializer):
    text = serializers.CharField(max_length=5_000_000, trim_whitespace=False)
    format = serializers.ChoiceField(["csv", "json"], required=False)
    accept = serializers.BooleanField(required=False)
    skip_bad = serializers.BooleanField(required=False)


class CellErrorSerializer(serializers.Serializer):
    row = serializers.IntegerField()
    column = serializers.CharField()
    message = serializers.CharField()


class ImportOutSerializer(serializers.Serializer):
    good = serializers.IntegerField()
    names = serializers.ListField(child=serializers.CharField())
    errors = CellErrorSerializer(many=True)
    imported = serializers.IntegerField()


class ClientFoodSerializer(serializers.Serializer):
    food = serializers.CharField(max_length=80)
    mark = serializers.ChoiceField(["cannot-get", "will-not-use", "fine"])
