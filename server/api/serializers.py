"""What goes over the wire: records, and the shapes of computed results for the schema."""

from diets.models import Line, Recipe
from drf_spectacular.utils import extend_schema_field
from library.facts import reference
from library.practice import library_for
from rest_framework import serializers
from wainscot_core.foods import FoodLibrary
from wainscot_core.forms import methods_for


class ErrorDetail(serializers.Serializer):
    field = serializers.CharField()
    message = serializers.CharField()


class ErrorSerializer(serializers.Serializer):
    error = ErrorDetail()


class SessionSerializer(serializers.Serializer):
    needs_setup = serializers.BooleanField()
    demo = serializers.BooleanField()
    username = serializers.CharField(allow_null=True)
    practice = serializers.CharField(allow_null=True)


class SignInSerializer(serializers.Serializer):
    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class SetUpSerializer(serializers.Serializer):
    practice = serializers.CharField(max_length=120)
    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


def short(length: int = 200) -> serializers.CharField:
    """Optional text."""
    return serializers.CharField(max_length=length, allow_blank=True, required=False)


class MissingSerializer(serializers.Serializer):
    field = serializers.CharField()
    what = serializers.CharField()
    why = serializers.CharField()


class PresentIntakeSerializer(serializers.Serializer):
    kcal = serializers.FloatField()
    unknown_items = serializers.IntegerField()
    shares = serializers.DictField(child=serializers.FloatField(), allow_null=True)


class IntakeViewSerializer(serializers.Serializer):
    """What is missing, what stops the case, what is eaten now, the trend, the breed's weights."""

    missing = MissingSerializer(many=True)
    stopped = serializers.BooleanField()
    red_flags = serializers.ListField(child=serializers.CharField())
    present = PresentIntakeSerializer()
    life_stage = serializers.CharField()
    size_class = serializers.CharField()
    breeds = serializers.ListField(child=serializers.CharField())
    breed_weight = serializers.CharField(allow_blank=True)


class MethodSerializer(serializers.Serializer):
    id = serializers.CharField()
    label = serializers.CharField()


def method_choices(library: FoodLibrary, food_id: str) -> list[dict[str, str]]:
    """The ways a food can be prepared from the form it is listed in."""
    if food_id not in library:
        return []
    return [
        {"id": m.id, "label": m.label}
        for m in methods_for(reference().methods, library.food(food_id))
    ]


class LineSerializer(serializers.Serializer):
    food = serializers.CharField(max_length=80)
    quantity = serializers.CharField(max_length=60)
    note = serializers.CharField(max_length=200, required=False, allow_blank=True, default="")
    preparation = serializers.CharField(max_length=40, required=False, allow_blank=True, default="")
    override = serializers.CharField(max_length=200, required=False, allow_blank=True, default="")
    name = serializers.SerializerMethodField()
    methods = serializers.SerializerMethodField()

    def get_name(self, line: Line) -> str:
        library = library_for(line.recipe.practice)
        return library.food(line.food).name if line.food in library else line.food

    @extend_schema_field(MethodSerializer(many=True))
    def get_methods(self, line: Line) -> list[dict[str, str]]:
        return method_choices(library_for(line.recipe.practice), line.food)


class RecipeSerializer(serializers.ModelSerializer):
    lines = LineSerializer(many=True)

    class Meta:
        model = Recipe
        fields = ["id", "case", "version", "name", "covers_days", "lines", "updated"]
        read_only_fields = ["case", "updated"]
