"""Revision marks in their order: ASME Y14.35 letters without those that are read as others, ISO numbers or
letters (ISO 7200; memory)."""

import itertools
import string
from collections.abc import Iterator

from drafting.errors import CommandError

LEFT_OUT = "IOQSXZ"
"""Letters that ASME Y14.35 leaves out."""


def marks(standard: str, numbers: bool = False) -> Iterator[str]:
    """All revision marks in order: A, B … Y, AA, AB … (ISO: all letters), or 1, 2 …"""
    if numbers:
        yield from (str(n) for n in itertools.count(1))
    usable = [c for c in string.ascii_uppercase if standard != "ASME" or c not in LEFT_OUT]
    for long in itertools.count(1):
        yield from ("".join(p) for p in itertools.product(usable, repeat=long))


def after(mark: str, standard: str) -> str:
    """The mark that follows one: of its own form, the first one for none. Raises CommandError for a mark that
    is none."""
    mark = mark.strip().upper()
    if not mark or mark == "-":
        return "A"
    if mark.isdigit():
        return str(int(mark) + 1)
    usable = [c for c in string.ascii_uppercase if standard != "ASME" or c not in LEFT_OUT]
    if len(mark) > 3 or any(c not in usable for c in mark):
        raise CommandError(f"{mark} is no revision mark; say a letter or a number.")
    value = 0
    for c in mark:
        value = value * len(usable) + usable.index(c) + 1
    value += 1
    out = ""
    while value:
        value, rest = divmod(value - 1, len(usable))
        out = usable[rest] + out
    return out
