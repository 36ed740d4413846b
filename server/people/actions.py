"""Who works in a practice: every write. Each is in the events, which the practice can read."""

from datetime import timedelta

from accounts.models import Practice, User, WorkRole
from accounts.scoping import Actor, find_own
from django.contrib.auth import update_session_auth_hash
from django.core.exceptions import ValidationError
from django.core.validators import validate_email
from django.db import transaction
from django.http import Http404, HttpRequest
from django.utils import timezone
from django_otp.plugins.otp_static.models import StaticDevice, StaticToken
from django_otp.plugins.otp_totp.models import TOTPDevice
from events.log import log
from events.models import EventKind
from outbox.actions import Message, send_mail
from records.links import found_by, fresh_key, give, take_back
from wainscot_core.errors import InputError

from .models import Invitation, Reset, Seat
from .passwords import must_know, set_password
from .seats import shut_all
from .setting_up import make_user

INVITED_DAYS = 7
RESET_HOURS = 1
RECOVERY_CODES = 10


def _colleague(practice: Practice, pk: int) -> User:
    found = User.objects.select_for_update().filter(practice=practice, pk=pk).first()
    if found is None:
        raise Http404("Nobody with this number works here.")
    return found


def _keeps_an_owner(practice: Practice, user: User) -> None:
    others = User.objects.filter(practice=practice, role=WorkRole.OWNER, is_active=True)
    if not others.exclude(pk=user.pk).exists():
        raise InputError(
            "role", f"{user.username} is the only owner. Make somebody else an owner first."
        )


@transaction.atomic
def invite(who: Actor, email: str, role: WorkRole) -> Invitation:
    """Ask somebody to join. Raises InputError for an address that is none, or of somebody who is here."""
    if User.objects.filter(practice=who.practice, email__iexact=email, is_active=True).exists():
        raise InputError("email", "Somebody with this address works here already.")
    for open_one in Invitation.objects.for_practice(who.practice).filter(
        email__iexact=email, accepted=None, revoked=None
    ):
        take_back(open_one)
    made = give(Invitation, who, INVITED_DAYS, INVITED_DAYS, email=email, role=role)
    send_mail(
        who.practice, None,
        Message(
            email, email, f"Join {who.practice} on Wainscot",
            f"{who.name} asks you to join {who.practice} as {role.value}. The link opens once, for {INVITED_DAYS} days.",
            made.path,
        ),
        personal=True,
    )  # fmt: skip
    log(who, EventKind.PERSON_INVITED, None, made.pk, email=email, role=role.value)
    return made


@transaction.atomic
def take_invitation_back(who: Actor, pk: int) -> None:
    """It opens nothing any more."""
    found = find_own(Invitation, who.practice, lock=True, pk=pk)
    if found.accepted is None and take_back(found):
        log(who, EventKind.INVITATION_TAKEN_BACK, None, found.pk, email=found.email)


@transaction.atomic
def join(token: str, username: str, password: str) -> User:
    """Whoever holds an invitation becomes one of the practice. Raises InputError and Http404."""
    pk = found_by(Invitation, token).pk
    found = Invitation.objects.select_for_update().select_related("practice").get(pk=pk)
    if not found.is_open:
        raise InputError("", found.shut)
    user = make_user(found.practice, username, password, found.email, WorkRole(found.role))
    found.accepted = timezone.now()
    found.save()
    return user


@transaction.atomic
def change_role(who: Actor, pk: int, role: WorkRole) -> User:
    """What somebody may do from now on. Raises InputError when no owner would be left."""
    user = _colleague(who.practice, pk)
    if user.role == role:
        return user
    if user.role == WorkRole.OWNER:
        _keeps_an_owner(who.practice, user)
    user.role = role
    user.save(update_fields=["role"])
    log(who, EventKind.PERSON_CHANGED, None, user.pk, name=user.username, role=role.value)
    return user


@transaction.atomic
def set_left(who: Actor, pk: int, left: bool) -> User:
    """Somebody leaves, or is back. What they did stays under their name; their sessions end. Raises InputError for the last
    owner."""
    user = _colleague(who.practice, pk)
    if (not user.is_active) == left:
        return user
    if left and user.role == WorkRole.OWNER:
        _keeps_an_owner(who.practice, user)
    user.is_active = not left
    user.left = timezone.now() if left else None
    user.save(update_fields=["is_active", "left"])
    if left:
        shut_all(user)
    kind = EventKind.PERSON_LEFT if left else EventKind.PERSON_BACK
    log(who, kind, None, user.pk, name=user.username)
    return user


@transaction.atomic
def change_password(request: HttpRequest, user: User, old: str, password: str) -> int:
    """Somebody sets another password of their own; every other session of theirs ends: how many. Raises InputError."""
    must_know(user, old)
    set_password(user, password)
    user.save(update_fields=["password"])
    before = request.session.session_key
    # The session goes on under another key.
    update_session_auth_hash(request, user)
    Seat.objects.filter(session_key=before).update(session_key=request.session.session_key)
    return _told_of_password(user, EventKind.PASSWORD_CHANGED, request.session.session_key)


@transaction.atomic
def change_email(user: User, password: str, email: str) -> None:
    """Where links for a new password go from now on. Raises InputError for a wrong password and for no address."""
    must_know(user, password)
    if email:
        try:
            validate_email(email)
        except ValidationError:
            raise InputError("email", f"{email!r} is no e-mail address.") from None
    user.email = email
    user.save(update_fields=["email"])
    if user.practice is not None:
        log(
            Actor(user.practice, user.username),
            EventKind.EMAIL_CHANGED,
            None,
            user.pk,
            name=user.username,
        )


def _told_of_password(user: User, kind: EventKind, but: str | None = None) -> int:
    ended = shut_all(user, but)
    if user.practice is not None:
        log(Actor(user.practice, user.username), kind, None, user.pk, name=user.username)
    return ended


@transaction.atomic
def ask_reset(name: str) -> None:
    """Send a link for a new password, when somebody of this name has an address; nobody is told whether."""
    user = User.objects.filter(username=name, is_active=True).exclude(email="").first()
    if user is not None and user.practice is not None:
        made = give_reset(Actor(user.practice, user.username), user)
        send_mail(
            user.practice, None,
            Message(
                user.username, user.email, "A new password for Wainscot",
                f"Somebody asked for a new password for {user.username}. The link opens once, within {RESET_HOURS} hour. "
                "If it was not you, nothing needs to be done: your password holds.",
                made.path,
            ),
            personal=True,
        )  # fmt: skip


def give_reset(who: Actor, user: User) -> Reset:
    """An address by which somebody sets a new password; earlier ones open nothing any more."""
    Reset.objects.filter(user=user, used=None).update(revoked=timezone.now())
    until = timezone.now() + timedelta(hours=RESET_HOURS)
    made = Reset.objects.create(
        practice=who.practice, key=fresh_key(), by=who.name, expires=until, user=user
    )
    log(who, EventKind.RESET_ASKED, None, user.pk, name=user.username)
    return made


@transaction.atomic
def reset_password(token: str, password: str) -> User:
    """Whoever holds a reset's address sets a new password; all sessions end, and a second factor stays. Raises InputError and
    Http404."""
    pk = found_by(Reset, token, "user").pk
    found = Reset.objects.select_for_update().select_related("user__practice").get(pk=pk)
    if not found.is_open:
        raise InputError("", found.shut)
    user: User = found.user
    set_password(user, password)
    user.save(update_fields=["password"])
    found.used = timezone.now()
    found.save()
    _told_of_password(user, EventKind.PASSWORD_RESET)
    return user


@transaction.atomic
def begin_second_factor(user: User) -> TOTPDevice:
    """A secret for an authenticator, which counts once a code of it was given. Raises InputError when one is on."""
    if TOTPDevice.objects.filter(user=user, confirmed=True).exists():
        raise InputError("", "It is on already: turn it off first to use another authenticator.")
    TOTPDevice.objects.filter(user=user, confirmed=False).delete()
    return TOTPDevice.objects.create(user=user, name="authenticator", confirmed=False)


@transaction.atomic
def confirm_second_factor(user: User, code: str) -> list[str]:
    """Turn it on with a code of it: the codes to get in without the authenticator, shown this once. Raises InputError."""
    device = TOTPDevice.objects.select_for_update().filter(user=user, confirmed=False).first()
    if device is None:
        raise InputError("", "Begin again: the secret that was shown is not there any more.")
    if not device.verify_is_allowed()[0] or not device.verify_token(code):
        raise InputError(
            "code", "This is not the code it shows now. Check its clock, and type the next one."
        )
    device.confirmed = True
    device.save()
    StaticDevice.objects.filter(user=user).delete()
    spare = StaticDevice.objects.create(user=user, name="recovery codes")
    codes = [StaticToken.random_token() for _ in range(RECOVERY_CODES)]
    spare.token_set.bulk_create(StaticToken(device=spare, token=c) for c in codes)
    _log_factor(user, EventKind.SECOND_FACTOR_ON)
    return codes


@transaction.atomic
def end_second_factor(user: User, password: str) -> None:
    """Turn it off. Raises InputError for another password than that of whoever is signed in."""
    must_know(user, password)
    remove_second_factor(user)


def remove_second_factor(user: User) -> None:
    """Take every authenticator and recovery code of somebody away."""
    gone = TOTPDevice.objects.filter(user=user).delete()[0]
    gone += StaticDevice.objects.filter(user=user).delete()[0]
    if gone:
        _log_factor(user, EventKind.SECOND_FACTOR_OFF)


def _log_factor(user: User, kind: EventKind) -> None:
    if user.practice is not None:
        log(Actor(user.practice, user.username), kind, None, user.pk, name=user.username)
