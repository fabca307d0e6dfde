"""Sheet dimensions, the room inside the frame, and the sheet and scale that fit a model."""

from collections.abc import Sequence
from dataclasses import dataclass

from drafting.document import Sheet
from drafting.model.model import Facts
from drafting.sheet.template import ASME_FRAME, ISO_FRAME, FrameTemplate
from drafting.standards import scales, sheets
from drafting.standards.profile import Profile
from drafting.standards.scales import Scale


def template_of(sheet: Sheet) -> FrameTemplate:
    """The sheet's frame, or the built-in one of its size's standard."""
    return sheet.frame or (ASME_FRAME if sheet.size in sheets.ASME else ISO_FRAME)


def block_box(sheet: Sheet) -> "Box":
    """Where the title block stands: in the lower right corner of the frame, drawn together where the frame is
    narrower."""
    f, block = frame_box(sheet), template_of(sheet).block
    k = min(1.0, f.width / block.width, 0.5 * f.height / block.height)
    return Box(f.right - block.width * k, f.bottom, f.right, f.bottom + block.height * k)


@dataclass(frozen=True)
class Box:
    """A rectangle in sheet mm."""

    left: float
    bottom: float
    right: float
    top: float

    @property
    def width(self) -> float:
        """From left to right, mm."""
        return self.right - self.left

    @property
    def height(self) -> float:
        """From bottom to top, mm."""
        return self.top - self.bottom

    @property
    def center(self) -> tuple[float, float]:
        """The middle, mm."""
        return (self.left + self.right) / 2, (self.bottom + self.top) / 2


def sheet_size(sheet: Sheet) -> tuple[float, float]:
    """Width and height of a sheet in mm."""
    s = sheets.size(sheet.size)
    return (s.long, s.short) if sheet.landscape else (s.short, s.long)


def frame_box(sheet: Sheet) -> Box:
    """The frame's inside, sheet mm."""
    s, t = sheets.size(sheet.size), template_of(sheet)
    w, h = sheet_size(sheet)
    margin = s.margin if t.margin is None else t.margin
    left = s.margin_left if t.margin_left is None else t.margin_left
    return Box(left, margin, w - margin, h - margin)


def drawing_room(sheet: Sheet) -> Box:
    """The room for views: inside the frame, above the title block."""
    f = frame_box(sheet)
    return Box(f.left + 5, block_box(sheet).top + 5, f.right - 5, f.top - 5)


def fitting_sheet(facts: Facts, profile: Profile) -> tuple[str, Scale]:
    """Sheet size and scale on which a front, top, side and pictorial view of the model fit with room for
    sizes."""
    return fitting_sheet_for(facts.low, facts.high, profile)


def fitting_sheet_for(lower: Sequence[float], upper: Sequence[float], profile: Profile) -> tuple[str, Scale]:
    """As fitting_sheet, for extents in mm."""
    width, depth, height = (max(h - low, 1e-3) for low, h in zip(lower, upper, strict=True))
    names = list(sheets.ISO if profile.standard == "ISO" else sheets.ASME)
    names = names[names.index(profile.default_size) :]
    best = (names[-1], scales.SERIES[profile.standard][-1])
    for name, smallest in zip(names, [0.5, 0.2, 0.1, 0.0], strict=False):
        room = drawing_room(Sheet(id="x", size=name))
        gaps = 3 * profile.view_gap
        scale = scales.fitting(
            profile.standard, width + depth, height + depth, room.width - gaps, room.height - gaps + 20, 5.0
        )
        best = (name, scale)
        if scale.factor >= smallest:
            break
    return best
