"""Materials by standard designation with their densities in g/cm3: handbook values, from memory; real batches
differ by a percent or so."""

from collections.abc import Mapping
from dataclasses import dataclass

from drafting.errors import CommandError

HANDBOOK = "handbook value, from memory"


@dataclass(frozen=True)
class Material:
    """A designation after its standard, its family, density in g/cm3 and where that comes from."""

    designation: str
    family: str
    density: float
    source: str = HANDBOOK


def _of(family: str, density: float, *designations: str) -> list[Material]:
    return [Material(d, family, density) for d in designations]


LIBRARY = [
    *_of(
        "steel",
        7.85,
        "steel S235",
        "steel S235JR",
        "steel S355",
        "steel S355J2",
        "steel C15",
        "steel C45",
        "steel E295",
        "steel 11SMn30",
    ),
    *_of("steel", 7.85, "steel 16MnCr5", "steel 42CrMo4", "steel 34CrNiMo6", "steel 100Cr6"),
    *_of("steel", 7.85, "steel 8.8", "steel A36", "steel 1018", "steel 1045", "steel 4140"),
    *_of("steel", 7.70, "steel X40Cr14"),
    *_of(
        "stainless steel",
        8.00,
        "stainless 1.4301",
        "stainless 1.4404",
        "stainless 304",
        "stainless 316",
        "stainless A2",
        "stainless A4",
    ),
    *_of("cast iron", 7.2, "gray iron EN-GJL-200", "gray iron EN-GJL-250"),
    *_of("cast iron", 7.1, "ductile iron EN-GJS-400-15", "ductile iron EN-GJS-500-7"),
    *_of("aluminium", 2.70, "aluminium 6061", "aluminium EN AW-6060", "aluminium EN AW-6082"),
    *_of("aluminium", 2.66, "aluminium EN AW-5083"),
    *_of("aluminium", 2.79, "aluminium EN AW-2017A"),
    *_of("aluminium", 2.81, "aluminium EN AW-7075"),
    *_of("aluminium", 2.65, "aluminium EN AC-44100"),
    *_of("copper alloy", 8.5, "brass CuZn39Pb3", "brass C360"),
    *_of("copper alloy", 8.8, "bronze CuSn12", "bronze CuSn8"),
    *_of("copper alloy", 8.94, "copper Cu-ETP"),
    *_of("titanium", 4.43, "titanium Ti6Al4V"),
    *_of("plastic", 1.14, "PA6"),
    *_of("plastic", 1.41, "POM"),
    *_of("plastic", 0.95, "PE-HD"),
    *_of("plastic", 1.04, "ABS"),
    *_of("plastic", 2.17, "PTFE"),
    *_of("plastic", 1.30, "PEEK"),
    *_of("rubber", 1.3, "NBR"),
    *_of("wood", 0.7, "oak"),
    *_of("wood", 0.5, "larch"),
]
DENSITIES = {m.designation: m.density for m in LIBRARY}
LIGHTEST, HEAVIEST = 0.01, 25.0


def density(material: str, own: Mapping[str, float] | None = None) -> float | None:
    """Density in g/cm3, own entries before the library's; None for a material that is in neither."""
    name = material.strip()
    return (own or {}).get(name, DENSITIES.get(name))


def checked(designation: str, value: float) -> tuple[str, float]:
    """A new entry's designation and density; raises CommandError where they cannot be."""
    name = " ".join(designation.split())
    if not name:
        raise CommandError("A material needs a designation.")
    if name in DENSITIES:
        raise CommandError(f"{name} is in the library already, with {DENSITIES[name]:g} g/cm³.")
    if not LIGHTEST <= value <= HEAVIEST:
        raise CommandError(
            f"A density of {value:g} g/cm³ cannot be; it lies between {LIGHTEST:g} and {HEAVIEST:g}."
        )
    return name, value


def mass_kg(volume_mm3: float, material: str, own: Mapping[str, float] | None = None) -> float | None:
    """Mass in kg of a volume in mm3; None where the material is unknown."""
    value = density(material, own)
    return None if value is None else volume_mm3 * value * 1e-6


POUND = 0.45359237
"""kg: the international pound, exact (NIST SP 811, appendix B.8)."""


def mass_in(kg: float, unit: str) -> float:
    """A mass in kg in another unit, kg or lb."""
    return kg / POUND if unit == "lb" else kg


def mass_number(value: float) -> str:
    """A mass to three significant figures, without an exponent and without cutting whole units."""
    if 1e-3 <= value < 1000:
        return f"{value:.3g}"
    return f"{value:.0f}" if value >= 1000 else f"{value:.6f}".rstrip("0").rstrip(".")
