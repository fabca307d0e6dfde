"""The one command: usage, ports in use, and jobs that outlive their worker."""

import os
import signal
import socket
import subprocess
import time
from pathlib import Path

import psycopg
from playwright.sync_api import Page, expect

from tests.browser.conftest import ROOT, Server
from tests.browser.drafter import Drafter
from tests.core.conftest import STEP_FILES


def command(*arguments: str, **environment: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        ["./moorcrest", *arguments],
        cwd=ROOT,
        env={**os.environ, **environment},
        capture_output=True,
        text=True,
        timeout=60,
    )


def test_without_a_known_word_it_lists_what_it_can_do() -> None:
    plain, wrong = command(), command("dance")
    assert plain.returncode == 0
    assert wrong.returncode != 0
    for word in ("start", "stop", "test", "bench", "worker"):
        assert f"./moorcrest {word}" in plain.stdout


def test_a_port_in_use_is_one_sentence_with_a_way_on(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        out = command("start", MOORCREST_PORT=str(port), MOORCREST_STATE=str(tmp_path / "state"))
    assert out.returncode == 1
    assert (
        out.stderr.strip() == f"moorcrest: Port {port} is in use by another program. "
        f"Choose another: MOORCREST_PORT={port + 1} ./moorcrest start"
    )


def test_a_second_start_from_the_same_folder_is_told(tmp_path: Path) -> None:
    (tmp_path / "run").mkdir()
    with (tmp_path / "run" / "lock").open("w") as lock:
        import fcntl

        fcntl.flock(lock, fcntl.LOCK_EX)
        out = command("start", MOORCREST_STATE=str(tmp_path))
    assert "already runs from this folder" in out.stderr


def test_a_worker_needs_the_database_named() -> None:
    out = command("worker", MOORCREST_DATABASE="")
    assert out.returncode == 1
    assert "MOORCREST_DATABASE=postgresql://" in out.stderr


def test_a_job_whose_worker_is_killed_is_taken_up_by_the_next(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.drop(STEP_FILES["linkrods"], "killed.step")
    job = page.locator("[data-test=job]", has_text="killed.step")
    expect(job).to_be_visible()
    with psycopg.connect(server.database, autocommit=True) as database:
        deadline = time.monotonic() + 60
        while not database.execute(
            "select 1 from jobs_job where subject = 'killed.step' and state = 'running'"
        ).fetchone():
            assert time.monotonic() < deadline
            time.sleep(0.02)
    server.end(signal.SIGKILL)
    server.start()
    expect(job).to_have_attribute("data-state", "done", timeout=120_000)
