"""Send mail. Nothing leaves this machine: the outbox stands in for a mail server, and keeps what it was given."""

from dataclasses import dataclass

from accounts.models import Practice
from django.core.exceptions import ValidationError
from django.core.validators import validate_email
from wainscot_core.errors import InputError

from .models import Mail


@dataclass(frozen=True)
class Message:
    """What is sent, and to whom."""

    to_name: str
    to_address: str
    subject: str
    text: str
    link: str = ""


def send_mail(
    practice: Practice, case: int | None, message: Message, personal: bool = False
) -> Mail:
    """Put a message into the outbox. personal: for owners' eyes alone. Raises InputError for an address that is none."""
    try:
        validate_email(message.to_address)
    except ValidationError:
        raise InputError("address", f"{message.to_address!r} is no e-mail address") from None
    return Mail.objects.create(
        practice=practice, case=case, to_name=message.to_name, to_address=message.to_address,
        subject=message.subject, text=message.text, link=message.link, personal=personal,
    )  # fmt: skip
