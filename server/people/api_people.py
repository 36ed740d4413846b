"""Who works in a practice, for its owners."""

from dataclasses import dataclass
from datetime import datetime

from accounts.models import Practice, User, WorkRole
from accounts.permissions import Work
from accounts.scoping import actor_of, practice_of, user_of
from django.http import Http404, HttpResponse
from django_otp.plugins.otp_totp.models import TOTPDevice
from rest_framework.request import Request
from rest_framework.views import APIView
from wainscot_core.boundary import Email, YesNo
from wire.shapes import answer, endpoint, read_body

from .actions import change_role, give_reset, invite, set_left, take_invitation_back
from .models import Invitation


@dataclass(frozen=True, kw_only=True)
class PersonView:
    """Somebody of the practice. seen: when they last did something, None for never; left: since when they are not here."""

    id: int
    username: str
    email: str
    role: WorkRole
    second_factor: bool
    seen: datetime | None
    left: datetime | None
    you: bool


@dataclass(frozen=True, kw_only=True)
class InvitationOut:
    """An invitation that nobody has used. path: the address to give them."""

    id: int
    email: str
    role: WorkRole
    expires: datetime
    open: bool
    path: str


@dataclass(frozen=True, kw_only=True)
class PeopleView:
    """Who works here, and who was asked to."""

    people: tuple[PersonView, ...]
    invitations: tuple[InvitationOut, ...]


@dataclass(frozen=True, kw_only=True)
class InviteIn:
    """Whom to ask, as what."""

    email: Email
    role: WorkRole


@dataclass(frozen=True, kw_only=True)
class PersonIn:
    """What somebody may do from now on."""

    role: WorkRole


@dataclass(frozen=True, kw_only=True)
class LeftIn:
    """Whether somebody has left."""

    left: YesNo


@dataclass(frozen=True, kw_only=True)
class ResetOut:
    """An address by which a colleague sets a new password, to be given to nobody else."""

    path: str
    expires: datetime


def people_of(practice: Practice, me: User) -> PeopleView:
    """Who works in a practice, and who was asked to."""
    users = (
        User.objects.filter(practice=practice)
        .prefetch_related("seats")
        .order_by("-is_active", "username")
    )
    coded = set(
        TOTPDevice.objects.filter(user__practice=practice, confirmed=True).values_list(
            "user", flat=True
        )
    )
    invitations = Invitation.objects.for_practice(practice).filter(accepted=None, revoked=None)
    return PeopleView(
        people=tuple(
            PersonView(
                id=u.pk, username=u.username, email=u.email, role=WorkRole(u.role),
                second_factor=u.pk in coded,
                seen=max((s.seen for s in u.seats.all()), default=u.last_login),
                left=u.left, you=u.pk == me.pk,
            )
            for u in users
        ),
        invitations=tuple(
            InvitationOut(
                id=i.pk, email=i.email, role=WorkRole(i.role), expires=i.expires, open=i.is_open, path=i.path
            )
            for i in invitations
        ),
    )  # fmt: skip


def _all(request: Request, status: int = 200) -> HttpResponse:
    return answer(people_of(practice_of(request), user_of(request)), status=status)


class PeopleListView(APIView):
    """Who works here."""

    looking = work = Work.RUN

    @endpoint(PeopleView, errors=())
    def get(self, request: Request) -> HttpResponse:
        return _all(request)


class InvitationListView(APIView):
    """Ask somebody to join."""

    looking = work = Work.RUN

    @endpoint(PeopleView, InviteIn, status=201)
    def post(self, request: Request) -> HttpResponse:
        asked = read_body(InviteIn, request)
        invite(actor_of(request), asked.email.strip(), asked.role)
        return _all(request, 201)


class InvitationDetailView(APIView):
    """Take an invitation back."""

    looking = work = Work.RUN

    @endpoint(PeopleView)
    def delete(self, request: Request, pk: int) -> HttpResponse:
        take_invitation_back(actor_of(request), pk)
        return _all(request)


class PersonDetailView(APIView):
    """What somebody may do."""

    looking = work = Work.RUN

    @endpoint(PeopleView, PersonIn)
    def put(self, request: Request, pk: int) -> HttpResponse:
        change_role(actor_of(request), pk, read_body(PersonIn, request).role)
        return _all(request)


class PersonLeftView(APIView):
    """Somebody leaves, or is back."""

    looking = work = Work.RUN

    @endpoint(PeopleView, LeftIn)
    def post(self, request: Request, pk: int) -> HttpResponse:
        set_left(actor_of(request), pk, read_body(LeftIn, request).left)
        return _all(request)


class PersonResetView(APIView):
    """Let a colleague set a new password."""

    looking = work = Work.RUN

    @endpoint(ResetOut)
    def post(self, request: Request, pk: int) -> HttpResponse:
        who = actor_of(request)
        user = User.objects.filter(practice=who.practice, pk=pk, is_active=True).first()
        if user is None:
            raise Http404("Nobody with this number works here.")
        made = give_reset(who, user)
        return answer(ResetOut(path=made.path, expires=made.expires))
