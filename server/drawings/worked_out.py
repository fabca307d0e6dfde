"""Answers about large drawings that a worker works out: kept with their job until the drawing changes or the
job is swept away."""

import json
from collections.abc import Callable, Mapping
from typing import Any

from drafting.errors import CommandError
from drafting.memory import digest
from server.drawings.models import Drawing
from server.drawings.showing import shown_facts
from server.jobs import service
from server.jobs.models import Job
from server.library.models import Blob

Progress = Callable[[float, str], None]
KIND = "say"


def answer(d: Drawing, what: str, asked: Mapping[str, Any], user: Any) -> Job:
    """The job that works an answer out, or has done so, for the drawing as it is now; what it worked out
    before for the same question goes. what: the question; asked: with what it is asked."""
    key = _key(d, what, asked)
    rows = Job.objects.filter(workspace=d.workspace, kind=KIND, data__drawing=str(d.pk), data__what=what)
    known = rows.filter(data__key=key).order_by("-created").first()
    if known is not None:
        return known
    rows.delete()
    data = {"drawing": str(d.pk), "what": what, "asked": dict(asked), "key": key}
    return service.start("work_out", d.workspace, user, KIND, f"the sizes of {d}", data)


def known(d: Drawing, what: str, asked: Mapping[str, Any]) -> Any:
    """What was worked out for the drawing as it is now; None where it was not."""
    key = _key(d, what, asked)
    row = Job.objects.filter(workspace=d.workspace, kind=KIND, state=Job.DONE, data__key=key).first()
    return None if row is None else result(row)


def result(job: Job) -> Any:
    """What a job that is done has worked out."""
    return json.loads(Blob.objects.get(pk=job.result["blob"]).content())


def work_out(job: Job, d: Drawing, work: Callable[[Drawing, Mapping[str, Any]], Any]) -> dict[str, Any]:
    """Do it, and keep it for the drawing that it was asked of. Raises CommandError where that has changed
    since."""
    asked = job.data["asked"]
    if _key(d, job.data["what"], asked) != job.data["key"]:
        raise CommandError("The drawing was changed meanwhile.")
    made = json.dumps(work(d, asked)).encode()
    return {"blob": Blob.store(made).pk, "type": "application/json", "name": "answer.json"}


def _key(d: Drawing, what: str, asked: Mapping[str, Any]) -> str:
    version, _ = shown_facts(d)
    state = f"{d.pk} {d.version} {d.updated.isoformat()} {version.pk}"
    return digest(state, what, json.dumps(asked, sort_keys=True)).hex()
