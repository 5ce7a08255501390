"""The rules of the check: what each looks for, why, and after whom."""

from __future__ import annotations

from facetine.checks.rule import Rule


def every_rule() -> tuple[Rule, ...]:
    """All rules, those about print first."""
    from facetine.checks import alike, colors, formats, layout, meanings, prints, spread

    rules = (*prints.RULES, *colors.RULES, *alike.RULES, *formats.RULES, *spread.RULES, *layout.RULES)
    return (*rules, *meanings.RULES, *meanings.SAID)
