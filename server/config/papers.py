"""Addresses of documents: each as a page, and with .pdf as a PDF."""

from django.urls import URLPattern, path
from followup.pages import TrialCalendar
from kitchen.pages import BatchPage, FreezerCalendar, LabelsPage
from office.pages import AppointmentCalendar, InvoicePage, InvoicesTable
from plans.pages import PlanShoppingPage
from recipes.pages import (
    IntakePage,
    PlainVerdictPage,
    RecipeSheetPage,
    ShoppingPage,
    VerdictPage,
    VersionSheetPage,
)
from records.pages import Paper
from release.pages import ReleasedPage, ReportPage, VersionLetterPage


def both(route: str, view: type[Paper]) -> list[URLPattern]:
    """A document at its address, and its PDF beside it."""
    return [path(route, view.as_view()), path(f"{route}.pdf", view.as_view(), {"form": "pdf"})]


urlpatterns = [
    *both("recipes/<int:pk>/sheet", RecipeSheetPage),
    *both("recipes/<int:pk>/verdict", VerdictPage),
    *both("recipes/<int:pk>/verdict-adult", PlainVerdictPage),
    *both("recipes/<int:pk>/shopping", ShoppingPage),
    *both("cases/<int:pk>/shopping", PlanShoppingPage),
    *both("versions/<int:pk>/sheet", VersionSheetPage),
    *both("versions/<int:pk>/letter", VersionLetterPage),
    *both("versions/<int:pk>/owner", ReleasedPage),
    *both("versions/<int:pk>/report", ReportPage),
    *both("cases/<int:pk>/intake", IntakePage),
    *both("batches/<int:pk>", BatchPage),
    path("batches/<int:pk>/labels.pdf", LabelsPage.as_view()),
    *both("invoices/<int:pk>", InvoicePage),
    path("invoices.csv", InvoicesTable.as_view()),
    path("appointments/<int:pk>.ics", AppointmentCalendar.as_view()),
    path("cases/<int:pk>/freezer.ics", FreezerCalendar.as_view()),
    path("cases/<int:pk>/trial.ics", TrialCalendar.as_view()),
]
