"""Addresses of the API."""

from django.http import HttpRequest, JsonResponse
from django.urls import path, re_path
from drf_spectacular.views import SpectacularAPIView

from . import (
    views_cases,
    views_formulation,
    views_library,
    views_own_foods,
    views_plans,
    views_recipes,
    views_session,
    views_standards,
    views_targets,
)
from .errors import error_body


def nothing_here(request: HttpRequest) -> JsonResponse:
    """Any other address under /api/."""
    return JsonResponse(error_body("", "There is nothing at this address."), status=404)


urlpatterns = [
    path("schema", SpectacularAPIView.as_view()),
    path("session", views_session.SessionView.as_view()),
    path("session/sign-in", views_session.SignInView.as_view()),
    path("session/sign-out", views_session.SignOutView.as_view()),
    path("setup", views_session.SetUpView.as_view()),
    path("cases", views_cases.CaseListView.as_view()),
    path("cases/<int:pk>", views_cases.CaseDetailView.as_view()),
    path("cases/file", views_targets.CaseImportView.as_view()),
    path("cases/<int:pk>/archive", views_cases.ArchiveView.as_view()),
    path("cases/<int:pk>/recipes", views_cases.CaseRecipesView.as_view()),
    path("recipes/<int:pk>", views_recipes.RecipeView.as_view()),
    path("recipes/<int:pk>/analysis", views_recipes.AnalysisView.as_view()),
    path("recipes/<int:pk>/explain", views_recipes.ExplainView.as_view()),
    path("cases/<int:pk>/energy", views_targets.EnergyView.as_view()),
    path("cases/<int:pk>/volume", views_targets.VolumeView.as_view()),
    path("cases/<int:pk>/targets", views_targets.TargetsView.as_view()),
    path("cases/<int:pk>/targets/export", views_targets.TargetsExportView.as_view()),
    path("cases/<int:pk>/file", views_targets.CaseFileView.as_view()),
    path("recipes/<int:pk>/formulate", views_formulation.FormulateView.as_view()),
    path("recipes/<int:pk>/help", views_formulation.HelpView.as_view()),
    path("recipes/<int:pk>/rescale", views_formulation.RescaleView.as_view()),
    path("recipes/<int:pk>/template", views_formulation.TemplateView.as_view()),
    path("recipes/<int:pk>/substitute", views_formulation.SubstituteView.as_view()),
    path("recipes/<int:pk>/versions", views_plans.VersionListView.as_view()),
    path("versions/<int:pk>", views_plans.VersionView.as_view()),
    path("versions/<int:pk>/restore", views_plans.RestoreView.as_view()),
    path("versions/<int:pk>/branch", views_plans.BranchView.as_view()),
    path("formulations/<str:job>", views_formulation.JobView.as_view()),
    path("cases/<int:pk>/formulation", views_formulation.FormulationChoicesView.as_view()),
    path("cases/<int:pk>/plan", views_plans.PlanView.as_view()),
    path("conditions", views_targets.ConditionListView.as_view()),
    path("cases/<int:pk>/client-foods", views_library.ClientFoodsView.as_view()),
    path("foods", views_library.FoodSearchView.as_view()),
    path("foods/<str:food_id>", views_library.ProfileView.as_view()),
    path("library", views_library.ShelfView.as_view()),
    path("own-foods", views_own_foods.OwnFoodListView.as_view()),
    path("own-foods/label", views_own_foods.LabelView.as_view()),
    path("own-foods/import", views_own_foods.ImportView.as_view()),
    path("own-foods/export", views_own_foods.ExportView.as_view()),
    path("own-foods/<int:pk>", views_own_foods.OwnFoodView.as_view()),
    path("standards", views_standards.StandardListView.as_view()),
    path("standards/<str:standard_id>", views_standards.StandardView.as_view()),
    path("standards/<str:standard_id>/check", views_standards.CheckView.as_view()),
    path("standards/<str:standard_id>/export", views_standards.StandardExportView.as_view()),
    path("cases/<int:pk>/intake", views_targets.IntakeView.as_view()),
    re_path(r"^.*$", nothing_here),
]
