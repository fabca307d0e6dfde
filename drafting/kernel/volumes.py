"""Volumes of many shapes at once, in processes of their own: where surfaces are free they are the dearest
thing about a model."""

import ctypes
import multiprocessing
import os
import signal
from collections.abc import Iterable, Mapping
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from types import TracebackType

from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.GeomAbs import GeomAbs_Shape as Continuity

from drafting.errors import ModelError
from drafting.kernel.measure import faces_of, rough_middle, volume, volume_below
from drafting.kernel.topology import SURFACE_KINDS, Shape, solids
from drafting.kernel.vectors import Vector

WORTH_IT = 60
"""Patches of free surfaces from which on processes are started; to start them takes as long as about 20."""
SPLIT = 20
"""Patches of a solid from which on it is measured in several pieces."""

QUICK = 60
"""Plain faces up to which measuring is not worth a job of its own."""

_tasks: list[tuple[list[Shape], Vector]] = []
"""What the processes measure, faces and the point below which: they are forks and know it."""


def is_quick(shapes: Iterable[Shape]) -> bool:
    """Whether measuring these takes no time to speak of."""
    faces = [face for shape in shapes for solid in solids(shape) for face in faces_of(solid)]
    return len(faces) <= QUICK and not any(map(_patches, faces))


class Volumes:
    """Volumes of shapes by key. Begins at once; `of` waits for what is not yet known."""

    def __init__(self, shapes: Mapping[str, Shape]) -> None:
        self._shapes = shapes
        self._pool: ProcessPoolExecutor | None = None
        self._pieces: dict[str, list[list[Future[float]]]] = {}
        cores = os.cpu_count() or 1
        bodies = {key: solids(shape) for key, shape in shapes.items()}
        faces = {key: [faces_of(solid) for solid in of] for key, of in bodies.items()}
        patches = {key: [sum(map(_patches, f)) for f in of] for key, of in faces.items()}
        if cores < 2 or sum(map(sum, patches.values())) < WORTH_IT:
            return
        _tasks.clear()
        wanted: list[tuple[str, int]] = []
        for key, of in bodies.items():
            for number, solid in enumerate(of):
                ordered = sorted(faces[key][number], key=_patches)  # dealt out in turn, dear ones evenly
                parts = cores if patches[key][number] >= SPLIT else 1
                tip = rough_middle(solid)
                _tasks.extend((ordered[k::parts], tip) for k in range(parts))
                wanted += [(key, number)] * parts
        context = multiprocessing.get_context("fork")
        self._pool = ProcessPoolExecutor(
            cores, context, initializer=_with_its_parent, initargs=(os.getpid(),)
        )
        for n, (key, number) in enumerate(wanted):
            pieces = self._pieces.setdefault(key, [[] for _ in bodies[key]])
            pieces[number].append(self._pool.submit(_measured, n))

    def __contains__(self, key: str) -> bool:
        return key in self._shapes

    def of(self, key: str) -> float:
        """Volume of all solids of a shape, mm3. Raises ModelError where the kernel crashes on it."""
        if self._pool is None:
            return volume(self._shapes[key])
        try:
            return sum(abs(sum(piece.result() for piece in solid)) for solid in self._pieces.get(key, []))
        except BrokenProcessPool as error:
            raise ModelError("The geometry kernel crashed while it measured this file's volumes.") from error

    def __enter__(self) -> "Volumes":
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        if self._pool is not None:
            self._pool.shutdown(cancel_futures=True)
        _tasks.clear()


def _with_its_parent(parent: int) -> None:
    """End when the parent does (prctl PR_SET_PDEATHSIG): it may be stopped while this one measures."""
    ctypes.CDLL(None).prctl(1, signal.SIGKILL)
    if os.getppid() != parent:
        os._exit(0)


def _measured(number: int) -> float:
    return volume_below(*_tasks[number])


def _patches(face: Shape) -> int:
    """How many smooth patches a free surface has; 0 for a plain one, which is measured quickly."""
    surface = BRepAdaptor_Surface(face, False)
    if surface.GetType() in SURFACE_KINDS:
        return 0
    smooth = Continuity.GeomAbs_C2
    return int(surface.NbUIntervals(smooth) * surface.NbVIntervals(smooth))
