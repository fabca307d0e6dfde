"""A census of lines: of places on the lines of views, how many are seen where an exact judge sees nothing or
the other way round, and of the kernel's own lines, how many are lost. Over the zoo of hard bodies and over
files that others wrote."""

import time
from typing import Any

import numpy as np

from bench.files import others
from drafting.model.step import read_model
from drafting.views.orientation import Orientation, isometric
from tests.core.referee import census, scene_of, toward
from tests.core.test_zoo import (
    KERNEL_DRAWS_SEAMS,
    KERNEL_SHOWS_HOLLOWS,
    TOUCH_ALONG_A_LINE,
    bodies,
)
from tests.core.zoo import DIRECTIONS, ZOO

VIEWS = {"front": (0, -1, 0), "top": (0, 0, 1), "left": (-1, 0, 0)}


def measured() -> bool:
    """Prints a row for each body and file; whether no line is wrong and none is lost."""
    print("Lines of views beside an exact judge: places asked, wrong, and lost of the kernel's own lines")
    directions = [toward(v) for v in DIRECTIONS]
    rows = [_row(name, make(), directions, name) for name, make in ZOO.items()]
    three = [toward(np.array(v, float)) for v in VIEWS.values()]
    for name, path in others().items():
        rows.append(_row(f"{name} (file)", bodies(read_model(path, name)), [*three, isometric(three[0])], ""))
    asked, wrong, lost = (sum(r[k] for r in rows) for k in range(3))
    print(f"  in all {asked} places, {wrong} wrong, {lost} lost")
    return wrong == 0 and lost == 0


def _row(name: str, shapes: list[Any], directions: list[Orientation], body: str) -> tuple[int, int, int]:
    started, scene = time.perf_counter(), scene_of(shapes)
    asked = wrong = lost = 0
    for o in directions:
        found = census(shapes, o, scene)
        asked += found.asked
        wrong += len([at for at in found.wrong if body not in TOUCH_ALONG_A_LINE or abs(at[0]) > 0.1])
        lost += 0 if body in KERNEL_DRAWS_SEAMS + KERNEL_SHOWS_HOLLOWS else len(found.lost)
    spent = time.perf_counter() - started
    print(f"  {name:<50} {asked:6d} asked {wrong:4d} wrong {lost:4d} lost   {spent:6.1f} s", flush=True)
    return asked, wrong, lost
