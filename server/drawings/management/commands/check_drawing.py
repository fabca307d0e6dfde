"""What is wrong on a drawing, for build machines: prints it, and ends with 1 where there is something."""

import sys
from argparse import ArgumentParser
from typing import Any
from uuid import UUID

from django.core.management.base import BaseCommand, CommandError

from drafting.views.family import derivation_of
from server.accounts.models import Workspace
from server.drawings import findings, store
from server.drawings.geometry import derive_now, requested
from server.drawings.models import Drawing
from server.drawings.showing import shown_facts


class Command(BaseCommand):
    help = "Print what is wrong on a drawing; ends with 1 where there is something, with 2 without a drawing."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("drawing", help="number of its model, its name, or its id")
        parser.add_argument("--workspace", default="", help="needed where several have such a drawing")

    def handle(self, *args: Any, **options: Any) -> None:
        drawing = _named(options["drawing"], options["workspace"])
        version, facts = shown_facts(drawing)
        for view in store.document_of(drawing).views():
            derive_now(requested(version, derivation_of(view, facts)).key, wait=True)
        found = findings.of_drawing(drawing, is_here=False)
        for f in found.findings:
            gravity = "meant" if f.meant else "grave" if f.gravity == "grave" else "look at"
            why = f" [{f.meant.reason}]" if f.meant else ""
            self.stdout.write(f"{gravity}, sheet {f.number}, {f.rule}: {f.text}{why}")
        if found.meant:
            self.stdout.write(f"{found.meant} meant so.")
        if many := found.grave + found.look:
            self.stdout.write(f"{many} {'finding' if many == 1 else 'findings'}, {found.grave} grave.")
            sys.exit(1)
        self.stdout.write("Nothing was found." if not found.meant else "Nothing else was found.")


def _named(name: str, workspace: str) -> Drawing:
    """The one drawing that a name stands for. Raises CommandError."""
    rows = Drawing.objects.all()
    if workspace:
        if not Workspace.objects.filter(name=workspace).exists():
            raise CommandError(f"There is no workspace called {workspace}.", returncode=2)
        rows = rows.filter(workspace__name=workspace)
    try:
        found = list(rows.filter(pk=UUID(name)))
    except ValueError:
        found = list(rows.filter(model__number=name)) or list(rows.filter(name=name))
    if not found:
        raise CommandError(f"There is no drawing called {name}.", returncode=2)
    if len(found) > 1:
        raise CommandError(
            f"There are {len(found)} drawings called {name}; give the id of one.", returncode=2
        )
    return found[0]
