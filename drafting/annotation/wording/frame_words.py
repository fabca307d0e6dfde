"""Control frames as they are typed: a row as `pos d0.1m a b(m) c`, rows parted by semicolons.

A characteristic by its name, its symbol or a few letters; then the zone: d or Ø for a round one, sd or SØ for
a ball, the value, and after it what modifies it: m, l, f, t, or in parentheses (M), (P 20), (U 0.05), /100
for a length, CZ or SZ; then the datums, a-b for a common one, each with (M), (L) or [what else]; last
ISO's indicators as {int par a}: int, ori, dir or col for the plane, then how it lies, and the datum.
"""

import re

from pydantic import ValidationError

from drafting.annotation.measuring.frames import MOST_ROWS, DatumReference, FrameRow, PlaneIndicator
from drafting.errors import CommandError
from drafting.refusals import sentence
from drafting.standards.characteristics import GROUPS, INDICATORS, SHORT, SYMBOLS, Characteristic, named

LONGEST = 400
HOW = "Type as: pos d0.1m a b c"
_BY_SYMBOL = {s: c for c, s in SYMBOLS.items()} | {"⟂": "perpendicularity", "⫽": "parallelism"}
_NAMES: dict[str, Characteristic] = {
    **{c: c for c in GROUPS},
    **{named(c, s): c for c in GROUPS for s in ("ISO", "ASME")},  # type: ignore[arg-type]
    **SHORT,
    **_BY_SYMBOL,  # type: ignore[dict-item]
}
_BY_LENGTH = sorted(_NAMES, key=len, reverse=True)
_ZONE = re.compile(
    r"^(?P<shape>SØ|sØ|sd|SD|Ø|⌀|d|D)?\s*(?P<value>-?\d*[.,]?\d+)"
    r"(?P<rest>(?:\s*(?:\([^()]*\)|[ⓂⓁⒻⓉⓅⓊ](?:\s*-?\d*[.,]?\d+)?|/\s*\d*[.,]?\d+|[mlftMLFT](?![a-zA-Z])|(?:CZ|SZ|cz|sz)\b))*)"
    r"\s*(?P<datums>.*)$"
)
_PART = re.compile(
    r"\(\s*([MLFTPUmlftpu])[Zz]?\s*(-?\d*[.,]?\d+)?\s*\)|([ⓂⓁⒻⓉⓅⓊ])\s*(-?\d*[.,]?\d+)?"
    r"|/\s*(\d*[.,]?\d+)|([mlftMLFT])(?![a-zA-Z])|(CZ|SZ|cz|sz)\b|(\S)"
)
_DATUM = re.compile(
    r"\s*([A-Za-z]{1,2}(?:-[A-Za-z]{1,2})*)((?:\s*\(\s*[MLml]\s*\)|\s*[ⓂⓁ])?)((?:\s*\[[^\[\]]*\])?)(?=[\s|]|$)[\s|]*"
)
_INDICATOR = re.compile(r"\{\s*(\w{3})\w*\s+([^\s{}]+)\s+([A-Za-z-]+)\s*\}")
_CIRCLED = {"Ⓜ": "M", "Ⓛ": "L", "Ⓕ": "F", "Ⓣ": "T", "Ⓟ": "P", "Ⓤ": "U"}


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def parsed(line: str) -> list[FrameRow]:
    """The rows that a line says. Raises CommandError with a sentence that says where it is not understood."""
    if len(line) > LONGEST:
        raise CommandError(f"A control frame is typed in {LONGEST} characters at most.")
    rows = [part for part in re.split(r"[;\n]", line) if part.strip()]
    if not rows:
        raise CommandError(f"A control frame says a characteristic and a value. {HOW}.")
    if len(rows) > MOST_ROWS:
        raise CommandError(f"A control frame has {MOST_ROWS} rows at most.")
    out: list[FrameRow] = []
    for row in rows:
        out.append(_row(row.strip().replace("|", " "), out[-1].characteristic if out else None))
    return out


def _row(text: str, before: Characteristic | None) -> FrameRow:
    indicators = [_indicator(m) for m in _INDICATOR.finditer(text)]
    text = _INDICATOR.sub(" ", text).strip()
    name = next((n for n in _BY_LENGTH if text.lower().startswith(n) and _ends(text, n)), None)
    if name is None and before is None:
        raise CommandError(f"{text.split()[0][:20]} is no characteristic. {HOW}.")
    characteristic = _NAMES[name] if name is not None else before
    assert characteristic is not None
    zone = _ZONE.match(text[len(name or "") :].strip())
    if zone is None:
        raise CommandError(f"The {characteristic} says no value. {HOW}.")
    shape = {"d": "Ø", "ø": "Ø", "⌀": "Ø", "sd": "SØ", "sø": "SØ"}.get((zone["shape"] or "").lower(), "")
    value = _number(zone["value"])
    if value <= 0:
        raise CommandError("The value of a geometric tolerance is above 0.")
    said: dict[str, object] = {}
    for m in _PART.finditer(zone["rest"]):
        letter = (m[1] or _CIRCLED.get(m[3] or "", "") or m[6] or "").upper()
        number = m[2] or m[4]
        if m[5]:
            said["per"] = _number(m[5])
        elif m[7]:
            said["zones"] = m[7].upper()
        elif letter in ("M", "L"):
            said["modifier"] = letter
        elif letter in ("F", "T"):
            said["free" if letter == "F" else "tangent"] = True
        elif letter in ("P", "U"):
            if number is None:
                raise CommandError(f"({letter}) needs a number: ({letter} 10).")
            said["projected" if letter == "P" else "unequal"] = _number(number)
        elif (m[8] or "").strip():
            raise CommandError(f"{zone['rest'].strip()} is not understood after the value. {HOW}.")
    try:
        return FrameRow(
            characteristic=characteristic,
            shape=shape,  # type: ignore[arg-type]
            value=value,
            datums=_datums(zone["datums"]),
            indicators=indicators,
            **said,  # type: ignore[arg-type]
        )
    except ValidationError as error:
        raise CommandError(sentence(error.errors()[0])) from error


def _indicator(m: re.Match[str]) -> PlaneIndicator:
    kind, relation = INDICATORS.get(m[1].lower()), _NAMES.get(m[2].lower())
    if kind is None:
        raise CommandError(f"{m[1]} is no indicator; type int, ori, dir or col.")
    try:
        return PlaneIndicator(kind=kind, relation=relation, letters=m[3].upper())  # type: ignore[arg-type]
    except ValidationError:
        raise CommandError(f"An indicator lies to a datum, as in {{{m[1]} par a}}.") from None


def worded(i: PlaneIndicator) -> str:
    """An indicator as it is typed."""
    kind = next(k for k, v in INDICATORS.items() if v == i.kind)
    return f"{{{kind} {SYMBOLS[i.relation]} {i.letters}}}"


def _ends(text: str, name: str) -> bool:
    """Whether a name is a word by itself there; symbols need no blank after them."""
    return not name[-1].isalpha() or not text[len(name) : len(name) + 1].isalpha()


def _datums(text: str) -> list[DatumReference]:
    out, at = [], 0
    while at < len(text):
        m = _DATUM.match(text, at)
        if m is None:
            raise CommandError(f"{text[at:].strip()[:20]} is no datum; type letters, as a b(m) c or a-b.")
        modifier = next((c for c in "ML" if c in m[2].upper() or {"M": "Ⓜ", "L": "Ⓛ"}[c] in m[2]), "")
        out.append(
            DatumReference(letters=m[1].upper(), modifier=modifier, note=m[3].strip().strip("[]").strip())  # type: ignore[arg-type]
        )
        at = m.end()
    if len(out) > 3:
        raise CommandError("A row refers to three datums at most.")
    return out


def typed(rows: list[FrameRow]) -> str:
    """A frame as the line that `parsed` reads to the same."""
    return "; ".join(_typed(r) for r in rows)


def _plain(value: float) -> str:
    return f"{value:.6f}".rstrip("0").rstrip(".")


def _typed(r: FrameRow) -> str:
    zone = f"{r.shape}{_plain(r.value)}"
    if r.per is not None:
        zone += f"/{_plain(r.per)}"
    zone += f"({r.modifier})" if r.modifier else ""
    zone += "(F)" if r.free else ""
    zone += "(T)" if r.tangent else ""
    zone += f"(P {_plain(r.projected)})" if r.projected is not None else ""
    zone += f"(U {_plain(r.unequal)})" if r.unequal is not None else ""
    zone += f" {r.zones}" if r.zones else ""
    datums = [
        d.letters + (f"({d.modifier})" if d.modifier else "") + (f"[{d.note}]" if d.note else "")
        for d in r.datums
    ]
    return " ".join([SYMBOLS[r.characteristic], zone, *datums, *map(worded, r.indicators)])
