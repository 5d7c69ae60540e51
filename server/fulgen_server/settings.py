"""Settings of a program that runs on the maker's own machine and answers only there."""

import os
import secrets
from pathlib import Path

from fulgen.recipe.versions import MAX_RECIPE_BYTES

ROOT = Path(__file__).parents[2]
DATA_DIR = Path(os.environ.get("FULGEN_DATA", ROOT / "var"))
WEB_DIR = ROOT / "web" / "dist"
DEMO_DIR = ROOT / "demo"


def _secret_key() -> str:
    """A key of this installation's own, made at the first start."""
    path = DATA_DIR / "secret-key"
    try:
        with path.open("x", encoding="ascii") as file:
            path.chmod(0o600)
            file.write(secrets.token_urlsafe(48))
    except FileExistsError:
        pass
    return path.read_text("ascii") or secrets.token_urlsafe(48)


def _private(database: Path) -> Path:
    """The database, which nobody else on this machine may read; SQLite makes the files beside it alike."""
    DATA_DIR.mkdir(parents=True, exist_ok=True, mode=0o700)
    for path in (database, *(database.with_name(f"{database.name}-{end}") for end in ("wal", "shm"))):
        if path == database or path.exists():
            path.touch(mode=0o600)
            path.chmod(0o600)
    return database


DATABASE = _private(DATA_DIR / "fulgen.sqlite3")
QUEUE_DATABASE = _private(DATA_DIR / "queue.sqlite3")
SECRET_KEY = _secret_key()
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]

QUEUE_URL = os.environ.get("FULGEN_QUEUE", "")
"""Where the queue of orders is: "" for one in this folder, or a Redis by its address (redis://host:port/0)."""

INSTALLED_APPS = ["designs", "orders", "django_tasks_db", *(["django_rq"] if QUEUE_URL else [])]
TASKS = {
    "default": {
        "BACKEND": "django_tasks_rq.RQBackend" if QUEUE_URL else "django_tasks_db.DatabaseBackend",
        "QUEUES": ["default"],
    }
}
RQ_QUEUES = {"default": {"URL": QUEUE_URL, "DEFAULT_TIMEOUT": 600, "DEFAULT_RESULT_TTL": 3_600}}

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "fulgen_server.guard.guard",
    "fulgen_server.worker_dispatch.hand_over",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "fulgen_server.urls"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATABASE,
        "OPTIONS": {
            # WAL with FULL sync: what was said to be saved survives a kill and a power cut.
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
            "transaction_mode": "IMMEDIATE",
            "timeout": 10,
        },
    },
    # What lies in the queue can be asked for again at any time: it is quick, and may be lost.
    "queue": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": QUEUE_DATABASE,
        "OPTIONS": {
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=OFF;",
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
        },
    },
}
DATABASE_ROUTERS = ["orders.queue_router.QueueRouter"]
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True

MAX_BODY_BYTES = MAX_RECIPE_BYTES + 2**16  # a recipe, and what is asked of it
DATA_UPLOAD_MAX_MEMORY_SIZE = MAX_BODY_BYTES
MAX_UPLOAD_BYTES = 13 * 2**20  # a file and its envelope
FILE_UPLOAD_MAX_MEMORY_SIZE = MAX_UPLOAD_BYTES
UPLOADS = {
    "/api/own-faces": "Choose a smaller face file.",
    "/api/artwork/open": "Choose a smaller file.",
    "/api/artwork/read": "Choose a smaller drawing, or leave out what is not needed.",
    "/api/photos": "Save the photograph smaller and choose it again.",
    "/api/artwork/pages": "Choose a smaller drawing, or save the page you need by itself.",
}
"""Addresses that take files, and what to do where one is too large."""

_ORDERS = ("sheets", "files", "pick-list", "proof", "pictures", "job", "cut-elsewhere")
PATIENCE = (
    {"/api/cut/file": 4.0, "/api/cut/nest": 4.0, "/api/cut/job": 4.0}
    | {f"/api/orders/{what}": 20.0 for what in _ORDERS}
    | dict.fromkeys(UPLOADS, 0.5)
)
"""Addresses that may take so many times as long as others: whole orders are cut on the simulated machine; a
file that is not read in half the time was made to do harm, and is refused within 10 seconds."""

STATIC_URL = "/static/"
WHITENOISE_ROOT = WEB_DIR
WHITENOISE_MAX_AGE = 3600
WHITENOISE_ALLOW_ALL_ORIGINS = False
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"stderr": {"class": "logging.StreamHandler"}},
    "loggers": {
        "django": {"handlers": ["stderr"], "level": "ERROR"},
        "fulgen": {"handlers": ["stderr"], "level": "WARNING"},
        "django_tasks": {"handlers": ["stderr"], "level": "ERROR"},
        "django_tasks_db": {"handlers": ["stderr"], "level": "ERROR"},
    },
}
