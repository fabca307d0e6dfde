"""Has facts of models told anew that are of an older format than this version writes."""

from typing import Any

from django.core.management.base import BaseCommand

from server.library.measuring import start_for_older


class Command(BaseCommand):
    help = "Queue the models whose facts an older version wrote."

    def handle(self, *args: Any, **options: Any) -> None:
        if count := start_for_older():
            self.stdout.write(f"{count} models are looked at again, by the workers.")
