"""The entry of the command line: one line on stderr for every wrong call, and exit codes that scripts can trust.

0: done. 1: done, but something failed or was found. 2: wrong call.
"""

from __future__ import annotations

import os
import sys

import click

from facetine.cli.checks import check
from facetine.cli.commands import demo, draw, export
from facetine.cli.looking import catalog, inspect
from facetine.errors import FacetineError

_INTERRUPTED = 130


def _version(context: click.Context, parameter: click.Parameter, wanted: bool) -> None:
    del parameter
    if wanted:
        import facetine

        click.echo(f"facetine {facetine.__version__}")
        context.exit()


class _InOrder(click.Group):
    """Commands are listed in the order in which a newcomer needs them, not by the alphabet."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        del ctx
        return list(self.commands)


@click.group(cls=_InOrder, context_settings={"max_content_width": 110})
@click.option("--version", is_flag=True, expose_value=False, is_eager=True, callback=_version, help="Show the version.")
def app() -> None:
    """Publication charts from data frames: vector figures at their physical size."""


for _command in (demo, draw, export, check, inspect, catalog):
    app.add_command(_command)


def main() -> None:
    """Runs a command; never ends in a traceback for what a user got wrong."""
    try:
        code = _run(sys.argv[1:])
    except FacetineError as error:
        _fail(error.line)
    except click.ClickException as error:
        _fail(" ".join(error.format_message().split()))
    except KeyboardInterrupt:
        sys.stderr.write("facetine: interrupted\n")
        _leave(_INTERRUPTED)
    except BrokenPipeError:
        _leave(0)
    except OSError as error:
        _fail(f"standard output can't be written: {error.strerror or error}")
    else:
        _leave(code)


def _run(given: list[str]) -> int:
    """The exit code of a command; without one, help is what is wanted."""
    try:
        with app.make_context("facetine", given or ["--help"]) as context:
            return int(app.invoke(context) or 0)
    except click.exceptions.Exit as done:
        return done.exit_code


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
