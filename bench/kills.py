"""Hard kills of the database, the web process and the worker while somebody edits: what was acknowledged is
there afterwards, and everything comes back by itself."""

import http.cookiejar
import json
import os
import shutil
import signal
import socket
import subprocess
import tempfile
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
KILLS = 30
"""Of each kind."""
READY = 15.0
"""Seconds within which requests are answered again."""


class Office:
    """The application in a folder of its own, with its sample office."""

    def __init__(self, folder: Path, port: int) -> None:
        self.folder, self.base = folder, f"http://127.0.0.1:{port}"
        environment = {**os.environ, "MOORCREST_STATE": str(folder), "MOORCREST_PORT": str(port)}
        self.process = subprocess.Popen(
            [ROOT / "moorcrest", "start"],
            env=environment,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )
        self.cookies = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.cookies))
        self.wait(300)
        self.ask("GET", "/api/me")
        password = (folder / "demo-password").read_text().strip()
        assert self.ask("POST", "/api/login", {"username": "fell", "password": password})[0] == 200

    def ask(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        """Status and answer; status 0 where there is none."""
        token = next((c.value for c in self.cookies if c.name == "csrftoken"), "")
        headers = {"Content-Type": "application/json", "X-CSRFToken": token or ""}
        data = None if body is None else json.dumps(body).encode()
        try:
            with self.opener.open(
                urllib.request.Request(self.base + path, data, headers, method=method), timeout=10
            ) as answer:
                return answer.status, json.load(answer)
        except urllib.error.HTTPError as error:
            return error.code, None
        except (OSError, ValueError):
            return 0, None

    def wait(self, seconds: float) -> float:
        """Seconds until requests are answered."""
        started = time.monotonic()
        while time.monotonic() - started < seconds:
            if self.ask("GET", "/api/alive")[0] == 200:
                return time.monotonic() - started
            time.sleep(0.05)
        raise TimeoutError(f"no answer within {seconds} s")

    def pid(self, what: str) -> int:
        names = {"database": "database/data/postmaster.pid", "web": "run/web.pid", "worker": "run/worker.pid"}
        return int((self.folder / names[what]).read_text().split()[0])

    def stop(self) -> None:
        os.killpg(self.process.pid, signal.SIGTERM)
        self.process.wait(60)


def measured() -> bool:
    """Prints a row for each kind of kill; whether nothing was lost and all came back in time."""
    print(f"Hard kills while edits are made, {KILLS} of each kind")
    folder = Path(tempfile.mkdtemp(prefix="moorcrest-kills-", dir="/var/tmp"))
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    office = Office(folder, port)
    try:
        drawing = next(d for d in office.ask("GET", "/api/drawings")[1] if d["number"] == "HB-204")["id"]
        met = [_row(office, drawing, what) for what in ("database", "web", "worker")]
        return all(met)
    finally:
        office.stop()
        shutil.rmtree(folder, ignore_errors=True)


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
