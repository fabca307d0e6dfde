"""The people of an installation from its own machine: whoever can run this may do anything to accounts."""

from argparse import ArgumentParser
from getpass import getpass
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand, CommandError
from django.db import transaction

from server.accounts import membership as rules
from server.accounts.models import Membership, Workspace


class Command(BaseCommand):
    help = "List people, add or remove one, set a password, or start a workspace."

    def add_arguments(self, parser: ArgumentParser) -> None:
        ways = parser.add_subparsers(dest="way", required=True)
        ways.add_parser("list", help="workspaces and who belongs to them")
        start = ways.add_parser("workspace", help="start a workspace")
        start.add_argument("workspace")
        add = ways.add_parser("add", help="add somebody to a workspace, with a new account if there is none")
        add.add_argument("username")
        add.add_argument("--name", default="", help="as it is shown to others")
        add.add_argument("--owner", action="store_true", help="may say who belongs to the workspace")
        password = ways.add_parser("password", help="set somebody's password; ends their sessions")
        password.add_argument("username")
        remove = ways.add_parser("remove", help="take somebody out of a workspace; what they did stays")
        remove.add_argument("username")
        for way in (add, remove):
            way.add_argument("--workspace", default="", help="needed where there are several")
        for way in (add, password):
            way.add_argument("--password-file", type=Path, help="else it is asked for")

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        try:
            getattr(self, f"_{options['way']}")(options)
        except rules.NotPossible as error:
            raise CommandError(str(error)) from error

    def _list(self, options: dict[str, Any]) -> None:
        for workspace in Workspace.objects.order_by("pk"):
            self.stdout.write(workspace.name)
            for row in Membership.objects.filter(workspace=workspace).select_related("user").order_by("pk"):
                self.stdout.write(f"  {row.user.get_username():<20} {row.role:<8} {row.user.get_full_name()}")

    def _workspace(self, options: dict[str, Any]) -> None:
        if Workspace.objects.filter(name=options["workspace"]).exists():
            raise CommandError("There is a workspace of that name.")
        Workspace.objects.create(name=options["workspace"][:120])
        self.stdout.write("Started; add its first owner now.")

    def _add(self, options: dict[str, Any]) -> None:
        workspace = self._one_workspace(options["workspace"])
        user = get_user_model().objects.filter(username=options["username"]).first()
        if user is None:
            user = rules.create_user(options["username"], options["name"], self._asked(options))
        if Membership.objects.filter(user=user, workspace=workspace).exists():
            raise CommandError(f"{options['username']} belongs to {workspace} already.")
        role = Membership.OWNER if options["owner"] else Membership.DRAFTER
        Membership.objects.create(user=user, workspace=workspace, role=role)
        self.stdout.write(f"{options['username']} belongs to {workspace} as {role}.")

    def _password(self, options: dict[str, Any]) -> None:
        rules.set_password(self._one_user(options["username"]), self._asked(options))
        self.stdout.write("The password is set, and their sessions have ended.")

    def _remove(self, options: dict[str, Any]) -> None:
        workspace = self._one_workspace(options["workspace"])
        user = self._one_user(options["username"])
        row = Membership.objects.filter(user=user, workspace=workspace).first()
        if row is None:
            raise CommandError(f"{options['username']} does not belong to {workspace}.")
        rules.leave(row)
        self.stdout.write(f"{options['username']} no longer belongs to {workspace}.")

    def _one_workspace(self, name: str) -> Workspace:
        found = list(Workspace.objects.filter(name=name) if name else Workspace.objects.order_by("pk"))
        if len(found) != 1:
            known = ", ".join(w.name for w in Workspace.objects.order_by("pk")) or "none yet"
            raise CommandError(f"Name the workspace: {known}.")
        return found[0]

    def _one_user(self, username: str) -> Any:
        user = get_user_model().objects.filter(username=username).first()
        if user is None:
            raise CommandError("Nobody has that log-in name.")
        return user

    def _asked(self, options: dict[str, Any]) -> str:
        if options["password_file"]:
            return str(options["password_file"].read_text()).strip()
        password = getpass("Password: ")
        if getpass("Once more: ") != password:
            raise CommandError("The two differ.")
        return password
