"""The entry of the command line: one line on stderr for every wrong call, and exit codes that scripts can trust.

0: done. 1: done, but something failed or was found. 2: wrong call.
"""

from __future__ import annotations

import os
import sys
from typing import Annotated

import typer

from facetine.cli.checks import check
from facetine.cli.commands import demo, draw, export
from facetine.cli.looking import catalog, inspect
from facetine.errors import FacetineError

app = typer.Typer(
    name="facetine",
    help="Publication charts from data frames: vector figures at their physical size.",
    no_args_is_help=True,
    add_completion=False,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
)
app.command("demo")(demo)
app.command("draw")(draw)
app.command("export")(export)
app.command("check")(check)
app.command("inspect")(inspect)
app.command("catalog")(catalog)


def _version(wanted: bool) -> None:
    if wanted:
        import facetine

        typer.echo(f"facetine {facetine.__version__}")
        raise typer.Exit


_INTERRUPTED = 130


@app.callback()
def _root(
    version: Annotated[bool, typer.Option("--version", callback=_version, is_eager=True, help="Show the version.")] = False,
) -> None:
    del version


def main() -> None:
    """Runs a command; never ends in a traceback for what a user got wrong."""
    try:
        code = app(standalone_mode=False, prog_name="facetine")
    except FacetineError as error:
        _fail(error.line)
    except KeyboardInterrupt:
        sys.stderr.write("facetine: interrupted\n")
        _leave(_INTERRUPTED)
    except BrokenPipeError:
        _leave(0)
    except OSError as error:
        _fail(f"standard output can't be written: {error.strerror or error}")
    except Exception as error:
        # The parser's own errors carry an exit code and a message; anything else is a fault of ours and is shown whole.
        said = getattr(error, "format_message", None)
        if said is None or not hasattr(error, "exit_code"):
            if type(error).__name__ == "Abort":
                sys.exit(1)
            raise
        _fail(" ".join(said().split()))
    else:
        # The parser takes an interrupt of a running command for this code, and says nothing.
        if code == _INTERRUPTED:
            sys.stderr.write("facetine: interrupted\n")
        _leave(code if isinstance(code, int) else 0)


def _fail(line: str) -> None:
    sys.stderr.write(f"facetine: {line}\n")
    _leave(2)


def _leave(code: int) -> None:
    """Ends with a code; what can't be flushed, because nobody reads or the disk is full, is let go without a traceback."""
    try:
        sys.stdout.flush()
    except OSError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        code = code or 1
    sys.exit(code)


if __name__ == "__main__":
    main()
