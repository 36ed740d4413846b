"""Settings. Everything that differs between installations comes from the environment."""

import os
from pathlib import Path

from keeping.secret import read_or_make_secret

from config.logs import FAILURES

SERVER_DIR = Path(__file__).resolve().parent.parent
ROOT_DIR = SERVER_DIR.parent
DATA_DIR = Path(os.environ.get("WAINSCOT_DATA", ROOT_DIR / "var" / "data")).resolve()
DATA_DIR.mkdir(parents=True, exist_ok=True)
REFERENCE_DIR = ROOT_DIR / "reference"
WEB_DIST = ROOT_DIR / "web" / "dist"

SECRET_KEY = read_or_make_secret(DATA_DIR)
DEBUG = False
ALLOWED_HOSTS = os.environ.get("WAINSCOT_HOSTS", "127.0.0.1,localhost,testserver").split(",")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django_otp",
    "django_otp.plugins.otp_totp",
    "django_otp.plugins.otp_static",
    "rest_framework",
    "drf_spectacular",
    "axes",
    "csp",
    "accounts",
    "outbox",
    "events",
    "jobs",
    "library",
    "cases.apps.CasesConfig",
    "records",
    "people.apps.PeopleConfig",
    "recipes.apps.RecipesConfig",
    "plans",
    "release",
    "kitchen",
    "office",
    "followup",
    "interview",
    "desk.apps.DeskConfig",
    "handover",
]
MIDDLEWARE = [
    "config.logs.told",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "accounts.clocks.clocks",
    "people.middleware.unstored",
    "people.middleware.seats",
    "people.middleware.trail",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "config.urls"
WSGI_APPLICATION = "config.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [WEB_DIST],
        "APP_DIRS": True,
    }
]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA_DIR / "wainscot.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 10,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
        "CONN_MAX_AGE": None,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AUTH_PASSWORD_VALIDATORS = [
    # ASVS 4, 2.1: twelve characters at least, any characters, none of the passwords everybody uses.
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 12},
    },
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
# Eight wrong passwords for a name from an address lock that pair for a quarter of an hour; a browser that has signed in before
# is counted by itself (people.guard).
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = 0.25
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
AXES_USERNAME_CALLABLE = "people.guard.counted_name"
AXES_CLIENT_IP_CALLABLE = "people.guard.address_of"
AXES_LOCKOUT_CALLABLE = "wire.errors.locked_out"

# How many proxies of ours stand before the application, each of which appends to X-Forwarded-For.
PROXIES = int(os.environ.get("WAINSCOT_PROXIES", "0"))
# ASVS 4, 3.3.2: signed in again after half an hour of nothing, and after twelve hours.
IDLE_SECONDS = 60 * int(os.environ.get("WAINSCOT_IDLE_MINUTES", "30"))
LONGEST_SECONDS = 12 * 3600
SESSION_COOKIE_AGE = LONGEST_SECONDS
OTP_TOTP_ISSUER = "Wainscot"

# The most a request may hold; what is imported at once is less.
DATA_UPLOAD_MAX_MEMORY_SIZE = 8_000_000

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "wire.errors.csrf_failure"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
if os.environ.get("WAINSCOT_HTTPS") == "1":
    SESSION_COOKIE_SECURE = True
    CSRF_COOKIE_SECURE = True
    # A cookie of this name is only ever this host's own.
    SESSION_COOKIE_NAME = "__Host-sessionid"
    CSRF_COOKIE_NAME = "__Host-csrftoken"
    SECURE_SSL_REDIRECT = True
    SECURE_REDIRECT_EXEMPT = ["^healthz$"]
    SECURE_HSTS_SECONDS = 31_536_000
    SECURE_HSTS_INCLUDE_SUBDOMAINS = True
    # The proxy sets it, and takes away what a client sent (deploy/).
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'self'"],
        "script-src": ["'self'"],
        # Radix sets positions through style attributes; no inline script is allowed.
        "style-src": ["'self'", "'unsafe-inline'"],
        "img-src": ["'self'", "data:"],
        "font-src": ["'self'"],
        "connect-src": ["'self'"],
        "object-src": ["'none'"],
        "base-uri": ["'none'"],
        "form-action": ["'self'"],
        "frame-ancestors": ["'none'"],
    }
}

STATIC_URL = "/static/"
WHITENOISE_ROOT = WEB_DIST if WEB_DIST.is_dir() else None
WHITENOISE_INDEX_FILE = False


def WHITENOISE_IMMUTABLE_FILE_TEST(path: str, url: str) -> bool:  # noqa: N802
    """Built files carry a hash in their name: a browser may keep them for good."""
    return url.startswith("/assets/")


USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["rest_framework.authentication.SessionAuthentication"],
    "DEFAULT_PERMISSION_CLASSES": [
        "accounts.permissions.BelongsToPractice",
        "accounts.permissions.MayDoThis",
    ],
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["wire.parsing.JSONParser"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "wire.errors.handle",
    "UNAUTHENTICATED_USER": None,
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Wainscot",
    "VERSION": "1",
    "DESCRIPTION": "Formulation of homemade diets for dogs. Same origin, session sign-in, CSRF token.",
    "SERVE_INCLUDE_SCHEMA": False,
    "COMPONENT_SPLIT_REQUEST": True,
    # JSON Schema as dataclasses are described in.
    "OAS_VERSION": "3.1.0",
    "POSTPROCESSING_HOOKS": [],
}
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {
        "json": {
            "()": "pythonjsonlogger.json.JsonFormatter",
            "format": "%(levelname)s %(name)s %(message)s",
            "rename_fields": {"levelname": "level", "name": "logger"},
            "timestamp": True,
        }
    },
    "filters": {"of_request": {"()": "config.logs.OfRequest"}},
    "handlers": {
        "console": {
            "class": "logging.StreamHandler", "formatter": "json", "filters": ["of_request"],
        },
        "failures": {
            "class": "logging.handlers.RotatingFileHandler", "formatter": "json", "filters": ["of_request"],
            "filename": DATA_DIR / FAILURES, "maxBytes": 500_000, "backupCount": 1, "delay": True,
            "level": "ERROR", "encoding": "utf-8",
        },
    },
    "loggers": {
        "wainscot.requests": {"level": os.environ.get("WAINSCOT_LOG_REQUESTS", "WARNING")},
        # A refusal is no event of ours: the audit trail holds those that matter.
        "django.request": {"level": "ERROR"},
    },
    "root": {"handlers": ["console", "failures"], "level": "WARNING"},
}  # fmt: skip
