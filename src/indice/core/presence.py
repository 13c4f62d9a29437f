"""Whether files that are not where they were have gone, or their drive is away."""

from __future__ import annotations

__all__ = ["FEW", "is_away_by_loss"]

FEW = 50
"""Of so many files or fewer any share can be gone without a drive being away."""


def is_away_by_loss(known: int, lost: int, *, same_device: bool) -> bool:
    """Whether so many of the known files of a folder have vanished at once that it is rather their drive that is away.

    More than half of more than :data:`FEW`; of any number when the folder also lies on another disk than before, as the
    empty place does where a drive was mounted.
    """
    return 2 * lost > known and (known > FEW or not same_device)
