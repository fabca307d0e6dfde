"""General notes that offices put on drawings, by what they are about, each with the standard that it cites.
The words are ours; what the standards say by them: memory."""

from dataclasses import dataclass, replace
from typing import Literal

Group = Literal["tolerances", "edges", "surfaces", "materials", "welding", "inspection", "packing"]


@dataclass(frozen=True)
class GeneralNote:
    """A note, and for which of the drawing's standards it is; empty for all."""

    group: Group
    text: str
    cites: str = ""
    standard: Literal["", "ISO", "ASME"] = ""


LIBRARY: tuple[GeneralNote, ...] = (
    GeneralNote("tolerances", "General tolerances ISO 2768-m.", "ISO 2768-1", "ISO"),
    GeneralNote("tolerances", "General tolerances ISO 2768-mK.", "ISO 2768-2", "ISO"),
    GeneralNote("tolerances", "Tolerancing ISO 8015.", "ISO 8015", "ISO"),
    GeneralNote("tolerances", "Size ISO 14405 (E).", "ISO 14405-1", "ISO"),
    GeneralNote("tolerances", "Castings: general tolerances ISO 8062-3 - DCTG 10.", "ISO 8062-3", "ISO"),
    GeneralNote("tolerances", "Welded parts: general tolerances ISO 13920-BF.", "ISO 13920", "ISO"),
    GeneralNote(
        "tolerances",
        "Dimensions and tolerances are in accordance with ASME Y14.5-2018.",
        "ASME Y14.5",
        "ASME",
    ),
    GeneralNote("tolerances", "All untoleranced angles are ±0{.}5°."),
    GeneralNote("tolerances", "Dimensions hold after coating."),
    GeneralNote("tolerances", "Dimensions hold before coating."),
    GeneralNote("edges", "Edges ISO 13715: outside -0{.}3, inside +0{.}3.", "ISO 13715", "ISO"),
    GeneralNote("edges", "Edges of undefined shape ISO 13715.", "ISO 13715", "ISO"),
    GeneralNote("edges", "Remove burrs and break sharp edges."),
    GeneralNote("edges", "Break all sharp edges .015 maximum.", "", "ASME"),
    GeneralNote("edges", "Fillets and rounds not shown are R3."),
    GeneralNote("surfaces", "Surface texture ISO 21920.", "ISO 21920-1", "ISO"),
    GeneralNote("surfaces", "Surface texture in accordance with ASME Y14.36.", "ASME Y14.36", "ASME"),
    GeneralNote("surfaces", "Hot-dip galvanized ISO 1461.", "ISO 1461", "ISO"),
    GeneralNote("surfaces", "Zinc plated ISO 2081 - Fe/Zn 8.", "ISO 2081", "ISO"),
    GeneralNote("surfaces", "Mask threads and bores before painting."),
    GeneralNote("surfaces", "Primer and top coat; color as in the title block."),
    GeneralNote("materials", "Material certificate 3.1 ISO 10474.", "ISO 10474", "ISO"),
    GeneralNote("materials", "Stress relieved before machining."),
    GeneralNote("materials", "Hardened and tempered; hardness as in the title block."),
    GeneralNote("materials", "Grain runs along the part."),
    GeneralNote("welding", "Weld symbols ISO 2553, system A.", "ISO 2553", "ISO"),
    GeneralNote("welding", "Quality of welds ISO 5817-C.", "ISO 5817", "ISO"),
    GeneralNote("welding", "Weld symbols in accordance with AWS A2.4.", "AWS A2.4", "ASME"),
    GeneralNote("welding", "Welds without a symbol: fillet, a3, all around."),
    GeneralNote("inspection", "Sizes in a frame with round ends are inspected in every part."),
    GeneralNote("inspection", "Leak test with air under water, 0{.}5 bar."),
    GeneralNote("inspection", "Part number is marked where shown."),
    GeneralNote("packing", "Machined faces are oiled before packing."),
    GeneralNote("packing", "Loose small parts are packed in one bag, with their item numbers."),
)


def library(standard: str, decimal_sign: str = ".") -> list[GeneralNote]:
    """The notes for a drawing of a standard, ISO or ASME, with its decimal sign: those that cite another
    one's are left out."""
    fitting = (n for n in LIBRARY if n.standard in ("", standard))
    return [replace(n, text=n.text.replace("{.}", decimal_sign)) for n in fitting]
