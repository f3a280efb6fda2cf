"""Django settings: fit for real use from the first day.

`VANTOK_VAR` moves the data directory. `VANTOK_PLAIN_HTTP=1` (set by `run.py demo` and `serve`, which bind to this
machine alone) leaves out only what needs a TLS front end: the redirect to https, HSTS and the cookies' secure flag.
"""

from __future__ import annotations

import os
from pathlib import Path

import django_stubs_ext
from csp.constants import NONE, SELF
from django.core.exceptions import ImproperlyConfigured
from django.core.management.utils import get_random_secret_key

django_stubs_ext.monkeypatch()  # views and forms are written with what they are of: FormView[PersonForm]
ROOT = Path(__file__).resolve().parent.parent.parent
VAR = Path(os.environ.get("VANTOK_VAR", ROOT / "var"))
os.umask(0o077)  # database, key and photographs are for their owner only
if "VANTOK_VAR" in os.environ and not VAR.is_dir():
    raise ImproperlyConfigured(
        f"The data folder {VAR} is not there. Put it back, or make it first if this is a new shop."
    )
VAR.mkdir(parents=True, exist_ok=True)
PLAIN_HTTP = os.environ.get("VANTOK_PLAIN_HTTP") == "1"
DEMO = os.environ.get("VANTOK_DEMO") == "1"


def _secret_key() -> str:
    """Return the secret key, made on the first run and kept beside the data, readable by its owner only.

    Written whole or not at all; one that a full disk left empty is made anew (everybody signs in again).
    """
    path = VAR / "secret_key"
    known = path.read_text().strip() if path.exists() else ""
    if known:
        return known
    fresh, part = get_random_secret_key(), path.with_suffix(f".{os.getpid()}")
    try:
        part.write_text(fresh)
        part.replace(path)
    except OSError as error:
        raise ImproperlyConfigured(
            f"The secret key cannot be written to {path}: {error.strerror}. Make room, or look at the folder's rights."
        ) from error
    return fresh


SECRET_KEY = _secret_key()
DEBUG = False
ALLOWED_HOSTS = os.environ.get("VANTOK_HOSTS", "127.0.0.1,localhost").split(",")
CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in ALLOWED_HOSTS]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "axes",
    "simple_history",
    "django_htmx",
    "csp",
    "vantok.people",
    "vantok.records.garage",
    "vantok.records.jobs",
    "vantok.records.weigh",
    "vantok.records.instruments",
    "vantok.records.measure",
    "vantok.records.choose",
    "vantok.records.handover",
    "vantok.records.shelf",
    "vantok.records.practice",
    "vantok.records.learnt",
]

MIDDLEWARE = [
    "vantok.people.failures.Failures",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "vantok.people.gate.SignedIn",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "simple_history.middleware.HistoryRequestMiddleware",
    "vantok.practice.own.OwnPractice",
    "vantok.people.gate.Gate",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "vantok.urls"
WSGI_APPLICATION = "vantok.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [ROOT / "src" / "vantok" / "templates"],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "vantok.shop.context.shop",
                "vantok.practice.context.bay",
            ],
            "builtins": ["vantok.fields.tags"],
        },
    }
]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": VAR / "vantok.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 5,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
        "CONN_MAX_AGE": None,
        # A file, not memory: the live server's threads then have connections of their own, as in real use.
        "TEST": {"NAME": VAR / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "people.User"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in ("UserAttributeSimilarityValidator", "MinimumLengthValidator", "CommonPasswordValidator")
]
LOGIN_URL = "sign-in"
LOGIN_REDIRECT_URL = "board"
LOGOUT_REDIRECT_URL = "sign-in"
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_TEMPLATE = "people/locked.html"

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "font-src": [SELF],
        "img-src": [SELF, "data:", "blob:"],
        "media-src": ["blob:"],
        "connect-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}
CSRF_FAILURE_VIEW = "vantok.people.failures.stale_form"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_AGE = 14 * 24 * 3600
IDLE_SECONDS = int(os.environ.get("VANTOK_IDLE_MINUTES", "120")) * 60
"""A session nobody has touched for this long ends; what was typed waits in the browser for its person."""
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = not PLAIN_HTTP
SECURE_HSTS_SECONDS = 0 if PLAIN_HTTP else 31_536_000
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = not PLAIN_HTTP
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if os.environ.get("VANTOK_BEHIND_PROXY") == "1" else None
DATA_UPLOAD_MAX_MEMORY_SIZE = 5_000_000
DATA_UPLOAD_MAX_NUMBER_FIELDS = 2000
FILE_UPLOAD_PERMISSIONS, FILE_UPLOAD_DIRECTORY_PERMISSIONS = 0o600, 0o700
MOST_BODY = 25_000_000
"""Largest request that is read at all: a photograph and what goes with it."""

MOST_WORK = 30.0
"""Seconds of work after which a request is ended with a sentence, so that no address can stop the shop."""

STATIC_URL = "/static/"
STATIC_ROOT = VAR / "static"
STATICFILES_FINDERS = [
    "django.contrib.staticfiles.finders.FileSystemFinder"
]  # nothing but what this program serves itself
STATICFILES_DIRS = [ROOT / "src" / "vantok" / "static"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage", "OPTIONS": {"location": VAR / "media"}},
    "staticfiles": {"BACKEND": "vantok.static_files.Storage"},
}

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_TZ = True
TEST_RUNNER = "tests.runner.Runner"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        "django.request": {"level": "ERROR"},
        "waitress.queue": {"level": "ERROR"},
    },  # what was refused or not found is said on the page
}
