"""Drafts a profile for a service from its manifest and the types and properties
that it names. A person goes over it."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from typing import Any

from .profile import KINDS, KNOWN_FIELDS

__all__ = ["draft_profile", "guess_field", "guess_kind"]

_KIND_WORDS = {
    "movie": ("movie", "film", "motion picture", "feature film"),
    "series": ("series", "tv series", "show", "television series", "tv show", "serie"),
    "episode": ("episode", "tv episode", "television series episode"),
    "album": ("album", "music album", "release", "record"),
    "track": ("track", "song", "recording", "music recording"),
    "artist": ("artist", "band", "musician", "music group", "performer"),
    "set": ("film set", "set of films", "film series", "collection", "film collection"),
}
_FIELD_WORDS = {
    "title": ("title", "name", "label"),
    "original_title": ("original title", "native title"),
    "aliases": ("aliases", "alias", "also known as", "aka", "alternate name", "alternative title", "alternate titles"),
    "date": (
        "date",
        "released",
        "release date",
        "premiere",
        "first aired",
        "publication date",
        "aired",
        "year",
        "date published",
    ),
    "end_date": ("end date", "ended", "last aired"),
    "runtime": ("runtime", "running time", "length", "duration", "minutes", "seconds"),
    "plot": ("plot", "synopsis", "overview", "summary", "description", "abstract", "biography"),
    "tagline": ("tagline", "slogan"),
    "genres": ("genres", "genre", "category", "categories"),
    "rating": ("rating", "certificate", "certification", "content rating", "age rating"),
    "directors": ("directors", "director", "directed by"),
    "writers": ("writers", "writer", "author", "authors", "screenwriter", "written by"),
    "cast": ("cast", "actors", "actor", "cast member", "starring"),
    "countries": ("countries", "country", "country of origin"),
    "languages": ("languages", "language", "original language"),
    "set": ("set", "collection", "film series", "part of the series", "part of"),
    "artwork": ("artwork", "poster", "cover", "image", "picture", "portrait", "thumbnail", "still"),
    "backdrop": ("backdrop", "background", "still", "scene"),
    "episodes": ("episodes", "has episode", "has part"),
    "season": ("season", "season number"),
    "number": ("number", "episode number", "track number", "position"),
    "absolute": ("absolute", "running number", "absolute number", "overall number"),
    "artists": ("artists", "artist", "by artist", "performer", "performed by"),
    "label": ("record label", "label", "publisher"),
    "tracks": ("tracks", "track list", "track", "has track"),
    "disc": ("disc", "disc number", "medium"),
    "films": ("films", "film", "movies", "members", "parts", "has part"),
}


def _spoken(name: str) -> str:
    """`alsoKnownAs`, `also_known_as` and `Also known as` are one."""
    return " ".join(re.sub(r"(?<=[a-z])(?=[A-Z])", " ", name).replace("_", " ").replace("-", " ").lower().split())


def guess_kind(types: Sequence[Mapping[str, Any]]) -> dict[str, str]:
    """Kind → id of the type that is most likely it."""
    found: dict[str, str] = {}
    for kind, words in _KIND_WORDS.items():
        named = {_spoken(str(t.get("name") or t.get("id"))): str(t.get("id")) for t in types}
        chosen = next((named[word] for word in words if word in named), None)
        if chosen is not None:
            found[kind] = chosen
    return found


def guess_field(kind: str, properties: Sequence[Mapping[str, Any]]) -> dict[str, str]:
    """Field → id of the property that is most likely it; a property serves one field only."""
    named: dict[str, str] = {}
    for one in properties:
        for text in (one.get("name"), one.get("id")):
            if text:
                named.setdefault(_spoken(str(text)), str(one.get("id")))
    found: dict[str, str] = {}
    wanted = [(place, field) for field in KNOWN_FIELDS[kind] for place in range(len(_FIELD_WORDS[field]))]
    for place, field in sorted(wanted, key=lambda pair: (pair[0], list(_FIELD_WORDS).index(pair[1]))):
        word = _FIELD_WORDS[field][place]
        if field not in found and word in named and named[word] not in found.values():
            found[field] = named[word]
    return {field: found[field] for field in _FIELD_WORDS if field in found}


def draft_profile(
    url: str, manifest: Mapping[str, Any], types: Sequence[Mapping[str, Any]], properties: Mapping[str, Sequence[Any]]
) -> str:
    """A profile as TOML: what could be guessed is filled in, what could not stands as a comment to be filled in.

    `properties` are those of each type, by the type's id.
    """
    name = str(manifest.get("name") or "").strip() or "My source"
    kinds = guess_kind(types)
    scheme = re.sub(r"[^a-z0-9]+", "", name.lower()) or "source"
    lines = [f"name = {_quoted(name)}", f"url = {_quoted(url)}", 'languages = ["en"]', f"scheme = {_quoted(scheme)}"]
    for kind in KINDS:
        type_id = kinds.get(kind)
        if type_id is None:
            continue
        fields = guess_field(kind, properties.get(type_id, []))
        lines += ["", f"[{kind}]", f"type = {_quoted(type_id)}", f"[{kind}.fields]"]
        if "title" not in fields:
            lines.append('title = "name"            # say which property is the title')
        lines += [f"{field} = {_quoted(known)}" for field, known in fields.items()]
        missing = sorted(KNOWN_FIELDS[kind] - fields.keys() - {"title"})
        if missing:
            lines.append(f"# not found: {' '.join(missing)}")
    if not kinds:
        lines += ["", "[movie]", 'type = ""                # the type of films', "[movie.fields]", 'title = "name"']
    return "\n".join(lines) + "\n"


def _quoted(text: str) -> str:
    """A TOML basic string; JSON's escapes are among TOML's."""
    return json.dumps(text, ensure_ascii=False).replace("\x7f", "\\u007f")
