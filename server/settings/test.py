"""What the tests run with: a real PostgreSQL, fast hashing."""

from server.settings.base import *  # noqa: F403

SECRET_KEY = "only-for-tests-and-never-for-anything-that-is-reachable-0123456789"
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
ALLOWED_HOSTS = ["*"]
READ_SECONDS = 60.0
