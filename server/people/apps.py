"""Seats are taken at sign-in."""

from django.apps import AppConfig


class PeopleConfig(AppConfig):
    """Who works in a practice, and how they get in."""

    name = "people"

    def ready(self) -> None:
        """Listen to sign-ins."""
        from django.contrib.auth.signals import user_logged_in

        from .seats import take_seat

        user_logged_in.connect(take_seat)
