"""./moorcrest bench: reading and views beside the bare calls they build on, previews of sizes, tidying, edits
of big drawings, an assembly of 1,000 parts, and the desk in the browser."""

import json
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from bench import (
    census,
    completeness,
    edits,
    features,
    hostile,
    kills,
    large,
    load,
    screen,
    sizes,
    versions,
    views,
)
from bench.files import OCCT, others
from drafting.kernel import step
from drafting.model.assembly import build_model
from drafting.model.model import Model
from drafting.model.recipe import validate_recipe
from drafting.model.step import read_model, write_model

ROOT = Path(__file__).resolve().parents[1]


def best(work: Callable[[], object], times: int = 3) -> float:
    """Shortest of a few runs, seconds."""
    out = []
    for _ in range(times):
        started = time.perf_counter()
        work()
        out.append(time.perf_counter() - started)
    return min(out)


def row(name: str, bare: float, ours: float, limit: float | None) -> bool:
    ratio = ours / bare
    met = limit is None or ratio <= limit
    wanted = "" if limit is None else f"   at most {limit:g}: {'met' if met else 'MISSED'}"
    print(f"  {name:<34} bare {bare * 1e3:8.1f} ms   ours {ours * 1e3:8.1f} ms   ratio {ratio:5.2f}{wanted}")
    return met


def demo(number: str) -> Model:
    def data(n: str) -> dict[str, object]:
        return dict(json.loads((ROOT / "demo" / "recipes" / f"{n}.json").read_text()))

    return build_model(validate_recipe(data(number)), data)


DRILLED = ["HB-202", "HB-204", "HB-205", "HB-206", "HB-207", "HB-210", "HB-211", "HB-221", "HB-234"]
"""Demo parts with round faces."""
READY, READY_MEDIAN = 1.6, 1.3
"""How many times a bare read a model may take until it is ready, and in the median."""


def reading() -> bool:
    """Files that others wrote and the demo assembly: read bare, with names and tree, and until ready."""
    print("Reading a STEP file: names, colors, tree, units; until ready; until measured")
    met, ratios = True, []
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "winder.step"
        write_model(demo("HB-200"), path)
        for name, file in {**others(), "winder, 67 instances": path}.items():
            bare = best(lambda file=file: step.bare_read(file))  # type: ignore[misc]
            told = best(lambda file=file: step.read_step(file, lambda done, text: None))  # type: ignore[misc]
            met &= row(name, bare, told, 1.5)
            ready = best(lambda file=file: read_model(file, "x", later=True), 2)  # type: ignore[misc]
            met &= row("  … until ready", bare, ready, READY)
            whole = best(lambda file=file: read_model(file, "x"), 2)  # type: ignore[misc]
            print(f"    … and measured {1e3 * whole:.1f} ms, {whole / bare:.2f} times the bare read")
            ratios.append(ready / bare)
    middle = statistics.median(ratios)
    good = middle <= READY_MEDIAN
    said = "met" if good else "MISSED"
    print(f"  median until ready {middle:.2f}   at most {READY_MEDIAN}: {said}")
    return met and good


def viewing() -> bool:
    """Views beside the kernel's own algorithms, and how they start."""
    winder, plate = demo("HB-200"), views.filleted_plate()
    models = {"sluice winder": winder, "linkrods.step": read_model(OCCT / "linkrods.step", "l")}
    models |= {f"filleted plate x {n}": views.copies(plate, n) for n in (1, 4, 16, 64)}
    return all([views.view_ratios(models), views.second_view_starts(winder), views.rough_view(winder)])


PIECES: dict[str, Callable[[], bool]] = {
    "reading": reading,
    "views": viewing,
    "sizes": lambda: all([sizes.previews(), sizes.frames(), sizes.tidying(), sizes.inking()]),
    "features": lambda: features.measured(demo, DRILLED),
    "completeness": completeness.measured,
    "edits": edits.measured,
    "versions": lambda: all([versions.bringing(), versions.names()]),
    "large": large.measured,
    "screen": screen.measured,
    "census": census.measured,
    "kills": kills.measured,
    "load": load.measured,
    "hostile": hostile.measured,
}
"""By name: what `./moorcrest bench` measures, or some of it."""


def main() -> None:
    wanted = sys.argv[1:] or list(PIECES)
    unknown = [name for name in wanted if name not in PIECES]
    if unknown:
        sys.exit(f"There is no measurement called {unknown[0]}; there are {', '.join(PIECES)}.")
    results = [PIECES[name]() for name in wanted]
    print("All ratios met." if all(results) else "Not all ratios met.")


if __name__ == "__main__":
    main()
