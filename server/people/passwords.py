"""Passwords: what one must be, and that it is somebody's."""

from accounts.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from wainscot_core.errors import InputError


def set_password(user: User, password: str) -> None:
    """Give somebody a password, not saved yet. Raises InputError for one that is too easy to guess (ASVS 4, 2.1)."""
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise InputError("password", " ".join(error.messages)) from None
    user.set_password(password)


def must_know(user: User, password: str) -> None:
    """Raises InputError when this is not the password of whoever is signed in."""
    if not user.check_password(password):
        raise InputError("old", "This is not your password now.")
