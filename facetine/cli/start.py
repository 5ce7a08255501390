"""Where the command line begins: an interrupt is one line and exit code 130, also while something is loaded."""

from __future__ import annotations

import os
import signal
import sys
from types import FrameType

_MUCH, _LEAST = 8e9, 8e8


def main() -> None:
    """Loads and runs the commands."""
    # Where interrupts are ignored, as for a job in the background of a script, they stay so.
    if signal.getsignal(signal.SIGINT) is signal.default_int_handler:
        signal.signal(signal.SIGINT, _interrupted)
    if signal.getsignal(signal.SIGTERM) is signal.SIG_DFL:
        signal.signal(signal.SIGTERM, _interrupted)
    room = _room()
    if room < _LEAST and sys.argv[1:2] in (["export"], ["demo"]):
        sys.stderr.write(f"facetine: too little memory: {sys.argv[1]} needs {_LEAST / 1e6:.0f} MB of address space\n")
        sys.exit(1)
    if room < _MUCH:
        # A library of linear algebra reserves room for each of its threads, and asks for ever where there is none.
        os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
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
        said = " ".join(str(problem).split()[-12:]) or type(problem).__name__
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
