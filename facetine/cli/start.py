"""Where the command line begins: an interrupt is one line and exit code 130, also while the commands are loaded."""

from __future__ import annotations

import sys


def main() -> None:
    """Loads and runs the commands."""
    try:
        from facetine.cli.main import main as run

        run()
    except KeyboardInterrupt:
        sys.stderr.write("facetine: interrupted\n")
        sys.exit(130)


if __name__ == "__main__":
    main()
