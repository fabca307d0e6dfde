"""What a STEP file says of its products besides names and shapes: properties by the file's own names, and
materials.

The kernel's own reading takes any property for a material and cannot list the others, so they are read from
the file's text (ISO 10303-21): PROPERTY_DEFINITION and its representation, for the PRODUCT that it belongs to
(ISO 10303-41 and -45; names from memory).
"""

import math
import re
from collections.abc import Iterable
from pathlib import Path

Product = tuple[str, str]
"""Number (the product's id) and name."""
Statements = dict[int, tuple[bytes, list[tuple[str, int, str]]]]
"""By number: keyword and arguments, each a string, a reference or a number."""
OPENING = re.compile(
    rb"=\s{0,9}(PRODUCT|PRODUCT_DEFINITION|PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS"
    rb"|PRODUCT_DEFINITION_FORMATION\w{0,40}|PROPERTY_DEFINITION|PROPERTY_DEFINITION_REPRESENTATION"
    rb"|REPRESENTATION|[A-Z_]{0,40}REPRESENTATION_ITEM)\s{0,9}\("
)
NUMBER = re.compile(rb"#(\d{1,18})\s{0,9}\Z")
BEFORE = 30
"""Bytes before the sign of equality in which a statement's number stands."""
INSIDE = re.compile(rb"(?:[^';]++|'(?:[^']++|'')*+(?:'|\Z))*+")
"""What stands between the brackets of a statement: it meets everything, so that no place is looked at twice
however a file is written."""
COMMENT = re.compile(rb"('(?:[^']++|'')*+(?:'|\Z))|/\*(?:[^*]++|\*(?!/))*+(?:\*/|\Z)")
ARGUMENT = re.compile(rb"'((?:[^']++|'')*+)'|#(\d{1,18})|([-+]?\d[\d.]{0,40}(?:[Ee][-+]?\d{1,4})?)")
SI_UNIT = re.compile(
    rb"#(\d{1,18})\s{0,9}=\s{0,9}\([^;']{0,200}?SI_UNIT\s{0,9}\(\s{0,9}(\.\w{1,9}\.|\$)\s{0,9},\s{0,9}\.(METRE|GRAM)\.",
    re.I,
)
UNIT_ELEMENT = re.compile(
    rb"#(\d{1,18})\s{0,9}=\s{0,9}DERIVED_UNIT_ELEMENT\s{0,9}\(\s{0,9}#(\d{1,18})\s{0,9},\s{0,9}([-+\d.Ee]{1,40})\s{0,9}\)"
)
DERIVED_UNIT = re.compile(
    rb"#(\d{1,18})\s{0,9}=\s{0,9}DERIVED_UNIT\s{0,9}\(\s{0,9}\(\s{0,9}#(\d{1,18})\s{0,9},\s{0,9}#(\d{1,18})\s{0,9}\)\s{0,9}\)"
)
PREFIXES = {b"$": 1.0, b".KILO.": 1e3, b".MILLI.": 1e-3, b".CENTI.": 1e-2, b".DECI.": 1e-1, b".MEGA.": 1e6}
DENSITY = "density, g/cm3"
"""Under what name the density of a product's material is told; as the file writes it is never kept."""
MOST = 5000
"""Properties that are looked at, in all."""


def product_words(files: Iterable[Path]) -> dict[Product, dict[str, str]]:
    """For each product of the files the properties that they state, by name; under `material` its
    material."""
    out: dict[Product, dict[str, str]] = {}
    for file in files:
        data = _without_comments(file.read_bytes())
        statements = _statements(data)
        for at, (kind, _) in statements.items():
            if kind == b"PRODUCT_DEFINITION" and (product := _product(statements, at)):
                out.setdefault(product, {})
        for product, name, text in _properties(statements, _density_units(data)):
            said = out.setdefault(product, {})
            if said.setdefault(name, text) != text:
                said[name] = ""  # two products that cannot be told apart say different things
    return {product: {k: v for k, v in said.items() if v} for product, said in out.items()}


def _statements(data: bytes) -> Statements:
    out: Statements = {}
    at = 0
    while opening := OPENING.search(data, at):
        number = NUMBER.search(data[max(0, opening.start() - BEFORE) : opening.start()])
        inside = INSIDE.match(data, opening.end())
        at = inside.end() if inside else opening.end()
        if number and data[at : at + 1] == b";":
            arguments = ARGUMENT.findall(data, opening.end(), at)
            out[int(number[1])] = (
                opening[1],
                [(_decoded(a), int(b or 0), c.decode()) for a, b, c in arguments],
            )
    return out


def _without_comments(data: bytes) -> bytes:
    return COMMENT.sub(lambda m: m[1] or b" ", data) if b"/*" in data else data


def _density_units(data: bytes) -> dict[int, float]:
    """How many g/cm3 the file's units of density are, by number: those of a mass by a length cubed.

    Some writers give the powers wrong; theirs are told by the units that they name, which are g and cm.
    """
    if b"DERIVED_UNIT" not in data:
        return {}
    plain = {int(n): (u.upper(), PREFIXES.get(p.upper())) for n, p, u in SI_UNIT.findall(data)}
    elements = {int(n): (int(u), _number(power.decode())) for n, u, power in UNIT_ELEMENT.findall(data)}
    out = {}
    for number, *pair in DERIVED_UNIT.findall(data):
        found = {}
        for element in pair:
            unit, power = elements.get(int(element), (0, None))
            what, size = plain.get(unit, (b"", None))
            if size is not None:
                found[what] = (size, power)
        if set(found) == {b"GRAM", b"METRE"}:
            (mass, m), (length, n) = found[b"GRAM"], found[b"METRE"]
            if (m, n) == (1.0, -3.0):
                out[int(number)] = mass / (length / 1e-2) ** 3
            elif (m, n) == (3.0, 2.0) and (mass, length) == (1.0, 1e-2):
                out[int(number)] = 1.0
    return out


def _number(text: str) -> float | None:
    try:
        number = float(text)
    except ValueError:
        return None
    return number if math.isfinite(number) else None


def _properties(statements: Statements, densities: dict[int, float]) -> list[tuple[Product, str, str]]:
    out: list[tuple[Product, str, str]] = []
    for kind, arguments in statements.values():
        if kind != b"PROPERTY_DEFINITION_REPRESENTATION" or len(out) >= MOST:
            continue
        refs = [a[1] for a in arguments if a[1]]
        if len(refs) != 2 or refs[0] not in statements or refs[1] not in statements:
            continue
        definition, representation = statements[refs[0]][1], statements[refs[1]][1]
        product = _product(statements, next((a[1] for a in definition if a[1]), 0))
        words = [a[0] for a in definition if not a[1] and not a[2]]
        if product is None:
            continue
        for _, ref, _ in representation:
            item = statements.get(ref)
            if item is None or not item[0].endswith(b"REPRESENTATION_ITEM"):
                continue
            name, value = (
                item[1][0][0] if item[1] else "",
                next((a[0] or a[2] for a in item[1][1:] if a[0] or a[2]), ""),
            )
            if "density" in " ".join([*words, name]).lower():
                unit = densities.get(next((a[1] for a in item[1][1:] if a[1]), 0))
                density = _number(value)
                if unit is not None and density is not None:
                    out.append((product, DENSITY, f"{density * unit:.9g}"))
            elif "material name" in words:  # the item's name is the material
                out.append((product, "material", name))
            elif name and value and item[0] != b"REPRESENTATION_ITEM":
                out.append((product, name, value))
    return out


def _product(statements: Statements, at: int) -> Product | None:
    """The product that a product definition is of."""
    for wanted in (b"PRODUCT_DEFINITION", b"PRODUCT_DEFINITION_FORMATION", b"PRODUCT"):
        kind, arguments = statements.get(at, (b"", []))
        if not kind.startswith(wanted):
            return None
        if wanted == b"PRODUCT":
            words = [a[0] for a in arguments if not a[1] and not a[2]]
            return (words[0], words[1] if len(words) > 1 else "") if words else None
        at = next((a[1] for a in arguments if a[1]), 0)
    return None


_WIDE = re.compile(r"\\X2\\([0-9A-F]+)\\X0\\|\\X\\([0-9A-F]{2})|\\S\\(.)", re.I)


def _decoded(raw: bytes) -> str:
    """A string of ISO 10303-21: doubled apostrophes, and letters beyond ASCII in its own escapes."""

    def letter(m: re.Match[str]) -> str:
        if m.group(1):
            return bytes.fromhex(m.group(1)[: len(m.group(1)) // 4 * 4]).decode("utf-16-be", "replace")
        return chr(int(m.group(2), 16)) if m.group(2) else chr(ord(m.group(3)) + 128)

    text = _WIDE.sub(letter, raw.decode("utf-8", "replace").replace("''", "'"))
    return re.sub(r"[\x00-\x1f]", " ", text).strip()[:400]
