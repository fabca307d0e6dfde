"""Loops that arrays cannot do quickly, compiled to machine code (docs/decisions/014-compiled-loops.md)."""

from collections.abc import Callable
from typing import TypeVar, cast

from numba import njit

F = TypeVar("F", bound=Callable[..., object])


def compiled(arguments: str) -> Callable[[F], F]:
    """Compile a function of arrays and numbers for one list of argument types, when its module is imported.

    The code is kept beside the module, so that a machine compiles once; where no folder can be written it is
    compiled by every process. Division follows IEEE 754, as numpy's does.
    """

    def of(function: F) -> F:
        try:
            return cast(F, njit(arguments, cache=True, nogil=True, error_model="numpy")(function))
        except RuntimeError:  # nowhere to keep the code
            return cast(F, njit(arguments, nogil=True, error_model="numpy")(function))

    return of
