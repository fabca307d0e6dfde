"""Metrics of the lettering font (ISO 3098), the same for every back end, and of the font that stands in for
characters that it has no form for."""

from functools import lru_cache
from itertools import groupby
from pathlib import Path

from arabic_reshaper import reshape
from bidi.algorithm import get_display
from fontTools.ttLib import TTFont

FONT_FILE = Path(__file__).parent / "fonts" / "osifont.ttf"
FONT_NAME = "osifont"
FALLBACK_FILE = FONT_FILE.with_name("DejaVuSans.ttf")
FALLBACK_NAME = "DejaVu Sans"


@lru_cache(maxsize=2)
def _metrics(file: Path = FONT_FILE) -> tuple[dict[int, float], float, float]:
    font = TTFont(file, lazy=True)
    advances = font["hmtx"].metrics
    widths = {code: advances[glyph][0] for code, glyph in font.getBestCmap().items()}
    return widths, float(font["head"].unitsPerEm), float(getattr(font["OS/2"], "sCapHeight", 0))


def font_size(height: float) -> float:
    """Font size (em, mm) at which capitals are height mm high."""
    _, em, capital = _metrics()
    return height * em / capital


def text_width(text: str, height: float) -> float:
    """Width in mm of a line of lettering whose capitals are height mm high."""
    widths, em, capital = _metrics()
    if all(ord(c) in widths for c in text):
        return sum(widths[ord(c)] for c in text) * height / capital
    others, other_em, _ = _metrics(FALLBACK_FILE)
    ratio = em / other_em
    total = sum(
        widths[ord(c)] if ord(c) in widths else ratio * others.get(ord(c), other_em) for c in reshape(text)
    )
    return total * height / capital


def formless(text: str) -> list[str]:
    """Characters of a text that the lettering has no form for, each once."""
    widths, _, _ = _metrics()
    return list(dict.fromkeys(c for c in text if ord(c) not in widths and c not in "\n\t"))


def by_font(text: str) -> list[tuple[str, bool]]:
    """A line as it is seen from left to right, letters of right-to-left scripts joined and turned around, in
    pieces: each with whether the lettering has forms for it, else the font that stands in is taken."""
    if not formless(text):
        return [(text, True)]
    widths, _, _ = _metrics()
    seen = str(get_display(reshape(text)))
    return [("".join(part), known) for known, part in groupby(seen, lambda c: ord(c) in widths)]


def wrapped(text: str, height: float, width: float) -> list[str]:
    """Lines of a text broken between words where they are wider; a word that is wider itself stays whole."""
    out: list[str] = []
    for line in text.split("\n"):
        now = ""
        for word in line.split():
            longer = f"{now} {word}" if now else word
            if now and text_width(longer, height) > width:
                out.append(now)
                now = word
            else:
                now = longer
        out.append(now)
    return out


def fitted_height(text: str, height: float, width: float, smallest: float = 1.8) -> float:
    """The height, at most the wanted one, at which a text fits a width; not below the smallest."""
    w = text_width(text, height)
    return height if w <= width else max(smallest, height * width / w)


CUT = "..."
"""What stands where a text is cut; the lettering has no form for an ellipsis."""


def shortened(text: str, height: float, width: float) -> str:
    """The text, cut with dots where it is too wide even so."""
    if text_width(text, height) <= width + 1e-9:  # it may have been made just small enough
        return text
    while text and text_width(text + CUT, height) > width:
        text = text[:-1]
    return text.rstrip() + CUT
