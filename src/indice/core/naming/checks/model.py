"""What a check is, what it looks at, and what it finds."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass

from ...phrase import Phrase
from ...reading.places import is_sorting
from ..listing import MAINS, Item, Listing

__all__ = ["MAINS", "Check", "Finding", "Hit", "Item", "Listing", "Move", "check", "shared"]

Move = tuple[str, str]
"""A path as it is, and as it should be."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """Something a check found."""

    check: str
    path: str
    """What it is about; a folder's path ends with a slash."""
    severity: str
    message: str
    fix: str | None = None
    fix_kind: str | None = None
    """`safe`, or `look` when a person should look first."""
    also: tuple[str, ...] = ()
    missing: tuple[int, ...] = ()
    """Numbers that are not there."""
    moves: tuple[Move, ...] = ()
    """Before → after of every file that the fix would move."""
    wanted: str = ""
    """The fix that would be proposed if its name were not taken."""


@dataclass(frozen=True, slots=True)
class Hit:
    """A finding as the rule yields it; the rule's slug and severity are added by whoever runs it."""

    path: str
    message: str
    fix: str | None = None
    fix_kind: str = "safe"
    also: tuple[str, ...] = ()
    missing: tuple[int, ...] = ()
    moves: tuple[Move, ...] = ()
    """Of the main files; what belongs to them is added by whoever runs the rule."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Check:
    """A rule: one place says what it finds, why that matters, and how it looks mended."""

    slug: str
    title: str
    libraries: tuple[str, ...]
    severity: str
    why: str
    before: str
    after: str
    content: bool
    """Whether it needs a look inside the files."""
    find: Callable[[Listing], Iterator[Hit]]

    @property
    def looks_at(self) -> str:
        """What the rule looks at, in a sentence."""
        return " ".join((self.find.__doc__ or "").split())


ALL = ("movies", "series", "music", "photos", "home-videos", "mixed")


def check(
    *,
    slug: str,
    title: str,
    why: str,
    before: str,
    after: str = "",
    libraries: tuple[str, ...] = ALL,
    severity: str = "advice",
    content: bool = False,
) -> Callable[[Callable[[Listing], Iterator[Hit]]], Check]:
    """Build a :class:`Check` around the function that finds. `mixed` libraries are looked at by every rule."""

    def build(find: Callable[[Listing], Iterator[Hit]]) -> Check:
        return Check(
            slug=slug,
            title=title,
            libraries=libraries,
            severity=severity,
            why=why,
            before=before,
            after=after,
            content=content,
            find=find,
        )

    return build


def shared(
    hits: Mapping[str, Hit], listing: Listing, peers: Callable[[Item], bool], *, message: str, least: int = 2
) -> Iterator[Hit]:
    """Hits by path of a file; what all peers of a folder share becomes one hit on the folder, the files in `also`.

    Films in a folder that only sorts share nothing but the place.
    """
    by_folder: dict[str, list[Hit]] = defaultdict(list)
    for path, hit in hits.items():
        by_folder[path.rpartition("/")[0]].append(hit)
    for folder, here in sorted(by_folder.items()):
        films = any(item.kind == "movie" for item in listing.by_folder.get(folder, ()))
        sorts = films and (is_sorting(folder.rpartition("/")[2]) or folder in listing.sorting_folders)
        if (
            len(here) >= least
            and folder
            and not sorts
            and len(here) == sum(map(peers, listing.by_folder.get(folder, ())))
        ):
            moves = tuple(move for hit in here for move in hit.moves)
            fix = here[0].fix if len(moves) == len(here) else None
            if fix is not None:
                fix = fix.rpartition("/")[0] + "/"
            yield Hit(
                f"{folder}/",
                Phrase(message, {"n": len(here)}),
                fix,
                "look" if any(hit.fix_kind == "look" for hit in here) else "safe",
                tuple(hit.path for hit in here),
                (),
                moves,
            )
        else:
            yield from here
