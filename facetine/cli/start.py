"""Where the command line begins: an interrupt is one line and exit code 130, also while something is loaded."""

from __future__ import annotations

import os
import signal
import sys
from types import FrameType


def main() -> None:
    """Loads and runs the commands."""
    # Where interrupts are ignored, as for a job in the background of a script, they stay so.
    if signal.getsignal(signal.SIGINT) is signal.default_int_handler:
        signal.signal(signal.SIGINT, _interrupted)
    if signal.getsignal(signal.SIGTERM) is signal.SIG_DFL:
        signal.signal(signal.SIGTERM, _interrupted)
    try:
        from facetine.cli.main import main as run

        run()
    except KeyboardInterrupt:
        sys.stderr.write("facetine: interrupted\n")
        sys.exit(130)


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
