"""The entry of the command line: one line on stderr for every wrong call, and exit codes that scripts can trust.

0: done. 1: done, but something failed or was found. 2: wrong call.
"""

from __future__ import annotations

import os
import sys
import warnings
from importlib import import_module
from typing import TextIO

import click

from facetine.cli.lines import tell, to_error
from facetine.cli.wording import PLACE, place_of
from facetine.messages.errors import DEBUG, FacetineError, FacetineFinding, PlanError, nearest, trace_of, traced

_INTERRUPTED = 130


def _version(context: click.Context, parameter: click.Parameter, wanted: bool) -> None:
    del parameter
    if wanted:
        import facetine

        click.echo(f"facetine {facetine.__version__}")
        context.exit()


_COMMANDS = {
    "demo": "commands", "draw": "commands", "export": "commands", "check": "checks", "inspect": "looking", "catalog": "looking",
    "new": "starting", "code": "starting", "completion": "starting",
}  # fmt: skip
"""The module of each, in the order in which a newcomer needs them."""


class _Commands(click.Group):
    """Commands that are loaded when they are asked for."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        del ctx
        return list(_COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command:
        del ctx
        if cmd_name not in _COMMANDS:
            close = nearest(cmd_name, _COMMANDS)
            hint = f". Did you mean {close!r}?" if close else ""
            raise click.UsageError(f"no command {cmd_name!r}{hint} (commands: {', '.join(_COMMANDS)})")
        command: click.Command = getattr(import_module(f"facetine.cli.{_COMMANDS[cmd_name]}"), cmd_name)
        return command


@click.group(cls=_Commands, context_settings={"max_content_width": 110})
@click.option("--version", is_flag=True, expose_value=False, is_eager=True, callback=_version, help="Show the version.")
@click.option("--debug", is_flag=True, expose_value=False, help="Show with every error what led to it; anywhere in a call.")
def app() -> None:
    """Publication charts from data frames: vector figures at their physical size."""


def main() -> None:
    """Runs a command; never ends in a traceback for what a user got wrong."""
    warnings.showwarning = _shown
    if asked := os.environ.get("_FACETINE_COMPLETE"):
        from click.shell_completion import shell_complete

        from facetine.cli.completing import shell_class

        shell_class(asked.partition("_")[0])
        sys.exit(shell_complete(app, {}, "facetine", "_FACETINE_COMPLETE", asked))
    words = _debugging(sys.argv[1:])
    PLACE.set(place_of(words))
    try:
        code = _run(words)
    except FacetineError as error:
        to_error(trace_of(traced(error)))
        _fail(*(error.lines if isinstance(error, PlanError) else [error.line]))
    except click.exceptions.NoSuchOption as error:
        _fail(_no_option(error))
    except click.ClickException as error:
        _fail(" ".join(error.format_message().split()))
    except KeyboardInterrupt:
        to_error("facetine: interrupted\n")
        _leave(_INTERRUPTED)
    except BrokenPipeError:
        _leave(0)
    except OSError as error:
        _fail(f"standard output can't be written: {error.strerror or error}")
    else:
        _leave(code)


def _debugging(given: list[str]) -> list[str]:
    """What is given without --debug, which may stand anywhere and holds for all processes."""
    if "--debug" in given:
        os.environ[DEBUG] = "1"
    return [one for one in given if one != "--debug"]


def _no_option(error: click.exceptions.NoSuchOption) -> str:
    """What to say of an option that a command does not have: the one that means it, else the one spelled most like it."""
    from facetine.messages.synonyms import meant

    command = error.ctx.command if error.ctx is not None else app
    there = [opt.removeprefix("--") for one in command.params for opt in one.opts if opt.startswith("--")]
    given = error.option_name.lstrip("-")
    close = meant(given, [name.replace("-", "_") for name in there]) or nearest(given, there)
    hint = f". Did you mean --{close.replace('_', '-')}?" if close else ""
    return f"{command.name}: no option {error.option_name}{hint} (options: {', '.join(f'--{name}' for name in there)})"


def _shown(
    message: Warning | str,
    category: type[Warning],
    filename: str,
    lineno: int,
    file: TextIO | None = None,
    line: str | None = None,
) -> None:
    """Notes as commands tell them, without the line of ours that asked."""
    told = f"finding: {message}\n"
    if not issubclass(category, FacetineFinding):
        told = warnings.formatwarning(message, category, filename, lineno, line)
    if file is None:
        tell(told)
    else:
        file.write(told)


def _run(given: list[str]) -> int:
    """The exit code of a command; without one, help is what is wanted."""
    try:
        with app.make_context("facetine", given or ["--help"]) as context:
            return int(app.invoke(context) or 0)
    except click.exceptions.Exit as done:
        return done.exit_code


def _fail(*lines: str) -> None:
    for line in lines:
        tell(f"facetine: {line}\n")
    _leave(2)


def _leave(code: int) -> None:
    """Ends with a code; what can't be flushed, because nobody reads or the disk is full, is let go without a traceback."""
    try:
        if sys.stdout is not None:
            sys.stdout.flush()
    except OSError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        code = code or 1
    sys.exit(code)


if __name__ == "__main__":
    main()
