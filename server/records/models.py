"""What was kept whole, and the links under which others may read it."""

import zlib
from typing import ClassVar

from accounts.models import Practice, PracticeQuerySet, PracticeRecord
from cases.models import Case
from django.core.signing import Signer
from django.db import models
from django.utils import timezone
from wainscot_core.documents.paper import DocumentKind
from wainscot_core.snapshot.snapshot import Snapshot as Kept
from wainscot_core.snapshot.snapshot import opened
from wire.holds import one_of, shaped


class Snapshot(models.Model):
    """A case or a recipe as it was, addressed by the SHA-256 of its text.

    The database refuses to change a row (migration 0001); it goes when nothing points to it.
    """

    practice = models.ForeignKey(Practice, on_delete=models.CASCADE, related_name="+")
    case = models.ForeignKey(Case, on_delete=models.CASCADE, related_name="snapshots")
    digest = models.CharField(max_length=64)
    # The canonical JSON text, deflated.
    content = models.BinaryField()
    created = models.DateTimeField(auto_now_add=True)

    objects = PracticeQuerySet.as_manager()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["case", "digest"], name="snapshot_of_case_once")
        ]

    def __str__(self) -> str:
        return self.digest[:12]

    @property
    def text(self) -> str:
        """The canonical JSON text."""
        return zlib.decompress(bytes(self.content)).decode()

    @property
    def kept(self) -> Kept:
        """What was kept. Raises InputError when it is not what it was."""
        return opened(self.text, self.digest)


class Address(PracticeRecord):
    """An address that opens one thing without an account, until a day or until taken back.

    key: what the address is signed over; SALT: another one for each kind, so that an address of one kind never opens
    what is of another; WAY: where its token stands.
    """

    SALT: ClassVar[str]
    WAY: ClassVar[str]

    key = models.CharField(max_length=43, unique=True)
    by = models.CharField(max_length=150)
    expires = models.DateTimeField()
    revoked = models.DateTimeField(null=True)

    class Meta:
        abstract = True
        ordering = ["-pk"]

    @classmethod
    def signer(cls) -> Signer:
        """What signs and reads the addresses of this kind."""
        return Signer(salt=cls.SALT)

    @property
    def token(self) -> str:
        """The link's part of its address: its key and our signature over it."""
        return self.signer().sign(self.key)

    @property
    def path(self) -> str:
        """The address, on this server."""
        return self.WAY.format(self.token)

    @property
    def is_open(self) -> bool:
        """Whether it opens today."""
        return self.revoked is None and timezone.now() < self.expires

    @property
    def shut(self) -> str:
        """Why it opens nothing any more, for who holds it."""
        why = "was taken back" if self.revoked else "has run out"
        return f"This link {why}. Ask {self.practice} for a new one."


class LinkDocument(models.TextChoices):
    """What a link may open."""

    SHEET = DocumentKind.SHEET.value
    INTAKE = DocumentKind.INTAKE.value
    LETTER = DocumentKind.LETTER.value
    OWNER = DocumentKind.OWNER.value
    REPORT = DocumentKind.REPORT.value


class ShareLink(Address):
    """One document of one snapshot, for whoever holds the address, until a day or until taken back.

    edition: the words on the document that say which it is; approved: who signed it, "" for nobody. closed: why it was
    taken back, in words for who holds it, "" for no more than that. change: the change-over that goes with it (core
    ChangePlan), {} for none.
    """

    SALT = "records.links"
    WAY = "/s/{}"

    snapshot = models.ForeignKey(Snapshot, on_delete=models.CASCADE, related_name="links")
    document = models.CharField(max_length=12, choices=LinkDocument)
    edition = models.CharField(max_length=200)
    audience = models.CharField(max_length=120)
    approved = models.CharField(max_length=300, blank=True)
    closed = models.CharField(max_length=300, blank=True)
    change = models.JSONField(default=dict, blank=True)

    class Meta:
        constraints = [
            shaped("records_sharelink", "change", dict),
            one_of("records_sharelink", "document", LinkDocument),
        ]

    def __str__(self) -> str:
        return f"{self.document} for {self.audience}"

    @property
    def shut(self) -> str:
        """As it was said when it was taken back."""
        return self.closed or super().shut
