"""The application started as the README says, in a folder of its own, and asked over HTTP."""

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
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]


@contextmanager
def running_office() -> "Iterator[Office]":
    """An office that runs with its sample data, and is gone afterwards."""
    folder = Path(tempfile.mkdtemp(prefix="moorcrest-bench-", dir="/var/tmp"))
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    office = Office(folder, port)
    try:
        yield office
    finally:
        office.stop()
        shutil.rmtree(folder, ignore_errors=True)


class Office:
    """The application in a folder of its own, with its sample office."""

    def __init__(self, folder: Path, port: int) -> None:
        self.folder, self.port, self.base = folder, port, f"http://127.0.0.1:{port}"
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

    def upload(self, name: str, data: bytes, seconds: float = 120) -> int:
        """Bring a file in and wait for the end of its job: 200 where it was read, 422 where it was refused in
        a sentence, else the status, or 504 where the job goes on."""
        token = next((c.value for c in self.cookies if c.name == "csrftoken"), "") or ""
        line = "a-line-that-no-file-holds"
        body = (
            f'--{line}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n'
            "Content-Type: application/octet-stream\r\n\r\n"
        ).encode()
        body += data + f"\r\n--{line}--\r\n".encode()
        headers = {"Content-Type": f"multipart/form-data; boundary={line}", "X-CSRFToken": token}
        request = urllib.request.Request(f"{self.base}/api/models", body, headers, method="POST")
        try:
            with self.opener.open(request, timeout=60) as answer:
                job = json.load(answer)
        except urllib.error.HTTPError as error:
            return error.code
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            state = self.ask("GET", f"/api/jobs/{job['id']}")[1] or {}
            if state.get("state") in ("done", "failed"):
                return 200 if state["state"] == "done" else 422 if state["text"].endswith(".") else 500
            time.sleep(0.05)
        return 504

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
