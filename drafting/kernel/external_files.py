"""Other files that a STEP file refers to. Only files lying beside it are ever read; whatever else it names is
refused."""

import re
from pathlib import Path, PurePosixPath, PureWindowsPath

from OCP.STEPConstruct import STEPConstruct_ExternRefs
from OCP.XSControl import XSControl_WorkSession

from drafting.errors import ModelError

KEYWORDS = (b"DOCUMENT_FILE", b"EXTERNAL_SOURCE", b"EXTERNALLY_DEFINED")
NAMED = re.compile(
    rb"(?:DOCUMENT_FILE|EXTERNAL_IDENTIFICATION_ASSIGNMENT|IDENTIFIER)\s{0,9}\(\s{0,9}'((?:[^']|''){0,1000}+)'",
    re.I,
)


def refers(data: bytes) -> bool:
    """Whether a STEP file's text speaks of other files at all."""
    text = data.upper()
    return any(word in text for word in KEYWORDS)


def base_name(text: str) -> str:
    """The last part of a path of either kind."""
    return PurePosixPath(PureWindowsPath(text).as_posix()).name


def names_in(data: bytes) -> list[str]:
    """Names of the files a STEP file's text refers to, without their folders."""
    found = (
        [base_name(m.decode("utf-8", "replace").replace("''", "'")) for m in NAMED.findall(data)]
        if refers(data)
        else []
    )
    return list(dict.fromkeys(n for n in found if n))


def flattened(data: bytes) -> bytes:
    """A STEP file's text with references to files in folders turned into references to files beside it."""
    if not refers(data):
        return data

    def plain(m: re.Match[bytes]) -> bytes:
        name = m.group(1).decode("utf-8", "surrogateescape")
        return (
            m.group(0).replace(m.group(1), base_name(name).encode("utf-8", "surrogateescape"))
            if m.group(1)
            else m.group(0)
        )

    return NAMED.sub(plain, data)


def check(path: Path, session: XSControl_WorkSession) -> list[Path]:
    """The files that the one just read into the session is made of, itself first. Raises ModelError where one
    does not lie beside it."""
    if not refers(path.read_bytes()):
        return [path]
    missing: dict[str, None] = {}
    seen, waiting = {path.name}, _referred(session)
    while waiting:
        name = waiting.pop()
        if not name or name in seen:
            continue
        seen.add(name)
        beside = path.parent / name
        if base_name(name) != name or not beside.is_file():
            missing[base_name(name)] = None
            continue
        if refers(beside.read_bytes()):
            waiting += _session_names(beside)
    if missing:
        names = list(missing)
        more = f" and {len(names) - 3} more" if len(names) > 3 else ""
        what = (
            f"the file {names[0]}, which was"
            if len(names) == 1
            else f"the files {', '.join(names[:3])}{more}, which were"
        )
        raise ModelError(
            f"The assembly {path.name} refers to {what} not brought along: "
            f"drop all its files together, or as one zip."
        )
    return [path, *(path.parent / name for name in seen - {path.name})]


def _referred(session: XSControl_WorkSession) -> list[str]:
    """File names as the kernel itself would open them."""
    references = STEPConstruct_ExternRefs(session)
    references.LoadExternRefs()
    out = []
    for n in range(1, references.NbExternRefs() + 1):
        name = references.FileName(n)
        out.append(name if isinstance(name, str) else str(name))
    return out


def _session_names(path: Path) -> list[str]:
    from OCP.STEPControl import STEPControl_Reader

    reader = STEPControl_Reader()
    reader.ReadFile(str(path))
    return _referred(reader.WS())
