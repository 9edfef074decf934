"""Django settings. Everything that differs between installations comes from the data folder or the environment."""

import contextlib
import os
import secrets
from pathlib import Path

from csp.constants import NONCE, NONE, SELF

ROOT = Path(__file__).resolve().parents[3]
DATA = Path(os.environ.get("YOUNG_SPARK_DATA", ROOT / "data" / "shop")).resolve()
DATA.mkdir(parents=True, exist_ok=True)
PICTURES = DATA / "pictures"
WEB_DIST = ROOT / "web" / "dist"


def _secret() -> str:
    """The signing key: made at the first start, kept in the data folder, never in the repository."""
    file = DATA / "secret-key"
    if not file.exists():
        partial = DATA / f"secret-key-{os.getpid()}.partial"
        with os.fdopen(os.open(partial, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as out:
            out.write(secrets.token_urlsafe(64))
            out.flush()
            os.fsync(out.fileno())
        with contextlib.suppress(FileExistsError):
            os.link(partial, file)  # whole or not at all, and never over one that another process made
        partial.unlink()
    return file.read_text()


SECRET_KEY = _secret()
DEBUG = False
ALLOWED_HOSTS = [
    "127.0.0.1",
    "localhost",
    *filter(None, os.environ.get("YOUNG_SPARK_HOSTS", "").split(",")),
]
ROOT_URLCONF = "young_spark.server.config.urls"
ASGI_APPLICATION = "young_spark.server.config.asgi.application"
APPEND_SLASH = False

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    *(
        f"young_spark.server.{app}"
        for app in ("accounts", "library", "jobs", "benches", "readings", "live", "records", "tracing", "handback")
    ),
]
MIDDLEWARE = [
    "young_spark.server.config.known_host.known_host",
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "young_spark.server.accounts.browsers.browser_still_trusted",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
    "young_spark.server.config.one_writer.one_writer",
]
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True, "OPTIONS": {}}]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "young-spark.sqlite3",
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 10,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON",
        },
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en-gb"

AUTH_USER_MODEL = "accounts.Person"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = ["username"]  # of browsers that are not trusted: a trusted one counts for itself
AXES_WHITELIST_CALLABLE = "young_spark.server.accounts.services.counts_for_itself"
AXES_CLIENT_IP_CALLABLE = "young_spark.server.accounts.services.address_of"
AXES_RESET_ON_SUCCESS = True
SILENCED_SYSTEM_CHECKS = ["axes.W006"]  # it wants addresses counted: behind one proxy, or here, all have one address
AXES_VERBOSE = False

SESSION_ENGINE = "django.contrib.sessions.backends.cached_db"  # in this one process; what is written is on disk too
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 30 * 24 * 3600
CSRF_COOKIE_SAMESITE = "Lax"
# a shop that serves over https says so; 127.0.0.1 has no certificate
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = os.environ.get("YOUNG_SPARK_HTTPS") == "1"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF, NONCE],
        "font-src": [SELF],
        "img-src": [SELF, "blob:"],
        "media-src": [SELF],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}

STATIC_URL = "/static/"
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.is_dir() else []
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = False

LARGEST_UPLOAD = 20 * 1024 * 1024
LARGEST_RECORD = 64 * 1024 * 1024
LARGEST_BUNDLE = 500 * 1024 * 1024
DATA_UPLOAD_MAX_MEMORY_SIZE = 1024 * 1024  # JSON bodies; files have their own bound
FILE_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024 * 1024
INCOMING = DATA / "incoming"  # what a kill leaves in it is swept at the next start
with contextlib.suppress(OSError):  # a disk that is full lets it start all the same
    INCOMING.mkdir(mode=0o700, exist_ok=True)
FILE_UPLOAD_TEMP_DIR = INCOMING if INCOMING.is_dir() else None

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "%(asctime)s %(levelname)s %(name)s: %(message)s"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "line"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
