"""Sheets to files, done by a worker: missing views are derived first, so that no published sheet lacks
one."""

import datetime
import io
import tempfile
import zipfile
from collections.abc import Callable, Sequence
from pathlib import Path

from django.conf import settings
from django.utils import timezone

from drafting import compose as composing
from drafting.document import Drawing as Document
from drafting.document import Sheet
from drafting.errors import PublishError
from drafting.export.archival import Attachment, archival_pdf
from drafting.export.checked import checked_pdf
from drafting.export.dxf import sheet_dxf
from drafting.export.pdf import sheets_pdf
from drafting.export.svg import sheet_svg
from drafting.ink.elements import SheetInk
from drafting.views.family import derivation_of
from server.drawings import pencil
from server.drawings.geometry import derive_now, ready, requested
from server.drawings.models import DerivedView, Drawing
from server.drawings.showing import shown_facts
from server.drawings.store import document_of
from server.library.measuring import measure
from server.library.models import ModelVersion
from server.library.reading import FRESH

FORMATS = {
    "pdf": "application/pdf",
    "pdfa": "application/pdf",
    "checked": "application/pdf",
    "svg": "image/svg+xml",
    "dxf": "image/vnd.dxf",
}
Progress = Callable[[float, str], None]


def publish(
    drawing: Drawing,
    file_format: str,
    sheet_ids: list[str],
    progress: Progress,
    document: Document | None = None,
    left_out: list[str] | None = None,
) -> tuple[str, str, bytes]:
    """File name, media type and content. Several sheets as SVG or DXF come as a zip. document: the drawing as
    it will be, in place of what is kept; left_out: takes a sentence for each sheet that lacks what lost its
    home, where the house style has it so. Raises PublishError."""
    if file_format not in FORMATS:
        raise PublishError(f"{file_format!r} is not a format; choose PDF, PDF/A, SVG or DXF.")
    document = document or document_of(drawing)
    sheets = [s for s in document.sheets if not sheet_ids or s.id in sheet_ids]
    if not sheets:
        raise PublishError("None of the chosen sheets is in the drawing.")
    version, facts = shown_facts(drawing)
    if facts.unmeasured:
        progress(0.0, "measuring the model")
        measure(version)
    inks = []
    for number, sheet in enumerate(sheets):
        progress(0.8 * number / len(sheets), f"drawing sheet {number + 1} of {len(sheets)}")
        inks.append(_sheet_ink(drawing, document, sheet, left_out))
    progress(0.9, "writing the file")
    stem = file_stem(drawing)
    if file_format == "pdf":
        return (
            f"{stem}.pdf",
            FORMATS["pdf"],
            sheets_pdf(inks, document.profile, f"{drawing.number} {drawing.name}".strip()),
        )
    if file_format == "checked":
        title = f"{drawing.number} {drawing.name}".strip()
        told = pencil.findings(drawing, document, sheets)
        return f"{stem}-check.pdf", FORMATS["checked"], checked_pdf(inks, told, title, document.profile)
    if file_format == "pdfa":
        return f"{stem}-archive.pdf", FORMATS["pdfa"], archived(drawing, document, version, inks)
    files: dict[str, bytes] = {}
    for number, ink in enumerate(inks, 1):
        name = stem if len(inks) == 1 else f"{stem}-{number}"
        if file_format == "svg":
            files[f"{name}.svg"] = sheet_svg(ink, document.profile)
        else:
            files[f"{name}.dxf"], pictures = sheet_dxf(ink, document.profile, f"{name}-picture")
            files.update(pictures)
    if len(files) == 1:
        return f"{stem}.{file_format}", FORMATS[file_format], next(iter(files.values()))
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return f"{stem}-{file_format}.zip", "application/zip", buffer.getvalue()


def archived(drawing: Drawing, document: Document, version: ModelVersion, inks: Sequence[SheetInk]) -> bytes:
    """All sheets as a PDF to be kept, with the model and the drawing's data within it."""
    title, stem = f"{drawing.number} {drawing.name}".strip(), file_stem(drawing)
    model = Attachment(f"{stem}.step", "model/step", model_step(version), "Source", "the model")
    told = document.model_dump_json(indent=1).encode()
    data = Attachment(f"{stem}.json", "application/json", told, "Data", "the drawing's data")
    pdf = sheets_pdf(list(inks), document.profile, title)
    return archival_pdf(pdf, title, [model, data], timezone.now().astimezone(datetime.UTC))


def model_step(version: ModelVersion) -> bytes:
    """A version of a model as STEP. Raises DraftingError."""
    with tempfile.TemporaryDirectory(prefix="moorcrest-") as folder, FRESH.take() as child:
        archive, out = version.archive.write_to(Path(folder) / "archive"), Path(folder) / "model.step"
        child.request("write_step", settings.READ_SECONDS, archive=str(archive), out=str(out))
        return out.read_bytes()


def _sheet_ink(
    drawing: Drawing, document: Document, sheet: Sheet, left_out: list[str] | None = None
) -> SheetInk:
    version, facts = shown_facts(drawing)
    found = {}
    for view in sheet.views:
        row = requested(version, derivation_of(view, facts))
        if row.state != DerivedView.READY:
            derive_now(row.key, wait=True)
            row = DerivedView.objects.defer("data", "rough").get(pk=row.key)
        geometry = ready(row.key)
        if geometry is None:
            raise PublishError(
                f"A view of sheet {document.number_of(sheet.id)} cannot be derived: {row.error}"
            )
        found[view.id] = geometry
    out = composing.compose(document, sheet, facts, found)
    if out.lost:
        number, count = document.number_of(sheet.id), len(out.lost)
        what = f"{count} things have lost what they are on"
        if count == 1:
            what = "1 thing has lost what it is on"
        if left_out is None or document.profile.lost_things == "refuse":
            why = next(iter(out.lost.values()))
            raise PublishError(f"On sheet {number} {what}: hang that on again or remove it. {why}")
        left_out.append(f"On sheet {number} {what} and {'is' if count == 1 else 'are'} left out.")
    return out.ink


def file_stem(drawing: Drawing) -> str:
    """What files of a drawing are called, without their ending."""
    text = f"{drawing.number} {drawing.name}".strip() or "drawing"
    return "".join(c if c.isalnum() or c in "-_." else "-" for c in text)[:80].strip("-.")
