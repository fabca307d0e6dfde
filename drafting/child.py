"""Kernel work in a child process with limits: a file or a view that crashes or hangs the kernel takes only
the child with it.

`KernelChild` is the parent's side; `python -m drafting.child` is the other. They speak JSON lines; large data
goes through files.
"""

import json
import os
import resource
import select
import signal
import subprocess
import sys
import threading
import time
import zipfile
from collections.abc import Callable
from contextvars import ContextVar
from pathlib import Path
from typing import Any

from drafting.errors import DraftingError, ModelError

Progress = Callable[[float, str], None]
while_waiting: ContextVar[Callable[[], None]] = ContextVar("while_waiting", default=lambda: None)
"""Called about every second while a child works; what it raises ends the child and goes on to who asked."""
MEMORY_LIMIT = 8 * 1024**3
"""Address space of a child in bytes."""
GRACE = 5
"""Seconds that a child gets beyond what its request may take before it ends by itself."""
NICENESS = 10
"""What is computed in the background gives way to what people wait for."""
SLOW_NODES = 20_000
"""Nodes of all edges above which a view takes longer than 300 ms, so that a rough one goes before it."""


class ChildCrashed(ModelError):
    """The child ended or was ended before it answered."""


class ChildEnded(ChildCrashed):
    """The child ended by itself, or was ended from outside, before its time was up."""


class KernelChild:
    """A child process that does one request at a time. Not safe for use by several threads at once."""

    def __init__(self, memory: int = MEMORY_LIMIT) -> None:
        self._memory = memory
        self._process: subprocess.Popen[bytes] | None = None
        self._number = 0

    @property
    def pid(self) -> int | None:
        """Process id of the child; None while there is none."""
        return self._process.pid if self._process else None

    def warm(self) -> "KernelChild":
        """Start the process without waiting for it; it loads the kernel while nobody asks for anything."""
        if self._process is None:
            self._start()
        return self

    def close(self) -> None:
        """End the child, whatever it is doing."""
        if self._process:
            self._process.kill()
            self._process.wait()
            for pipe in (self._process.stdin, self._process.stdout):
                if pipe:
                    pipe.close()
            self._process = None

    def __enter__(self) -> "KernelChild":
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    def request(
        self, operation: str, seconds: float, progress: Progress = lambda done, text: None, **arguments: Any
    ) -> Any:
        """Run an operation. Raises DraftingError with the child's sentence, ChildCrashed when it ends early
        or takes too long."""
        if self._process is None or self._process.poll() is not None:
            self.close()
            self._start()
        assert self._process
        assert self._process.stdin
        assert self._process.stdout
        self._number += 1
        head = {"operation": operation, "number": self._number, "seconds": seconds}
        try:
            self._process.stdin.write(json.dumps({**head, **arguments}).encode() + b"\n")
            self._process.stdin.flush()
            return self._answer(seconds, progress)
        except BrokenPipeError as error:
            self.close()
            raise ChildEnded("The geometry kernel stopped while working on this file.") from error
        except DraftingError:
            raise
        except BaseException:  # a child that still works on something is of no more use
            self.close()
            raise

    def _answer(self, seconds: float, progress: Progress) -> Any:
        assert self._process
        assert self._process.stdout
        deadline, buffer = time.monotonic() + seconds, b""
        fd = self._process.stdout.fileno()
        while True:
            left = deadline - time.monotonic()
            if left <= 0:
                self.close()
                raise ChildCrashed(
                    f"The geometry kernel did not finish within {seconds:.0f} seconds and was stopped."
                )
            if not select.select([fd], [], [], min(left, 1.0))[0]:
                while_waiting.get()()
                continue
            data = os.read(fd, 1 << 16)
            if not data:
                code = self._process.wait()
                self.close()
                print(f"a kernel child ended with code {code}", file=sys.stderr)
                raise ChildEnded("The geometry kernel crashed on this file; nothing else is affected.")
            buffer += data
            *lines, buffer = buffer.split(b"\n")
            for line in lines:
                message = json.loads(line)
                if message["number"] != self._number:
                    continue  # to a question that nobody waits for any more
                if "progress" in message:
                    progress(message["progress"], message["text"])
                elif "error" in message:
                    raise DraftingError(message["error"])
                else:
                    return message["result"]

    def _start(self) -> None:
        environment = {**os.environ, "PYTHONPATH": str(Path(__file__).parent.parent)}
        self._process = subprocess.Popen(
            [sys.executable, "-m", "drafting.child", str(self._memory)],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            env=environment,
            start_new_session=True,
        )


class FreshChildren:
    """Children that have done nothing yet, one of them kept in store: a file from outside is read in a
    process of its own, and nobody waits for that to start. Threads may share it."""

    def __init__(self) -> None:
        self._store: list[KernelChild] = []

    def take(self) -> KernelChild:
        """A child that its taker ends; another is started for the next."""
        try:
            child = self._store.pop()
        except IndexError:
            child = KernelChild().warm()
        if not self._store:
            self._store.append(KernelChild().warm())
        return child

    def close(self) -> None:
        """End what is in store."""
        while self._store:
            self._store.pop().close()


class _Operations:
    """The child's side. Prepared models are kept between requests, the latest few."""

    def __init__(self) -> None:
        self._prepared: dict[str, Any] = {}

    def sort_out(self, say: Progress, source: str, folder: str) -> Any:
        """Unpack a zip into the folder and say which of its files make one model."""
        from dataclasses import asdict

        from drafting.model import bundle

        return [asdict(g) for g in bundle.sorted_out(Path(folder), bundle.unpack(Path(source), Path(folder)))]

    def referred(self, say: Progress, source: str) -> Any:
        """Numbers of the models that a recipe refers to."""
        from drafting.model import bundle

        return bundle.referred(Path(source))

    def read(
        self,
        say: Progress,
        source: str,
        name: str,
        kind: str,
        folder: str,
        root: str,
        recipes: dict[str, str],
        archives: dict[str, str],
        later: bool = False,
    ) -> Any:
        """Read a STEP file or build a recipe; writes archive.zip, facts.json and preview.glb into the folder.

        A source that is a zip holds the file called root and those it refers to. What a recipe refers to, by
        number: paths of recipes (from outside) and of packed models (our own). later: whether volumes may be
        left for `measure`.
        """
        from drafting.model import archive, bundle, preview, soundness
        from drafting.model.assembly import build_model
        from drafting.model.measuring import measured
        from drafting.model.recipe import recipe_data, validate_recipe
        from drafting.model.step import read_model

        if kind == "recipe":
            say(0.1, "building the recipe")

            def known(number: str) -> Any:
                if number in archives:
                    return archive.unpack(Path(archives[number]).read_bytes())
                return recipe_data(Path(recipes[number])) if number in recipes else None

            model = build_model(validate_recipe(recipe_data(Path(source))), known)
            if model.facts.unmeasured and not later:
                model = measured(model, lambda done, text: say(0.9 * done, text))
        else:
            path = Path(source)
            if zipfile.is_zipfile(path):
                beside = Path(folder) / "files"
                beside.mkdir()
                bundle.unpack(path, beside)
                path = beside / root
            model = read_model(path, name, say, later)
        say(0.96, "preparing the preview")
        out = Path(folder)
        (out / "preview.glb").write_bytes(preview.preview_glb(model))
        parts = archive.faceted(model)
        model = soundness.checked(model, parts)
        (out / "archive.zip").write_bytes(archive.pack(model, parts))
        (out / "facts.json").write_text(model.facts.model_dump_json())
        return {"name": model.facts.name}

    def measure(self, say: Progress, archive: str, out: str) -> Any:
        """Measure the volumes of a packed model; writes its facts."""
        from drafting.model import soundness
        from drafting.model.archive import unpack, unpack_faceted
        from drafting.model.measuring import measured

        data = Path(archive).read_bytes()
        model = measured(unpack(data), lambda done, text: say(0.95 * done, text))
        if (faceted := unpack_faceted(data)) is not None:
            model = soundness.checked(model, faceted)
        Path(out).write_text(model.facts.model_dump_json())
        return {}

    def carry(self, say: Progress, folder: str, earlier: list[str]) -> Any:
        """Call what was read into a folder as the earlier versions of its model do, whose facts are in files,
        the latest first; writes archive.zip and facts.json anew."""
        from drafting.model.archive import recalled
        from drafting.model.model import Facts
        from drafting.model.next_version import next_version

        say(0.1, "looking for what was there")
        before = [Facts.model_validate_json(Path(name).read_bytes()) for name in earlier]
        facts, archive = Path(folder) / "facts.json", Path(folder) / "archive.zip"
        made = next_version(before[0], Facts.model_validate_json(facts.read_bytes()), before[1:])
        archive.write_bytes(recalled(archive.read_bytes(), made.facts, made.keys))
        facts.write_text(made.facts.model_dump_json())
        return {"share": made.share, "likely": made.likely, "said": made.said}

    def decide(self, say: Progress, source: str) -> Any:
        """What each number of a part's recipe decides by itself."""
        from drafting.model.build import part_model
        from drafting.model.model import PartFacts
        from drafting.model.own_numbers import decided
        from drafting.model.recipe import UNIT_MM, PartRecipe, recipe_data, validate_recipe

        def build(raw: Any) -> PartFacts:
            recipe = validate_recipe(raw)
            assert isinstance(recipe, PartRecipe)
            return next(iter(part_model(recipe).facts.parts.values()))

        raw = recipe_data(Path(source))
        unit = UNIT_MM[raw.get("units", "mm")]
        found = decided(
            raw, build(raw), build, unit, lambda done: say(done, "changing one number after another")
        )
        return [d.model_dump() for d in found]

    def derive(self, say: Progress, archive: str, derivation: dict[str, Any], out: str, rough: str) -> Any:
        """Derive a view of a packed model; writes the geometry as JSON. The archive's file name is its
        identity.

        A view that will take long is first written roughly to the file `rough`, and progress says so.
        """
        from drafting.views.derivation import Derivation
        from drafting.views.derive import derive

        what, prepared = Derivation.model_validate(derivation), self._model(archive)
        nodes = sum(len(prepared.scene.parts[p].edge_nodes) for p, _ in prepared.scene.instances)
        if not what.is_cut and nodes > SLOW_NODES:
            Path(rough).write_text(derive(prepared, what, rough=True).model_dump_json())
            say(0.3, "rough")
        geometry = derive(prepared, what)
        Path(out).write_text(geometry.model_dump_json())
        return {"curves": len(geometry.curves)}

    def read_placed(self, say: Progress, source: str, name: str, out: str) -> Any:
        """Clean a picture or read a drawing of old that is to be placed on sheets; what is told of it."""
        from drafting.placed import dxf, pictures

        say(0.2, "reading the file")
        if name.lower().endswith(".dxf"):
            return {"kind": "underlay", **dxf.read_file(Path(source), Path(out))}
        return {"kind": "picture", **pictures.clean_file(Path(source), name, Path(out))}

    def write_step(self, say: Progress, archive: str, out: str) -> Any:
        from drafting.model.step import write_model

        write_model(self._model(archive).model, Path(out))
        return {}

    def _model(self, path: str) -> Any:
        from drafting.model.archive import unpack, unpack_faceted
        from drafting.views.derive import Prepared

        key = Path(path).name
        if key not in self._prepared:
            while len(self._prepared) >= 4:
                self._prepared.pop(next(iter(self._prepared)))
            data = Path(path).read_bytes()
            self._prepared[key] = Prepared(unpack(data), unpack_faceted(data))
        return self._prepared[key]


def _limit_time(seconds: float) -> None:
    """End this process by itself when a request takes longer, in time computed or in time passed, though its
    parent may be gone and though the kernel never comes back to Python."""
    used = resource.getrusage(resource.RUSAGE_SELF)
    most = int(used.ru_utime + used.ru_stime + seconds) + GRACE
    resource.setrlimit(resource.RLIMIT_CPU, (most, resource.RLIM_INFINITY))
    signal.alarm(int(seconds) + GRACE)


def _end_with(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(1)
    os._exit(1)


def main() -> None:
    """The child process: answers requests from standard input until it is closed."""
    memory = int(sys.argv[1])
    threading.Thread(target=_end_with, args=(os.getppid(),), daemon=True).start()
    os.nice(NICENESS)
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    import drafting.model.archive
    import drafting.model.bundle
    import drafting.model.preview
    import drafting.model.step
    import drafting.views.derive  # noqa: F401  all that requests need, before the first comes

    answers = os.fdopen(os.dup(1), "w", buffering=1)
    os.dup2(2, 1)  # what the kernel prints must not mix with the answers
    operations = _Operations()

    number = 0

    def send(message: dict[str, Any]) -> None:
        answers.write(json.dumps({"number": number, **message}) + "\n")
        answers.flush()

    def progress(done: float, text: str) -> None:
        send({"progress": done, "text": text})

    for line in sys.stdin:
        request = json.loads(line)
        operation, number = request.pop("operation"), request.pop("number")
        _limit_time(request.pop("seconds"))
        try:
            send({"result": getattr(operations, operation)(progress, **request)})
        except DraftingError as error:
            send({"error": str(error)})
        except MemoryError:
            send({"error": "The file needs more memory than a single model may take."})
        except Exception as error:
            print(f"{operation}: {type(error).__name__}: {error}", file=sys.stderr)
            send({"error": "The geometry kernel could not work with this file."})
        signal.alarm(0)


if __name__ == "__main__":
    main()
