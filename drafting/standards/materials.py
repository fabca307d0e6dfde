"""Materials with their densities in g/cm3 (handbook values, from memory)."""

DENSITIES = {
    "steel C45": 7.85,
    "steel S235": 7.85,
    "steel 8.8": 7.85,
    "stainless 1.4301": 8.00,
    "gray iron EN-GJL-250": 7.2,
    "aluminium 6061": 2.70,
    "brass CuZn39Pb3": 8.5,
    "bronze CuSn12": 8.8,
    "PA6": 1.14,
    "POM": 1.41,
    "oak": 0.7,
}


def density(material: str) -> float | None:
    """Density in g/cm3, None for a material that is not in the table."""
    return DENSITIES.get(material.strip())


def mass_kg(volume_mm3: float, material: str) -> float | None:
    """Mass in kg of a volume in mm3; None where the material is unknown."""
    value = density(material)
    return None if value is None else volume_mm3 * value * 1e-6
