"""Decisions on what stands against a plan, releases with their history, and what the vet was asked."""

from accounts.models import PracticeRecord
from django.db import models
from recipes.models import Recipe, RecipeVersion
from wainscot_core.release.states import ReleaseState
from wire.holds import one_of


class FindingDecision(PracticeRecord):
    """A decision on a concern of a recipe (core release.decisions); never edited, only taken back.

    what: the concern as it was told. vet_name, vet_licence, vet_on: whose written decision it is.
    """

    recipe = models.ForeignKey(Recipe, on_delete=models.CASCADE, related_name="finding_decisions")
    key = models.CharField(max_length=64)
    basis = models.CharField(max_length=64)
    what = models.TextField()
    reason = models.CharField(max_length=400, blank=True)
    by = models.CharField(max_length=150)
    vet_name = models.CharField(max_length=120, blank=True)
    vet_licence = models.CharField(max_length=120, blank=True)
    vet_on = models.DateField(null=True)
    taken_back = models.DateTimeField(null=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.what


class StoredState(models.TextChoices):
    """How far it is."""

    DRAFT = ReleaseState.DRAFT.value
    CHECKED = ReleaseState.CHECKED.value
    WITH_VET = ReleaseState.WITH_VET.value
    APPROVED = ReleaseState.APPROVED.value
    ISSUED = ReleaseState.ISSUED.value
    SUPERSEDED = ReleaseState.SUPERSEDED.value
    WITHDRAWN = ReleaseState.WITHDRAWN.value


class Release(PracticeRecord):
    """A plan on its way out, or out: a recipe, the version of it that is frozen (None in a draft), and its state."""

    recipe = models.ForeignKey(Recipe, on_delete=models.CASCADE, related_name="releases")
    frozen = models.ForeignKey(
        RecipeVersion, on_delete=models.RESTRICT, related_name="releases", null=True
    )
    state = models.CharField(max_length=12, choices=StoredState, default=StoredState.DRAFT)
    # Who signed, in words, once somebody did.
    approved = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["recipe"], name="release_open_once",
                condition=models.Q(state__in=["draft", "checked", "with the vet", "approved"]),
            ),
            models.UniqueConstraint(
                fields=["recipe"], name="release_issued_once", condition=models.Q(state="issued")
            ),
            one_of("release_release", "state", StoredState),
        ]  # fmt: skip

    def __str__(self) -> str:
        return f"{self.recipe}: {self.state}"


class ReleaseMove(models.Model):
    """A move of a release; the database refuses to change one (migration 0001). number: of the version it was
    made with."""

    release = models.ForeignKey(Release, on_delete=models.CASCADE, related_name="moves")
    at = models.DateTimeField(auto_now_add=True)
    by = models.CharField(max_length=300)
    move = models.CharField(max_length=12)
    before = models.CharField(max_length=12)
    after = models.CharField(max_length=12)
    number = models.PositiveSmallIntegerField()
    reason = models.CharField(max_length=2000, blank=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.before} to {self.after}"


class VetRequest(PracticeRecord):
    """A vet asked to sign one frozen version, by an address that opens it alone.

    key: what the address is signed over. closed: why it opens nothing any more, "" while it does; answered: when the
    vet did; approved, signer, licence, comment: what. visits: how often the page was opened.
    """

    release = models.ForeignKey(Release, on_delete=models.CASCADE, related_name="requests")
    frozen = models.ForeignKey(RecipeVersion, on_delete=models.RESTRICT, related_name="requests")
    key = models.CharField(max_length=43, unique=True)
    to_name = models.CharField(max_length=120)
    to_address = models.EmailField()
    by = models.CharField(max_length=150)
    expires = models.DateTimeField()
    closed = models.CharField(max_length=300, blank=True)
    visits = models.PositiveIntegerField(default=0)
    last_visit = models.DateTimeField(null=True)
    answered = models.DateTimeField(null=True)
    approved = models.BooleanField(null=True)
    signer = models.CharField(max_length=120, blank=True)
    licence = models.CharField(max_length=120, blank=True)
    comment = models.CharField(max_length=2000, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"asked {self.to_name}"
