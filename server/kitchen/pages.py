"""Documents of batches, for those who are signed in."""

from accounts.scoping import own
from django.http import HttpResponse
from recipes.dossiers import parties_of
from records.pages import Paper, paper
from rest_framework.request import Request
from wainscot_core.documents.batch import BatchWords, batch_sheet

from .models import Batch
from .views import batch_view


class BatchPage(Paper):
    """What goes into each vessel of a batch, and what each dog gets of it."""

    def get(self, request: Request, pk: int, form: str = "") -> HttpResponse:
        batch = own(
            Batch, request, pk, "recipe__case__dog__client__practice", "recipe__case__practice",
            "release_version",
        )  # fmt: skip
        seen = batch_view(batch)
        version = batch.release_version
        release = version.releases.first() if version else None
        what = BatchWords(
            code=batch.code, recipe=batch.recipe.name, edition=seen.edition, cook_on=batch.cook_on,
            approved=release.approved if release else "",
        )  # fmt: skip
        made = batch_sheet(parties_of(batch.recipe.case), what, seen.plan)
        back = f"/cases/{batch.recipe.case_id}/kitchen"
        return paper(made, form, f"/papers/batches/{pk}", back)
