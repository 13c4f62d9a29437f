"""The catalog for other programs: as a table (RFC 4180), and as one JSON-LD graph in the schema.org vocabulary."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from urllib.parse import quote

from .linked import KINDS, linked_of_facts

__all__ = ["COLUMNS", "MARK_COLUMNS", "OWN_COLUMNS", "graph_node", "mark_line", "plain_text", "table_line"]

_MORE = {"season": "TVSeason", "photo": "Photograph", "clip": "VideoObject", "event": "Event"}
"""Kinds that have no sidecars of their own."""
_TOLD = {kind: name for name, kind in KINDS.items()}
_FACTS = ("original_title", "date", "runtime", "rating", "genres", "directors", "cast", "artists", "plot")
COLUMNS = (
    *("key", "parent", "kind", "title", "year", "season", "number", "library", "state", "added", "decision"),
    *("source", "id", "files"),
    *_FACTS,
)
OWN_COLUMNS = ("seen", "favourite", "rating_own", "position_seconds", "tags", "note")
"""What a person keeps, where the table is one person's."""
_FORMULAS = ("=", "+", "-", "@", "\t", "\r")
BETWEEN = " | "
MARK_COLUMNS = (
    *("key", "kind", "title", "part_of", "year", "season", "number"),
    *("seen", "favourite", "rating", "position_seconds", "tags", "note"),
)
"""Of a table of what one person keeps."""


def plain_text(text: str) -> str:
    """A text that no table program takes for a formula: names come from strangers."""
    return f"'{text}" if text.startswith(_FORMULAS) else text


def _cell(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return plain_text(BETWEEN.join(str(one) for one in value))
    return plain_text(value) if isinstance(value, str) else str(value)


def table_line(row: Mapping[str, Any], *, is_own: bool) -> list[str]:
    """A line of the table for a line of the export, in the order of
    :data:`COLUMNS` and, for a person, what they keep."""
    facts = row.get("facts", {})
    values = [facts.get(name) if name in _FACTS else row.get(name) for name in COLUMNS]
    if is_own:
        values += [row.get("rating" if name == "rating_own" else name) for name in OWN_COLUMNS]
    return [_cell(value) for value in values]


def mark_line(row: Mapping[str, Any]) -> list[str]:
    """A line of the table of what one person keeps, in the order of :data:`MARK_COLUMNS`."""
    return [_cell(row.get(name)) for name in MARK_COLUMNS]


def _address(key: str) -> str:
    return f"urn:indice:{quote(key, safe=':')}"


def graph_node(row: Mapping[str, Any]) -> dict[str, Any]:
    """A thing of the graph for a line of the export; what it is part of is named by its address."""
    kind = str(row["kind"])
    ids = {str(row["source"]): str(row["id"])} if row.get("id") and row.get("source") else {}
    node: dict[str, Any] = {}
    if kind in _TOLD:
        node = linked_of_facts(kind, row.get("facts", {}), ids)
        del node["@context"]
    node = {"@id": _address(str(row["key"])), "@type": _TOLD.get(kind) or _MORE.get(kind, "CreativeWork"), **node}
    node.setdefault("name", row["title"])
    if row.get("year"):
        node.setdefault("datePublished", str(row["year"]))
    if row.get("parent"):
        set_of = [node["isPartOf"]] if "isPartOf" in node else []
        node["isPartOf"] = [*set_of, {"@id": _address(str(row["parent"]))}]
    if row.get("number") is not None and kind in ("episode", "season", "track"):
        names = {"episode": "episodeNumber", "season": "seasonNumber", "track": "position"}
        node[names[kind]] = row["number"]
    if row.get("files"):
        node["associatedMedia"] = [{"@type": "MediaObject", "name": path} for path in row["files"]]
    own = {
        name: row[key]
        for name, key in (
            ("seen", "seen"),
            ("favourite", "favourite"),
            ("rating", "rating"),
            ("positionSeconds", "position_seconds"),
            ("tags", "tags"),
            ("note", "note"),
        )
        if row.get(key) not in (None, False, [])
    }
    if own:
        node["additionalProperty"] = [
            {"@type": "PropertyValue", "propertyID": name, "value": value} for name, value in own.items()
        ]
    return node
