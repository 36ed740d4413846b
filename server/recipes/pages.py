"""Documents of recipes, versions and cases, for those who are signed in."""

from accounts.scoping import own
from cases.queries import case_of
from django.http import HttpResponse
from django.utils import timezone
from library.facts import reference
from records.pages import Paper, paper
from rest_framework.request import Request
from wainscot_core.conventions import day
from wainscot_core.documents import document
from wainscot_core.documents.paper import DocumentKind
from wainscot_core.documents.verdict import verdict_sheet

from .asks import recipe_of
from .dossiers import frozen, frozen_case, recipe_dossier, verdict_of
from .models import RecipeVersion
from .shopping import shopping_paper
from .versions import edition_of, snapshot_of


class RecipeSheetPage(Paper):
    """The kitchen sheet of a recipe as it is stored now: a draft."""

    def get(self, request: Request, pk: int, form: str = "") -> HttpResponse:
        recipe = recipe_of(request, pk)
        made = document(
            DocumentKind.SHEET, frozen(recipe, timezone.localdate()), "Draft, not kept as a version"
        )
        back = f"/cases/{recipe.case_id}/recipes/{recipe.pk}"
        return paper(made, form, f"/papers/recipes/{pk}/sheet", back)


class VersionSheetPage(Paper):
    """The kitchen sheet of a version, as it was computed when it was kept."""

    def get(self, request: Request, pk: int, form: str = "") -> HttpResponse:
        version = own(RecipeVersion, request, pk, "recipe", "snapshot")
        made = document(DocumentKind.SHEET, snapshot_of(version).kept, edition_of(version))
        back = f"/cases/{version.recipe.case_id}/recipes/{version.recipe_id}"
        return paper(made, form, f"/papers/versions/{pk}/sheet", back)


class VerdictPage(Paper):
    """How a recipe does for its dog, as it is stored now."""

    plain = False

    def get(self, request: Request, pk: int, form: str = "") -> HttpResponse:
        recipe = recipe_of(request, pk)
        today = timezone.localdate()
        kept, taking = verdict_of(recipe, self.plain, today)
        on = day(kept.parties.conventions, today, long=True)
        whom = "a plain adult dog" if self.plain else kept.case.dog.name
        made = verdict_sheet(kept, reference().as_it_is, taking, whom, f"As it stood on {on}")
        name = "verdict-adult" if self.plain else "verdict"
        back = f"/cases/{recipe.case_id}/recipes/{recipe.pk}"
        return paper(made, form, f"/papers/recipes/{pk}/{name}", back)


class PlainVerdictPage(VerdictPage):
    """How it does for a plain adult dog of the same weight."""

    plain = True


class ShoppingPage(Paper):
    """The shop list of a recipe as it is stored now."""

    def get(self, request: Request, pk: int, form: str = "") -> HttpResponse:
        recipe = recipe_of(request, pk)
        back = f"/cases/{recipe.case_id}/recipes/{recipe.pk}"
        return shopping_paper(
            request, recipe.case, recipe_dossier(recipe), f"“{recipe.name}”",
            f"/papers/recipes/{pk}/shopping", back, form,
        )  # fmt: skip


class IntakePage(Paper):
    """The intake sheet of a case, as it stands."""

    def get(self, request: Request, pk: int, form: str = "") -> HttpResponse:
        case = case_of(request, pk)
        today = timezone.localdate()
        kept = frozen_case(case, today)
        on = day(kept.parties.conventions, today, long=True)
        made = document(DocumentKind.INTAKE, kept, f"As it stood on {on}")
        return paper(made, form, f"/papers/cases/{pk}/intake", f"/cases/{pk}/intake")
