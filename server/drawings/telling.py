"""Telling everybody who has a drawing open what happens to it, once the transaction is done."""

import json
from typing import Any

from django.db import connection

from server.accounts.access import called

CHANNEL = "moorcrest_drawings"


def told(drawing_id: Any, what: str, user: Any, **more: Any) -> None:
    """Tell what happened to a drawing once the transaction is done. what: changed, pencil, here, left."""
    event = {
        "drawing": str(drawing_id),
        "what": what,
        "by": called(user),
        "user": user.pk if user else 0,
        **more,
    }
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_notify(%s, %s)", [CHANNEL, json.dumps(event)[:7900]])
