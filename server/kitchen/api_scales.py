"""Scales in the kitchen: what they show, streamed, and the hand that stands in for a cook's."""

from dataclasses import dataclass
from typing import Any, Literal

from accounts.permissions import Work
from accounts.scoping import practice_of
from django.http import HttpResponse, StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import Number, YesNo
from wainscot_core.scale.simulated import Fault
from wire.shapes import answer, endpoint, read_body

from .links import cook_link_of
from .stands import ScaleReadingView, Stand, Stream, stand_of


@dataclass(frozen=True, kw_only=True)
class ScaleDo:
    """What is done with a stand-in scale. put: so many g lie on it; fault: something goes wrong, or right again."""

    do: Literal["put", "tare", "zero", "fault"]
    grams: Number | None = None
    fault: Fault | None = None
    on: YesNo = True


def _stream(request: Request, stand: Stand) -> StreamingHttpResponse:
    last = request.headers.get("Last-Event-ID", "")
    found = Stream(stand, int(last) if last.isascii() and last.isdigit() and len(last) < 12 else 0)
    response = StreamingHttpResponse(found, content_type="text/event-stream")
    response["Cache-Control"] = "no-store"
    # A stream that is packed comes in lumps.
    response["Content-Encoding"] = "identity"
    response["X-Accel-Buffering"] = "no"
    return response


def _do(request: Request, stand: Stand) -> HttpResponse:
    asked = read_body(ScaleDo, request)
    stand.do(asked.do, asked.grams, asked.fault, asked.on)
    return answer(stand.after(0)[-1])


class _Streaming(APIView):
    """A view that answers in its own form, whatever a browser's stream says that it accepts."""

    def perform_content_negotiation(self, request: Request, force: bool = False) -> Any:
        return super().perform_content_negotiation(request, force=True)


class ScaleStreamView(_Streaming):
    """What a scale shows, as server-sent events; Last-Event-ID goes on from there."""

    work = Work.LOG

    @endpoint(OpenApiTypes.STR)
    def get(self, request: Request, kind: str) -> StreamingHttpResponse:
        return _stream(request, stand_of(practice_of(request).pk, kind))

    @endpoint(ScaleReadingView, ScaleDo)
    def post(self, request: Request, kind: str) -> HttpResponse:
        """Do something with it."""
        return _do(request, stand_of(practice_of(request).pk, kind))


class OwnersScaleView(_Streaming):
    """The same by the owner's address."""

    permission_classes = [AllowAny]
    authentication_classes = []

    @endpoint(OpenApiTypes.STR)
    def get(self, request: Request, token: str, kind: str) -> StreamingHttpResponse:
        return _stream(request, stand_of(cook_link_of(token).practice_id, kind))

    @endpoint(ScaleReadingView, ScaleDo)
    def post(self, request: Request, token: str, kind: str) -> HttpResponse:
        """Do something with it."""
        return _do(request, stand_of(cook_link_of(token).practice_id, kind))
