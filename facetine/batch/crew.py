"""Executors of our own: this process, and processes that draw beside each other.

Those processes are programs of their own, told by pipes what to draw, so that a script which calls them needs no guard, and
none of them outlives the run that began it: a pipe that ends, for whatever reason, ends them.
"""

from __future__ import annotations

import contextlib
import pickle
import subprocess
import sys
from collections.abc import Callable
from concurrent.futures import Executor, Future
from queue import SimpleQueue
from threading import Lock, Thread
from typing import Any, NamedTuple, ParamSpec, TypeVar

from facetine.data.processes import begun, ended, heard, say
from facetine.messages.errors import ExportError

_CODE = "from facetine.batch.crew import main; main()"
P = ParamSpec("P")
R = TypeVar("R")


class Here(Executor):
    """Does at once, in this process, what it is asked to do."""

    def submit(self, work: Callable[P, R], /, *args: P.args, **options: P.kwargs) -> Future[R]:
        """The result, which is there already."""
        future: Future[R] = Future()
        try:
            future.set_result(work(*args, **options))
        except Exception as problem:
            future.set_exception(problem)
        return future


class _Job(NamedTuple):
    future: Future[Any]
    content: bytes


class Crew(Executor):
    """Processes that may be begun before it is known what they are to draw: what they import is there when it is.

    Args:
        count: How many are begun at once.
    """

    def __init__(self, count: int) -> None:
        self.most = count
        """How many may work."""
        self._ready = [begun(_CODE) for _ in range(count)]
        self._waiting: SimpleQueue[_Job | None] = SimpleQueue()
        self._workers: list[_Worker] = []
        self._lock = Lock()

    def submit(self, work: Callable[P, R], /, *args: P.args, **options: P.kwargs) -> Future[R]:
        """Lets one of the processes do it, as soon as one has nothing else to do."""
        future: Future[R] = Future()
        self._waiting.put(_Job(future, pickle.dumps((work, args, options), 5)))
        with self._lock:
            if len(self._workers) < self.most:
                self._workers.append(_Worker(self._ready.pop() if self._ready else begun(_CODE), self._waiting))
        return future

    def shutdown(self, wait: bool = True, *, cancel_futures: bool = False) -> None:  # noqa: ARG002
        """Ends all processes, whatever they do."""
        for worker in self._workers:
            worker.end()
            self._waiting.put(None)
        while self._ready:
            ended(self._ready.pop())


class _Worker:
    """One process, and the thread that tells it what to do."""

    def __init__(self, process: subprocess.Popen[bytes], waiting: SimpleQueue[_Job | None]) -> None:
        self.process, self.waiting, self.ended = process, waiting, False
        Thread(target=self._work, daemon=True).start()

    def _work(self) -> None:
        while (job := self.waiting.get()) is not None:
            try:
                assert self.process.stdin is not None
                assert self.process.stdout is not None
                say(self.process.stdin, job.content)
                done, result = pickle.loads(heard(self.process.stdout))
            except (OSError, EOFError, ValueError) as problem:
                # Whoever ends a process closes what is read here, which is no file any more.
                if self.ended:
                    return
                if isinstance(problem, ValueError):
                    raise
                code = self.process.wait()
                said = f"the process that drew it ended, by {'signal' if code < 0 else 'code'} {abs(code)}"
                done, result = False, ExportError("", said, "too little memory?")
                self.process = begun(_CODE)
            (job.future.set_result if done else job.future.set_exception)(result)

    def end(self) -> None:
        """Ends the process."""
        self.ended = True
        ended(self.process)


def main() -> None:
    """Does what it is told until nobody tells it anything any more."""
    import os
    import signal

    # The run that began this process ends it; what is typed is meant for that one.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    given, answers = sys.stdin.buffer, os.fdopen(os.dup(1), "wb")
    # Nothing that is printed may come between the answers.
    os.dup2(2, 1)

    from facetine.batch.work import warmed
    from facetine.data.apart import end_process

    warmed()
    with contextlib.suppress(EOFError, OSError):
        while True:
            work, args, options = pickle.loads(heard(given))
            say(answers, _answered(work, args, options))
    end_process()
    # Without the endings of libraries that have threads of their own.
    os._exit(0)


def _answered(work: Callable[..., Any], args: tuple[Any, ...], options: dict[str, Any]) -> bytes:
    try:
        return pickle.dumps((True, work(*args, **options)), 5)
    except Exception as problem:
        try:
            return pickle.dumps((False, problem), 5)
        except Exception:
            return pickle.dumps((False, RuntimeError(f"{type(problem).__name__}: {problem}")), 5)


if __name__ == "__main__":
    main()
