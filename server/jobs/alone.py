"""Work that is done once, however many workers believe that it is theirs."""

from collections.abc import Iterator
from contextlib import contextmanager, suppress

from django.db import InterfaceError, OperationalError, connection


@contextmanager
def alone(name: str, wait: bool = False) -> Iterator[bool]:
    """Whether nobody else does the work of this name; until the end nobody else will. wait: until whoever
    does it is done. The lock goes with the connection, so that a killed worker holds nothing."""
    with connection.cursor() as cursor:
        if wait:
            cursor.execute("SELECT pg_advisory_lock(hashtextextended(%s, 0))", [name])
            mine = True
        else:
            cursor.execute("SELECT pg_try_advisory_lock(hashtextextended(%s, 0))", [name])
            mine = bool(cursor.fetchone()[0])
    try:
        yield mine
    finally:
        if mine:
            with suppress(OperationalError, InterfaceError), connection.cursor() as cursor:
                cursor.execute("SELECT pg_advisory_unlock(hashtextextended(%s, 0))", [name])
