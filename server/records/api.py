"""Take a link back."""

from accounts.scoping import actor_of
from django.http import HttpResponse
from rest_framework.request import Request
from rest_framework.views import APIView
from wire.shapes import answer, endpoint

from .actions import revoke
from .views import LinkView, link_view


class LinkDetailView(APIView):
    """A link to a document."""

    @endpoint(LinkView, errors=(404,))
    def delete(self, request: Request, pk: int) -> HttpResponse:
        """Take it back: its address opens nothing any more; that it was there stays known."""
        return answer(link_view(revoke(actor_of(request), pk)))
