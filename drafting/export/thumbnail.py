"""A small picture of a view alone, for cards."""

from drafting.export.svg import path_data
from drafting.views.geometry import ViewGeometry
from drafting.views.ink import element

WIDTH, HEIGHT = 400.0, 280.0


def thumbnail_svg(geometry: ViewGeometry) -> bytes:
    """The visible lines of a view fitted into 400 x 280 units."""
    w, h = geometry.high[0] - geometry.low[0], geometry.high[1] - geometry.low[1]
    factor = min((WIDTH - 60) / max(w, 1e-9), (HEIGHT - 60) / max(h, 1e-9))
    cx, cy = (
        (geometry.low[0] + geometry.high[0]) / 2 * factor,
        (geometry.low[1] + geometry.high[1]) / 2 * factor,
    )
    curves = [c for c in geometry.curves if c.visible and c.edge_class != "smooth"]
    data = "".join(path_data(element(c, factor, "visible")) for c in curves)
    move = f"translate({WIDTH / 2 - cx:.2f} {HEIGHT / 2 + cy:.2f})"
    path = (
        f'<path transform="{move}" d="{data}" fill="none" stroke="#23211F" '
        f'stroke-width="1" stroke-linejoin="round"/>'
    )
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH:g} {HEIGHT:g}">{path}</svg>'.encode()
