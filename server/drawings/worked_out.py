"""Answers about large drawings that a worker works out: kept with their job until the drawing or what is
known of its part changes, or the job is swept away."""

import json
from collections.abc import Callable, Mapping
from typing import Any

from drafting.errors import CommandError
from drafting.memory import Memory, digest
from server.drawings.models import Drawing
from server.drawings.showing import shown_facts
from server.jobs import service
from server.jobs.models import Job
from server.library.models import Blob

Progress = Callable[[float, str], None]
KIND = "say"
_TOLD: Memory[str] = Memory(32)
"""Names of all that is known of the parts of a model."""


def answer(d: Drawing, what: str, asked: Mapping[str, Any], user: Any) -> Job:
    """The job that works an answer out, or has done so, for the drawing as it is now; what was worked out
    for it as it was before goes. what: the question; asked: with what it is asked."""
    state, key = _keys(d, what, asked)
    rows = Job.objects.filter(workspace=d.workspace, kind=KIND, data__drawing=str(d.pk))
    known = rows.filter(data__key=key).order_by("-created").first()
    if known is not None:
        return known
    rows.exclude(data__state=state).delete()
    data = {"drawing": str(d.pk), "what": what, "asked": dict(asked), "state": state, "key": key}
    return service.start("work_out", d.workspace, user, KIND, f"the sizes of {d}", data)


def known(d: Drawing, what: str, asked: Mapping[str, Any]) -> Any:
    """What was worked out for the drawing as it is now; None where it was not."""
    _, key = _keys(d, what, asked)
    row = Job.objects.filter(workspace=d.workspace, kind=KIND, state=Job.DONE, data__key=key).first()
    return None if row is None else result(row)


def result(job: Job) -> Any:
    """What a job that is done has worked out."""
    return json.loads(Blob.objects.get(pk=job.result["blob"]).content())


def work_out(job: Job, d: Drawing, work: Callable[[Drawing, Mapping[str, Any]], Any]) -> dict[str, Any]:
    """Do it, and keep it for the drawing that it was asked of. Raises CommandError where that has changed
    since."""
    asked = job.data["asked"]
    if _keys(d, job.data["what"], asked)[1] != job.data["key"]:
        raise CommandError("The drawing was changed meanwhile.")
    made = json.dumps(work(d, asked)).encode()
    return {"blob": Blob.store(made).pk, "type": "application/json", "name": "answer.json"}


def _keys(d: Drawing, what: str, asked: Mapping[str, Any]) -> tuple[str, str]:
    """Names of what an answer is about: the drawing as it is now and the parts as they are, with what the
    office says of them; and that with the question."""
    version, facts = shown_facts(d)
    told = _TOLD.recall(facts, "", lambda: digest(*(p.model_dump_json() for p in facts.parts.values())).hex())
    state = digest(f"{d.pk} {d.version} {d.updated.isoformat()} {version.pk}", told).hex()
    return state, digest(state, what, json.dumps(asked, sort_keys=True)).hex()
