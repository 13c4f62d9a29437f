"""A library as it lies on disk: its files with what their names state, its folders, its convention."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from ..reading.occasions import is_waiting
from ..reading.places import is_sorting
from ..reading.work import folder_role
from .convention import Convention, shipped

__all__ = ["MAINS", "Item", "Listing"]

MAINS = frozenset(("movie", "episode", "track", "photo", "clip"))
"""Kinds that stand for themselves; everything else belongs to one of them."""


_PLAIN_NAME = re.compile(
    r"(?!con|prn|aux|nul|com|lpt)[a-z0-9](?:[a-z0-9 ()\[\]',&!_-]{0,120}[a-z0-9)\]])?(?:\.[a-z0-9]{1,8})?",
    re.IGNORECASE | re.ASCII,
)
"""Holds no sign, word or byte that any system minds, and is not long."""


@dataclass(slots=True, kw_only=True)
class Item:
    """A file of the library, as checks see it. Its path's bytes that are no UTF-8 are lone surrogates."""

    path: str
    kind: str
    reading: Mapping[str, Any]
    size_bytes: int = 0
    tags: Mapping[str, Any] | None = None
    """Embedded tags; None when nobody has looked inside."""
    has_picture: bool | None = None
    """Whether a cover is embedded; None when nobody has looked inside."""
    taken: str | None = None
    """The picture's own moment, or that of its XMP sidecar."""
    original: str | None = None
    """The moment the camera wrote into the picture, and nothing else."""
    wrong_format: tuple[str, str] | None = None
    """What the content is, and an extension for it, where that is not what the name says."""
    problem: str = ""
    """Why it cannot be read; empty when it can."""
    known: Mapping[str, Any] = field(default_factory=dict)
    """What the catalog knows better than the name, for the tidy name."""
    folder: str = field(init=False)
    """Its folder, without the last slash; empty for the library's top folder."""
    name: str = field(init=False)
    """Its file name."""

    def __post_init__(self) -> None:
        self.folder, _, self.name = self.path.rpartition("/")

    @property
    def stem(self) -> str:
        """Its name without the extension."""
        return self.name.rpartition(".")[0] or self.name

    @property
    def extension(self) -> str:
        """Its extension in lower case, without the dot."""
        dot = self.name.rfind(".")
        return self.name[dot + 1 :].lower() if dot > 0 else ""


@dataclass
class Listing:
    """A library as it lies on disk."""

    library: str
    """Its kind."""
    items: Sequence[Item]
    folders: Iterable[str] = ()
    """Folders that the walk saw, the empty ones with them; those of the items need not be named."""
    closed: Mapping[str, str] = field(default_factory=dict)
    """Folders that could not be listed, and why."""
    looked_inside: bool = False
    """Whether the items know their content; checks of content are left out where they do not."""
    convention: Convention = field(default_factory=lambda: shipped("Roomy"))
    outside: frozenset[str] = frozenset()
    """Folders above these files of which this listing sees only a part: nothing is said of them."""
    with_films: frozenset[str] = frozenset()
    """Folders that hold films but of which this listing does not have the files."""

    def __post_init__(self) -> None:
        self.items = sorted(self.items, key=lambda item: item.path)

    @cached_property
    def by_folder(self) -> dict[str, list[Item]]:
        """Folder → its files, in the order of their names."""
        folders: dict[str, list[Item]] = defaultdict(list)
        for item in self.items:
            folders[item.folder].append(item)
        return dict(folders)

    @cached_property
    def all_folders(self) -> frozenset[str]:
        """Every folder below the library's top, without the last slash."""
        found = set(self.folders) | self.by_folder.keys()
        for folder in tuple(found):
            while folder and (folder := folder.rpartition("/")[0]) not in found:
                found.add(folder)
        return frozenset(found - {""}) - self.outside

    @cached_property
    def subfolders(self) -> dict[str, list[str]]:
        """Folder → the folders directly in it."""
        below: dict[str, list[str]] = defaultdict(list)
        for folder in sorted(self.all_folders):
            below[folder.rpartition("/")[0]].append(folder)
        return below

    @cached_property
    def taken_names(self) -> frozenset[str]:
        """Every path of a file or folder, folded: a name that is none of these is free everywhere."""
        return frozenset(item.path.casefold() for item in self.items) | {f.casefold() for f in self.all_folders}

    def is_taken(self, path: str) -> bool:
        """Whether a file or folder has this name, in whatever case."""
        return path.casefold() in self.taken_names

    @cached_property
    def _homes(self) -> dict[tuple[str, bool], str | None]:
        return {}

    def home(self, item: Item) -> str | None:
        """The folder that names a film or a series, or None when the file lies in no folder of its own."""
        series = item.kind == "episode"
        key = (item.folder, series)
        if key not in self._homes:
            parts = item.folder.split("/") if item.folder else []
            while parts and folder_role(parts[-1]) not in ("work", "sort"):
                parts.pop()
            folder = "/".join(parts)
            own = bool(parts) and not is_sorting(parts[-1]) and (series or folder not in self.sorting_folders)
            self._homes[key] = folder if own else None
        return self._homes[key]

    @cached_property
    def films_by_place(self) -> dict[str, list[Item]]:
        """Folder that films count for → the films, in the order of their paths; see :mod:`.filmfolders`."""
        from .filmfolders import films_by_place

        return films_by_place(self)

    @cached_property
    def names(self) -> list[tuple[str, str, bool]]:
        """Path, name, and whether it is a folder, of all that has a name."""
        folders = [(folder, folder.rpartition("/")[2], True) for folder in sorted(self.all_folders)]
        return [*folders, *((item.path, item.name, False) for item in self.items)]

    @cached_property
    def odd_names(self) -> list[tuple[str, str, bool]]:
        """Those of :attr:`names` that are more than plain letters, figures and spaces: no other can hold a bad sign."""
        return [node for node in self.names if _PLAIN_NAME.fullmatch(node[1]) is None]

    @cached_property
    def followers(self) -> dict[str, str]:
        """Path of a subtitle, a picture … → the main file beside it whose name it begins with."""
        found: dict[str, str] = {}
        for items in self.by_folder.values():
            mains = [item for item in items if item.kind in MAINS and item.kind not in ("photo", "clip")]
            if not mains or len(mains) == len(items):
                continue
            for item in items:
                if item.kind in MAINS:
                    continue
                owner = max((m for m in mains if item.name.startswith(m.stem)), key=lambda m: len(m.stem), default=None)
                if owner is not None:
                    found[item.path] = owner.path
        return found

    @cached_property
    def sorting_folders(self) -> frozenset[str]:
        """Folders that hold several films but none of their own; see :mod:`.filmfolders`."""
        from .filmfolders import sorting_folders

        return sorting_folders(self)

    def of_kind(self, *kinds: str) -> list[Item]:
        """Items of these kinds that are of the kind of library or lie in a mixed one."""
        return [item for item in self.items if item.kind in kinds]

    def tidy(self, item: Item) -> str | None:
        """Where the convention puts an item, below the folders that only sort; None when too little is known."""
        facts = {**item.reading, **item.known} if item.known else item.reading
        path = self.convention.path(item.kind, facts, item.extension, original=item.stem)
        if path is None:
            return None
        above = self._above(item)
        if above and path.startswith(above.rpartition("/")[2] + "/"):
            above = above.rpartition("/")[0]
        return f"{above}/{path}" if above else path

    def _above(self, item: Item) -> str:
        if item.kind in ("movie", "episode"):
            home = self.home(item)
            parts = (home or item.folder).split("/") if home or item.folder else []
            if home is not None:
                parts.pop()
            while parts and (folder_role(parts[-1]) not in ("work", "sort") or is_waiting(parts[-1])):
                parts.pop()
            return "/".join(parts)
        if item.kind == "track":
            parts = item.folder.split("/")
            count = next((place for place, part in enumerate(parts) if not is_sorting(part)), len(parts))
            return "/".join(parts[:count])
        return ""
