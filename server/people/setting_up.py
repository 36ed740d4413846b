"""First start: the practice and its first user; and more practices, from the command line."""

from zoneinfo import available_timezones

from accounts.models import Practice, User, WorkRole
from accounts.scoping import Actor
from django.contrib.auth.validators import UnicodeUsernameValidator
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils.crypto import constant_time_compare, salted_hmac
from events.log import log
from events.models import EventKind
from wainscot_core.boundary import dump
from wainscot_core.conventions import REGIONS, Region
from wainscot_core.errors import InputError

from .passwords import set_password


def needs_setup() -> bool:
    """True until the first user exists."""
    return not User.objects.exists()


def first_key() -> str:
    """What whoever sets an installation up from another machine has to know: it is told where the server was started."""
    return salted_hmac("people.setting-up", "first key").hexdigest()[:16]


def is_first_key(said: str) -> bool:
    """Whether somebody knows it."""
    return constant_time_compare(said.strip().lower(), first_key())


@transaction.atomic
def set_up(
    practice_name: str, username: str, password: str, region: Region, time_zone: str = ""
) -> User:
    """Create the practice, which writes as its region does, and its owner. Raises InputError when it was done before."""
    if not needs_setup():
        raise InputError("", "This installation is already set up. Sign in.")
    practice = new_practice(practice_name, region, time_zone)
    return make_user(practice, username, password, "", WorkRole.OWNER)


def new_practice(name: str, region: Region, time_zone: str = "") -> Practice:
    """A practice in which nobody works yet. time_zone: as a browser tells it; one that is not known here is none, and can be
    chosen under Practice."""
    known = time_zone if time_zone in available_timezones() else ""
    return Practice.objects.create(name=name, conventions=dump(REGIONS[region]), time_zone=known)


def make_user(practice: Practice, username: str, password: str, email: str, role: WorkRole) -> User:
    """Somebody who signs in. Raises InputError for a name that is taken or cannot be one, and for a weak password."""
    try:
        UnicodeUsernameValidator()(username)
    except ValidationError:
        raise InputError(
            "username", "A name for signing in holds letters, digits and @ . + - _ alone."
        ) from None
    if User.objects.filter(username__iexact=username).exists():
        raise InputError("username", "Somebody signs in with this name already: choose another.")
    user = User(username=username, email=email, role=role, practice=practice)
    set_password(user, password)
    user.save()
    log(Actor(practice, username), EventKind.PERSON_JOINED, None, user.pk, name=username, role=role)
    return user
