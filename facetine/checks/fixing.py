"""Fixes: where a finding has one right fix, the sentence that does it, said."""

from __future__ import annotations

import ast
from typing import Any

from facetine.messages.findings import Finding

_VERBS = ("theme", "sheet", "titles", "scale")


def fixed(figure: Any, finding: Finding) -> Any | None:
    """A figure with the fix of a finding; None where it is no verb of the figure that can be said as it is."""
    call = said_call(finding.fix)
    if call is None or call[0] != getattr(figure, "_what", "figure"):
        return None
    _, verb, given, options = call
    return getattr(figure, verb)(*given, **options)


def said_call(fix: str) -> tuple[str, str, list[Any], dict[str, Any]] | None:
    """Of what, verb, values and options of a fix that is a call, such as 'figure.theme(text_size=8)'; None for any other text.

    >>> said_call('figure.sheet("85 mm")'), said_call("a smaller size=")
    (('figure', 'sheet', ['85 mm'], {}), None)
    """
    try:
        tree = ast.parse(fix, mode="eval").body
    except SyntaxError:
        return None
    if not isinstance(tree, ast.Call) or not isinstance(tree.func, ast.Attribute) or tree.func.attr not in _VERBS:
        return None
    if not isinstance(tree.func.value, ast.Name) or tree.func.value.id not in ("figure", "plate"):
        return None
    try:
        return (
            tree.func.value.id,
            tree.func.attr,
            [ast.literal_eval(one) for one in tree.args],
            {one.arg or "": ast.literal_eval(one.value) for one in tree.keywords},
        )
    except ValueError:
        return None
