"""Every record is fetched through the practice of the user who asks."""

from typing import Any, TypeVar

from accounts.models import PracticeRecord
from django.http import Http404
from rest_framework.request import Request

R = TypeVar("R", bound=PracticeRecord)


def own(model: type[R], request: Request, pk: int, *related: str) -> R:
    """A record of the user's practice; 404 for anyone else's, as if it did not exist."""
    queryset: Any = model.objects.for_practice(request.user.practice)
    record = queryset.select_related(*related).filter(pk=pk).order_by().first()
    if record is None:
        raise Http404(f"No {model._meta.verbose_name} with this number.")
    found: R = record
    return found
