"""What kept and shared records look like from outside."""

from dataclasses import dataclass
from datetime import datetime

from wainscot_core.documents.paper import DocumentKind

from .models import Address, ShareLink


@dataclass(frozen=True, kw_only=True)
class AddressView:
    """An address that opens one thing without signing in. path: on this server; open: it opens today."""

    id: int
    path: str
    expires: datetime
    open: bool


def address_view(link: Address) -> AddressView:
    """An address."""
    return AddressView(id=link.pk, path=link.path, expires=link.expires, open=link.is_open)


@dataclass(frozen=True, kw_only=True)
class LinkView:
    """A link to a document. path: its address on this server; open: it opens the document today."""

    id: int
    document: DocumentKind
    edition: str
    audience: str
    by: str
    created: datetime
    expires: datetime
    revoked: datetime | None
    open: bool
    path: str


def link_view(link: ShareLink) -> LinkView:
    """A link."""
    return LinkView(
        id=link.pk,
        document=DocumentKind(link.document),
        edition=link.edition,
        audience=link.audience,
        by=link.by,
        created=link.created,
        expires=link.expires,
        revoked=link.revoked,
        open=link.is_open,
        path=link.path,
    )
