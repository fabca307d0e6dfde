"""Hard kills of the database, the web process and the worker while somebody edits: what was acknowledged is
there afterwards, and everything comes back by itself."""

import os
import signal
import time

from bench.office import Office, running_office

KILLS = 30
"""Of each kind."""
READY = 15.0
"""Seconds within which requests are answered again."""


def measured() -> bool:
    """Prints a row for each kind of kill; whether nothing was lost and all came back in time."""
    print(f"Hard kills while edits are made, {KILLS} of each kind")
    with running_office() as office:
        drawing = next(d for d in office.ask("GET", "/api/drawings")[1] if d["number"] == "HB-204")["id"]
        met = [_row(office, drawing, what) for what in ("database", "web", "worker")]
    return all(met)


def _row(office: Office, drawing: str, what: str) -> bool:
    kept = lost = errors = 0
    slowest = 0.0
    for n in range(KILLS):
        title = ""
        for k in range(5):
            state = office.ask("GET", f"/api/drawings/{drawing}")[1]
            edit = {"command": "change_fields", "fields": {"title": f"{what} {n} {k}"}}
            if k == 2:
                os.kill(office.pid(what), signal.SIGKILL)
            status, _ = office.ask(
                "POST",
                f"/api/drawings/{drawing}/commands",
                {"version": state["version"] if state else 0, "command": edit},
            )
            if status == 200:
                kept, title = kept + 1, edit["fields"]["title"]  # type: ignore[index]
            errors += status == 500
        slowest = max(slowest, office.wait(120))
        now = office.ask("GET", f"/api/drawings/{drawing}")[1]
        lost += bool(title) and now["document"]["fields"]["title"] != title
        time.sleep(1.2)  # the starter looks once a second
    good = lost == 0 and errors == 0 and slowest <= READY
    print(
        f"  {what:<10} {kept:4d} edits acknowledged, {lost} lost, {errors} answered with 500; ready "
        f"again after at most {slowest:4.1f} s   {'met' if good else 'MISSED'}"
    )
    return good
