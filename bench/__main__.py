"""./moorcrest bench: reading and views beside the bare calls they build on, previews of sizes, tidying, edits
of big drawings, an assembly of 1,000 parts, and the desk in the browser."""

import json
import sys
import time
from collections.abc import Callable
from pathlib import Path

from bench import edits, large, screen, sizes, views
from drafting.kernel import step
from drafting.model.assembly import build_model
from drafting.model.model import Model
from drafting.model.recipe import validate_recipe
from drafting.model.step import read_model, write_model

ROOT = Path(__file__).resolve().parents[1]
OCCT = Path("/usr/share/opencascade/data/step")


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


def reading(winder: Path) -> bool:
    print(
        "Reading a STEP file: names, colors, tree, units (and, for "
        "information, with every edge named and measured)"
    )
    files = {"screw": OCCT / "screw.step", "linkrods": OCCT / "linkrods.step", "winder, 23 instances": winder}
    t20 = Path(sys.prefix) / "share/doc/gmsh/tutorials/t20_data.step"
    if t20.exists():
        files["t20"] = t20
    met = True
    for name, path in files.items():
        bare = best(lambda path=path: step.bare_read(path))  # type: ignore[misc]
        ours = best(lambda path=path: step.read_step(path, lambda done, text: None))  # type: ignore[misc]
        met &= row(name, bare, ours, 1.5)
        row("  … and measured", bare, best(lambda path=path: read_model(path, "x"), 2), None)  # type: ignore[misc]
    return met


def main() -> None:
    import tempfile

    winder = demo("HB-200")
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "winder.step"
        write_model(winder, path)
        results = [reading(path)]
    plate = views.filleted_plate()
    models = {"sluice winder": winder, "linkrods.step": read_model(OCCT / "linkrods.step", "l")}
    models |= {f"filleted plate x {n}": views.copies(plate, n) for n in (1, 4, 16, 64)}
    results += [
        views.view_ratios(models),
        views.second_view_starts(winder),
        views.rough_view(winder),
        sizes.previews(),
        sizes.tidying(),
    ]
    results += [edits.measured(), large.measured(), screen.measured()]
    print("All ratios met." if all(results) else "Not all ratios met.")


if __name__ == "__main__":
    main()
