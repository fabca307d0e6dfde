"""Files that were cut, shuffled and scribbled over: each is read, or refused in a sentence without the words
of a library."""

import copy
import io
import json
import os
import random
import re
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from drafting.child import KernelChild
from drafting.errors import CommandError, DraftingError, ModelError
from drafting.model import bundle
from drafting.model.recipe import recipe_data, validate_recipe
from drafting.standards import house_style, patterns
from drafting.standards.logo import svg_to_png
from tests.core.conftest import OCCT, ROOT, demo_data
from tests.core.test_hostile_commands import HOSTILE, leaves

SEED = os.environ.get("MOORCREST_SEED", "files")
MANY = 20 if os.environ.get("MOORCREST_EXPLORE") else 1
LIBRARY_WORDS = re.compile(r"Error|Traceback|SIG[A-Z]|StdFail|pydantic|input_value|\bNone\b|required \[")


def scribbled(data: bytes, rng: random.Random) -> bytes:
    """Bytes with a few of the things that go wrong with files."""
    out = bytearray(data)
    for _ in range(rng.choice([1, 1, 2, 5])):
        at, what = rng.randrange(len(out)), rng.random()
        if what < 0.25:
            out[at] = rng.randrange(256)
        elif what < 0.4:
            del out[at : at + rng.randrange(1, 200)]
        elif what < 0.55:
            other = rng.randrange(len(out))
            out[at:at] = out[other : other + rng.randrange(1, 200)]
        elif what < 0.65:
            del out[at:]
        else:  # a number or a word made another
            words = [
                m.span() for m in re.finditer(rb"#\d+|[-+]?\d+\.\d*(?:E[-+]?\d+)?|\d+|'[^']*'", bytes(out))
            ]
            if words:
                first, last = rng.choice(words)
                new = [
                    b"0",
                    b"-1",
                    b"1E308",
                    b"#1",
                    b"'",
                    b"''",
                    b"$",
                    b"*",
                    b"1.E-9",
                    b"99999999999",
                    b"\xff",
                ]
                out[first:last] = rng.choice(new)
        if not out:
            break
    return bytes(out)


def mutants(data: Any, rng: random.Random, count: int) -> Iterator[Any]:
    for _ in range(count):
        out = copy.deepcopy(data)
        for _ in range(rng.choice([1, 1, 2])):
            *way, last = rng.choice(leaves(out))
            holder: Any = out
            for key in way:
                holder = holder[key]
            holder[last] = copy.deepcopy(rng.choice(HOSTILE))
        yield out


def said(read: Callable[[], Any]) -> bool:
    """Whether it was read; what refuses it says so in a sentence."""
    try:
        read()
    except DraftingError as error:
        sentence = str(error)
    else:
        return True
    assert not LIBRARY_WORDS.search(sentence), sentence
    assert sentence.endswith("."), sentence
    return False


def test_step_files_in_the_child(tmp_path: Path) -> None:
    rng = random.Random(SEED)
    whole = (OCCT / "screw.step").read_bytes()
    read = 0
    with KernelChild() as child:
        for n in range(30 * MANY):
            path, folder = tmp_path / f"{n}.step", tmp_path / str(n)
            path.write_bytes(scribbled(whole, rng))
            folder.mkdir()
            common = {"name": "Screw", "kind": "step", "folder": str(folder), "root": "screw.step"}
            read += said(
                lambda p=path, c=common: child.request(
                    "read", 60, source=str(p), recipes={}, archives={}, **c
                )  # type: ignore[misc]
            )
    assert 0 < read < 30 * MANY


@pytest.mark.parametrize("number", ["HB-204", "HB-206", "HB-210"])
def test_recipes(number: str, tmp_path: Path) -> None:
    rng = random.Random(f"{SEED} {number}")
    read = [
        said(lambda d=data: validate_recipe(d))  # type: ignore[misc]
        for data in mutants(demo_data(number), rng, 200 * MANY)
    ]
    path, whole = tmp_path / "one.json", json.dumps(demo_data(number)).encode()
    for _ in range(40 * MANY):
        path.write_bytes(scribbled(whole, rng))
        said(lambda: validate_recipe(recipe_data(path)))
    assert 0 < sum(read) < len(read)


def test_house_styles() -> None:
    rng = random.Random(SEED)
    data = json.loads(
        (ROOT / "demo" / "styles" / next(iter(os.listdir(ROOT / "demo" / "styles")))).read_text()
    )
    read = []
    for mutant in mutants(data, rng, 200 * MANY):
        read.append(said(lambda m=mutant: house_style.read(json.dumps(m))))  # type: ignore[misc]
    assert 0 < sum(read) < len(read)


def test_patterns_and_logos() -> None:
    rng = random.Random(SEED)
    pattern = b"*brick, rows\n0, 0,0, 0,3\n90, 0,0, 0,6, 3,-3\n90, 3,0, 0,6, -3,3\n"
    logo = (ROOT / "demo" / "logo.svg").read_bytes()
    read = []
    for _ in range(60 * MANY):
        text = scribbled(pattern, rng).decode("utf-8", "replace")
        read.append(said(lambda t=text: patterns.read(t)))  # type: ignore[misc]
        svg = scribbled(logo, rng)
        read.append(said(lambda s=svg: svg_to_png(s)))  # type: ignore[misc]
    assert 0 < sum(read) < len(read)


def test_zips(tmp_path: Path) -> None:
    rng = random.Random(SEED)
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("a.step", (OCCT / "screw.step").read_bytes()[:5000])
        archive.writestr("b/b.json", json.dumps(demo_data("HB-204")))
    read = []
    for n in range(120 * MANY):
        folder = tmp_path / str(n)
        folder.mkdir()
        data = io.BytesIO(scribbled(buffer.getvalue(), rng))
        read.append(said(lambda f=folder, d=data: bundle.sorted_out(f, bundle.unpack(d, f))))  # type: ignore[misc]
    assert 0 < sum(read) < len(read)


def test_the_sentences_name_what_is_wrong() -> None:
    with pytest.raises(ModelError, match=r"The recipe is wrong at name: name of part is missing\."):
        validate_recipe({k: v for k, v in demo_data("HB-204").items() if k != "name"})
    with pytest.raises(CommandError, match="not JSON"):
        house_style.read("{")
