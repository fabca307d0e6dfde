"""Results kept in memory, each under all that it depends on. One bounded store for each use; what was used
least recently goes first."""

import threading
from collections.abc import Callable, Hashable
from hashlib import blake2b
from itertools import count
from typing import Any, Generic, TypeVar

from cachetools import LRUCache
from pydantic import BaseModel, PrivateAttr

Result = TypeVar("Result")
_identities = count(1)


class Plain(BaseModel):
    """Data that may look things up by cached properties: a copy, and one whose fields are set, starts without
    them."""

    def __copy__(self) -> "Plain":
        return self._without_derived(super().__copy__())

    def __deepcopy__(self, memo: dict[int, Any] | None = None) -> "Plain":
        return self._without_derived(super().__deepcopy__(memo))

    def __setattr__(self, name: str, value: Any) -> None:
        super().__setattr__(name, value)
        if name in type(self).model_fields:
            self._without_derived(self)

    @staticmethod
    def _without_derived(made: "Plain") -> "Plain":
        for name in [n for n in made.__dict__ if n not in type(made).model_fields]:
            del made.__dict__[name]
        return made


class Identified(Plain):
    """Data with an identity that no other object ever has: copies get a new one, and so does an object whose
    fields are set."""

    _identity: int = PrivateAttr(default_factory=lambda: next(_identities))

    @property
    def identity(self) -> int:
        """A number to key results by that were computed from this object."""
        return self._identity

    @staticmethod
    def _without_derived(made: Plain) -> Plain:
        Plain._without_derived(made)
        made._identity = next(_identities)  # type: ignore[attr-defined]
        return made


def digest(*parts: str) -> bytes:
    """A short name for long texts that a result depends on."""
    return blake2b("\0".join(parts).encode(), digest_size=16).digest()


class Same:
    """Stands in a key for one object that is never changed: equal to itself alone, and keeps it, so that its
    id is not given again."""

    __slots__ = ("of",)

    def __init__(self, of: object) -> None:
        self.of = of

    def __hash__(self) -> int:
        return id(self.of)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Same) and other.of is self.of


class Memory(Generic[Result]):
    """Results of one use, at most so many. Threads may share it; two that ask at once may both do the
    work."""

    def __init__(self, most: int) -> None:
        self._kept: LRUCache[Hashable, Result] = LRUCache(most)
        self._lock = threading.Lock()

    def recall(self, of: Identified, key: Hashable, work: Callable[[], Result]) -> Result:
        """The result of work, kept under the identity of what it is computed from and a key that names all
        else it depends on.

        What work raises is passed on and not kept.
        """
        full = (of.identity, key)
        with self._lock:
            if full in self._kept:
                return self._kept[full]
        made = work()
        with self._lock:
            self._kept[full] = made
        return made

    def of_one(self, thing: object, work: Callable[[], Result]) -> Result:
        """The result of work on one object that is never changed."""
        key = Same(thing)
        with self._lock:
            if key in self._kept:
                return self._kept[key]
        made = work()
        with self._lock:
            self._kept[key] = made
        return made

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._kept.clear()

    def __len__(self) -> int:
        return len(self._kept)
