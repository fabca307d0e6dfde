"""Metrics of the lettering font (ISO 3098), the same for every back end."""

from functools import lru_cache
from pathlib import Path

from fontTools.ttLib import TTFont

FONT_FILE = Path(__file__).parent / "fonts" / "osifont.ttf"
FONT_NAME = "osifont"


@lru_cache(maxsize=1)
def _metrics() -> tuple[dict[int, float], float, float]:
    font = TTFont(FONT_FILE, lazy=True)
    advances = font["hmtx"].metrics
    widths = {code: advances[glyph][0] for code, glyph in font.getBestCmap().items()}
    return widths, float(font["head"].unitsPerEm), float(font["OS/2"].sCapHeight)


def font_size(height: float) -> float:
    """Font size (em, mm) at which capitals are height mm high."""
    _, em, capital = _metrics()
    return height * em / capital


def text_width(text: str, height: float) -> float:
    """Width in mm of a line of lettering whose capitals are height mm high."""
    widths, _, capital = _metrics()
    return sum(widths.get(ord(c), widths[ord("x")]) for c in text) * height / capital


def formless(text: str) -> list[str]:
    """Characters of a text that the lettering has no form for, each once."""
    widths, _, _ = _metrics()
    return list(dict.fromkeys(c for c in text if ord(c) not in widths and c not in "\n\t"))


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
