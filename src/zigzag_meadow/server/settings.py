"""Django settings: one SQLite file and one data folder, served to this machine only."""

from __future__ import annotations

import contextlib
import os
import secrets
from pathlib import Path

from zigzag_meadow import DATA

FRONTEND = Path(__file__).resolve().parents[3] / "frontend" / "dist"


def _secret() -> str:
    path = DATA / "secret"
    DATA.mkdir(parents=True, exist_ok=True, mode=0o700)
    with contextlib.suppress(OSError):
        # Drafts, keys and files of one artist: nobody else on the machine needs to read them.
        DATA.chmod(0o700)
    try:
        with open(path, "x", opener=lambda name, flags: os.open(name, flags, 0o600)) as file:
            file.write(secrets.token_urlsafe(50))
    except FileExistsError:
        pass
    return path.read_text()


SECRET_KEY = _secret()
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "testserver"]
ROOT_URLCONF = "zigzag_meadow.server.urls"
WSGI_APPLICATION = "zigzag_meadow.server.wsgi.application"
INSTALLED_APPS = ["django.contrib.staticfiles", "ninja", "zigzag_meadow.server"]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.common.CommonMiddleware",
    "zigzag_meadow.server.middleware.PageGuard",
    "zigzag_meadow.server.middleware.ApiGuard",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True, "OPTIONS": {}}]
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "meadow.sqlite3",
        "CONN_MAX_AGE": 600,
        "OPTIONS": {
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
STATIC_URL = "/static/"
STATICFILES_DIRS = [FRONTEND] if FRONTEND.is_dir() else []
STATIC_ROOT = DATA / "static"
for _folder in (STATIC_ROOT, DATA / "uploads"):
    _folder.mkdir(parents=True, exist_ok=True)
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = False
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/static/assets/"
DATA_UPLOAD_MAX_MEMORY_SIZE = 16 * 1024 * 1024
# Above what any endpoint takes, so that it is the endpoint that says how many.
DATA_UPLOAD_MAX_NUMBER_FILES = 1000
FILE_UPLOAD_MAX_MEMORY_SIZE = 1024 * 1024
FILE_UPLOAD_TEMP_DIR = str(DATA / "uploads")
FILE_UPLOAD_HANDLERS = [
    "django.core.files.uploadhandler.MemoryFileUploadHandler",
    "zigzag_meadow.server.uploads.LimitedUpload",
]
# Pages that reload as they are edited come from another port, and only while somebody works on them.
CSRF_TRUSTED_ORIGINS = ["http://127.0.0.1:5173"] if os.environ.get("ZIGZAG_DEV") == "1" else []
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
MEADOW_DATA = DATA
"""Everything the application writes lies below this folder."""
MEADOW_FOLDERS = [folder for folder in os.environ.get("ZIGZAG_FOLDERS", "").split(os.pathsep) if folder]
"""Folders that may be looked into, links resolved, as said when the application was started."""
