"""Finds what is there twice: likenesses of pictures and sounds, several files of one
work, and which of them is the better."""

from .better import Copy, better_first, quality_of, why_better
from .groups import Pairs, alike_pairs, grouped
from .pictures import Picture, picture_of, same_shot
from .shots import Looks, pairs_of_shots
from .sounds import SECONDS_APART, Sound, same_recording, sound_of
from .works import Held, is_meant

__all__ = [
    "SECONDS_APART",
    "Copy",
    "Held",
    "Looks",
    "Pairs",
    "Picture",
    "Sound",
    "alike_pairs",
    "better_first",
    "grouped",
    "is_meant",
    "pairs_of_shots",
    "picture_of",
    "quality_of",
    "same_recording",
    "same_shot",
    "sound_of",
    "why_better",
]
