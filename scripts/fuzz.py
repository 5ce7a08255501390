"""Draw odd sheets by their seeds, in all formats, and have every program that is there open them.

    python scripts/fuzz.py [COUNT] [FIRST]

What is not sound is told with its seed; `python scripts/fuzz.py 1 SEED` draws it again.
"""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent / "tests"))
from odd.sheets import sheet_is_sound


def main(count: int, first: int) -> int:
    """How many of some sheets are not sound."""
    drawn, wrong = 0, 0
    with tempfile.TemporaryDirectory() as folder:
        for seed in range(first, first + count):
            try:
                drawn += sheet_is_sound(seed, Path(folder), readers=True)
            except AssertionError as problem:
                wrong += 1
                sys.stdout.write(f"{str(problem)[:600]}\n")
                sys.stdout.flush()
    sys.stdout.write(
        f"{count:,} sheets from seed {first}: {drawn:,} drawn, {count - drawn - wrong:,} refused, {wrong:,} not sound\n"
    )
    return wrong


if __name__ == "__main__":
    numbers = [int(given) for given in sys.argv[1:3]]
    sys.exit(1 if main(*(numbers + [5_000, 0][len(numbers) :])) else 0)
