"""The kernel's own hidden-line algorithm, bare: what `bench` compares the engine with. Nothing in the
application uses it."""

from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt
from OCP.HLRAlgo import HLRAlgo_Projector
from OCP.HLRBRep import HLRBRep_Algo, HLRBRep_HLRToShape
from OCP.HLRBRep import HLRBRep_TypeOfResultingEdge as Result
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopExp import TopExp_Explorer

from drafting.kernel.topology import Shape
from drafting.kernel.vectors import Vector

KINDS = [Result.HLRBRep_Sharp, Result.HLRBRep_OutLine, Result.HLRBRep_Rg1Line, Result.HLRBRep_RgNLine]


def bare_hidden_lines(shapes: list[Shape], direction: Vector, right: Vector) -> int:
    """Exact hidden lines of placed shapes; direction is the vector toward the viewer. Returns the number of
    edges."""
    algorithm = HLRBRep_Algo()
    for shape in shapes:
        algorithm.Add(shape, 0)
    algorithm.Projector(HLRAlgo_Projector(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(*direction), gp_Dir(*right))))
    algorithm.Update()
    algorithm.Hide()
    result = HLRBRep_HLRToShape(algorithm)
    count = 0
    for kind in KINDS:
        for visible in (True, False):
            compound = result.CompoundOfEdges(kind, visible, True)
            if compound is None or compound.IsNull():
                continue
            explorer = TopExp_Explorer(compound, Kind.TopAbs_EDGE)
            while explorer.More():
                count += 1
                explorer.Next()
    return count
