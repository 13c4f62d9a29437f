"""XMP (ISO 16684-1): what it says of a picture, and packets to be written beside one."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any
from xml.etree import ElementTree as tree

from defusedxml.ElementTree import fromstring as parse_xml

from ..core.phrase import phrase

__all__ = ["moment_of_xmp", "read_xmp", "write_xmp"]

MOST_BYTES = 4_000_000
MOST_NODES = 20_000
MOST_ITEMS = 1_000
DEEPEST = 24
_RDF = "http://www.w3.org/1999/02/22-rdf-syntax-ns#"
_NAMES = {
    "x": "adobe:ns:meta/",
    "rdf": _RDF,
    "dc": "http://purl.org/dc/elements/1.1/",
    "xmp": "http://ns.adobe.com/xap/1.0/",
    "photoshop": "http://ns.adobe.com/photoshop/1.0/",
    "Iptc4xmpExt": "http://iptc.org/std/Iptc4xmpExt/2008-02-29/",
}
_DATES = ("DateTimeOriginal", "DateCreated", "CreateDate")
_FIELDS = {"title": "title", "description": "plot", "Rating": "stars", "City": "town", "Country": "country"}
_LISTS = {"subject": "keywords", "PersonInImage": "people"}
_KNOWN = frozenset((*_DATES, *_FIELDS, *_LISTS))


def read_xmp(content: bytes) -> dict[str, Any]:
    """Facts of a packet: `title`, `plot`, `keywords`, `people`, `stars`, `town`, `country`, `taken`.

    A broken or hostile packet says nothing.
    """
    if len(content) > MOST_BYTES:
        return {}
    try:
        root = parse_xml(content.strip(b"\0 \r\n\t"))
    except Exception:  # whatever a hostile packet makes the parser raise
        return {}
    facts: dict[str, Any] = {}
    moments: dict[str, str] = {}
    for node, depth in _nodes(root):
        for name, value in ((str(name).rpartition("}")[2], str(value)) for name, value in node.attrib.items()):
            _take(facts, moments, name, [value])
        name = str(node.tag).rpartition("}")[2]
        if name in _KNOWN and depth < DEEPEST:
            items = [item.text or "" for item in _items(node)]
            _take(facts, moments, name, items or [node.text or ""])
    taken = next((moments[name] for name in _DATES if name in moments), None)
    return {**facts, "taken": taken} if taken else facts


def _nodes(root: tree.Element) -> Iterator[tuple[tree.Element, int]]:
    """Nodes with how deep they lie, as many and as deep as a packet has that a program wrote for people."""
    pending = [(root, 0)]
    for _ in range(MOST_NODES):
        if not pending:
            return
        node, depth = pending.pop()
        yield node, depth
        if depth < DEEPEST:
            pending += [(child, depth + 1) for child in reversed(node)]


def _items(node: tree.Element) -> Iterator[tree.Element]:
    """Items of a list: a property holds a list, and the list its items (ISO 16684-1, 7.7)."""
    for holder in list(node)[:MOST_ITEMS]:
        for item in list(holder)[:MOST_ITEMS]:
            if item.tag == f"{{{_RDF}}}li":
                yield item


def _take(facts: dict[str, Any], moments: dict[str, str], name: str, values: list[str]) -> None:
    texts = [text for value in values if (text := value.replace("\0", "").strip()[:20_000])]
    if not texts:
        return
    if name in _DATES and re.match(r"[0-9]{4}-[0-9]{2}", texts[0]):
        moments.setdefault(name, texts[0][:19])
    elif name == "Rating" and re.fullmatch(r"[0-5]", texts[0]):
        facts.setdefault("stars", int(texts[0]))
    elif name in _LISTS:
        facts.setdefault(_LISTS[name], texts)
    elif name in _FIELDS and name != "Rating":
        facts.setdefault(_FIELDS[name], texts[0])


def moment_of_xmp(content: bytes) -> str | None:
    """When a picture was taken, by a packet, ISO 8601; None when it does not say."""
    return read_xmp(content).get("taken")


def write_xmp(facts: Mapping[str, Any], old: bytes | None = None) -> bytes:
    """A packet that says these facts; what an older packet says beside them stays.

    Raises ValueError when the older packet cannot be read: then it is not ours to replace.
    """
    for prefix, uri in _NAMES.items():
        tree.register_namespace(prefix, uri)
    if old:
        try:
            root = parse_xml(old.strip(b"\0 \r\n\t"))
        except Exception as error:
            raise ValueError(phrase("The XMP that is there cannot be read.")) from error
        description = next(root.iter(f"{{{_RDF}}}Description"), None)
    else:
        root = tree.Element(f"{{{_NAMES['x']}}}xmpmeta")
        description = None
    if description is None:
        rdf = next(root.iter(f"{{{_RDF}}}RDF"), None)
        rdf = rdf if rdf is not None else tree.SubElement(root, f"{{{_RDF}}}RDF")
        description = tree.SubElement(rdf, f"{{{_RDF}}}Description", {f"{{{_RDF}}}about": ""})
    for field, (prefix, name, shape) in _WRITTEN.items():
        if field in facts:
            _put(description, f"{{{_NAMES[prefix]}}}{name}", shape, facts[field])
    return b'<?xml version="1.0" encoding="UTF-8"?>\n' + tree.tostring(root, encoding="utf-8") + b"\n"


_WRITTEN = {
    "title": ("dc", "title", "Alt"),
    "plot": ("dc", "description", "Alt"),
    "keywords": ("dc", "subject", "Bag"),
    "people": ("Iptc4xmpExt", "PersonInImage", "Bag"),
    "stars": ("xmp", "Rating", ""),
    "town": ("photoshop", "City", ""),
    "country": ("photoshop", "Country", ""),
    "taken": ("photoshop", "DateCreated", ""),
}


def _put(description: tree.Element, name: str, shape: str, value: Any) -> None:
    description.attrib.pop(name, None)
    for node in description.findall(name):
        description.remove(node)
    node = tree.SubElement(description, name)
    if not shape:
        node.text = str(value)
        return
    holder = tree.SubElement(node, f"{{{_RDF}}}{shape}")
    for one in value if isinstance(value, list) else [value]:
        attributes = {"{http://www.w3.org/XML/1998/namespace}lang": "x-default"} if shape == "Alt" else {}
        tree.SubElement(holder, f"{{{_RDF}}}li", attributes).text = str(one)
