"""Hostile input in one table: files of every kind scribbled over, commands with values that nobody would type
sent to a running office, and attacks that once stopped it. What is asked for: taken, or refused in a
sentence."""

import io
import json
import random
import tempfile
import time
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from bench.files import OCCT
from bench.office import ROOT, Office, running_office
from drafting.child import KernelChild
from drafting.model import bundle
from drafting.model.recipe import validate_recipe
from drafting.standards import house_style, patterns
from drafting.standards.logo import svg_to_png
from tests.core.conftest import demo_data
from tests.core.test_hostile_commands import mutated
from tests.core.test_hostile_files import mutants, said, scribbled

FILES, STEP_FILES, COMMANDS = 300, 100, 1000
SLOWEST = 60.0
"""Seconds within which each is answered; a STEP file that was scribbled over may still be a large one to the
kernel."""
PATTERN = b"*brick, rows\n0, 0,0, 0,3\n90, 0,0, 0,6, 3,-3\n90, 3,0, 0,6, -3,3\n"


def measured() -> bool:
    """Prints a row for each kind of input; whether all were taken or refused in a sentence, in time."""
    print(f"  {'':<24} {'given':>6} {'taken':>6} {'refused':>8} {'badly':>6} {'slowest':>9}")
    rng = random.Random("hostile")
    with tempfile.TemporaryDirectory() as folder:
        met = [_row(name, ways) for name, ways in _parsers(rng, Path(folder)).items()]
    with running_office() as office:
        met += [_row("commands", _commands(office, rng)), _row("uploads", _uploads(office, rng))]
        met.append(_row("the shelf afterwards", iter([lambda: office.ask("GET", "/api/drawings")[0]])))
    return all(met)


def _row(name: str, ways: Iterator[Callable[[], Any]]) -> bool:
    """Ask for each: True or a status below 400 is taken, False or one below 500 refused, all else is bad."""
    given = taken = refused = bad = 0
    slowest = 0.0
    for ask in ways:
        given += 1
        started = time.monotonic()
        try:
            answer = ask()
        except Exception as error:
            answer, bad = None, bad + 1
            print(f"      {type(error).__name__}: {str(error)[:150]}")
        slowest = max(slowest, time.monotonic() - started)
        if answer is not None:
            status = {True: 200, False: 400}.get(answer, answer) if isinstance(answer, bool) else answer
            taken += 200 <= status < 400
            refused += 400 <= status < 500
            bad += not 200 <= status < 500
    good = bad == 0 and slowest < SLOWEST
    print(
        f"  {name:<24} {given:6d} {taken:6d} {refused:8d} {bad:6d} {slowest * 1e3:6.0f} ms   "
        f"{'met' if good else 'MISSED'}",
        flush=True,
    )
    return good


def _parsers(rng: random.Random, folder: Path) -> dict[str, Iterator[Callable[[], Any]]]:
    style = json.loads(next((ROOT / "demo" / "styles").glob("*.json")).read_text())
    logo = (ROOT / "demo" / "logo.svg").read_bytes()
    return {
        "STEP files": _step_files(rng, folder),
        "recipes": (
            lambda d=d: said(lambda: validate_recipe(d))  # type: ignore[misc]
            for d in mutants(demo_data("HB-206"), rng, FILES)
        ),
        "house styles": (
            lambda d=d: said(lambda: house_style.read(json.dumps(d)))  # type: ignore[misc]
            for d in mutants(style, rng, FILES)
        ),
        "hatch patterns": (
            lambda: said(lambda: patterns.read(scribbled(PATTERN, rng).decode("utf-8", "replace")))
            for _ in range(FILES)
        ),
        "logos": (lambda: said(lambda: svg_to_png(scribbled(logo, rng))) for _ in range(FILES)),
        "zips": _zips(rng, folder),
    }


def _step_files(rng: random.Random, folder: Path) -> Iterator[Callable[[], Any]]:
    whole = (OCCT / "screw.step").read_bytes()
    with KernelChild() as child:
        for n in range(STEP_FILES):
            path, own = folder / f"{n}.step", folder / f"step {n}"
            path.write_bytes(scribbled(whole, rng))
            own.mkdir()
            asked: dict[str, Any] = {
                "name": "x",
                "kind": "step",
                "root": "x.step",
                "recipes": {},
                "archives": {},
            }
            yield lambda p=path, o=own, a=asked: said(  # type: ignore[misc]
                lambda: child.request("read", 60, source=str(p), folder=str(o), **a)
            )


def _zips(rng: random.Random, folder: Path) -> Iterator[Callable[[], Any]]:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("a.step", (OCCT / "screw.step").read_bytes()[:5000])
        archive.writestr("b/b.json", json.dumps(demo_data("HB-204")))
    for n in range(FILES):
        own = folder / f"zip {n}"
        own.mkdir()
        data = io.BytesIO(scribbled(buffer.getvalue(), rng))
        yield lambda o=own, d=data: said(lambda: bundle.sorted_out(o, bundle.unpack(d, o)))  # type: ignore[misc]


def _commands(office: Office, rng: random.Random) -> Iterator[Callable[[], Any]]:
    model = next(m for m in office.ask("GET", "/api/models")[1] if m["number"] == "HB-204")["id"]
    script = json.loads((ROOT / "demo" / "drawings" / "HB-204.json").read_text())["commands"]
    drawing = office.ask("POST", "/api/drawings", {"model": model})[1]
    url, sheet = f"/api/drawings/{drawing['id']}", drawing["document"]["sheets"][0]["id"]

    def send(command: dict[str, Any]) -> int:
        version = office.ask("GET", url)[1]["version"]
        status = office.ask("POST", f"{url}/commands", {"version": version, "command": command})[0]
        seen = office.ask("GET", f"{url}/sheets/{sheet}")[0]
        return status if seen in (200, 404) else seen

    for command in script:
        if command.get("sheet") == "":
            command["sheet"] = sheet
        send(command)
    for _ in range(COMMANDS):
        command = mutated(rng.choice(script), rng)
        yield lambda c=command: send(c)  # type: ignore[misc]


def _uploads(office: Office, rng: random.Random) -> Iterator[Callable[[], Any]]:
    """Attacks by file: until the job ends, with the kinds that once took minutes or gigabytes."""
    head = b"ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('','',(''),(''),'','','');\n"
    head += b"FILE_SCHEMA(('AUTOMOTIVE_DESIGN'));\nENDSEC;\nDATA;\n"
    tail = b"ENDSEC;\nEND-ISO-10303-21;\n"
    bomb = io.BytesIO()
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("a.json", b"[" * 45_000_000)
    attacks = {
        "apostrophes.step": head + b"/* " + b"'" * 80 + b"\n" + tail,
        "deep.step": head + b"#1=CARTESIAN_POINT(" + b"(" * 200_000 + tail,
        "bomb.zip": bomb.getvalue(),
        "brackets.json": b"[" * 300_000,
        "numbers.json": b"[" + b"1e308," * 100_000 + b"0]",
    }
    for name, data in attacks.items():
        yield lambda n=name, d=data: office.upload(n, d)  # type: ignore[misc]
