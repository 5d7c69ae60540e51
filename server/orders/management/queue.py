"""The queue before anything is sent through it."""

from django.conf import settings
from django.core.management.base import CommandError


def reach_queue() -> None:
    """Raises CommandError, in words, where the queue is a Redis that does not answer."""
    if not settings.QUEUE_URL:
        return
    from redis import Redis
    from redis.exceptions import RedisError

    try:
        Redis.from_url(settings.QUEUE_URL).ping()
    except (RedisError, ValueError) as error:
        said = f"The queue at {settings.QUEUE_URL} does not answer ({error}). Check the address."
        raise CommandError(said) from None
