"""What a rule is, and what it finds."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any, Literal

from drafting.checking.page import Page
from drafting.standards.profile import Profile

Gravity = Literal["grave", "look", "off"]


@dataclass(frozen=True)
class Remedy:
    """What mends a fault in one step: what it is called, and the command; or, of what the desk does itself,
    the name of its action."""

    label: str
    command: dict[str, Any] = field(default_factory=dict)
    action: str = ""


@dataclass(frozen=True)
class Fault:
    """Something that a rule finds. text: one sentence; ids: the views and annotations it is about."""

    text: str
    ids: tuple[str, ...] = ()
    remedies: tuple[Remedy, ...] = ()


@dataclass(frozen=True)
class Rule:
    """A rule. key: what findings and house styles know it by; title: what it asks for; iso, asme: where the
    standards say so (clauses from memory), or "common practice"; gravity: of what it finds, where the house
    style says nothing; faults: finds them on a page, None for what is told of the part's numbers; whole: it
    is of the whole drawing, asked of its first sheet alone."""

    key: str
    title: str
    iso: str
    asme: str
    gravity: Gravity
    faults: Callable[[Page], Iterable[Fault]] | None = None
    whole: bool = False

    def clause(self, profile: Profile) -> str:
        """Where the drawing's standard says so."""
        return self.asme if profile.standard == "ASME" else self.iso

    def gravity_in(self, profile: Profile) -> Gravity:
        """How grave what it finds is by a house style."""
        return profile.rules.get(self.key, self.gravity)


def change(ids: Iterable[str], label: str, **values: Any) -> Remedy:
    """A remedy that sets fields of annotations."""
    return Remedy(label, {"command": "change", "ids": list(ids), "values": values})


def remove(ids: Iterable[str], label: str = "Remove") -> Remedy:
    """A remedy that removes."""
    return Remedy(label, {"command": "remove", "ids": list(ids)})
