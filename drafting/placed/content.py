"""The bytes of placed files, by the hash of their content. Where they are kept, the product around says
once."""

import threading
from collections.abc import Callable

from cachetools import LRUCache

from drafting.errors import SizeError

Reader = Callable[[str], bytes | None]
MOST = 96 * 1024 * 1024
"""Bytes that are held in memory."""

_kept: LRUCache[str, bytes] = LRUCache(MOST, getsizeof=len)
_lock = threading.Lock()
_readers: list[Reader] = []


def read_with(reader: Reader) -> None:
    """Say where files are kept: a function of their hash, None for one that is not there."""
    _readers[:] = [reader]
    with _lock:
        _kept.clear()


def content(key: str) -> bytes:
    """The bytes of a placed file. Raises SizeError where it is not there."""
    with _lock:
        if key in _kept:
            return _kept[key]
    found = _readers[0](key) if _readers else None
    if found is None:
        raise SizeError("The file of this is no longer there; place it again.")
    if len(found) < MOST // 4:
        with _lock:
            _kept[key] = found
    return found
