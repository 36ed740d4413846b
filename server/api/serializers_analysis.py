"""Shapes of an analysis: nutrients with origins, ratios, flags, traces."""

from rest_framework import serializers
from wainscot_core.adequacy import Status

STATUSES = [s.value for s in Status]


class MarkSerializer(serializers.Serializer):
    food = serializers.CharField()
    mark = serializers.ChoiceField(["unavailable", "cannot-get", "will-not-use"])


class CostSerializer(serializers.Serializer):
    lines = serializers.ListField(child=serializers.FloatField(allow_null=True))
    batch = serializers.FloatField()
    per_day = serializers.FloatField()
    unpriced = serializers.IntegerField()


class SecondLimitSerializer(serializers.Serializer):
    min = serializers.FloatField(allow_null=True)
    max = serializers.FloatField(allow_null=True)
    status = serializers.ChoiceField(STATUSES)


class QuantitySerializer(serializers.Serializer):
    name = serializers.CharField()
    value = serializers.FloatField()
    unit = serializers.CharField()
    source = serializers.CharField()


class StepSerializer(serializers.Serializer):
    label = serializers.CharField()
    formula = serializers.CharField()
    inputs = QuantitySerializer(many=True)
    value = serializers.FloatField()
    unit = serializers.CharField()
    source = serializers.CharField()
    confidence = serializers.CharField()


class EnergyReportSerializer(serializers.Serializer):
    rer_kcal = serializers.FloatField()
    target_kcal = serializers.FloatField()
    steps = StepSerializer(many=True)


class OriginSerializer(serializers.Serializer):
    which = serializers.ChoiceField(["min", "recommended", "max"])
    value = serializers.FloatField()
    unit = serializers.CharField()
    source = serializers.CharField()
    citation = serializers.CharField()
    confidence = serializers.CharField()
    checked = serializers.BooleanField()
    printed = serializers.CharField()
    note = serializers.CharField()


class NutrientSerializer(serializers.Serializer):
    key = serializers.CharField()
    name = serializers.CharField()
    short = serializers.CharField()
    unit = serializers.CharField()
    group = serializers.CharField()
    decimals = serializers.IntegerField()
    board = serializers.BooleanField()
    total = serializers.FloatField(allow_null=True)
    per_day = serializers.FloatField(allow_null=True)
    per_1000_kcal = serializers.FloatField(allow_null=True)
    per_100g_dry_matter = serializers.FloatField(allow_null=True)
    per_100g_as_fed = serializers.FloatField(allow_null=True)
    per_kg75 = serializers.FloatField(allow_null=True)
    min = serializers.FloatField(allow_null=True)
    recommended = serializers.FloatField(allow_null=True)
    max = serializers.FloatField(allow_null=True)
    safe_limit = serializers.FloatField(allow_null=True)
    status = serializers.ChoiceField(STATUSES)
    breaks = serializers.BooleanField()
    against = serializers.FloatField(allow_null=True)
    urgency = serializers.FloatField()
    why = serializers.CharField()
    maximum_unproven = serializers.BooleanField()
    known_share = serializers.FloatField()
    estimated_share = serializers.FloatField()
    unknown_lines = serializers.IntegerField()
    origin = OriginSerializer(many=True)


class RatioSerializer(serializers.Serializer):
    key = serializers.CharField()
    name = serializers.CharField()
    short = serializers.CharField()
    value = serializers.FloatField(allow_null=True)
    min = serializers.FloatField(allow_null=True)
    max = serializers.FloatField(allow_null=True)
    safe_limit = serializers.FloatField(allow_null=True)
    status = serializers.ChoiceField(STATUSES)
    breaks = serializers.BooleanField()
    against = serializers.FloatField(allow_null=True)
    urgency = serializers.FloatField()
    unknown_lines = serializers.IntegerField()
    origin = OriginSerializer(many=True)
    formula = serializers.CharField()
    window_min = serializers.FloatField(allow_null=True)
    window_max = serializers.FloatField(allow_null=True)
    window_source = serializers.CharField(allow_blank=True)


class MacrosSerializer(serializers.Serializer):
    """Shares of energy (0 to 1), kcal/g as fed, moisture of weight, fibre of dry matter."""

    protein = serializers.FloatField()
    fat = serializers.FloatField()
    carbohydrate = serializers.FloatField()
    kcal_per_gram = serializers.FloatField()
    moisture = serializers.FloatField()
    fibre_dry_matter = serializers.FloatField()
    fibre_known = serializers.BooleanField()
    source = serializers.CharField()


class AminoShareSerializer(serializers.Serializer):
    """An amino acid relative to lysine, here and in the standard, and over its minimum."""

    key = serializers.CharField()
    name = serializers.CharField()
    per_lysine = serializers.FloatField()
    wanted = serializers.FloatField()
    of_minimum = serializers.FloatField()


class WithoutSerializer(serializers.Serializer):
    """What leaving a line out would lose and mend."""

    line = serializers.IntegerField()
    lost = serializers.ListField(child=serializers.CharField())
    mended = serializers.ListField(child=serializers.CharField())


class GaugeSerializer(serializers.Serializer):
    """A part of a way of feeding beside its wanted share."""

    group = serializers.CharField()
    label = serializers.CharField()
    wanted = serializers.FloatField()
    grams = serializers.FloatField()
    share = serializers.FloatField()
    at_least = serializers.BooleanField()


class FlagSerializer(serializers.Serializer):
    kind = serializers.CharField()
    severity = serializers.ChoiceField(["block", "warn"])
    food = serializers.CharField(allow_null=True)
    title = serializers.CharField()
    why = serializers.CharField()
    do = serializers.CharField()
    source = serializers.CharField()


class LineReportSerializer(serializers.Serializer):
    food = serializers.CharField()
    name = serializers.CharField()
    grams = serializers.FloatField()
    kcal = serializers.FloatField(allow_null=True)
    basis = serializers.CharField()
    preparation = serializers.CharField(allow_null=True)
    preparation_label = serializers.CharField(allow_null=True)
    fed_grams = serializers.FloatField()
    household = serializers.CharField(allow_null=True)
    household_error = serializers.FloatField(allow_null=True)


class RecipeReportSerializer(serializers.Serializer):
    grams = serializers.FloatField()
    grams_per_day = serializers.FloatField()
    dry_matter_grams = serializers.FloatField()
    kcal = serializers.FloatField()
    kcal_per_gram = serializers.FloatField(allow_null=True)
    kcal_per_day = serializers.FloatField()
    covers_days = serializers.FloatField()
    lines = LineReportSerializer(many=True)


class ReadingSerializer(serializers.Serializer):
    """One way an amount can be read."""

    text = serializers.CharField()
    grams = serializers.FloatField()


class LineErrorSerializer(serializers.Serializer):
    line = serializers.IntegerField()
    field = serializers.CharField()
    message = serializers.CharField()
    readings = ReadingSerializer(many=True)


class AnalysisSerializer(serializers.Serializer):
    """`positions[i]` is the line that `recipe.lines[i]` and `contributions[i]` stand for."""

    energy = EnergyReportSerializer()
    requirements = serializers.CharField()
    policy = serializers.CharField()
    second = serializers.DictField(child=SecondLimitSerializer())
    second_name = serializers.CharField(allow_blank=True)
    cost = CostSerializer()
    marks = MarkSerializer(many=True)
    recipe = RecipeReportSerializer()
    nutrients = NutrientSerializer(many=True)
    contributions = serializers.ListField(
        child=serializers.ListField(child=serializers.FloatField(allow_null=True))
    )
    ratios = RatioSerializer(many=True)
    flags = FlagSerializer(many=True)
    macros = MacrosSerializer(allow_null=True)
    amino_pattern = AminoShareSerializer(many=True)
    without = WithoutSerializer(many=True)
    gauges = GaugeSerializer(many=True)
    way_caution = serializers.CharField(allow_blank=True)
    positions = serializers.ListField(child=serializers.IntegerField())
    line_errors = LineErrorSerializer(many=True)


class LineSourceSerializer(serializers.Serializer):
    line = serializers.IntegerField()
    food = serializers.CharField()
    name = serializers.CharField()
    grams = serializers.FloatField()
    per_100_g = serializers.FloatField(allow_null=True)
    amount = serializers.FloatField(allow_null=True)
    share = serializers.FloatField(allow_null=True)
    grade = serializers.CharField()
    provenance = serializers.CharField()
    citation = serializers.CharField()
    confidence = serializers.CharField()


class ExplainSerializer(serializers.Serializer):
    key = serializers.CharField()
    lines = LineSourceSerializer(many=True)
    steps = StepSerializer(many=True)
