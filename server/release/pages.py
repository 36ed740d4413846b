"""The vet's page: the case, the plan against its limits, what was decided, and the answer. No account, one plan."""

from typing import Any

from accounts.scoping import own
from django.http import HttpResponse
from django.middleware.csrf import get_token
from django.template.loader import render_to_string
from recipes.models import RecipeVersion
from recipes.versions import edition_of, snapshot_of
from records.pages import Paper, page, paper
from records.printing import problem_page
from rest_framework.authentication import CSRFCheck
from rest_framework.parsers import FormParser
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from wainscot_core.boundary import read
from wainscot_core.documents import document
from wainscot_core.documents.letter import vet_letter
from wainscot_core.documents.paper import Document, DocumentKind
from wainscot_core.errors import InputError
from wainscot_core.release.differences import Differences, differences
from wainscot_core.release.states import ReleaseState

from .actions import VetAnswer, answer_as_vet, visited
from .links import request_of, vet_path
from .models import VetRequest
from .queries import issued_release

# What the buttons of the form say, and what they mean.
ANSWERS = {"approve": True, "changes": False, "decline": False}


def letter_of(asked: VetRequest) -> Document:
    """The letter of a frozen version, with what changed since the issued one."""
    version = asked.frozen
    return letter(version, asked.release.approved)


def letter(version: RecipeVersion, approved: str) -> Document:
    """The letter of a version."""
    edition = edition_of(version)
    return vet_letter(snapshot_of(version).kept, edition, approved, _changes(version))


def _changes(version: RecipeVersion) -> Differences | None:
    issued = issued_release(version.recipe)
    before = issued.frozen if issued else None
    if before is None or before.pk == version.pk or before.snapshot is None:
        return None
    return differences(before.snapshot.kept, snapshot_of(version).kept)


class VetPage(Paper):
    """What a vet is asked to sign, for whoever holds the address."""

    permission_classes = [AllowAny]
    authentication_classes = []
    parser_classes = [FormParser]

    def finalize_response(self, request: Any, response: Any, *args: Any, **kwargs: Any) -> Any:
        """Told to nobody else; to ourselves it is, or an answer would seem to come from nowhere."""
        response = super().finalize_response(request, response, *args, **kwargs)
        response["Referrer-Policy"] = "same-origin"
        return response

    def get(self, request: Request, token: str, form: str = "") -> HttpResponse:
        try:
            asked = request_of(token)
        except InputError as error:
            return page(problem_page("This plan cannot be opened", error.message), 410)
        visited(asked)
        made = letter_of(asked)
        if form == "pdf":
            return paper(made, form, f"/v/{token}")
        return _page(request, asked, made)

    def post(self, request: Request, token: str, form: str = "") -> HttpResponse:
        """The vet's answer."""
        try:
            asked = request_of(token)
        except InputError as error:
            return page(problem_page("This plan cannot be opened", error.message), 410)
        sent = request._request.POST
        typed = {name: sent.get(name, "").strip() for name in _FIELDS}
        try:
            _check_origin(request)
            said = _read(typed)
            asked = answer_as_vet(asked, said)
        except InputError as error:
            # What was typed stays in the form.
            return _page(request, request_of(token), letter_of(asked), typed, error)
        asked.release.refresh_from_db()
        return _page(request, asked, letter_of(asked))


def _nothing(*_: object) -> HttpResponse:
    return HttpResponse()


def _check_origin(request: Request) -> None:
    """Raises InputError for an answer that was not sent from the page itself."""
    check = CSRFCheck(_nothing)
    check.process_request(request._request)
    if check.process_view(request._request, _nothing, (), {}) is not None:
        raise InputError("", "this page is out of date: send your answer again")


_FIELDS = ("answer", "signer", "licence", "comment")


def _read(typed: dict[str, str]) -> VetAnswer:
    if typed["answer"] not in ANSWERS:
        raise InputError("answer", "choose approve, ask for changes or decline")
    for name, words in (("signer", "your name"), ("licence", "your licence number")):
        if not typed[name]:
            raise InputError(name, f"give {words}: a plan is signed with both")
    if not ANSWERS[typed["answer"]] and len(typed["comment"]) < 3:
        raise InputError("comment", "say what is to be changed, or why you decline")
    if len(typed["comment"]) > 2000:
        raise InputError("comment", "at most 2000 letters; write the rest to the practice")
    prefix = "Declined: " if typed["answer"] == "decline" else ""
    data: dict[str, Any] = {
        "approved": ANSWERS[typed["answer"]], "signer": typed["signer"],
        "licence": typed["licence"], "comment": (prefix + typed["comment"])[:2000],
    }  # fmt: skip
    return read(VetAnswer, data)


def _page(
    request: Request,
    asked: VetRequest,
    made: Document,
    typed: dict[str, str] | None = None,
    error: InputError | None = None,
) -> HttpResponse:
    can = (
        asked.release.state == ReleaseState.WITH_VET and asked.release.frozen_id == asked.frozen_id
    )
    html = render_to_string(
        "release/vet.html",
        {
            "document": made, "asked": asked, "can": can, "pdf": f"{vet_path(asked)}.pdf",
            "address": vet_path(asked), "csrf": get_token(request._request),
            "typed": typed or {}, "problem": error.message if error else "",
            "wrong": error.field if error else "",
        },
    )  # fmt: skip
    return page(html, 400 if error else 200)


class VersionLetterPage(Paper):
    """The letter to the vet of a version that was put forward, for those who are signed in."""

    def get(self, request: Request, pk: int, form: str = "") -> HttpResponse:
        version = own(RecipeVersion, request, pk, "recipe__case", "snapshot")
        release = version.releases.first()
        made = letter(version, release.approved if release else "")
        back = f"/cases/{version.recipe.case_id}/checks/{version.recipe_id}"
        return paper(made, form, f"/papers/versions/{pk}/letter", back)


class ReleasedPage(Paper):
    """A document of a version that was put forward, as whoever gets it would have it."""

    kind = DocumentKind.OWNER

    def get(self, request: Request, pk: int, form: str = "") -> HttpResponse:
        version = own(RecipeVersion, request, pk, "recipe__case", "snapshot")
        release = version.releases.first()
        made = document(
            self.kind, snapshot_of(version).kept, edition_of(version),
            release.approved if release else "",
        )  # fmt: skip
        back = f"/cases/{version.recipe.case_id}/checks/{version.recipe_id}"
        return paper(made, form, f"/papers/versions/{pk}/{self.kind}", back)


class ReportPage(ReleasedPage):
    """Every nutrient of it, for colleagues."""

    kind = DocumentKind.REPORT
