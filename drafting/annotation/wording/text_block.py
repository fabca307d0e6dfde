"""Blocks of words: several lines with symbols among them, laid out once and placed at any angle."""

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from drafting.ink.elements import XY, Element, Text
from drafting.ink.lettering import text_width
from drafting.ink.symbols import lettered

LEADING = 1.6
"""From base line to base line, heights of lettering (ISO 3098-1; memory)."""


@dataclass(frozen=True)
class TextBlock:
    """text: lines ended by line breaks, symbols by name in braces; height: of the lettering, mm; align: of
    the lines with each other; filled: numbers of the lines whose words are spread over the whole width."""

    text: str
    height: float
    align: Literal["left", "middle", "right"] = "left"
    line: str = "dimension"
    filled: frozenset[int] = frozenset()

    @cached_property
    def lines(self) -> tuple[str, ...]:
        """The lines as they are lettered."""
        return tuple(lettered(t.strip()) for t in self.text.split("\n"))

    @cached_property
    def width(self) -> float:
        """Of the longest line, mm."""
        return max(text_width(t, self.height) for t in self.lines)

    @property
    def tall(self) -> float:
        """From the last base line to the top of the first line's capitals, mm."""
        return self.height * (1 + LEADING * (len(self.lines) - 1))

    def elements(self, middle: XY, angle: float = 0.0) -> list[Element]:
        """Ink with the block's middle at a place, mm; angle: radians counterclockwise."""
        c, s = math.cos(angle), math.sin(angle)
        x = {"left": -self.width / 2, "middle": 0.0, "right": self.width / 2}[self.align]
        out: list[Element] = []
        for n, text in enumerate(self.lines):
            y = self.tall / 2 - self.height - n * LEADING * self.height
            words = text.split() if n in self.filled else []
            if len(words) > 1:
                out += self._spread(words, middle, y, angle)
            elif text:
                at = (middle[0] + x * c - y * s, middle[1] + x * s + y * c)
                out.append(Text(at, text, self.height, self.line, self.align, angle))
        return out

    def _spread(self, words: list[str], middle: XY, y: float, angle: float) -> list[Element]:
        """The words of a line from one side of the block to the other, with equal gaps."""
        c, s = math.cos(angle), math.sin(angle)
        wide = [text_width(w, self.height) for w in words]
        gap = (self.width - sum(wide)) / (len(words) - 1)
        out: list[Element] = []
        x = -self.width / 2
        for word, width in zip(words, wide, strict=True):
            at = (middle[0] + x * c - y * s, middle[1] + x * s + y * c)
            out.append(Text(at, word, self.height, self.line, "left", angle))
            x += width + gap
        return out
