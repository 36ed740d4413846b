"""All records of a practice, or of a client, as a file; a client taken away for good."""

from dataclasses import dataclass
from datetime import UTC, datetime

from accounts.models import Practice
from accounts.permissions import Work
from accounts.scoping import actor_of, own, practice_of
from cases.models import Client
from django.http import FileResponse, Http404, HttpResponse
from django.http.response import HttpResponseBase
from django.utils.text import slugify
from drf_spectacular.types import OpenApiTypes
from rest_framework.request import Request
from rest_framework.views import APIView
from wire.shapes import answer, endpoint, read_body

from .erasing import EraseIn, RecordsOf, erase_client, records_of
from .going import begin, going_on, made_at, place_of, take_away
from .writing import records_zip


@dataclass(frozen=True, kw_only=True)
class RecordsView:
    """The file of all records of a practice. writing: it is being written, so many cases of so many; made, bytes: of the one
    that is there, None where none is; error: why none could be written, "" for no reason."""

    writing: bool
    done: int
    of: int
    made: datetime | None
    bytes: int | None
    error: str


@dataclass(frozen=True, kw_only=True)
class ErasureView:
    """What there is of a client, before it is taken away."""

    name: str
    records: RecordsOf


def records_view(practice: Practice) -> RecordsView:
    """How far the file of a practice is."""
    going = going_on(practice)
    made = made_at(practice)
    return RecordsView(
        writing=going is not None and not going.ended,
        done=going.done if going else 0,
        of=going.of if going else 0,
        made=made,
        bytes=place_of(practice).stat().st_size if made else None,
        error=going.error if going else "",
    )


class PracticeRecordsView(APIView):
    """The file of all records of the practice."""

    looking = work = Work.RUN

    @endpoint(RecordsView, errors=())
    def get(self, request: Request) -> HttpResponse:
        return answer(records_view(practice_of(request)))

    @endpoint(RecordsView, status=202, errors=(400,))
    def post(self, request: Request) -> HttpResponse:
        """Begin to write it."""
        begin(practice_of(request))
        return answer(records_view(practice_of(request)), status=202)

    @endpoint(RecordsView, errors=())
    def delete(self, request: Request) -> HttpResponse:
        """Take it away."""
        take_away(practice_of(request))
        return answer(records_view(practice_of(request)))


class PracticeRecordsFileView(APIView):
    """The file itself."""

    looking = work = Work.RUN

    @endpoint(OpenApiTypes.BINARY, errors=(404,))
    def get(self, request: Request) -> HttpResponseBase:
        practice = practice_of(request)
        if made_at(practice) is None:
            raise Http404("There is no file: have it written first.")
        day = f"{datetime.now(UTC):%Y-%m-%d}"
        response = FileResponse(
            place_of(practice).open("rb"), as_attachment=True, content_type="application/zip",
            filename=f"{slugify(practice.name) or 'practice'}-{day}.zip",
        )  # fmt: skip
        # It is compressed already.
        response["Content-Encoding"] = "identity"
        return response


class ClientRecordsView(APIView):
    """All records of a client as a file."""

    looking = Work.FORMULATE

    @endpoint(OpenApiTypes.BINARY, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        client = own(Client, request, pk, "practice")
        name = f"{slugify(client.name) or 'client'}.zip"
        return HttpResponse(
            records_zip(client.practice, client),
            content_type="application/zip",
            headers={"Content-Disposition": f'attachment; filename="{name}"'},
        )


class ClientErasureView(APIView):
    """A client taken away for good."""

    looking = work = Work.RUN

    @endpoint(ErasureView, errors=(404,))
    def get(self, request: Request, pk: int) -> HttpResponse:
        """What there is of her."""
        client = own(Client, request, pk, "practice")
        return answer(ErasureView(name=client.name, records=records_of(client)))

    @endpoint(RecordsOf, EraseIn, errors=(400, 404))
    def post(self, request: Request, pk: int) -> HttpResponse:
        """Take all of it away; it cannot be undone."""
        erased = erase_client(actor_of(request), pk, read_body(EraseIn, request))
        # A file of the practice that lies there holds the client still.
        take_away(practice_of(request))
        return answer(erased)
