"""People of a practice for tests: made, signed in, with an authenticator."""

from typing import Any

from accounts.models import User, WorkRole
from django.test import Client as Browser
from django_otp.oath import totp
from django_otp.plugins.otp_totp.models import TOTPDevice

PASSWORD = "a-long-password-1"
OTHER = "another-long-password-2"


def send(browser: Browser, method: str, path: str, body: Any = None, **more: Any) -> Any:
    return getattr(browser, method)(f"/api/{path}", body, content_type="application/json", **more)


def sign_in(
    name: str, password: str = PASSWORD, code: str = "", browser: Browser | None = None, **more: Any
) -> Any:
    browser = browser or Browser()
    body = {"username": name, "password": password, "code": code}
    return send(browser, "post", "session/sign-in", body, **more)


def member(office: Any, name: str, role: WorkRole) -> tuple[User, Browser]:
    user = User(username=name, practice=office.practice, role=role, email=f"{name}@example.org")
    user.set_password(PASSWORD)
    user.save()
    browser = Browser()
    assert sign_in(name, browser=browser).status_code == 200
    return user, browser


def code_of(user: User, ahead: int = 0) -> str:
    device = TOTPDevice.objects.get(user=user)
    return (
        f"{totp(device.bin_key, device.step, device.t0, device.digits, device.drift + ahead):06d}"
    )


def with_factor(office: Any) -> tuple[User, Browser, list[str]]:
    user, browser = member(office, "iris", WorkRole.CONSULTANT)
    made = send(browser, "post", "account/second-factor").json()
    assert made["drawing"].startswith("data:image/svg+xml") and len(made["secret"]) >= 32
    wrong = send(browser, "post", "account/second-factor/confirm", {"code": "000000"})
    assert wrong.status_code == 400
    assert sign_in("iris").status_code == 200, "not on yet"
    TOTPDevice.objects.update(throttling_failure_count=0)
    on = send(browser, "post", "account/second-factor/confirm", {"code": code_of(user)})
    assert on.status_code == 200, on.content
    return user, browser, on.json()["codes"]
