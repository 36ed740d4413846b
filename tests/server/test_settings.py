"""What differs behind TLS: cookies of this host alone, and no request without it."""

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

SERVER = Path(__file__).resolve().parents[2] / "server"
ASK = """
import json, django
django.setup()
from django.conf import settings
from django.test import Client
def told(answer):
    return {"status": answer.status_code, "to": answer.get("Location", ""), "hsts": answer.get("Strict-Transport-Security", ""),
            "cookies": {k: [bool(c["secure"]), bool(c["httponly"]), c["samesite"], c["path"], c["domain"]] for k, c in answer.cookies.items()}}
print(json.dumps({
    "names": [settings.SESSION_COOKIE_NAME, settings.CSRF_COOKIE_NAME],
    "plain": told(Client().get("/words")), "secure": told(Client().get("/words", secure=True)),
    "health": told(Client().get("/healthz")),
}))
"""


def asked(folder: Path, **environment: str) -> Any:
    done = subprocess.run(
        [sys.executable, "-c", ASK], cwd=SERVER, check=True, capture_output=True, text=True,
        env={**os.environ, "WAINSCOT_DATA": str(folder), "DJANGO_SETTINGS_MODULE": "config.settings", **environment},
    )  # fmt: skip
    return json.loads(done.stdout.splitlines()[-1])


@pytest.fixture(scope="module")
def behind_tls(tmp_path_factory: pytest.TempPathFactory) -> Any:
    return asked(tmp_path_factory.mktemp("tls"), WAINSCOT_HTTPS="1")


def test_cookies_are_of_this_host_alone_and_secure(behind_tls: Any) -> None:
    assert behind_tls["names"] == ["__Host-sessionid", "__Host-csrftoken"]
    secure, _, same_site, path, domain = behind_tls["secure"]["cookies"]["__Host-csrftoken"]
    assert (secure, same_site, path, domain) == (True, "Lax", "/", "")


def test_plain_requests_are_sent_to_tls_and_told_to_stay_there(behind_tls: Any) -> None:
    assert (behind_tls["plain"]["status"], behind_tls["plain"]["to"]) == (
        301,
        "https://testserver/words",
    )
    assert "max-age=31536000" in behind_tls["secure"]["hsts"]


def test_a_health_check_needs_no_tls(behind_tls: Any) -> None:
    assert behind_tls["health"]["status"] != 301


def test_without_tls_nothing_is_sent_elsewhere(tmp_path: Path) -> None:
    plain = asked(tmp_path)
    assert plain["names"] == ["sessionid", "csrftoken"]
    assert plain["plain"]["status"] in (200, 503) and plain["plain"]["hsts"] == ""
