"""Tests the two properties of truth over many random sheets: where marks stand, and what legends say.

python scripts/truth_by_seeds.py [FIRST] [COUNT]
"""

from __future__ import annotations

import sys
import time
import warnings
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent / "tests"))
warnings.simplefilter("ignore")


def main() -> int:
    """Prints how much was compared, and every seed with a fault."""
    from truth.places import verdict
    from truth.test_legends_tell_the_truth import drawn_faults

    first, count = (int(text) for text in (*sys.argv[1:], "0", "2000")[:2]) if len(sys.argv) != 2 else (int(sys.argv[1]), 2000)
    faults = 0
    began, compared = time.monotonic(), 0
    for seed in range(first, first + count):
        more, wrong = verdict(seed)
        compared, faults = compared + more, faults + bool(wrong)
        if wrong:
            print(f"placed {seed}: {wrong}")
    print(f"placed: {count:,} sheets, {compared:,} values compared, {faults} with faults, {time.monotonic() - began:.0f} s")
    began, compared, refused, unlike, lies = time.monotonic(), 0, 0, 0, 0
    for seed in range(first, first + count):
        made, wrong, checked = drawn_faults(seed)
        if isinstance(checked, str):
            refused += 1
            continue
        compared, unlike, lies = compared + checked, unlike + made.unlike, lies + bool(wrong)
        if wrong:
            print(f"legends {seed}: {wrong}")
    said = f"{refused} refused, {unlike} with unlike choices, {compared:,} looks compared, {lies} with faults"
    print(f"legends: {count:,} sheets, {said}, {time.monotonic() - began:.0f} s")
    return 1 if faults or lies else 0


if __name__ == "__main__":
    sys.exit(main())
