"""How often a password may be tried.

Three counts, so that guessing is slow whichever way it goes, and nobody is locked out by somebody else's guesses:
- a name from one address: django-axes (settings), 8 in 15 minutes;
- many names from one address (spraying), and one name from many addresses: here.

A browser that has signed in as this name before carries a signed mark. What is tried with it is counted by itself (ASVS 2.2.1;
OWASP, Device Cookies), so that whoever works here every day gets in while somebody guesses, from the same address too.
"""

from ipaddress import ip_address
from secrets import token_urlsafe
from typing import Any

from django.conf import settings
from django.core.cache import cache
from django.core.signing import BadSignature, TimestampSigner
from django.http import HttpRequest, HttpResponse
from rest_framework.exceptions import Throttled

MARK = "known_browser"
MARK_DAYS = 180
WINDOW_SECONDS = 900
MOST_FROM_ADDRESS = 20
MOST_OF_NAME = 40
MOST_ASKED_FOR = 5
# By these a proxy tells that it passed something on.
_PASSED_ON = (
    "HTTP_FORWARDED", "HTTP_VIA", "HTTP_X_FORWARDED_FOR", "HTTP_X_FORWARDED_HOST", "HTTP_X_FORWARDED_PROTO", "HTTP_X_REAL_IP",
)  # fmt: skip
_signer = TimestampSigner(salt="people.known-browser")


def address_of(request: HttpRequest) -> str:
    """Where a request comes from. Behind proxies of ours (WAINSCOT_PROXIES, how many) it is what the outermost of them saw;
    what a client writes into the header itself stands further left and is not believed."""
    seen = str(request.META.get("REMOTE_ADDR", ""))
    chain = [*request.META.get("HTTP_X_FORWARDED_FOR", "").split(","), seen]
    trusted = settings.PROXIES
    return chain[-1 - trusted].strip() if 0 < trusted < len(chain) else seen


def is_here(request: HttpRequest) -> bool:
    """Whether somebody asks on this very machine: no proxy stands between, ours or another one."""
    seen = str(request.META.get("REMOTE_ADDR", ""))
    try:
        near = ip_address(seen).is_loopback
    except ValueError:
        near = False
    return near and not settings.PROXIES and not any(request.META.get(h) for h in _PASSED_ON)


def counted_name(request: HttpRequest, credentials: Any = None) -> str:
    """Under which name django-axes counts a try: a known browser has a count of its own."""
    name = str((credentials or {}).get("username", ""))[:150]
    mark = _mark_for(request, name)
    return f"{name[:100]} at {mark}" if mark else name


def _mark_for(request: HttpRequest, name: str) -> str | None:
    """The mark of a browser that has signed in as this name before."""
    try:
        said = _signer.unsign(request.COOKIES.get(MARK, ""), max_age=MARK_DAYS * 86400)
    except BadSignature:
        return None
    mark, _, of = said.partition(":")
    return mark if of == name else None


def remember(request: HttpRequest, response: HttpResponse, name: str) -> None:
    """Mark a browser as one that has signed in as this name."""
    if _mark_for(request, name) is None:
        response.set_cookie(
            MARK, _signer.sign(f"{token_urlsafe(12)}:{name}"), max_age=MARK_DAYS * 86400,
            httponly=True, samesite="Strict", secure=settings.SESSION_COOKIE_SECURE,
        )  # fmt: skip


def _keys(request: HttpRequest, name: str) -> tuple[tuple[str, int], ...]:
    return (
        (f"tries-from:{address_of(request)}", MOST_FROM_ADDRESS),
        (f"tries-of:{name.casefold()[:150]!r}", MOST_OF_NAME),
    )


def hold_back(request: HttpRequest, name: str) -> None:
    """Raises Throttled when too much was tried of late from here or for this name. A known browser is let through: its own
    count holds it."""
    if _mark_for(request, name) is None and any(
        cache.get(key, 0) >= most for key, most in _keys(request, name)
    ):
        raise Throttled(wait=WINDOW_SECONDS)


def count_failure(request: HttpRequest, name: str) -> None:
    """A password that was wrong."""
    if _mark_for(request, name) is None:
        for key, _ in _keys(request, name):
            cache.add(key, 0, WINDOW_SECONDS)
            cache.incr(key)


def ask_rarely(what: str, request: HttpRequest) -> None:
    """Raises Throttled when this was asked for too often from here."""
    key = f"asked:{what}:{address_of(request)}"
    cache.add(key, 0, WINDOW_SECONDS)
    if cache.incr(key) > MOST_ASKED_FOR:
        raise Throttled(wait=WINDOW_SECONDS)
