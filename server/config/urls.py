"""URLs: the API, and the application shell for every other path."""

from api import views_shell
from django.urls import include, path, re_path

urlpatterns = [
    path("api/", include("api.urls")),
    re_path(r"^(?!api/|static/|assets/).*$", views_shell.shell),
]
