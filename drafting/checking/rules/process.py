"""A tolerance is no finer than the process that the office states for the feature reaches."""

from collections.abc import Iterator

from drafting.annotation import registry
from drafting.annotation.measuring.picked_features import faces_at
from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule
from drafting.document import Dimension
from drafting.errors import DraftingError
from drafting.features.recognized import features
from drafting.standards.fits import tolerance

FINEST = {
    "lapped": 4,
    "honed": 4,
    "ground": 5,
    "broached": 5,
    "reamed": 6,
    "turned": 7,
    "bored": 8,
    "drilled": 10,
}
"""The finest grade that a process is held to (chart of ANSI B4.1, memory); others are not judged."""


def _faults(page: Page) -> Iterator[Fault]:
    for a, _ in page.drawn:
        if not isinstance(a, Dimension) or registry.size_kind(a).is_angle or not a.picks:
            continue
        process = _process(page, a)
        try:
            found, value = registry.bounds(a, page.context(a)), registry.value(a, page.context(a))
            least = tolerance(value, str(FINEST[process])) / 1e3 if process in FINEST else 0.0
        except DraftingError:
            continue
        if not least or found is None or found.general or found.upper is None or found.lower is None:
            continue
        width = found.upper - found.lower
        if width < least - 1e-9:
            text = f"{page.starting(a)} is to be held within {width * 1e3:.0f} µm and {process}; "
            text += f"that reaches {least * 1e3:.0f} µm (IT{FINEST[process]})."
            yield Fault(text, (a.id,))


def _process(page: Page, a: Dimension) -> str:
    """What the office says how a diameter's feature is made; empty where it says nothing."""
    found = page.facts.part_of(a.picks[0].instance)
    if found is None:
        return ""
    part = found[1]
    faces = set(faces_at(a.picks[0], part))
    known = features(part)
    for n in known.holes_at([*faces]) if known.known else ():
        if known.holes[n].process:
            return known.holes[n].process
    return next((p.process for p in part.processes if p.face in faces), "")


RULE = Rule("process", "Tolerances go with the process", "common practice", "ANSI B4.1", "look", _faults)
