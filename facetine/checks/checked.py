"""A figure checked: findings with their severities, those that were silenced, and fixes."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from facetine.checks.profile import Profile, profile_for, profile_of, profiles
from facetine.checks.rules import every_rule
from facetine.checks.subject import Subject
from facetine.grammar.plate import Plate
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import OptionError, told, unknown
from facetine.messages.findings import SEVERITIES, Finding
from facetine.pipeline.sheet.built import Built


@dataclass(frozen=True, slots=True)
class CheckResult:
    """What the check of a figure found, the most serious first."""

    findings: tuple[Finding, ...]
    silenced: tuple[tuple[Finding, str], ...]
    """What is not to be said, and why."""
    profile: Profile

    def __iter__(self) -> Iterator[Finding]:
        return iter(self.findings)

    def __len__(self) -> int:
        return len(self.findings)

    def __getitem__(self, place: int) -> Finding:
        return self.findings[place]

    @property
    def serious(self) -> tuple[Finding, ...]:
        """Those above a hint."""
        return tuple(finding for finding in self.findings if finding.severity == "warning")

    def __repr__(self) -> str:
        if not self.findings and not self.silenced:
            return f"nothing found for {self.profile.name} ({self.profile.says})"
        lines = []
        for number, finding in enumerate(self.findings, 1):
            lines.append(f"{number:>2}  {finding.severity:<7}  {finding.code:<22}  {_of(finding)}{finding.text}")
            if finding.fix:
                lines.append(f"    {'':<7}  {'':<22}  fix: {finding.fix}")
        lines += [f"    silenced {finding.code}: {reason}" for finding, reason in self.silenced]
        return "\n".join(lines)


def _of(finding: Finding) -> str:
    """The verb that a finding speaks of, where it is one of layers."""
    verb = finding.where.partition(".")[2]
    return f"{verb}: " if verb.isidentifier() else ""


def check(said: Sentence | Plate, made: Built, profile: Profile, silence: Mapping[str, str]) -> CheckResult:
    """Looks for all that the rules know.

    Args:
        said: The sentence.
        made: The figure that it makes.
        profile: Where it is to be seen.
        silence: Codes of findings that are not to be reported, each with its reason.
    """
    what = "plate" if isinstance(said, Plate) else "figure"
    sentences = (said,) if isinstance(said, Sentence) else tuple(one for one in said.contents() if isinstance(one, Sentence))
    subject = Subject(made, sentences, profile, what)
    everything = list(made.findings)
    if sentences:
        everything += [finding for rule in every_rule() if rule.find is not None for finding in rule.find(subject)]
    every = list(dict.fromkeys(everything))
    kept = [finding for finding in every if finding.code not in silence]
    kept.sort(key=lambda finding: -SEVERITIES.index(finding.severity))
    quiet = tuple((finding, silence[finding.code]) for finding in every if finding.code in silence)
    return CheckResult(tuple(kept), quiet, profile)


def checked_silence(silence: object, where: str) -> dict[str, str]:
    """Codes and reasons.

    Raises:
        OptionError: It is no table of codes, or a reason is missing.
    """
    if silence is None:
        return {}
    if not isinstance(silence, Mapping):
        raise OptionError(
            where, f"silence is a dict of codes and reasons, not {told(silence)}", '{"text-small": "the editor asked for it"}'
        )
    for code, reason in silence.items():
        known = [rule.code for rule in every_rule()]
        if not isinstance(code, str) or not (code in known or _shaped(code)):
            raise unknown(OptionError, where, "no code", code, known, "codes")
        if not isinstance(reason, str) or not reason.strip():
            raise OptionError(where, f"silence of {code!r} has no reason", f'{{"{code}": "why it may stay"}}')
    return {str(code): str(reason) for code, reason in silence.items()}


def _shaped(code: str) -> bool:
    """Whether a text is shaped as codes are: words joined by dashes."""
    return bool(code) and all(part.isalpha() and part.islower() for part in code.split("-")) and "-" in code


__all__ = ["CheckResult", "check", "checked_silence", "profile_for", "profile_of", "profiles"]
