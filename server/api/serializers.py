"""What goes over the wire: records, and the shapes of computed results for the schema."""

from datetime import date
from typing import Any

from cases.models import Case, Client, Dog
from diets.models import Line, Recipe
from django.utils import timezone
from drf_spectacular.utils import extend_schema_field
from library.facts import reference
from library.practice import library_for
from rest_framework import serializers
from wainscot_core.energy import check_weight
from wainscot_core.errors import InputError
from wainscot_core.foods import FoodLibrary
from wainscot_core.forms import methods_for
from wainscot_core.line import LineText


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


class ClientSerializer(serializers.ModelSerializer):
    class Meta:
        model = Client
        fields = ["id", "name", "email", "phone", "notes"]


class DogSerializer(serializers.ModelSerializer):
    client = ClientSerializer()
    age_months = serializers.IntegerField(source="age", read_only=True, allow_null=True)

    class Meta:
        model = Dog
        fields = [
            "id", "client", "name", "breed", "sex", "neutered", "birth_date", "age_months",
            "weight_kg", "ideal_weight_kg", "body_condition", "activity", "adult_weight_kg",
            "litter_size", "lactation_week", "gestation_week",
        ]  # fmt: skip

    def validate_weight_kg(self, value: float) -> float:
        try:
            return check_weight(reference().energy, value)
        except InputError as error:
            raise serializers.ValidationError(error.message) from None

    def validate_body_condition(self, value: int | None) -> int | None:
        if value is not None and not 1 <= value <= 9:
            raise serializers.ValidationError("body condition is scored 1 to 9")
        return value


class RecipeRefSerializer(serializers.ModelSerializer):
    class Meta:
        model = Recipe
        fields = ["id", "name"]


class ConditionSerializer(serializers.Serializer):
    """A diagnosis: stage, when and who made it."""

    id = serializers.CharField(max_length=40)
    name = serializers.CharField(max_length=120)
    stage = serializers.CharField(max_length=40, allow_blank=True, required=False)
    since = serializers.CharField(max_length=20, allow_blank=True, required=False)
    by = serializers.CharField(max_length=120, allow_blank=True, required=False)


class ReactionSerializer(serializers.Serializer):
    """What the dog reacts to: "the meat, not the organ" is said with form and tolerates."""

    food = serializers.CharField(max_length=120)
    what = serializers.CharField(max_length=200, allow_blank=True, required=False)
    form = serializers.CharField(max_length=80, allow_blank=True, required=False)
    tolerates = serializers.CharField(max_length=120, allow_blank=True, required=False)
    certainty = serializers.ChoiceField(["suspected", "likely", "proven"], required=False)


def short(length: int = 200) -> serializers.CharField:
    """Optional text."""
    return serializers.CharField(max_length=length, allow_blank=True, required=False)


class VetSerializer(serializers.Serializer):
    role = short(60)
    name = serializers.CharField(max_length=120)
    clinic = short()
    contact = short()


class WeighingSerializer(serializers.Serializer):
    on = serializers.CharField(max_length=20)
    kg = serializers.FloatField(min_value=0.1, max_value=120)


class MedicineSerializer(serializers.Serializer):
    name = serializers.CharField(max_length=120)
    dose = short()


class DietItemSerializer(serializers.Serializer):
    """What is eaten now: `amount` units a day of so many kcal and grams of macros each."""

    name = serializers.CharField(max_length=120)
    amount = serializers.FloatField(min_value=0, max_value=10_000)
    unit = serializers.CharField(max_length=40)
    kcal_per_unit = serializers.FloatField(
        min_value=0, max_value=100_000, allow_null=True, required=False
    )
    protein_g = serializers.FloatField(min_value=0, allow_null=True, required=False)
    fat_g = serializers.FloatField(min_value=0, allow_null=True, required=False)
    carbohydrate_g = serializers.FloatField(min_value=0, allow_null=True, required=False)


class OwnerSerializer(serializers.Serializer):
    source = short(400)
    cook = short(400)
    store = short(400)
    spend = short(400)


class RedFlagsSerializer(serializers.Serializer):
    present = short(400)
    told = short()
    on = short(20)
    cleared = serializers.BooleanField(required=False)
    cleared_by = short()


class IntakeSerializer(serializers.Serializer):
    vet_team = VetSerializer(many=True, required=False)
    weights = WeighingSerializer(many=True, required=False)
    muscle_condition = serializers.ChoiceField(
        ["", "normal", "mild", "moderate", "severe"], required=False
    )
    housing = short()
    way_of_feeding = short()
    medicines = MedicineSerializer(many=True, required=False)
    medicines_asked = serializers.BooleanField(required=False)
    reactions_asked = serializers.BooleanField(required=False)
    current_diet = DietItemSerializer(many=True, required=False)
    owner = OwnerSerializer(required=False)
    red_flags = RedFlagsSerializer(required=False)
    life_stage_confirmed = serializers.BooleanField(required=False)


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


class CaseSerializer(serializers.ModelSerializer):
    dog = DogSerializer()
    recipes = RecipeRefSerializer(many=True, read_only=True)
    conditions = ConditionSerializer(many=True, required=False)
    reactions = ReactionSerializer(many=True, required=False)
    intake = IntakeSerializer(required=False)

    class Meta:
        model = Case
        fields = [
            "id", "version", "title", "dog", "conditions", "reactions", "energy_method",
            "multiplier", "kcal_per_day", "standard", "life_stage", "data_policy", "strict_groups",
            "intake", "energy_reason",
            "meals_per_day", "notes", "updated", "recipes",
        ]  # fmt: skip
        read_only_fields = ["updated"]

    def validate_meals_per_day(self, value: int) -> int:
        if not 1 <= value <= 12:
            raise serializers.ValidationError("meals a day must be 1 to 12")
        return value


class NewCaseSerializer(serializers.Serializer):
    """A case from the little that is needed to start."""

    client_name = serializers.CharField(max_length=120)
    dog_name = serializers.CharField(max_length=80)
    weight_kg = serializers.FloatField()
    breed = serializers.CharField(max_length=120, required=False, allow_blank=True, default="")
    age_months = serializers.IntegerField(
        min_value=0, max_value=360, required=False, allow_null=True
    )

    def validate_weight_kg(self, value: float) -> float:
        return DogSerializer().validate_weight_kg(value)


class CasePatchSerializer(serializers.Serializer):
    """Changes to a case and its dog, against the version they were made on."""

    version = serializers.IntegerField()
    intake = IntakeSerializer(required=False)
    energy_reason = short(300)
    dog_name = serializers.CharField(max_length=80, required=False)
    breed = short(120)
    sex = serializers.ChoiceField(["female", "male", "unknown"], required=False)
    title = serializers.CharField(max_length=160, required=False, allow_blank=True)
    energy_method = serializers.ChoiceField(["rer-multiplier", "kcal_per_day"], required=False)
    multiplier = serializers.FloatField(required=False, allow_null=True)
    kcal_per_day = serializers.FloatField(required=False, allow_null=True)
    standard = serializers.CharField(max_length=40, required=False)
    life_stage = serializers.CharField(max_length=40, required=False)
    data_policy = serializers.ChoiceField(["graded", "strict", "cautious"], required=False)
    strict_groups = serializers.ListField(
        child=serializers.ChoiceField(["energy", "amino", "fats", "minerals", "vitamins"]),
        required=False,
    )
    meals_per_day = serializers.IntegerField(required=False, min_value=1, max_value=12)
    notes = serializers.CharField(required=False, allow_blank=True)
    weight_kg = serializers.FloatField(required=False)
    body_condition = serializers.IntegerField(
        required=False, allow_null=True, min_value=1, max_value=9
    )
    ideal_weight_kg = serializers.FloatField(required=False, allow_null=True)
    adult_weight_kg = serializers.FloatField(required=False, allow_null=True)
    age_months = serializers.IntegerField(
        required=False, allow_null=True, min_value=0, max_value=360
    )
    neutered = serializers.BooleanField(required=False, allow_null=True)
    activity = serializers.ChoiceField(["low", "typical", "high", "working"], required=False)
    litter_size = serializers.IntegerField(
        required=False, allow_null=True, min_value=1, max_value=20
    )
    lactation_week = serializers.IntegerField(
        required=False, allow_null=True, min_value=1, max_value=8
    )
    gestation_week = serializers.IntegerField(
        required=False, allow_null=True, min_value=1, max_value=9
    )
    birth_date = serializers.DateField(required=False, allow_null=True)
    conditions = ConditionSerializer(many=True, required=False)
    reactions = ReactionSerializer(many=True, required=False)

    def validate_birth_date(self, value: date | None) -> date | None:
        if value is not None and value > timezone.localdate():
            raise serializers.ValidationError("a birth date lies in the past")
        return value

    def validate_weight_kg(self, value: float) -> float:
        return DogSerializer().validate_weight_kg(value)


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


class LineInSerializer(serializers.Serializer):
    food = serializers.CharField(max_length=80)
    quantity = serializers.CharField(max_length=60)
    note = serializers.CharField(max_length=200, required=False, allow_blank=True)
    preparation = serializers.CharField(max_length=40, required=False, allow_blank=True)
    override = serializers.CharField(max_length=200, required=False, allow_blank=True)

    def to_internal_value(self, data: Any) -> Any:
        """Plain well-formed lines pass at once: this runs on every keystroke of the bench."""
        if isinstance(data, dict):
            food, quantity, note = data.get("food"), data.get("quantity"), data.get("note", "")
            if (
                not {"preparation", "override"} & data.keys()
                and isinstance(food, str) and isinstance(quantity, str) and isinstance(note, str)
                and 0 < len(food) <= 80 and 0 < len(quantity.strip()) <= 60 and len(note) <= 200
            ):  # fmt: skip
                return {"food": food, "quantity": quantity.strip(), "note": note}
        return super().to_internal_value(data)


def line_texts(lines: list[dict[str, Any]]) -> list[LineText]:
    """Validated lines as the core wants them."""
    return [LineText(**line) for line in lines]


class RecipeSerializer(serializers.ModelSerializer):
    lines = LineSerializer(many=True)

    class Meta:
        model = Recipe
        fields = ["id", "case", "version", "name", "covers_days", "lines", "updated"]
        read_only_fields = ["case", "updated"]


class RecipeInSerializer(serializers.Serializer):
    version = serializers.IntegerField()
    name = serializers.CharField(max_length=160)
    covers_days = serializers.FloatField()
    lines = LineInSerializer(many=True)


class NewRecipeSerializer(serializers.Serializer):
    name = serializers.CharField(max_length=160)
    copy_of = serializers.IntegerField(required=False)
