"""A process that has the clipboard of an X screen, and gives each program the form of a picture that it asks for.

A clipboard of X holds nothing: whoever copied hands the content out, in one of the forms that it offers, until somebody else
copies. Source: Inter-Client Communication Conventions Manual, version 2.0, section 2.
"""

from __future__ import annotations

import contextlib
import os
import pickle
import subprocess
import sys
from collections.abc import Mapping
from typing import Any

_PIECE = 200_000
"""Bytes that go over at once: less than a request of X may have without extensions."""
_READY = b"ready\n"


def give_out(forms: Mapping[str, bytes]) -> None:
    """Takes the clipboard, in a process that goes on when this one has ended.

    Args:
        forms: What is offered, by media type, the best first.

    Raises:
        OSError: There is no screen, or it does not give its clipboard away.
    """
    command = [sys.executable, "-c", "from facetine.data.clipboard_owner import main; main()"]
    process = subprocess.Popen(
        command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, start_new_session=True
    )
    assert process.stdin is not None
    assert process.stdout is not None
    with process.stdin, process.stdout:
        with contextlib.suppress(BrokenPipeError):
            process.stdin.write(pickle.dumps(dict(forms), 5))
            process.stdin.close()
        said = process.stdout.readline()
    # It lives on; nobody waits for it.
    process.returncode = 0
    if said != _READY:
        raise OSError(said.decode("utf-8", "replace").strip() or "the screen gives no clipboard")


def main() -> None:
    """Hands out what comes through standard input, until another program copies something."""
    forms = pickle.loads(sys.stdin.buffer.read())
    try:
        owner = _Owner(forms)
    except Exception as problem:
        sys.stdout.write(f"{problem}\n")
        return
    sys.stdout.write("ready\n")
    sys.stdout.flush()
    os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
    owner.serve()


class _Owner:
    """The owner of the clipboard."""

    def __init__(self, forms: Mapping[str, bytes]) -> None:
        from Xlib import X, display

        self.screen: Any = display.Display()
        # A program that is gone before it has its answer is no fault.
        self.screen.set_error_handler(lambda *_: None)
        root = self.screen.screen().root
        self.window: Any = root.create_window(-10, -10, 1, 1, 0, X.CopyFromParent, event_mask=X.PropertyChangeMask)
        atom = self.screen.intern_atom
        self.clipboard, self.targets, self.incremental = atom("CLIPBOARD"), atom("TARGETS"), atom("INCR")
        self.forms = {atom(name): content for name, content in forms.items()}
        self.going: dict[tuple[int, int], tuple[int, bytes]] = {}
        """What is on its way in pieces: the form and the rest of it, by window and property."""
        self.window.set_selection_owner(self.clipboard, X.CurrentTime)
        if self.screen.get_selection_owner(self.clipboard) != self.window:
            raise OSError("another program keeps the clipboard")

    def serve(self) -> None:
        """Answers until the clipboard is somebody else's."""
        from Xlib import X

        while True:
            event = self.screen.next_event()
            if event.type == X.SelectionClear:
                break
            if event.type == X.SelectionRequest:
                self._answer(event)
            elif event.type == X.PropertyNotify and event.state == X.PropertyDelete:
                self._go_on(event.window, event.atom)

    def _answer(self, event: Any) -> None:
        from Xlib import X, Xatom
        from Xlib.protocol.event import SelectionNotify

        place = event.property or event.target
        content = self.forms.get(event.target)
        if event.target == self.targets:
            event.requestor.change_property(place, Xatom.ATOM, 32, [self.targets, *self.forms])
        elif content is None:
            place = X.NONE
        elif len(content) <= _PIECE:
            event.requestor.change_property(place, event.target, 8, content)
        else:
            event.requestor.change_attributes(event_mask=X.PropertyChangeMask)
            event.requestor.change_property(place, self.incremental, 32, [len(content)])
            self.going[(event.requestor.id, place)] = (event.target, content)
        told = SelectionNotify(
            time=event.time, requestor=event.requestor, selection=event.selection, target=event.target, property=place
        )
        event.requestor.send_event(told)
        self.screen.flush()

    def _go_on(self, window: Any, place: int) -> None:
        """The next piece, where the last one has been taken; an empty one is the end."""
        if (window.id, place) not in self.going:
            return
        form, rest = self.going[(window.id, place)]
        window.change_property(place, form, 8, rest[:_PIECE])
        self.screen.flush()
        if rest:
            self.going[(window.id, place)] = (form, rest[_PIECE:])
        else:
            del self.going[(window.id, place)]
