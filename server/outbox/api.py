"""The simulated outbox, to be read."""

from dataclasses import dataclass
from datetime import datetime

from accounts.permissions import Work, may
from accounts.scoping import practice_of, user_of
from django.http import HttpResponse
from rest_framework.request import Request
from rest_framework.views import APIView
from wire.shapes import Many, answer_many, endpoint

from .models import Mail

MOST_SHOWN = 200


@dataclass(frozen=True, kw_only=True)
class MailView:
    """A message as it was sent. link: what it asks to open, "" for nothing; case: whose it is."""

    id: int
    at: datetime
    to_name: str
    to_address: str
    subject: str
    text: str
    link: str
    case: int | None


class OutboxView(APIView):
    """What was sent, newest first."""

    @endpoint(Many(MailView), errors=())
    def get(self, request: Request) -> HttpResponse:
        mails = Mail.objects.for_practice(practice_of(request))
        if not may(user_of(request), Work.RUN):
            mails = mails.filter(personal=False)
        mails = mails[:MOST_SHOWN]
        return answer_many(MailView, map(_view, mails))


def _view(mail: Mail) -> MailView:
    return MailView(
        id=mail.pk, at=mail.created, to_name=mail.to_name, to_address=mail.to_address,
        subject=mail.subject, text=mail.text, link=mail.link, case=mail.case,
    )  # fmt: skip
