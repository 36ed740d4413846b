"""First start: the practice and its first user."""

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from wainscot_core.boundary import dump
from wainscot_core.conventions import REGIONS, Region
from wainscot_core.errors import InputError

from .models import Practice, User


def needs_setup() -> bool:
    """True until the first user exists."""
    return not User.objects.exists()


@transaction.atomic
def set_up(practice_name: str, username: str, password: str, region: Region) -> User:
    """Create the practice, which writes as its region does, and its first user. Raises InputError when it was done before."""
    if not needs_setup():
        raise InputError("", "This installation is already set up. Sign in.")
    user = User(username=username)
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise InputError("password", " ".join(error.messages)) from None
    user.practice = Practice.objects.create(name=practice_name, conventions=dump(REGIONS[region]))
    user.set_password(password)
    user.save()
    return user
