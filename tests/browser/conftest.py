"""The real thing: a database of its own, the demo office, web and worker processes, and Debian's Chromium."""

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psycopg
import pytest

ROOT = Path(__file__).resolve().parents[2]
ARGUMENTS = [
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


class Server:
    """Web and worker processes on a fresh database, as ./moorcrest start runs them."""

    def __init__(self, folder: Path) -> None:
        address = os.environ["MOORCREST_DATABASE"]
        self.database = address.rsplit("/", 1)[0] + "/browser"
        with psycopg.connect(address.rsplit("/", 1)[0] + "/postgres", autocommit=True) as connection:
            connection.execute("drop database if exists browser with (force)")
            connection.execute("create database browser")
        with socket.socket() as s:
            s.bind(("127.0.0.1", 0))
            self.port = s.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"
        self.environment = {
            **os.environ,
            "MOORCREST_DATABASE": self.database,
            "MOORCREST_SECRET": "for the browser tests " * 3,
            "DJANGO_SETTINGS_MODULE": "server.settings.local",
        }
        self.password_file = folder / "password"
        self.log = (folder / "log").open("wb")
        self.processes: list[subprocess.Popen[bytes]] = []
        self.manage("migrate", "--verbosity", "0")
        self.manage("load_demo", "--password-file", str(self.password_file))

    @property
    def password(self) -> str:
        return self.password_file.read_text().strip()

    def manage(self, *arguments: str) -> None:
        subprocess.run(
            [sys.executable, "manage.py", *arguments],
            cwd=ROOT,
            env=self.environment,
            check=True,
            stdout=self.log,
        )

    def made(self, code: str) -> str:
        """What a piece of Python prints last that is run with the application's settings."""
        command = [sys.executable, "manage.py", "shell", "--no-imports", "-c", code]
        run = subprocess.run(
            command, cwd=ROOT, env=self.environment, check=True, stdout=subprocess.PIPE, text=True
        )
        return run.stdout.split()[-1]

    def start(self) -> None:
        gunicorn = [
            str(Path(sys.executable).parent / "gunicorn"),
            "server.wsgi",
            "--bind",
            f"127.0.0.1:{self.port}",
            "--workers",
            "1",
            "--threads",
            "48",
            "--graceful-timeout",
            "3",
            "--keep-alive",
            "75",
            "--no-control-socket",
            "--worker-tmp-dir",
            "/dev/shm",
            "--log-level",
            "warning",
        ]
        for command in (gunicorn, [sys.executable, "manage.py", "work"]):
            self.processes.append(
                subprocess.Popen(
                    command,
                    cwd=ROOT,
                    env=self.environment,
                    stdout=self.log,
                    stderr=self.log,
                    start_new_session=True,
                )
            )
        deadline = time.monotonic() + 120
        while True:
            try:
                with urllib.request.urlopen(f"{self.url}/api/alive", timeout=5):
                    return
            except OSError:
                if time.monotonic() > deadline:
                    raise
                time.sleep(0.1)

    def end(self, with_signal: signal.Signals) -> None:
        for process in self.processes:
            os.killpg(process.pid, with_signal)
        for process in self.processes:
            process.wait(30)
        self.processes = []


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    s = Server(tmp_path_factory.mktemp("office"))
    s.start()
    yield s
    s.end(signal.SIGTERM)


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": "/usr/bin/chromium", "args": ARGUMENTS}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    return {"viewport": {"width": 1280, "height": 800}, "accept_downloads": True}
