"""The built front end's page, for every address the application routes itself."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.csrf import ensure_csrf_cookie


@ensure_csrf_cookie
def shell(request: HttpRequest) -> HttpResponse:
    """index.html, or what to do when the front end was not built."""
    if not (settings.WEB_DIST / "index.html").exists():
        return HttpResponse(
            "The front end is not built. Run ./wainscot demo, or npm ci && npm run build in web/.",
            status=503,
            content_type="text/plain",
        )
    response = render(request, "index.html")
    response["Cache-Control"] = "no-cache"
    return response
