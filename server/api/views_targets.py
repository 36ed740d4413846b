"""Energy methods, merged targets, conflicts and decisions, the case file."""

import csv
import io
from typing import Any

from cases.models import Case
from diets.casefiles import case_file, import_case
from diets.dossiers import case_energy, case_merged
from diets.energy import energy_view, life_stage_of, volume
from diets.lines import stored_lines
from diets.models import Recipe
from diets.services import StaleWriteError
from django.db import transaction
from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from library.facts import reference
from library.practice import library_for
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView
from wainscot_core.conditions import stage_of
from wainscot_core.errors import InputError
from wainscot_core.intake import missing_facts, present_intake, stopped
from wainscot_core.interactions import met_by
from wainscot_core.report import clean, energy_report, limit_origins, merged_report
from wainscot_core.requirements import Decision, check_decision
from wainscot_core.standards import Limit

from .asks import case_of
from .case_views import CaseView, case_view
from .serializers import (
    ErrorSerializer,
    IntakeViewSerializer,
)
from .serializers_targets import (
    ConditionChoiceSerializer,
    DecisionSerializer,
    EnergyViewSerializer,
    TargetsSerializer,
    VolumeInSerializer,
    VolumeOutSerializer,
)
from .wire import answer


class EnergyView(APIView):
    """Every method side by side for this dog."""

    @extend_schema(responses={200: EnergyViewSerializer, 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> Response:
        case = case_of(request, pk)
        return Response(energy_view(case, energy_report(case_energy(case))))


def recipe_in(case: Case, pk: int) -> Recipe:
    """A recipe of this very case; 404 for that of another one."""
    recipe = case.recipes.filter(pk=pk).first()
    if recipe is None:
        raise Http404("This case has no such recipe.")
    return recipe


class VolumeView(APIView):
    """What a volume rule gives this dog with one of its recipes."""

    @extend_schema(
        request=VolumeInSerializer,
        responses={200: VolumeOutSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        case = case_of(request, pk)
        form = VolumeInSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        recipe = recipe_in(case, form.validated_data["recipe"])
        library = library_for(request.user.practice)
        lines = stored_lines(recipe, library)
        step, _ = volume(case, library, list(lines), form.validated_data["rule"])
        return Response(
            {"step": step.as_dict(), "share_of_target": step.value / case_energy(case).target_kcal}
        )


def _name(key: str) -> str:
    catalogue = reference().catalogue
    return next((r.name for r in catalogue.ratios if r.key == key), None) or catalogue.get(key).name


def limit_data(limit: Limit, kcal_per_day: float) -> dict[str, Any]:
    """A merged limit per 1000 kcal and for this dog's day."""
    day = kcal_per_day / 1000 if limit.unit != "ratio" else 1.0
    return {
        "key": limit.key,
        "name": _name(limit.key),
        "unit": limit.unit,
        "min": clean(limit.minimum),
        "recommended": clean(limit.recommended),
        "max": clean(limit.maximum),
        "safe_limit": clean(limit.safe),
        "min_per_day": None if limit.minimum is None else clean(limit.minimum * day),
        "max_per_day": None if limit.maximum is None else clean(limit.maximum * day),
        "origin": limit_origins(limit),
    }


def targets_data(case: Case) -> dict[str, Any]:
    """The merged targets of a case."""
    merged, kcal = case_merged(case), case_energy(case).target_kcal
    words = []
    for entry in case.conditions:
        condition = reference().conditions[entry["id"]]
        stage = stage_of(condition, entry.get("stage", ""))
        words.append(
            {
                "id": condition.id, "name": condition.name, "stage": condition.stages[stage],
                "words": condition.words, "recheck_days": condition.recheck_days[stage],
                "sign_off": condition.sign_off[stage], "source": condition.source,
            }
        )  # fmt: skip
    return {
        "name": merged.requirements.name,
        "kcal_per_day": clean(kcal),
        "limits": [limit_data(x, kcal) for x in merged.requirements.limits.values()],
        **merged_report(merged),
        "conditions": words,
        "interactions": [
            {
                "named": m.named, "medicine": m.interaction.medicine,
                "food_or_nutrient": m.interaction.food_or_nutrient,
                "effect": m.interaction.effect, "action": m.interaction.action,
                "do": m.interaction.do, "why": m.interaction.why,
                "source": m.interaction.source, "confidence": m.interaction.confidence,
            }
            for m in met_by(
                reference().interactions, [x["name"] for x in case.intake.get("medicines", [])]
            )
        ],
    }  # fmt: skip


class IntakeView(APIView):
    """What intake still lacks, what stops the case, and what follows from what was said."""

    @extend_schema(responses={200: IntakeViewSerializer, 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> Response:
        case = case_of(request, pk)
        dog = case.dog
        missing = missing_facts(
            {
                "dog": {
                    "age_months": dog.age, "neutered": dog.neutered,
                    "body_condition": dog.body_condition, "adult_weight_kg": dog.adult_weight_kg,
                },
                "intake": case.intake,
            }
        )  # fmt: skip
        present = present_intake(case.intake.get("current_diet", []))
        breeds = reference().breeds["breeds"]
        breed = next((b for b in breeds if b["name"].lower() == dog.breed.lower()), None)
        adult = dog.adult_weight_kg or dog.weight_kg
        size = next(name for limit, name in reference().breeds["size_classes"] if adult <= limit)
        flags = [
            reference().conditions[c["id"]].words.get("red_flags", "") for c in case.conditions
        ]
        return Response(
            {
                "missing": [{"field": m.field, "what": m.what, "why": m.why} for m in missing],
                "stopped": stopped(case.intake),
                "red_flags": [f for f in flags if f],
                "present": {
                    "kcal": present.kcal, "unknown_items": present.unknown_items, "shares": present.shares,
                },
                "life_stage": life_stage_of(case),
                "size_class": size,
                "breeds": [b["name"] for b in breeds],
                "breed_weight": f"{breed['low']:g} to {breed['high']:g} kg, typical, recalled" if breed else "",
            }
        )  # fmt: skip


class TargetsView(APIView):
    """Standard, life stage and conditions merged, with every origin and conflict."""

    @extend_schema(responses={200: TargetsSerializer, 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> Response:
        return Response(targets_data(case_of(request, pk)))

    @extend_schema(
        request=DecisionSerializer,
        responses={200: TargetsSerializer, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def post(self, request: Request, pk: int) -> Response:
        """Decide about a limit, with a reason; or take a decision back."""
        case = case_of(request, pk)
        form = DecisionSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        data = form.validated_data
        kept = [d for d in case.decisions if (d["key"], d["bound"]) != (data["key"], data["bound"])]
        if not data.get("undo"):
            decision = check_decision(
                reference().catalogue,
                Decision(
                    data["key"],
                    data["bound"],
                    data.get("value"),
                    data.get("by", ""),
                    data.get("reason", ""),
                ),
            )
            kept.append(
                {
                    "key": decision.key,
                    "bound": decision.bound,
                    "value": decision.value,
                    "by": decision.by,
                    "reason": decision.reason,
                }
            )
        updated = Case.objects.filter(pk=case.pk, version=case.version).update(
            decisions=kept, version=case.version + 1
        )
        if not updated:
            raise StaleWriteError(case)
        return Response(targets_data(case_of(request, pk)))

    def represent(self, case: Case) -> Any:
        """The stored case's targets, for a stale write."""
        return targets_data(case)


class TargetsExportView(APIView):
    """The merged requirement set as CSV."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.STR, 404: ErrorSerializer})
    def get(self, request: Request, pk: int) -> HttpResponse:
        case = case_of(request, pk)
        data = targets_data(case)
        out = io.StringIO()
        writer = csv.writer(out, lineterminator="\n")
        writer.writerow(
            ["key", "name", "unit", "min_per_1000_kcal", "recommended_per_1000_kcal", "max_per_1000_kcal", "safe_limit_per_1000_kcal",
             "min_per_day", "max_per_day", "set_by"]
        )  # fmt: skip
        for x in data["limits"]:
            sources = "; ".join(
                f"{o['which']} {o['printed']}: {o['source']} ({o['citation']})" for o in x["origin"]
            )
            writer.writerow(
                [
                    x["key"],
                    x["name"],
                    x["unit"],
                    x["min"],
                    x["recommended"],
                    x["max"],
                    x["safe_limit"],
                    x["min_per_day"],
                    x["max_per_day"],
                    sources,
                ]
            )
        name = f"targets-{case.pk}.csv"
        return HttpResponse(
            out.getvalue(),
            content_type="text/csv",
            headers={"Content-Disposition": f'attachment; filename="{name}"'},
        )


class ConditionListView(APIView):
    """The conditions that can be chosen, with their stages."""

    @extend_schema(responses=ConditionChoiceSerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(
            [
                {
                    "id": c.id,
                    "name": c.name,
                    "stages": [{"id": k, "name": v} for k, v in c.stages.items()],
                }
                for c in reference().conditions.values()
            ]
        )


class CaseFileView(APIView):
    """The case with one recipe as a case file (docs/formats/case.schema.json)."""

    @extend_schema(
        parameters=[OpenApiParameter("recipe", int, required=True)],
        responses={200: OpenApiTypes.OBJECT, 400: ErrorSerializer, 404: ErrorSerializer},
    )
    def get(self, request: Request, pk: int) -> Response:
        case = case_of(request, pk)
        number = request.query_params.get("recipe") or ""
        if not number.isdecimal():
            raise InputError("recipe", "give the number of a recipe of this case")
        return Response(case_file(case, recipe_in(case, int(number))))


class CaseImportView(APIView):
    """Make a case from a case file (docs/formats/case.schema.json)."""

    @extend_schema(request=OpenApiTypes.OBJECT, responses={201: CaseView, 400: ErrorSerializer})
    @transaction.atomic
    def post(self, request: Request) -> HttpResponse:
        """What is stored can be read back, or nothing is stored."""
        if not isinstance(request.data, dict):
            raise InputError("", "a case file is one JSON object")
        case = import_case(request.user.practice, request.data)
        return answer(case_view(case_of(request, case.pk)), status=201)
