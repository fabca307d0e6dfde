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
from drafting.context import Context
from drafting.model.model import Facts
from drafting.standards import house_style
from drafting.views.family import derivation_of
from drafting.views.present import presented
from drafting.views.view import View
from server.accounts import membership
from server.accounts.models import Membership, Workspace
from server.drawings import placed, service
from server.drawings.geometry import derive_now, ready, requested
from server.drawings.models import Drawing
from server.drawings.store import document_of
from server.library.facts import current_facts
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
            checker = membership.create_user("tarn", "M. Tarn", None)
            Membership.objects.create(user=checker, workspace=workspace)
            with KernelChild() as child:
                files = sorted(
                    (DEMO / "recipes").glob("*.json"), key=lambda f: ('"assembly"' in f.read_text(), f.name)
                )
                for file in files:
                    read_into(workspace, file.name, file, child=child)
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
                self._drawing(workspace, user, json.loads(text))

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

    def _drawing(self, workspace: Workspace, user: Any, data: dict[str, Any]) -> None:
        """A demo drawing is the list of commands that makes it."""
        model = Model.objects.get(workspace=workspace, number=data["model"])
        drawing = service.start_drawing(model, user, workspace.name, data.get("style"))
        sheet = document_of(drawing).sheets[0].id
        adapter: TypeAdapter[Any] = TypeAdapter(AnyCommand)
        for command in data["commands"]:
            if command.get("sheet") == "":
                command["sheet"] = sheet
            drawing = service.apply(drawing.pk, drawing.version, adapter.validate_python(command), user)[0]
        _, facts = current_facts(model)
        for view in document_of(drawing).views():
            derive_now(requested(model.current(), derivation_of(view, facts)).key)
        for view in document_of(drawing).views():
            drawing = self._centered(drawing, view, facts, user)

    def _centered(self, drawing: Drawing, view: View, facts: Facts, user: Any) -> Drawing:
        document = document_of(drawing)
        sheet = document.sheet_of_view(view.id)
        geometry = ready(requested(drawing.model.current(), derivation_of(view, facts)).key)
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
