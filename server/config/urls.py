"""URLs: the API, documents, shared documents, and the application shell for every other path."""

from desk.feeds import DeskCalendar
from django.urls import include, path, re_path
from kitchen.pages import OwnersCalendar
from records.pages import SharedView
from release.pages import VetPage

from .api_installation import healthz
from .shell import shell

handler400 = "wire.errors.bad_request"
handler500 = "wire.errors.server_error"

urlpatterns = [
    path("healthz", healthz),
    path("api/", include("config.api")),
    path("papers/", include("config.papers")),
    path("s/<str:token>/change.pdf", SharedView.as_view(), {"part": "change", "form": "pdf"}),
    path("s/<str:token>/change.ics", SharedView.as_view(), {"part": "change", "form": "ics"}),
    path("s/<str:token>/shopping.pdf", SharedView.as_view(), {"part": "shopping", "form": "pdf"}),
    path("s/<str:token>/shopping", SharedView.as_view(), {"part": "shopping"}),
    path("s/<str:token>/change", SharedView.as_view(), {"part": "change"}),
    path("s/<str:token>.pdf", SharedView.as_view(), {"form": "pdf"}),
    path("s/<str:token>", SharedView.as_view()),
    path("v/<str:token>.pdf", VetPage.as_view(), {"form": "pdf"}),
    path("v/<str:token>", VetPage.as_view()),
    path("cook/<str:token>/boxes.ics", OwnersCalendar.as_view()),
    path("due/<str:token>.ics", DeskCalendar.as_view()),
    re_path(r"^(?!api/|papers/|s/|v/|static/|assets/).*$", shell),
]
