"""Which version of its model a drawing shows, and the facts of that version."""

from drafting.model.model import Facts
from server.drawings.models import Drawing
from server.library.facts import facts_at, facts_in
from server.library.models import ModelVersion


def shown_facts(drawing: Drawing) -> tuple[ModelVersion, Facts]:
    """The version of its model that a drawing shows, with the office's properties and materials; of a
    released one as they were then."""
    version, facts = facts_at(drawing.model, drawing.shows)
    return version, facts_in(drawing.frozen_id) if drawing.frozen_id else facts
