"""Finds what is there twice: likenesses of pictures and sounds, several files of one work, and which of them is the better."""

from .better import Copy, better_first, quality_of, why_better
from .groups import Pairs, alike_pairs, grouped
from .pictures import Picture, picture_of, same_shot
from .sounds import Sound, same_recording, sound_of
from .works import Held, is_meant

__all__ = [
    "Copy",
    "Held",
    "Pairs",
    "Picture",
    "Sound",
    "alike_pairs",
    "better_first",
    "grouped",
    "is_meant",
    "picture_of",
    "quality_of",
    "same_recording",
    "same_shot",
    "sound_of",
    "why_better",
]
