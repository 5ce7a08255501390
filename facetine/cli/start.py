"""Where the command line begins: an interrupt is one line and exit code 130, also while something is loaded."""

from __future__ import annotations

import atexit
import os
import signal
import sys
from types import FrameType

_MUCH, _LEAST_OF_RUNS, _LEAST = 8e9, 8e8, 2e8


def main() -> None:
    """Loads and runs the commands."""
    # Where interrupts are ignored, as for a job in the background of a script, they stay so.
    if signal.getsignal(signal.SIGINT) is signal.default_int_handler:
        signal.signal(signal.SIGINT, _interrupted)
    if signal.getsignal(signal.SIGTERM) is signal.SIG_DFL:
        signal.signal(signal.SIGTERM, _interrupted)
    room = _room()
    command = sys.argv[1] if sys.argv[1:] else "help"
    least = _LEAST_OF_RUNS if command in ("export", "demo") else _LEAST
    if room < least:
        sys.stderr.write(f"facetine: too little memory: {command} needs {least / 1e6:.0f} MB of address space\n")
        sys.exit(1)
    if room < _MUCH:
        # A library of linear algebra reserves room for each of its threads, and asks for ever where there is none.
        os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
        _watch(room)
    try:
        from facetine.cli.main import main as run

        run()
    except KeyboardInterrupt:
        sys.stderr.write("facetine: interrupted\n")
        sys.exit(130)
    except Exception as problem:
        # Where there is no room, whatever is begun may fail in any way: a library, a thread, a process.
        if room >= _MUCH:
            raise
        _without_room(room, " ".join(str(problem).split()[-12:]) or type(problem).__name__)


def _watch(room: float) -> None:
    """Goes on in a process of its own: without room, a library or the system's loader may end one without a word to Python."""
    if sys.platform != "linux":  # where such bounds are kept
        return
    alive, told = os.pipe()
    heard = {signal.SIGINT, signal.SIGTERM, signal.SIGCHLD}
    signal.pthread_sigmask(signal.SIG_BLOCK, heard)
    child = os.fork()
    if not child:
        signal.pthread_sigmask(signal.SIG_UNBLOCK, heard)
        os.close(alive)
        atexit.register(os.write, told, b".")
        return
    os.close(told)
    while not (ended := os.waitpid(child, os.WNOHANG))[0]:
        came = signal.sigwaitinfo(heard)
        # A terminal tells both processes of an interrupt; what another process sends here is meant for the command.
        if came.si_signo != signal.SIGCHLD and came.si_code <= 0:
            os.kill(child, came.si_signo)
    code = os.waitstatus_to_exitcode(ended[1])
    if code == 130 or _last_word(alive):
        os._exit(code if code >= 0 else 1)
    _without_room(room, f"ended by signal {-code}" if code < 0 else f"ended by a library, with code {code}")


def _last_word(alive: int) -> bytes:
    """What a process wrote before it ended, whoever else still holds the other end."""
    os.set_blocking(alive, False)
    try:
        return os.read(alive, 1)
    except BlockingIOError:
        return b""


def _without_room(room: float, said: str) -> None:
    sys.stderr.write(f"facetine: failed with {room / 1e6:.0f} MB of address space, which may be too little: {said}\n")
    sys.exit(1)


def _room() -> float:
    """The bytes that this process may map."""
    try:
        import resource
    except ImportError:
        return _MUCH
    most = resource.getrlimit(resource.RLIMIT_AS)[0]
    return _MUCH if most in (resource.RLIM_INFINITY, -1) else most


def _interrupted(number: int, frame: FrameType | None) -> None:
    """Ends the command; at once where a module is loaded, since compiled ones do not bear an exception there."""
    del number
    while frame is not None:
        if frame.f_code.co_filename.startswith("<frozen importlib"):
            os.write(2, b"facetine: interrupted\n")
            os._exit(130)
        frame = frame.f_back
    raise KeyboardInterrupt


if __name__ == "__main__":
    main()
