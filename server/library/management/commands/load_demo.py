"""Loads the sample office once: its account, its parts and its drawings."""

import json
import secrets
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction
from pydantic import TypeAdapter

from drafting.annotation.proposing import find_centers
from drafting.child import KernelChild
from drafting.commands import AnyCommand
from drafting.commands.annotations import Place
from drafting.commands.base import Command as Edit
from drafting.commands.inspection import NumberCharacteristics
from drafting.commands.versions import BringAlong
from drafting.context import Context
from drafting.inspection.verdicts import Reading
from drafting.model.model import Facts
from drafting.standards import house_style
from drafting.views.family import derivation_of
from drafting.views.present import presented
from drafting.views.view import View
from server.accounts import membership
from server.accounts.models import Membership, Workspace
from server.drawings import findings, inspection, pencil, placed, releasing, service
from server.drawings.geometry import derive_now, ready, requested
from server.drawings.models import FOR_CHECK, Drawing
from server.drawings.showing import shown_facts
from server.drawings.sides import clouds
from server.drawings.store import document_of
from server.library.models import Model
from server.library.reading import read_into
from server.styles import service as styles

OFFICE = "Harrow Beck Millworks"
DEMO = settings.BASE_DIR / "demo"


class Command(BaseCommand):
    help = "Load the sample office if it is not there yet."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--password-file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        if Workspace.objects.filter(name=OFFICE).exists():
            return
        self.stdout.write("Loading the sample office …")
        with transaction.atomic():
            workspace = Workspace.objects.create(name=OFFICE)
            user = self._account(options["password_file"])
            Membership.objects.create(user=user, workspace=workspace, role=Membership.OWNER)
            password = options["password_file"].read_text().strip() if options["password_file"] else None
            checker = membership.create_user("tarn", "M. Tarn", password)
            Membership.objects.create(user=checker, workspace=workspace, role=Membership.CHECKER)
            with KernelChild() as child:
                files = sorted(
                    (DEMO / "recipes").glob("*.json"), key=lambda f: ('"assembly"' in f.read_text(), f.name)
                )
                for file in files:
                    earlier = DEMO / "earlier" / file.name
                    of = read_into(workspace, file.name, earlier, child=child) if earlier.exists() else None
                    read_into(workspace, file.name, file, child=child, of=of, by=user)
            logo = styles.clean_logo((DEMO / "logo.svg").read_bytes())
            for file in sorted((DEMO / "styles").glob("*.json")):
                styles.save(workspace, house_style.read(file.read_text()).model_copy(update={"logo": logo}))
            keys = {
                f.name: placed.take(workspace, f.name, f, lambda done, text: None).blob_id
                for f in sorted((DEMO / "files").iterdir())
            }
            for file in sorted((DEMO / "drawings").glob("*.json")):
                text = file.read_text()
                for name, key in keys.items():
                    text = text.replace(f'"file": "{name}"', f'"file": "{key}"')
                self._drawing(workspace, user, checker, json.loads(text))

    def _account(self, password_file: Path | None) -> Any:
        password = secrets.token_urlsafe(9)
        if password_file and password_file.exists():
            password = password_file.read_text().strip()
        elif password_file:
            password_file.touch(mode=0o600)
            password_file.write_text(password)
        return get_user_model().objects.create_user(
            "fell", password=password, first_name="A.", last_name="Fell"
        )

    def _drawing(self, workspace: Workspace, user: Any, checker: Any, data: dict[str, Any]) -> None:
        """A demo drawing is the list of commands that makes it; next: how it goes on after it was released as
        it shows the earlier version of its model; check: what it is sent for check with,
        and pencil, what a checker finds; meant: what is found by itself and meant so; measured: what pieces
        measured, by what the drawing requires."""
        model = Model.objects.get(workspace=workspace, number=data["model"])
        drawing = service.start_drawing(model, user, workspace.name, data.get("style"))
        goes_on = data.get("next")
        if goes_on:
            drawing = self._do(drawing, BringAlong(to=drawing.shows - 1), user)
        drawing = self._made(drawing, user, data["commands"])
        if goes_on:
            releasing.move(drawing.pk, FOR_CHECK, user, "")
            drawing.refresh_from_db()
            releasing.release(drawing, drawing.version, checker, "", lambda done, text: None)
            drawing = releasing.start_revision(drawing.pk, user, goes_on["says"])
            drawing = self._do(drawing, BringAlong(to=model.current().number), user)
            drawing = self._made(drawing, user, goes_on["commands"])
            for sheet, made in clouds(drawing, drawing.releases.get().mark).items():
                drawing = self._do(drawing, Place(command="place", sheet=sheet, annotations=made), user)
        for said in data.get("meant", []):
            every = findings.of_drawing(drawing, is_here=False).findings
            found = next(f for f in every if f.rule == said["rule"])
            findings.mean(drawing, found.key, said["reason"], user)
        if "measured" in data:
            offsets = inspection.places_of(drawing)
            number = NumberCharacteristics(command="number_characteristics", offsets=offsets)
            drawing = self._do(drawing, number, user)
            numbers = {r.requirement: r.number for r in inspection.rows_of(drawing)}
            taken = [Reading(numbers[text], piece, value) for text, piece, value in data["measured"]]
            inspection.keep(drawing, taken, user)
        if "check" in data:
            releasing.move(drawing.pk, FOR_CHECK, user, data["check"])
            self._checked(drawing, user, checker, data["pencil"])

    def _checked(self, drawing: Drawing, user: Any, checker: Any, data: dict[str, Any]) -> None:
        """The findings and ticks of a checker, and what the drafter answers."""
        sheet = document_of(drawing).sheets[0].id
        for m in data["marks"]:
            mark = pencil.draw(drawing.pk, m["kind"], sheet, m["anchor"], m["places"], m["text"], checker)
            if "answer" in m:
                pencil.answer(mark, m["answer"], mark.ANSWERED, user)
        for annotation in data["ticks"]:
            pencil.tick(drawing, annotation, True, checker)

    def _do(self, drawing: Drawing, command: Edit, user: Any) -> Drawing:
        return service.apply(drawing.pk, drawing.version, command, user)[0]  # type: ignore[arg-type]

    def _made(self, drawing: Drawing, user: Any, commands: list[dict[str, Any]]) -> Drawing:
        """A drawing after commands, its views derived and centered."""
        sheet = document_of(drawing).sheets[0].id
        adapter: TypeAdapter[Any] = TypeAdapter(AnyCommand)
        for command in commands:
            if command.get("sheet") == "":
                command["sheet"] = sheet
            drawing = self._do(drawing, adapter.validate_python(command), user)
        version, facts = shown_facts(drawing)
        for view in document_of(drawing).views():
            derive_now(requested(version, derivation_of(view, facts)).key)
        for view in document_of(drawing).views():
            drawing = self._centered(drawing, view, facts, user)
        return drawing

    def _centered(self, drawing: Drawing, view: View, facts: Facts, user: Any) -> Drawing:
        document = document_of(drawing)
        sheet = document.sheet_of_view(view.id)
        geometry = ready(requested(shown_facts(drawing)[0], derivation_of(view, facts)).key)
        if sheet is None or geometry is None or view.kind in ("pictorial", "detail") or not view.centers:
            return drawing
        found = find_centers.lacking(
            presented(view, sheet, facts, geometry), Context(document, sheet, facts, view)
        )
        if found:
            drawing = service.apply(
                drawing.pk, drawing.version, Place(command="place", annotations=[*found]), user
            )[0]
        return drawing
