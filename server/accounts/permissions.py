"""Who may do what, in one place.

A view says what its writing is (`work`) and what its reading is (`looking`); what it does not say is the work of a
consultant. So a new view is shut to assistants until somebody opens it.
"""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum
from typing import TYPE_CHECKING

from rest_framework.permissions import SAFE_METHODS, BasePermission

from .models import User, WorkRole

if TYPE_CHECKING:
    from rest_framework.request import Request
    from rest_framework.views import APIView


class Work(StrEnum):
    """A kind of work. READ: look, and let be computed; LOG: put down what was fed, weighed, cooked and done; FORMULATE: change
    cases, recipes and plans, and let them go out; RUN: who works here, and how the practice writes."""

    READ = "read"
    LOG = "log"
    FORMULATE = "formulate"
    RUN = "run"


MAY: Mapping[str, frozenset[Work]] = {
    WorkRole.OWNER: frozenset(Work),
    WorkRole.CONSULTANT: frozenset({Work.READ, Work.LOG, Work.FORMULATE}),
    WorkRole.ASSISTANT: frozenset({Work.READ, Work.LOG}),
}
REFUSED: Mapping[Work, str] = {
    Work.READ: "You have no part in this practice any more. Ask its owner.",
    Work.LOG: "You have no part in this practice any more. Ask its owner.",
    Work.FORMULATE: "As an assistant you read, log and cook. A consultant of this practice changes this.",
    Work.RUN: "Only an owner of this practice does this.",
}


def may(user: User, work: Work) -> bool:
    """Whether a user does this kind of work."""
    return work in MAY.get(user.role, frozenset())


def work_of(view: object, method: str) -> Work:
    """The kind of work a request is."""
    if method in SAFE_METHODS:
        return getattr(view, "looking", Work.READ)
    return getattr(view, "work", Work.FORMULATE)


class BelongsToPractice(BasePermission):
    """Signed in and a member of a practice."""

    message = "Sign in first."

    def has_permission(self, request: Request, view: APIView) -> bool:
        user = request.user
        return bool(user and user.is_authenticated and user.practice_id)


class MayDoThis(BasePermission):
    """In a role that does this kind of work. code: told from who is signed out (wire.errors)."""

    code = "role"

    def has_permission(self, request: Request, view: APIView) -> bool:
        user, work = request.user, work_of(view, request.method or "")
        self.message = REFUSED[work]
        return isinstance(user, User) and may(user, work)
