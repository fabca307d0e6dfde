"""Behind a proxy that ends TLS. `manage.py check --deploy` is clean with these."""

import os

os.environ.setdefault("MOORCREST_LOG", "INFO")

from server.settings.base import *  # noqa: F403

SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
SECURE_SSL_REDIRECT = True
SECURE_HSTS_SECONDS = 31_536_000
SECURE_HSTS_INCLUDE_SUBDOMAINS = True
SECURE_HSTS_PRELOAD = True
SESSION_COOKIE_SECURE = True
CSRF_COOKIE_SECURE = True
CSRF_TRUSTED_ORIGINS = [o for o in os.environ.get("MOORCREST_ORIGINS", "").split(",") if o]
