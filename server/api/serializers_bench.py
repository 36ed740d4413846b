"""Shapes of formulation, help, versions, plans and ways of feeding."""

from typing import Any

from diets.models import Plan, RecipeVersion
from rest_framework import serializers

from .serializers import (
    MethodSerializer,
)
from .serializers_analysis import (
    AnalysisSerializer,
    OriginSerializer,
)


class MacroSharesSerializer(serializers.Serializer):
    """Wanted shares of energy, together 1."""

    protein = serializers.FloatField()
    fat = serializers.FloatField()
    carbohydrate = serializers.FloatField()


class ChangeSerializer(serializers.Serializer):
    """What happens to a food; `line` is its position on the bench, null for an added one."""

    line = serializers.IntegerField(allow_null=True)
    food = serializers.CharField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(["kept", "changed", "removed", "added"])
    before_grams = serializers.FloatField()
    after_grams = serializers.FloatField()
    before = serializers.CharField(allow_blank=True)
    after = serializers.CharField(allow_blank=True)
    why = serializers.CharField(allow_blank=True)
    kcal = serializers.FloatField()
    methods = MethodSerializer(many=True)


class PassSerializer(serializers.Serializer):
    goal = serializers.CharField()
    name = serializers.CharField()
    value = serializers.FloatField(allow_null=True)
    proved = serializers.BooleanField()
    seconds = serializers.FloatField()
    solved_again = serializers.BooleanField()


class BindingSerializer(serializers.Serializer):
    key = serializers.CharField()
    bound = serializers.CharField()
    name = serializers.CharField()
    words = serializers.CharField()
    saving = serializers.FloatField()
    origin = OriginSerializer(many=True)


class MemberSerializer(serializers.Serializer):
    kind = serializers.CharField()
    key = serializers.CharField(allow_blank=True)
    words = serializers.CharField()


class WayOutSerializer(serializers.Serializer):
    kind = serializers.CharField()
    key = serializers.CharField(allow_blank=True)
    text = serializers.CharField()


class BenchConflictSerializer(serializers.Serializer):
    kind = serializers.CharField()
    words = serializers.CharField()
    members = MemberSerializer(many=True)
    minimal = serializers.BooleanField()
    ways_out = WayOutSerializer(many=True)
    together = serializers.ListField(child=serializers.CharField())


class WouldHelpSerializer(serializers.Serializer):
    food = serializers.CharField()
    name = serializers.CharField()
    grams = serializers.FloatField()
    text = serializers.CharField()
    shortfall_after = serializers.FloatField(allow_null=True)


class ProposalSerializer(serializers.Serializer):
    """The answer: nothing of it is written until the bench accepts it."""

    state = serializers.ChoiceField(
        ["met", "short", "impossible", "undecided", "time-limit", "cancelled"]
    )
    words = serializers.CharField()
    proved = serializers.BooleanField()
    changes = ChangeSerializer(many=True)
    passes = PassSerializer(many=True)
    binding = BindingSerializer(many=True)
    conflicts = BenchConflictSerializer(many=True)
    help = WouldHelpSerializer(many=True)
    after = AnalysisSerializer(allow_null=True)


class JobSerializer(serializers.Serializer):
    """A formulation that runs or has run."""

    job = serializers.CharField()
    state = serializers.ChoiceField(["waiting", "running", "done"])
    done = serializers.IntegerField()
    of = serializers.IntegerField()
    label = serializers.CharField(allow_blank=True)
    result = ProposalSerializer(allow_null=True)


class ChoiceWordsSerializer(serializers.Serializer):
    id = serializers.CharField()
    name = serializers.CharField()
    words = serializers.CharField(allow_blank=True)


class ModeSerializer(ChoiceWordsSerializer):
    foods = serializers.CharField()
    goals = serializers.ListField(child=serializers.CharField())


class AllowedSerializer(serializers.Serializer):
    food = serializers.CharField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(["food", "supplement"])
    usual = serializers.BooleanField()
    why_not = serializers.CharField(allow_blank=True)


class PartSerializer(serializers.Serializer):
    id = serializers.CharField()
    label = serializers.CharField()


class FormulationChoicesSerializer(serializers.Serializer):
    """What can be asked of a formulation of this case, and what may be added."""

    modes = ModeSerializer(many=True)
    goals = ChoiceWordsSerializer(many=True)
    schools = ChoiceWordsSerializer(many=True)
    ways = ChoiceWordsSerializer(many=True)
    parts = PartSerializer(many=True)
    allowed = AllowedSerializer(many=True)
    max_supplements = serializers.IntegerField()
    time_limit_s = serializers.FloatField()
    present_macros = MacroSharesSerializer(allow_null=True)


class HelpSerializer(serializers.Serializer):
    """A food or supplement that closes a gap, with what else it changes."""

    food = serializers.CharField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(["food", "single", "premix"])
    text = serializers.CharField()
    grams = serializers.FloatField()
    kcal = serializers.FloatField()
    value_after = serializers.FloatField()
    mends = serializers.ListField(child=serializers.CharField())
    breaks = serializers.ListField(child=serializers.CharField())
    grade = serializers.CharField()
    methods = MethodSerializer(many=True)


class RescaledSerializer(serializers.Serializer):
    line = serializers.IntegerField()
    quantity = serializers.CharField()


class SubstituteSerializer(serializers.Serializer):
    food = serializers.CharField()
    name = serializers.CharField()
    quantity = serializers.CharField()
    why_not = serializers.CharField(allow_blank=True)
    methods = MethodSerializer(many=True)


class VersionLineSerializer(serializers.Serializer):
    food = serializers.CharField()
    name = serializers.CharField()
    quantity = serializers.CharField()
    preparation = serializers.CharField(allow_blank=True)


class VersionSerializer(serializers.ModelSerializer):
    lines = serializers.SerializerMethodField()

    class Meta:
        model = RecipeVersion
        fields = ["id", "recipe", "number", "name", "covers_days", "lines", "by", "created"]
        read_only_fields = fields

    def get_lines(self, version: RecipeVersion) -> list[dict[str, Any]]:
        library = self.context["library"]
        return [
            {
                "food": x["food"],
                "name": library.food(x["food"]).name if x["food"] in library else x["food"],
                "quantity": x["quantity"],
                "preparation": x.get("preparation", ""),
            }
            for x in version.lines
        ]


class NameInSerializer(serializers.Serializer):
    name = serializers.CharField(max_length=120, allow_blank=True)


class TurnSerializer(serializers.Serializer):
    recipe = serializers.IntegerField()
    days = serializers.FloatField(min_value=0, max_value=60)


class PlanItemSerializer(serializers.Serializer):
    kind = serializers.ChoiceField(["bought", "topper", "treat", "supplement"])
    food = serializers.CharField(max_length=80)
    quantity = serializers.CharField(max_length=60)


class PlanInSerializer(serializers.ModelSerializer):
    turns = TurnSerializer(many=True)
    items = PlanItemSerializer(many=True)
    version = serializers.IntegerField()

    class Meta:
        model = Plan
        fields = ["version", "turns", "items"]


class BadSerializer(serializers.Serializer):
    key = serializers.CharField()
    name = serializers.CharField()
    status = serializers.CharField()
    urgency = serializers.FloatField()


class PlanDaySerializer(serializers.Serializer):
    name = serializers.CharField()
    days = serializers.FloatField()
    kcal_per_day = serializers.FloatField(allow_null=True)
    bad = BadSerializer(many=True)


class PlanItemOutSerializer(PlanItemSerializer):
    name = serializers.CharField()
    kcal = serializers.FloatField(allow_null=True)


class PlanAnalysisSerializer(serializers.Serializer):
    """A plan: its turns and items, each recipe's day, and the round as a whole."""

    version = serializers.IntegerField()
    turns = TurnSerializer(many=True)
    items = PlanItemOutSerializer(many=True)
    days = PlanDaySerializer(many=True)
    round_days = serializers.FloatField()
    extras_share = serializers.FloatField()
    extras_most = serializers.FloatField()
    extras_source = serializers.CharField()
    analysis = AnalysisSerializer(allow_null=True)
    empty = serializers.BooleanField()
    # Why the plan cannot be computed, "" when it can.
    problem = serializers.CharField(allow_blank=True)
