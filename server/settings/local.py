"""One machine, loopback, no TLS: what ./moorcrest start uses."""

from server.settings.base import *  # noqa: F403

CSRF_TRUSTED_ORIGINS: list[str] = []
