"""A prepared model as bytes: its facts and the shape of each distinct part, so that no worker reads the source file twice.

A zip of `facts.json` and one `shape-N.bin` a part, in the kernel's binary form. It is a cache: made again from the source file at need.
"""

import io
import json
import zipfile

from drafting.kernel.shape_io import shape_from_bytes, shape_to_bytes
from drafting.model.model import Facts, Model


def pack(model: Model) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as archive:
        archive.writestr("facts.json", model.facts.model_dump_json())
        archive.writestr("shapes.json", json.dumps(list(model.shapes)))
        for i, shape in enumerate(model.shapes.values()):
            archive.writestr(f"shape-{i}.bin", shape_to_bytes(shape))
    return buffer.getvalue()


def unpack(data: bytes) -> Model:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        facts = Facts.model_validate_json(archive.read("facts.json"))
        keys = json.loads(archive.read("shapes.json"))
        shapes = {key: shape_from_bytes(archive.read(f"shape-{i}.bin")) for i, key in enumerate(keys)}
    return Model(facts, shapes)
