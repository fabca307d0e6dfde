"""Rows of a callout: words, and numbers of which each may have a tolerance of its own."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from drafting.annotation.wording import label
from drafting.annotation.wording.numbers import angle_written, written
from drafting.annotation.wording.tolerance_words import parsed
from drafting.annotation.wording.tolerances import angle_parts, parts
from drafting.document import Tolerance, Wording
from drafting.standards.profile import Profile


@dataclass(frozen=True)
class Value:
    """A number of a callout: its sign, mm or radians, and what it is, for its tolerance."""

    sign: str
    value: float
    role: str = ""
    is_angle: bool = False


Row = list[str | Value]


def times_sign(profile: Profile) -> str:
    """What stands between a count and what it counts, and between numbers."""
    return "X" if profile.standard == "ASME" else "×"


def plain(found: Sequence[Row], profile: Profile, places: int | None = None) -> str:
    """Rows as one line without tolerances, for lists and tables."""

    def text(item: str | Value) -> str:
        if isinstance(item, str):
            return item
        if item.is_angle:
            return item.sign + angle_written(item.value, profile)
        return item.sign + written(item.value, profile, places)

    return " ".join("".join(map(text, row)) for row in found)


def lettered(
    found: Sequence[Row],
    typed: Callable[[str], str],
    places: Callable[[str], int | None],
    note: str,
    profile: Profile,
) -> list[label.Row]:
    """Rows as they are lettered. typed: the tolerance of a role as it is typed; places: the decimals of a
    role, None for the profile's; note: further rows. Raises
    SizeError for a tolerance that is none."""
    out = []
    for row in found:
        made = label.Row(profile)
        for item in row:
            if isinstance(item, str):
                made.put(item)
            elif item.is_angle:
                made.value(angle_parts(item.value, Wording(), Tolerance(), profile), item.sign)
            else:
                words = typed(item.role) if item.role else ""
                tolerance = parsed(words, item.value, profile) if words else Tolerance()
                number = parts(
                    item.value, Wording(places=places(item.role)), tolerance, profile, profile.units
                )
                made.value(number, item.sign)
        out.append(made)
    for text in filter(None, (t.strip() for t in note.split("\n"))):
        made = label.Row(profile)
        made.put(text)
        out.append(made)
    return out


def roles(found: Sequence[Row]) -> set[str]:
    """Of the numbers in rows."""
    return {item.role for row in found for item in row if not isinstance(item, str)}
