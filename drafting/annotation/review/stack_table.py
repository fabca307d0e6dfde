"""A stack-up as a table: each link with what it does to the gap, and what they add up to."""

from drafting.annotation.kinds.stack_up import StackUp, result
from drafting.context import Context

HEAD = ("No.", "Link", "Nominal, mm", "Upper, mm", "Lower, mm", "Sensitivity", "Share of worst case")


def table(a: StackUp, context: Context) -> list[list[str | float | None]]:
    """Head, links, then results; lengths in mm whatever the drawing's units. Raises SizeError."""
    found = result(a, context)
    out: list[list[str | float | None]] = [list(HEAD)]
    for n, (k, share) in enumerate(zip(found.chain.links, found.shares, strict=True), 1):
        size = k.link
        numbers = (size.nominal, size.upper, size.lower, size.sensitivity, share)
        out.append([float(n), k.says, *(round(v, 6) for v in numbers)])
    out.append([None])
    for name, low, high in (
        ("Nominal", found.nominal, None),
        ("Required", a.least, a.most),
        ("Worst case", found.worst.least, found.worst.most),
        ("Root sum square", found.squares.least, found.squares.most),
        ("By lots, all but 0.27 %", found.lots.range.least, found.lots.range.most),
        ("By lots, middle and standard deviation", found.lots.middle, found.lots.deviation),
        ("By lots, share within what is required", found.lots.share, None),
    ):
        out.append([None, name, *(None if v is None else round(v, 6) for v in (low, high))])
    out.append([None, "Holds" if found.holds else "Does not hold", f"by {a.method}"])
    return [[*r, *[None] * (len(HEAD) - len(r))] for r in out]
