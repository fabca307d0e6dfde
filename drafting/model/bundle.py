"""Files brought in together, as a zip: which of them make one model. Runs in the child process, since the
files come from outside."""

import zipfile
from dataclasses import dataclass, field
from pathlib import Path
from typing import IO, Any

from drafting.errors import ModelError
from drafting.kernel.external_files import base_name, flattened, names_in
from drafting.model.recipe import recipe_data
from drafting.model.references import models_referred

MOST_FILES = 2000
PIECE = 1024 * 1024
MOST_BYTES = 1024**3
"""Of all files of a zip together, unpacked."""
STEP_ENDINGS = (".step", ".stp")


@dataclass(frozen=True)
class Group:
    """Files that belong together: a STEP file (root) with those it refers to, or recipes in the order in
    which they are to be read."""

    kind: str
    root: str
    members: list[str]
    numbers: dict[str, str] = field(default_factory=dict)
    """Of recipes: the member that is the model of a number."""


def unpack(source: Path | IO[bytes], folder: Path) -> list[str]:
    """The models in a zip, written into a folder under their plain names. Raises ModelError for what is no
    zip, or too large."""
    try:
        with zipfile.ZipFile(source) as archive:
            infos = [i for i in archive.infolist() if not i.is_dir() and _is_model(i.filename)]
            if len(archive.infolist()) > MOST_FILES:
                raise ModelError(f"The zip holds more than {MOST_FILES} files.")
            if sum(i.file_size for i in infos) > MOST_BYTES:
                raise ModelError(f"The zip holds more than {MOST_BYTES // 2**30} GB of models.")
            names: list[str] = []
            for info in infos:
                name = base_name(info.filename)
                if name in names:
                    raise ModelError(f"The zip holds two files called {name}; give them different names.")
                if info.flag_bits & 1:
                    raise ModelError(f"{name} in the zip is locked with a password.")
                _unpack(archive, info, folder / name)
                names.append(name)
    except ModelError:
        raise
    except Exception as error:  # the reader of outside bytes may raise anything
        raise ModelError("The zip cannot be opened: it is cut short or not a zip.") from error
    if not names:
        raise ModelError("The zip holds no STEP file and no recipe.")
    return names


def _unpack(archive: zipfile.ZipFile, info: zipfile.ZipInfo, path: Path) -> None:
    """One file of a zip, no more than it says."""
    left = info.file_size + 1
    with archive.open(info) as source, path.open("wb") as out:
        while left > 0 and (piece := source.read(min(PIECE, left))):
            out.write(piece)
            left -= len(piece)
    if left <= 0:
        raise ModelError("The zip is not sound: it holds more than it says.")
    if path.name.lower().endswith(STEP_ENDINGS):
        data = path.read_bytes()
        if (plain := flattened(data)) is not data:
            path.write_bytes(plain)


def _is_model(name: str) -> bool:
    plain = base_name(name)
    return (
        plain.lower().endswith((*STEP_ENDINGS, ".json"))
        and not plain.startswith(".")
        and "__MACOSX" not in name
    )


def sorted_out(folder: Path, names: list[str]) -> list[Group]:
    """What makes one model together: each STEP file that no other one refers to, with those it needs; all
    recipes, parts before assemblies."""
    steps = {n: names_in((folder / n).read_bytes()) for n in names if n.lower().endswith(STEP_ENDINGS)}
    named = {n.casefold(): n for n in steps}
    needs = {
        n: [named[r.casefold()] for r in refs if r.casefold() in named and named[r.casefold()] != n]
        for n, refs in steps.items()
    }
    referred = {r for refs in needs.values() for r in refs}
    roots = [n for n in steps if n not in referred]
    if steps and not roots:
        raise ModelError(
            f"These files refer to each other in a ring ({', '.join(sorted(steps)[:3])}): "
            f"none of them is the assembly."
        )
    out = []
    for root in roots:
        members, waiting = [root], list(needs[root])
        while waiting:
            name = waiting.pop(0)
            if name not in members:
                members.append(name)
                waiting += needs[name]
        out.append(Group("step", root, members))
    recipes, numbers = _in_order(folder, [n for n in names if n.lower().endswith(".json")])
    if recipes:
        out.append(Group("recipe", recipes[-1], recipes, numbers))
    return out


def referred(path: Path) -> list[str]:
    """Numbers of the models that a recipe refers to; none where it is no recipe, as its reader will say."""
    return models_referred(_as_data(path))


def _as_data(path: Path) -> dict[str, Any]:
    try:
        raw = recipe_data(path)
    except ModelError:
        return {}
    return raw if isinstance(raw, dict) else {}


def _in_order(folder: Path, names: list[str]) -> tuple[list[str], dict[str, str]]:
    """Recipes so that each comes after those it refers to, and which is the model of a number; the reader
    names what is wrong with those that are none."""
    needs: dict[str, list[str]] = {}
    number_of: dict[str, str] = {}
    for name in names:
        raw = _as_data(folder / name)
        needs[name] = list(models_referred(raw))
        properties = raw.get("properties")
        if isinstance(properties, dict) and isinstance(properties.get("number"), str):
            number_of[properties["number"]] = name
    out: list[str] = []

    def take(name: str, above: tuple[str, ...]) -> None:
        if name in out or name in above:
            return
        for number in needs[name]:
            if number in number_of:
                take(number_of[number], (*above, name))
        out.append(name)

    for name in sorted(names, key=lambda n: (len(needs[n]) > 0, n)):
        take(name, ())
    return out, number_of
