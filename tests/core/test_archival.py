"""PDF to be kept, against clauses of ISO 19005-3 (PDF/A-3b; memory) that concern what these files hold."""

import datetime
import hashlib
import io
from xml.etree import ElementTree

import pypdf
import pytest
from fontTools.ttLib import TTFont
from PIL import ImageCms

from drafting.export.archival import Attachment, archival_pdf
from drafting.export.pdf import sheets_pdf
from drafting.ink.elements import Group, Line, SheetInk, Text
from drafting.standards.profile import ISO_MM

MADE = datetime.datetime(2026, 11, 29, 12, 30, 5, tzinfo=datetime.UTC)
TITLE = "HB-1 Sluice <gate> & frame"
STEP = b"ISO-10303-21;" * 50
FILES = [
    Attachment("gate.step", "model/step", STEP, "Source", "the model"),
    Attachment("gate.json", "application/json", b"{}", "Data", "the drawing's data"),
]
NAMES = {
    "pdfaid": "http://www.aiim.org/pdfa/ns/id/",
    "dc": "http://purl.org/dc/elements/1.1/",
    "rdf": "http://www.w3.org/1999/02/22-rdf-syntax-ns#",
    "xmp": "http://ns.adobe.com/xap/1.0/",
    "pdf": "http://ns.adobe.com/pdf/1.3/",
}


@pytest.fixture(scope="module")
def made() -> bytes:
    sheets = [
        SheetInk(
            210.0,
            148.0,
            [
                Group(
                    "a",
                    "frame",
                    (0, 0),
                    [Line((1, 1), (9, 9), "outline"), Text((5, 5), f"Ø12 ⌀ sheet {n}", 3.5)],
                )
            ],
        )
        for n in (1, 2)
    ]
    return archival_pdf(sheets_pdf(sheets, ISO_MM, TITLE), TITLE, FILES, MADE)


def test_what_is_attached_comes_out_as_it_went_in(made: bytes) -> None:
    reader = pypdf.PdfReader(io.BytesIO(made))
    assert {k: v[0] for k, v in reader.attachments.items()} == {a.name: a.data for a in FILES}
    held = [f.get_object() for f in reader.trailer["/Root"]["/AF"]]  # type: ignore[index]
    assert [(f["/UF"], f["/AFRelationship"]) for f in held] == [
        ("gate.step", "/Source"),
        ("gate.json", "/Data"),
    ]
    for f, a in zip(held, FILES, strict=True):
        stream = f["/EF"]["/F"].get_object()
        assert (
            stream["/Subtype"] == f"/{a.media_type.replace('/', '#2F')}"
            or stream["/Subtype"] == f"/{a.media_type}"
        )
        assert stream["/Params"]["/Size"] == len(a.data)
        assert stream["/Params"]["/CheckSum"].original_bytes == hashlib.md5(a.data).digest()


def test_every_font_is_embedded_and_known_to_its_one_table(made: bytes) -> None:
    """6.2.11: no font without its program; symbolic TrueType without Encoding and with one cmap."""
    reader = pypdf.PdfReader(io.BytesIO(made))
    found = 0
    for page in reader.pages:
        fonts = page["/Resources"]["/Font"]  # type: ignore[index]
        for font in fonts.values():
            font = font.get_object()
            told = font["/FontDescriptor"]
            assert font["/Subtype"] == "/TrueType"
            assert told["/Flags"] & 4
            assert "/Encoding" not in font
            program = TTFont(io.BytesIO(told["/FontFile2"].get_data()))
            assert len(program["cmap"].tables) == 1
            assert "/ToUnicode" in font
            found += 1
        assert b"/F1 " not in page.get_contents().get_data()  # type: ignore[union-attr]
        assert "sheet" in page.extract_text()
    assert found >= 2


def test_it_says_what_it_is_and_the_same_in_both_places(made: bytes) -> None:
    """6.6: metadata as XMP, in agreement with the information dictionary; 6.1.3: an identifier; 6.2.3: what
    colors are meant in."""
    assert made.startswith(b"%PDF-1.7\n%")
    assert min(made[10:14]) > 127
    reader = pypdf.PdfReader(io.BytesIO(made))
    root = reader.trailer["/Root"]
    stream = root["/Metadata"].get_object()  # type: ignore[index]
    assert "/Filter" not in stream
    xml = ElementTree.fromstring(stream.get_data().split(b"?>", 1)[1].rsplit(b"<?", 1)[0])

    def said(name: str) -> str:
        (found,) = xml.findall(f".//{name}", NAMES)
        return "".join(found.itertext())

    info = reader.metadata
    assert info is not None
    assert (said("pdfaid:part"), said("pdfaid:conformance")) == ("3", "B")
    assert said("dc:title") == info.title == TITLE
    assert said("pdf:Producer") == info.producer
    assert said("xmp:CreatorTool") == info.creator
    assert datetime.datetime.fromisoformat(said("xmp:CreateDate")) == info.creation_date == MADE
    assert datetime.datetime.fromisoformat(said("xmp:ModifyDate")) == info.modification_date
    assert len(reader.trailer["/ID"]) == 2  # type: ignore[arg-type]
    assert "/Encrypt" not in reader.trailer
    (intent,) = (i.get_object() for i in root["/OutputIntents"])  # type: ignore[index]
    assert (intent["/S"], intent["/DestOutputProfile"]["/N"]) == ("/GTS_PDFA1", 3)
    profile = ImageCms.ImageCmsProfile(io.BytesIO(intent["/DestOutputProfile"].get_data()))
    assert profile.profile.xcolor_space.strip() == "RGB"
    assert profile.profile.version <= 4.5
