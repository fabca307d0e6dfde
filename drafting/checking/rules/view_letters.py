"""Sections, details and auxiliary views bear their letters, and no two views the same."""

from collections import Counter
from collections.abc import Iterator

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule
from drafting.views.naming import view_name


def _faults(page: Page) -> Iterator[Fault]:
    counts = Counter(v.letter for v in page.drawing.views() if v.letter)
    for view in page.sheet.views:
        if view.kind not in ("section", "detail", "auxiliary"):
            continue
        name = view_name(page.drawing, page.sheet, view.id).rstrip("- ")
        show = Remedy(
            "Show its label",
            {"command": "change_view", "view": view.id, "label": {"shown": True, "text": ""}},
        )
        hidden = view.label.shown is False
        wordless = (
            bool(view.label.text) and view.letter not in view.label.text and "{letter}" not in view.label.text
        )
        cut_unseen = view.kind == "section" and view.section is not None and not view.section.line.shown
        if not view.letter:
            yield Fault(f"{name} has no letter.", (view.id,))
        elif (hidden or wordless) and not (cut_unseen and hidden):
            yield Fault(f"{name} does not show its letter.", (view.id,), (show,))
        elif counts[view.letter] > 1:
            yield Fault(f"{name} has a letter that another view has too.", (view.id,))


RULE = Rule("view letters", "Cut and lifted views bear letters", "ISO 128-3", "ASME Y14.3", "grave", _faults)
