"""A PDF that is to be kept: PDF/A-3b (ISO 19005-3), with the model and the drawing's data within it."""

import datetime
import hashlib
from dataclasses import dataclass
from io import BytesIO
from typing import Literal
from xml.sax.saxutils import escape

from PIL import ImageCms
from pypdf import PageObject, PdfReader, PdfWriter
from pypdf.generic import (
    ArrayObject,
    ByteStringObject,
    DecodedStreamObject,
    DictionaryObject,
    NameObject,
    NumberObject,
    TextStringObject,
)

PRODUCER = "Moorcrest"
FIRST_FONT = b"BT /F1 12 Tf 14.4 TL ET"
CONDITION = "sRGB IEC61966-2.1"


@dataclass(frozen=True)
class Attachment:
    """A file within the PDF. relation: what it is to the drawing (ISO 19005-3, annex E): the source that it
    was made from, or data that it shows."""

    name: str
    media_type: str
    data: bytes
    relation: Literal["Source", "Data"]
    about: str


def archival_pdf(pdf: bytes, title: str, attachments: list[Attachment], made: datetime.datetime) -> bytes:
    """A PDF whose fonts are all embedded, as PDF/A-3b. made: when it is said to have been made, with its
    zone."""
    writer = PdfWriter(clone_from=PdfReader(BytesIO(pdf)))
    writer.pdf_header = "%PDF-1.7"
    for page in writer.pages:
        _without_unused_font(page)
    root = writer.root_object
    stamp = made.strftime("D:%Y%m%d%H%M%S") + made.strftime("%z")[:3] + "'" + made.strftime("%z")[3:] + "'"
    writer.metadata = None
    writer.add_metadata(
        {
            "/Title": title,
            "/Creator": PRODUCER,
            "/Producer": PRODUCER,
            "/CreationDate": stamp,
            "/ModDate": stamp,
        }
    )
    meta = _stream(_xmp(title, made).encode())
    meta.update({NameObject("/Type"): NameObject("/Metadata"), NameObject("/Subtype"): NameObject("/XML")})
    root[NameObject("/Metadata")] = writer._add_object(meta)
    root[NameObject("/OutputIntents")] = ArrayObject([writer._add_object(_intent(writer))])
    files = [writer._add_object(_file(writer, a, stamp)) for a in attachments]
    if files:
        root[NameObject("/AF")] = ArrayObject(files)
        names = ArrayObject()
        for attachment, file in sorted(zip(attachments, files, strict=True), key=lambda pair: pair[0].name):
            names += [TextStringObject(attachment.name), file]
        tree = DictionaryObject({NameObject("/Names"): names})
        root[NameObject("/Names")] = DictionaryObject({NameObject("/EmbeddedFiles"): tree})
    mark = ByteStringObject(hashlib.sha256(pdf + b"".join(a.data for a in attachments)).digest()[:16])
    writer._ID = ArrayObject([mark, mark])
    out = BytesIO()
    writer.write(out)
    return out.getvalue()


def _without_unused_font(page: PageObject) -> None:
    """Without the font that each page names at first and letters nothing in: it is not embedded."""
    contents = page.get_contents()
    fonts = page["/Resources"]["/Font"]  # type: ignore[index]
    if contents is None or FIRST_FONT not in contents.get_data():
        return
    held = _stream(contents.get_data().replace(FIRST_FONT, b"", 1))
    page[NameObject("/Contents")] = page.pdf._add_object(held.flate_encode())  # type: ignore[union-attr]
    fonts.pop("/F1", None)  # pages share it


def _stream(data: bytes) -> DecodedStreamObject:
    out = DecodedStreamObject()
    out.set_data(data)
    return out


def _intent(writer: PdfWriter) -> DictionaryObject:
    """What device colors are meant in: sRGB."""
    profile = _stream(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
    profile[NameObject("/N")] = NumberObject(3)
    return DictionaryObject(
        {
            NameObject("/Type"): NameObject("/OutputIntent"),
            NameObject("/S"): NameObject("/GTS_PDFA1"),
            NameObject("/OutputConditionIdentifier"): TextStringObject(CONDITION),
            NameObject("/Info"): TextStringObject(CONDITION),
            NameObject("/DestOutputProfile"): writer._add_object(profile.flate_encode()),
        }
    )


def _file(writer: PdfWriter, a: Attachment, stamp: str) -> DictionaryObject:
    data = _stream(a.data).flate_encode()
    data.update(
        {
            NameObject("/Type"): NameObject("/EmbeddedFile"),
            NameObject("/Subtype"): NameObject("/" + a.media_type.replace("/", "#2F")),
            NameObject("/Params"): DictionaryObject(
                {
                    NameObject("/Size"): NumberObject(len(a.data)),
                    NameObject("/ModDate"): TextStringObject(stamp),
                    NameObject("/CheckSum"): ByteStringObject(hashlib.md5(a.data).digest()),
                }
            ),
        }
    )
    held = writer._add_object(data)
    return DictionaryObject(
        {
            NameObject("/Type"): NameObject("/Filespec"),
            NameObject("/F"): TextStringObject(a.name),
            NameObject("/UF"): TextStringObject(a.name),
            NameObject("/Desc"): TextStringObject(a.about),
            NameObject("/AFRelationship"): NameObject(f"/{a.relation}"),
            NameObject("/EF"): DictionaryObject({NameObject("/F"): held, NameObject("/UF"): held}),
        }
    )


def _xmp(title: str, made: datetime.datetime) -> str:
    when = made.isoformat(timespec="seconds")
    return f"""<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/">
 <rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
  <rdf:Description rdf:about=""
    xmlns:dc="http://purl.org/dc/elements/1.1/"
    xmlns:xmp="http://ns.adobe.com/xap/1.0/"
    xmlns:pdf="http://ns.adobe.com/pdf/1.3/"
    xmlns:pdfaid="http://www.aiim.org/pdfa/ns/id/">
   <pdfaid:part>3</pdfaid:part>
   <pdfaid:conformance>B</pdfaid:conformance>
   <dc:title><rdf:Alt><rdf:li xml:lang="x-default">{escape(title)}</rdf:li></rdf:Alt></dc:title>
   <xmp:CreatorTool>{PRODUCER}</xmp:CreatorTool>
   <xmp:CreateDate>{when}</xmp:CreateDate>
   <xmp:ModifyDate>{when}</xmp:ModifyDate>
   <pdf:Producer>{PRODUCER}</pdf:Producer>
  </rdf:Description>
 </rdf:RDF>
</x:xmpmeta>
<?xpacket end="w"?>"""
