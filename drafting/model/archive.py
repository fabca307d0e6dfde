"""A prepared model as bytes: its facts, the shape of each distinct part, and its triangles and curves for
views.

A zip of `facts.json`, and for each part `shape-N.bin` in the kernel's binary form and `facets3-N.npz`. It is
a cache, made again from the source file at need. Shapes are read only when something asks for them; most
views need the triangles and curves alone.
"""

import io
import json
import math
import zipfile
from collections.abc import Iterator, Mapping, MutableMapping
from typing import Any

from drafting.kernel.facets import facet
from drafting.kernel.shape_io import shape_from_bytes, shape_to_bytes
from drafting.model.model import Facts, Model
from drafting.views.visibility.part import FacetedPart

FACETS = "facets3"
"""Name of the triangles and curves within an archive; another whenever what is kept of them changes."""


def faceted(model: Model) -> dict[str, FacetedPart]:
    """Triangles and curves of each part of a model."""
    parts = model.facts.parts
    return {
        key: facet(shape, math.dist(parts[key].low, parts[key].high) or 1.0)
        for key, shape in model.shapes.items()
    }


def pack(model: Model, known: dict[str, FacetedPart] | None = None) -> bytes:
    """A model as one file. The same model gives the same bytes. known: its triangles and curves, where they
    are there already."""
    known = faceted(model) if known is None else known
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as archive:
        archive.writestr("facts.json", model.facts.model_dump_json())
        archive.writestr("shapes.json", json.dumps(list(model.shapes)))
        for i, (key, shape) in enumerate(model.shapes.items()):
            archive.writestr(f"shape-{i}.bin", shape_to_bytes(shape))
            archive.writestr(f"{FACETS}-{i}.npz", known[key].to_bytes())
    return buffer.getvalue()


def recalled(data: bytes, facts: Facts, keys: Mapping[str, str]) -> bytes:
    """The archive with other facts of the same shapes, their parts called otherwise. keys: by those of
    before."""
    buffer = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(data)) as old,
        zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as new,
    ):
        new.writestr("facts.json", facts.model_dump_json())
        new.writestr("shapes.json", json.dumps([keys[k] for k in json.loads(old.read("shapes.json"))]))
        for name in old.namelist():
            if name not in ("facts.json", "shapes.json"):
                new.writestr(name, old.read(name))
    return buffer.getvalue()


class _Shapes(MutableMapping[str, Any]):
    """Shapes of an archive, each read when it is first asked for."""

    def __init__(self, data: bytes, keys: list[str]) -> None:
        self._data, self._keys = data, keys
        self._read: dict[str, Any] = {}

    def __getitem__(self, key: str) -> Any:
        if key not in self._read:
            number = self._keys.index(key)
            with zipfile.ZipFile(io.BytesIO(self._data)) as archive:
                self._read[key] = shape_from_bytes(archive.read(f"shape-{number}.bin"))
        return self._read[key]

    def __setitem__(self, key: str, shape: Any) -> None:
        self._read[key] = shape

    def __delitem__(self, key: str) -> None:
        self._keys.remove(key)

    def __iter__(self) -> Iterator[str]:
        return iter(self._keys)

    def __len__(self) -> int:
        return len(self._keys)


def unpack(data: bytes) -> Model:
    """The model of such a file; its shapes are read when they are asked for."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        facts = Facts.model_validate_json(archive.read("facts.json"))
        keys = json.loads(archive.read("shapes.json"))
    return Model(facts, _Shapes(data, keys))


def unpack_faceted(data: bytes) -> dict[str, FacetedPart] | None:
    """Triangles and curves of each part; None for an archive made before they were kept as they are now."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        keys = json.loads(archive.read("shapes.json"))
        if keys and f"{FACETS}-0.npz" not in archive.namelist():
            return None
        return {key: FacetedPart.from_bytes(archive.read(f"{FACETS}-{i}.npz")) for i, key in enumerate(keys)}
