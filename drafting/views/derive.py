"""From a model and a direction to the curves of a view."""

import math
from dataclasses import replace

from drafting.errors import ViewError
from drafting.kernel import hidden_lines as kernel
from drafting.kernel.hidden_lines import Piece, PreparedPart
from drafting.kernel.topology import Shape, Vector, moved
from drafting.model.model import Model, PartFacts
from drafting.views.coincident import Candidate, distinct
from drafting.views.geometry import ViewCurve, ViewGeometry, bounds
from drafting.views.orientation import Orientation
from drafting.views.project import Rows, project

RANK = {"sharp": 0, "silhouette": 1, "smooth": 2}
MAX_PIECES = 400_000


class Prepared:
    """A model made ready for views: topology of each distinct part and its placed shapes. Kept between views."""

    def __init__(self, model: Model) -> None:
        self.model = model
        self.parts: dict[str, PreparedPart] = {key: kernel.prepare(shape) for key, shape in model.shapes.items()}
        self.placed: list[tuple[PreparedPart, Shape]] = [(self.parts[i.part], moved(model.shapes[i.part], i.matrix)) for i in model.facts.instances]
        low, high = model.facts.low, model.facts.high
        self.middle: Vector = ((low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2)
        self.diagonal = math.dist(low, high) or 1.0


def derive(prepared: Prepared, orientation: Orientation) -> ViewGeometry:
    """All visible and hidden curves of a view, at 1:1 about the projection of the model's middle.

    Raises ViewError when the kernel fails or nothing would be seen.
    """
    facts = prepared.model.facts
    o = orientation
    try:
        found = list(kernel.hidden_lines(prepared.placed, tuple(o.toward), tuple(o.right)))  # type: ignore[arg-type]
    except Exception as error:
        raise ViewError(f"The kernel could not find the hidden lines of {facts.name}: {str(error)[:120]}.") from error
    if len(found) > MAX_PIECES:
        raise ViewError(f"The view of {facts.name} has {len(found)} lines, more than {MAX_PIECES}.")
    pieces = _joined(found)
    rows: Rows = (tuple(o.right), tuple(o.up))  # type: ignore[assignment]
    toward, middle = o.toward, prepared.middle
    tolerance = max(1e-5 * prepared.diagonal, 1e-6)
    candidates = []
    for number, piece in enumerate(pieces):
        drawn = project(piece, rows, middle, tolerance)
        if drawn is not None:
            p = piece.points[len(piece.points) // 2]
            depth = p[0] * toward[0] + p[1] * toward[1] + p[2] * toward[2]
            candidates.append(Candidate(drawn, RANK[piece.edge_class] + (0 if piece.visible else 3), depth, number))
    curves = []
    for c in distinct(candidates, tolerance):
        piece = pieces[c.piece]
        part = facts.parts[facts.instances[piece.instance].part]
        source, role, feature = _named(piece, part)
        curves.append(ViewCurve.model_construct(
            kind=c.drawn[0], data=[round(v, 9) for v in c.drawn[1]], edge_class=piece.edge_class, visible=piece.visible,  # type: ignore[arg-type]
            instance=piece.instance, source=source, role=role, feature=feature,  # type: ignore[arg-type]
        ))  # fmt: skip
    if not curves:
        raise ViewError(f"Nothing of {facts.name} is seen in this direction.")
    low, high = bounds(curves)
    return ViewGeometry(curves=curves, instances=[i.path for i in facts.instances], low=low, high=high)


def _named(piece: Piece, part: PartFacts) -> tuple[str, str, str]:
    if piece.edge >= 0:
        edge = part.edges[piece.edge]
        return edge.name, "edge", edge.feature
    if piece.face >= 0:
        face = part.faces[piece.face]
        return face.name, "silhouette", face.feature
    return "", "edge", ""


def _joined(found: list[Piece]) -> list[Piece]:
    """Pieces of one curve that follow on each other with the same class and visibility become one."""
    groups: dict[tuple[int, int, str, bool], list[Piece]] = {}
    out: list[Piece] = []
    for piece in found:
        if piece.edge >= 0 and piece.kind in ("line", "circle", "ellipse"):
            groups.setdefault((piece.instance, piece.edge, piece.edge_class, piece.visible), []).append(piece)
        else:
            out.append(piece)
    for members in groups.values():
        members.sort(key=lambda p: p.first)
        chain = [members[0]]
        for piece in members[1:]:
            last = chain[-1]
            if piece.first - last.last <= 1e-7 * max(1.0, abs(last.last)):
                if piece.last > last.last:
                    chain[-1] = replace(last, last=piece.last, points=[last.points[0], *last.points[1:-1], piece.points[-1]])
            else:
                chain.append(piece)
        if len(chain) > 1 and chain[0].kind != "line" and abs(chain[-1].last - chain[0].first - 2 * math.pi) < 1e-7:
            tail = chain.pop()
            chain[0] = replace(chain[0], first=tail.first - 2 * math.pi, points=[tail.points[0], *chain[0].points[1:]])
        out += chain
    return out
