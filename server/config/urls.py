"""URLs: the API, and the application shell for every other path."""

from django.urls import include, path, re_path

from .shell import shell

urlpatterns = [
    path("api/", include("config.api")),
    re_path(r"^(?!api/|static/|assets/).*$", shell),
]
