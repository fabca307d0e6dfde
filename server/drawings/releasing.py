"""A drawing on its way: in work, for check, released, withdrawn, and in work again as a new revision."""

import datetime
from collections.abc import Callable
from typing import Any

from django.db import transaction

from drafting.annotation.kinds import parts_list, parts_rows
from drafting.annotation.review import size_sheet
from drafting.commands import applied
from drafting.commands.base import Command
from drafting.commands.revisions import Approve, StartRevision
from drafting.document import Drawing as Document
from drafting.errors import CommandError, PublishError
from drafting.export import tables
from drafting.standards import revisions
from drafting.text import one_line
from server.accounts.access import called
from server.accounts.models import Membership
from server.drawings import publishing, service, store
from server.drawings.models import (
    FOR_CHECK,
    IN_WORK,
    RELEASED,
    WITHDRAWN,
    Drawing,
    Release,
    ReleasedFile,
    StateChange,
)
from server.drawings.showing import shown_facts
from server.drawings.telling import told
from server.jobs import service as jobs
from server.jobs.models import Job
from server.library.facts import facts_key
from server.library.measuring import measure
from server.library.models import Blob

DRAWS = (Membership.OWNER, Membership.DRAFTER)
CHECKS = (Membership.OWNER, Membership.CHECKER)
WAYS = {
    (IN_WORK, FOR_CHECK): DRAWS,
    (FOR_CHECK, IN_WORK): (*DRAWS, Membership.CHECKER),
    (FOR_CHECK, RELEASED): CHECKS,
    (RELEASED, WITHDRAWN): CHECKS,
    (RELEASED, IN_WORK): DRAWS,
    (WITHDRAWN, IN_WORK): DRAWS,
}
"""From which state to which, and by whom."""
NAMES = {IN_WORK: "in work", FOR_CHECK: "for check", RELEASED: "released", WITHDRAWN: "withdrawn"}
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
Progress = Callable[[float, str], None]


def roles_for(drawing: Drawing, to: str) -> tuple[str, ...]:
    """The roles that may bring a drawing to a state. Raises CommandError where there is no way there from
    its own."""
    roles = WAYS.get((drawing.state, to))
    if roles is None:
        raise CommandError(f"{drawing} is {NAMES[drawing.state]}; it cannot be {NAMES[to]} from there.")
    return roles


def _log(drawing: Drawing, user: Any, note: str) -> None:
    mark = str(store.document_of(drawing).fields.revision)[:8]
    StateChange.objects.create(drawing=drawing, state=drawing.state, mark=mark, note=note[:400], by=user)
    told(drawing.pk, "changed", user)


@transaction.atomic
def move(drawing_id: Any, to: str, user: Any, note: str) -> Drawing:
    """Send for check, send back or withdraw. Raises CommandError."""
    drawing = service.locked(drawing_id)
    roles_for(drawing, to)
    if to in (RELEASED, IN_WORK) and drawing.state != FOR_CHECK:
        raise CommandError("Say which revision is started.")
    drawing.state = to
    drawing.save(update_fields=["state"])
    _log(drawing, user, note)
    return drawing


@transaction.atomic
def start_revision(drawing_id: Any, user: Any, description: str, mark: str = "") -> Drawing:
    """Open a released drawing as a new revision, with the next mark of its standard unless one is said.
    Raises CommandError."""
    drawing = service.locked(drawing_id)
    roles_for(drawing, IN_WORK)
    if drawing.state == FOR_CHECK:
        raise CommandError("It has not been released; send it back to work.")
    if not description.strip():
        raise CommandError("Say in a few words what the revision changes.")
    document = store.document_of(drawing)
    mark = mark.strip() or revisions.after(document.fields.revision, document.profile.standard)
    if drawing.releases.filter(mark=mark).exists():
        raise CommandError(f"Revision {mark} was released already; say another mark.")
    drawing.state, drawing.frozen = IN_WORK, None
    drawing.save(update_fields=["state", "frozen"])
    today = datetime.date.today().isoformat()
    _do(drawing, StartRevision(mark=mark, description=description.strip(), date=today, by=called(user)), user)
    drawing.floor = drawing.log_position
    drawing.save(update_fields=["floor"])
    _log(drawing, user, description)
    return drawing


def _do(drawing: Drawing, command: Command, user: Any) -> None:
    changed, _, _ = service.apply(drawing.pk, None, command, user)  # type: ignore[arg-type]
    drawing.refresh_from_db()
    assert changed.pk == drawing.pk


def start_release(drawing: Drawing, user: Any, note: str) -> Job:
    """A job that writes a drawing's files and releases it. Raises CommandError."""
    roles_for(drawing, RELEASED)
    data = {"drawing": str(drawing.pk), "version": drawing.version, "note": note[:400]}
    return jobs.start("release_drawing", drawing.workspace, user, "release", str(drawing), data)


def release(drawing: Drawing, version: int, user: Any, note: str, progress: Progress) -> Release:
    """Write all files of a drawing, keep them, and set it to released. Nothing is kept where anything fails,
    or the drawing is no longer what it was when it was asked for. Raises DraftingError."""
    before = store.document_of(drawing)
    mark = before.fields.revision.strip() or revisions.after("", before.profile.standard)
    if len(mark) > 8:
        raise CommandError(f"{mark} is too long for a revision; it has at most 8 characters.")
    if drawing.releases.filter(mark=mark).exists():
        raise CommandError(f"Revision {mark} of {drawing} was released already.")
    approve = Approve(mark=mark, by=called(user), date=datetime.date.today().isoformat())
    shown, facts = shown_facts(drawing)
    if facts.unmeasured:
        measure(shown)
        shown, facts = shown_facts(drawing)
    document = applied(before, approve, facts)
    files = [
        (kind, *publishing.publish(drawing, kind, [], progress, document)) for kind in ("pdf", "dxf", "svg")
    ]
    files += list(_tables(drawing, document))
    stem = publishing.file_stem(drawing)
    files.append(("step", f"{stem}.step", "model/step", publishing.model_step(shown)))
    if document.profile.release_archive:
        files.append(("pdfa", *publishing.publish(drawing, "pdfa", [], progress, document)))
    progress(0.95, "keeping the files")
    with transaction.atomic():
        locked = service.locked(drawing.pk)
        if locked.state != FOR_CHECK:
            raise CommandError(f"{locked} is {NAMES[locked.state]} meanwhile; it was not released again.")
        if locked.version != version or facts_key(shown_facts(locked)[1]) != facts_key(facts):
            raise CommandError(f"{locked} was changed while it was being released; look at it again.")
        locked.state = IN_WORK  # for the one edit that releasing is
        locked.save(update_fields=["state"])
        _do(locked, approve, user)
        blob = Blob.store(facts.model_dump_json().encode())
        made = Release.objects.create(
            drawing=locked,
            mark=mark,
            document=document.model_dump(mode="json"),
            shows=shown.number,
            facts=blob,
            by=user,
        )
        for kind, name, media_type, data in files:
            ReleasedFile.objects.create(
                release=made, kind=kind, name=name[:200], media_type=media_type, blob=Blob.store(data)
            )
        locked.state, locked.frozen, locked.floor = RELEASED, blob, locked.log_position
        locked.save(update_fields=["state", "frozen", "floor"])
        _log(locked, user, note)
    return made


def _tables(drawing: Drawing, document: Document) -> list[tuple[str, str, str, bytes]]:
    """The size sheet and the parts lists as workbooks, as far as there are any."""
    _, facts = shown_facts(drawing)
    stem = publishing.file_stem(drawing)
    out = []
    rows = size_sheet.rows(document, facts, store.following(document, facts))
    if rows:
        out.append(("sizes", f"{stem}-sizes.xlsx", XLSX, tables.xlsx(size_sheet.table(rows), "Sizes")))
    lists = [p for s in document.sheets for p in parts_rows.lists_on(s)]
    if lists:
        found = parts_list.table(document, lists[0], facts)
        out.append(("parts", f"{stem}-parts.xlsx", XLSX, tables.xlsx(found, "Parts")))
    return out


def release_at(drawing: Drawing, mark: str) -> Release:
    """A release by its mark. Raises PublishError."""
    found = drawing.releases.filter(mark=mark).first() if mark.isprintable() else None
    if found is None:
        raise PublishError(f"Revision {one_line(mark)[:20]} of {drawing} was never released.")
    return found
