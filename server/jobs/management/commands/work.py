"""A worker: does queued jobs, and takes up those that a killed worker left behind. Any number may run, on any
machine."""

import asyncio
import logging
import signal
from collections.abc import Callable
from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from procrastinate.contrib.django import app
from procrastinate.worker import Worker

from server.jobs.heartbeat import Heartbeat
from server.jobs.queue import VIEWS, WORK
from server.jobs.sweeping import sweep

log = logging.getLogger("moorcrest.worker")
HEARTBEAT_LOST = 15
"""Seconds without a sign of life after which a worker counts as gone."""


class Command(BaseCommand):
    help = "Work off the job queue until stopped."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--views", type=int, default=2, help="views derived at once")
        parser.add_argument("--work", type=int, default=3, help="files read, written and published at once")

    def handle(self, *args: Any, **options: Any) -> None:
        with app.replace_connector(app.connector.get_worker_connector()):  # type: ignore[attr-defined]
            asyncio.run(self._run({VIEWS: options["views"], WORK: options["work"]}))

    async def _run(self, places: dict[str, int]) -> None:
        app.perform_import_paths()
        async with app.open_async():
            beside = [asyncio.create_task(self._rescue()), asyncio.create_task(self._sweep())]
            workers = [self._worker(queue, count) for queue, count in places.items()]
            queues = [asyncio.create_task(worker.run()) for worker in workers]

            def end() -> None:  # each when its jobs are done
                for queue in queues:
                    queue.cancel()

            for number in (signal.SIGINT, signal.SIGTERM):
                asyncio.get_running_loop().add_signal_handler(number, end)
            try:
                with Heartbeat(lambda: [worker.worker_id for worker in workers]):
                    await self._until_one_fails(queues, end)
            finally:
                for task in beside:
                    task.cancel()

    async def _until_one_fails(self, queues: list[asyncio.Task[None]], end: Callable[[], None]) -> None:
        """A queue that fails, as when the database goes away, takes the other with it: whoever watches this
        process starts it again with both."""
        await asyncio.wait(queues, return_when=asyncio.FIRST_EXCEPTION)
        failed = [q for q in queues if q.done() and not q.cancelled() and q.exception()]
        if failed:
            end()
            await asyncio.wait(queues)
            raise failed[0].exception() or RuntimeError

    def _worker(self, queue: str, places: int) -> Worker:
        return Worker(
            app=app,
            queues=[queue],
            name=queue,
            concurrency=places,
            fetch_job_polling_interval=1.0,
            delete_jobs="successful",
            stalled_worker_timeout=HEARTBEAT_LOST,
            shutdown_graceful_timeout=3.0,
            install_signal_handlers=False,
        )

    async def _rescue(self) -> None:
        """Put jobs of vanished workers back into the queue, every few seconds."""
        while True:
            try:
                for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=HEARTBEAT_LOST):
                    log.warning("taking up job %s, which a vanished worker left", job.id)
                    await app.job_manager.retry_job(job)
            except Exception:
                log.exception("looking for jobs left behind")
            await asyncio.sleep(5)

    async def _sweep(self) -> None:
        """Sweep away what nobody needs any more, now and every hour."""
        while True:
            try:
                swept = await asyncio.to_thread(sweep)
                log.info("swept away: %s", swept)
            except Exception:
                log.exception("sweeping")
            await asyncio.sleep(3600)
