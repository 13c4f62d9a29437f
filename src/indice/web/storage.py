"""Storage: what Indice keeps takes how much, and where; what can be made again is cleaned."""

from __future__ import annotations

from apiflask import APIBlueprint

from ..work.bins import empty_bins
from ..work.storage import LITTLE_BYTES, bins_of, clean_pictures, clean_segments, disks_of, held_by
from .common import database, settings
from .schemas_house import CleanIn, CleanOut, DiskOut, HeldOut, StorageOut

__all__ = ["bp"]

bp = APIBlueprint("storage", __name__, url_prefix="/api/storage", tag="Storage")


@bp.get("")
@bp.output(StorageOut)
def read_storage() -> StorageOut:
    """What is kept, the largest first, and the disks that it lies on."""
    chosen, records = settings(), database()
    return StorageOut(
        home=str(chosen.home),
        held=[
            HeldOut(
                what=one.what,
                path=one.path,
                size_bytes=one.size_bytes,
                is_about=one.is_about,
                limit_bytes=one.limit_bytes,
            )
            for one in held_by(records, chosen)
        ],
        disks=[
            DiskOut(path=one.path, free_bytes=one.free_bytes, total_bytes=one.total_bytes, holds=list(one.holds))
            for one in disks_of(records, chosen)
        ],
        little_bytes=LITTLE_BYTES,
    )


@bp.post("/clean")
@bp.input(CleanIn, arg_name="body")
@bp.output(CleanOut)
def clean(body: CleanIn) -> CleanOut:
    """Remove what is made anew when it is wanted (segments), what nothing shows
    (pictures), or what was put aside (bins)."""
    chosen, records = settings(), database()
    if body.what == "segments":
        return CleanOut(freed_bytes=clean_segments(chosen))
    if body.what == "pictures":
        return CleanOut(freed_bytes=clean_pictures(records, chosen))
    before = sum(one.size_bytes for one in bins_of(records))
    empty_bins(records, days=0)
    after = sum(one.size_bytes for one in bins_of(records))
    return CleanOut(freed_bytes=max(before - after, 0))
