"""Processes that draw figures beside each other, each with the plan and the tables that all share.

They are programs of their own, told by pipes what to draw, so that a script which calls them needs no guard, and none of
them outlives the run that began it: a pipe that ends, for whatever reason, ends them.
"""

from __future__ import annotations

import contextlib
import pickle
import subprocess
import sys
from collections.abc import Iterator, Sequence
from pathlib import Path
from queue import Empty, SimpleQueue
from threading import Thread
from typing import TYPE_CHECKING

from facetine.batch.outcomes import Outcome
from facetine.data.processes import begun, ended, heard, say
from facetine.messages.errors import ExportError

if TYPE_CHECKING:
    from facetine.batch.plan import Plan
    from facetine.batch.tasks import Task

_CODE = "from facetine.batch.workers import main; main()"


class Crew:
    """Processes that have been begun before it is known what they are to draw: what they import is there when it is.

    Args:
        count: How many.
    """

    def __init__(self, count: int) -> None:
        self._ready = [begun(_CODE) for _ in range(count)]

    def outcomes(self, plan: Plan, store: Path, tasks: Sequence[Task], dpi: float | None, jobs: int) -> Iterator[Outcome]:
        """The outcomes of tasks, as they are done.

        Args:
            plan: What they are of.
            store: The folder in which the tables lie.
            tasks: What is to be drawn.
            dpi: Pixels an inch, for formats of pixels.
            jobs: How many processes there are.
        """
        waiting: SimpleQueue[Task] = SimpleQueue()
        for task in tasks:
            waiting.put(task)
        done: SimpleQueue[Outcome] = SimpleQueue()
        begin = pickle.dumps((plan, store, dpi), 5)
        workers = [
            _Worker(self._ready.pop() if self._ready else begun(_CODE), begin, waiting, done)
            for _ in range(min(jobs, len(tasks)))
        ]
        try:
            for _ in tasks:
                yield done.get()
        finally:
            for worker in workers:
                worker.end()

    def end(self) -> None:
        """Ends those that are not needed."""
        while self._ready:
            ended(self._ready.pop())


class _Worker:
    """One process, and the thread that tells it what to draw."""

    def __init__(
        self, process: subprocess.Popen[bytes], begin: bytes, waiting: SimpleQueue[Task], done: SimpleQueue[Outcome]
    ) -> None:
        self.begin, self.waiting, self.done = begin, waiting, done
        self.process = self._told(process)
        self.ended = False
        Thread(target=self._work, daemon=True).start()

    def _told(self, process: subprocess.Popen[bytes]) -> subprocess.Popen[bytes]:
        assert process.stdin is not None
        with contextlib.suppress(OSError):
            say(process.stdin, self.begin)
        return process

    def _work(self) -> None:
        while not self._over():
            try:
                task = self.waiting.get_nowait()
            except Empty:
                return
            try:
                assert self.process.stdin is not None
                assert self.process.stdout is not None
                say(self.process.stdin, pickle.dumps(task, 5))
                outcome = pickle.loads(heard(self.process.stdout))
            except (OSError, EOFError):
                if self._over():
                    return
                code = self.process.wait()
                said = f"the process that drew it ended, by {'signal' if code < 0 else 'code'} {abs(code)}"
                outcome = Outcome(task.name, error=ExportError(task.name, said, "too little memory?"), state="failed", of=task.of)
                self.process = self._told(begun(_CODE))
            self.done.put(outcome)

    def _over(self) -> bool:
        """Whether another thread has ended it."""
        return self.ended

    def end(self) -> None:
        """Ends the process."""
        self.ended = True
        ended(self.process)


def main() -> None:
    """Draws what it is told until nobody tells it anything any more."""
    import os
    import signal

    # The run that began this process ends it; what is typed is meant for that one.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    given, answers = sys.stdin.buffer, os.fdopen(os.dup(1), "wb")
    # Nothing that is printed may come between the answers.
    os.dup2(2, 1)

    from facetine.batch.making import Figures
    from facetine.batch.sources import Sources
    from facetine.batch.work import drawn, warmed
    from facetine.data.allowed import ASKED_APART
    from facetine.data.apart import end_process

    warmed()
    ASKED_APART.set(True)
    with contextlib.suppress(EOFError, OSError):
        plan, store, dpi = pickle.loads(heard(given))
        figures = Figures(plan, Sources(plan, store))
        while True:
            say(answers, pickle.dumps(drawn(pickle.loads(heard(given)), figures, dpi), 5))
    end_process()
    # Without the endings of libraries that have threads of their own.
    os._exit(0)


if __name__ == "__main__":
    main()
