"""How holes and shafts are finished, in the words of drawings. Knurls: ISO 13444 (forms and pitches, memory);
other words: common practice."""

import re

from drafting.errors import ModelError

HOLE = ("reamed", "bored", "honed", "ground", "lapped", "broached", "drilled", "punched")
SHAFT = ("turned", "ground", "lapped", "polished")
KNURLS = {
    "RAA": "straight",
    "RBL": "left-hand diagonal",
    "RBR": "right-hand diagonal",
    "RGE": "diamond, male",
    "RGV": "diamond, female",
    "RKE": "cross, male",
    "RKV": "cross, female",
}
"""Forms of knurls."""
PITCHES = (0.5, 0.6, 0.8, 1.0, 1.2, 1.6)
"""Of knurls, mm."""
_KNURL = re.compile(r"(?:knurl(?:ed)?\s+)?([a-z]{3})\s*[-×x ]?\s*(\d+(?:[.,]\d+)?)", re.IGNORECASE)


def process(typed: str, internal: bool) -> str:
    """A process as it is kept: one of HOLE or SHAFT, or "knurled RAA 0.8". Raises ModelError for what is
    none."""
    words = " ".join(typed.split())
    if words.lower() in (HOLE if internal else SHAFT):
        return words.lower()
    found = _KNURL.fullmatch(words)
    form, pitch = (found[1].upper(), float(found[2].replace(",", "."))) if found else ("", 0.0)
    if form in KNURLS and not internal:
        if pitch not in PITCHES:
            known = ", ".join(f"{p:g}" for p in PITCHES)
            raise ModelError(f"Knurls of ISO 13444 have a pitch of {known} mm.")
        return f"knurled {form} {pitch:g}"
    kinds = ", ".join(HOLE) if internal else ", ".join([*SHAFT, "knurled RAA 0.8"])
    raise ModelError(f"{words} is no way to finish {'a hole' if internal else 'a shaft'}; known are {kinds}.")


def knurl(process: str) -> tuple[str, float] | None:
    """Form and pitch of a knurl; None where a process is none."""
    if not process.startswith("knurled "):
        return None
    _, form, pitch = process.split()
    return form, float(pitch)
