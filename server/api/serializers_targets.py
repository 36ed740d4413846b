"""Shapes of energy, merged targets, conflicts, decisions and standards."""

from rest_framework import serializers

from .serializers_analysis import EnergyReportSerializer, OriginSerializer, StepSerializer


class LifeStageSerializer(serializers.Serializer):
    id = serializers.CharField()
    name = serializers.CharField()


class StandardSerializer(serializers.Serializer):
    id = serializers.CharField()
    name = serializers.CharField()
    citation = serializers.CharField()
    checked = serializers.CharField()
    life_stages = LifeStageSerializer(many=True)


class EstimateSerializer(serializers.Serializer):
    id = serializers.CharField()
    school = serializers.CharField()
    label = serializers.CharField()
    kcal = serializers.FloatField()
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    step = StepSerializer()


class IdealWeightSerializer(serializers.Serializer):
    typical_kg = serializers.FloatField()
    low_kg = serializers.FloatField()
    high_kg = serializers.FloatField()
    steps = StepSerializer(many=True)


class WeightPlanSerializer(serializers.Serializer):
    target_kg = serializers.FloatField()
    pct_per_week = serializers.FloatField()
    start_kcal = serializers.FloatField()
    floor_kcal = serializers.FloatField()
    weeks = serializers.IntegerField()
    expected = serializers.DateField()
    weights_kg = serializers.ListField(child=serializers.FloatField())
    steps = StepSerializer(many=True)


class EnergyViewSerializer(serializers.Serializer):
    """Every method side by side; `life_stage` is derived from age, weight and activity."""

    life_stage = serializers.CharField()
    chosen = EnergyReportSerializer()
    estimates = EstimateSerializer(many=True)
    ideal = IdealWeightSerializer(allow_null=True)
    plan = WeightPlanSerializer(allow_null=True)


class VolumeInSerializer(serializers.Serializer):
    rule = serializers.CharField(max_length=200)
    recipe = serializers.IntegerField()


class VolumeOutSerializer(serializers.Serializer):
    step = StepSerializer()
    share_of_target = serializers.FloatField()


class MergedLimitSerializer(serializers.Serializer):
    key = serializers.CharField()
    name = serializers.CharField()
    unit = serializers.CharField()
    min = serializers.FloatField(allow_null=True)
    recommended = serializers.FloatField(allow_null=True)
    max = serializers.FloatField(allow_null=True)
    safe_limit = serializers.FloatField(allow_null=True)
    min_per_day = serializers.FloatField(allow_null=True)
    max_per_day = serializers.FloatField(allow_null=True)
    origin = OriginSerializer(many=True)


class ConflictOptionSerializer(serializers.Serializer):
    id = serializers.CharField()
    text = serializers.CharField()
    bound = serializers.ChoiceField(["min", "max"])
    value = serializers.FloatField()
    whose = serializers.CharField()


class DecidedSerializer(serializers.Serializer):
    by = serializers.CharField()
    reason = serializers.CharField()


class ConflictSerializer(serializers.Serializer):
    key = serializers.CharField()
    name = serializers.CharField()
    kind = serializers.CharField()
    words = serializers.CharField()
    floor = serializers.FloatField()
    ceiling = serializers.FloatField()
    unit = serializers.CharField()
    options = ConflictOptionSerializer(many=True)
    decided = DecidedSerializer(allow_null=True)


class ConditionWordsSerializer(serializers.Serializer):
    """What a condition of the case asks beside numbers."""

    id = serializers.CharField()
    name = serializers.CharField()
    stage = serializers.CharField()
    words = serializers.DictField(child=serializers.CharField())
    recheck_days = serializers.IntegerField()
    sign_off = serializers.CharField()
    source = serializers.CharField()


class InteractionSerializer(serializers.Serializer):
    """A recorded medicine and the food or nutrient it meets."""

    named = serializers.CharField()
    medicine = serializers.CharField()
    food_or_nutrient = serializers.CharField()
    effect = serializers.CharField()
    action = serializers.ChoiceField(["block", "warn", "note"])
    do = serializers.CharField()
    why = serializers.CharField()
    source = serializers.CharField()
    confidence = serializers.CharField()


class TargetsSerializer(serializers.Serializer):
    name = serializers.CharField()
    kcal_per_day = serializers.FloatField()
    limits = MergedLimitSerializer(many=True)
    conflicts = ConflictSerializer(many=True)
    sign_off = serializers.ListField(child=serializers.CharField())
    under_standard = serializers.ListField(child=serializers.CharField())
    conditions = ConditionWordsSerializer(many=True)
    interactions = InteractionSerializer(many=True)


class DecisionSerializer(serializers.Serializer):
    """`value` null takes the bound away; `undo` forgets the decision."""

    key = serializers.CharField(max_length=20)
    bound = serializers.ChoiceField(["min", "max"])
    value = serializers.FloatField(allow_null=True, required=False)
    by = serializers.CharField(max_length=120, required=False, allow_blank=True)
    reason = serializers.CharField(max_length=500, required=False, allow_blank=True)
    undo = serializers.BooleanField(required=False)


class StageSerializer(serializers.Serializer):
    id = serializers.CharField()
    name = serializers.CharField()


class ConditionChoiceSerializer(serializers.Serializer):
    id = serializers.CharField()
    name = serializers.CharField()
    stages = StageSerializer(many=True)
