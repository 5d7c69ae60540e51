"""The queue has a database of its own: its workers write nothing into that of the shop."""

from typing import Any

QUEUE = "queue"
_APP = "django_tasks_database"


class QueueRouter:
    """Says which database a model is in."""

    def db_for_read(self, model: Any, **hints: Any) -> str | None:
        return QUEUE if model._meta.app_label == _APP else None

    db_for_write = db_for_read

    def allow_migrate(self, db: str, app_label: str, **hints: Any) -> bool:
        return (app_label == _APP) == (db == QUEUE)
