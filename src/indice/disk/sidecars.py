"""Sidecars: files beside a film, an album or a picture that say what it is. JSON-LD, plain JSON and XMP are read."""

from __future__ import annotations

import json
import os
from typing import Any

from ..core.facts.clean import clean_facts
from ..core.facts.linked import facts_of_linked, plain_facts
from ..core.phrase import phrase
from .xmp import read_xmp

__all__ = ["read_sidecar"]

MOST_BYTES = 4_000_000


def _is_own(data: Any) -> bool:
    """Whether Indice itself wrote it (schema.org's `sdPublisher`)."""
    publisher = data.get("sdPublisher") if isinstance(data, dict) else None
    return isinstance(publisher, dict) and publisher.get("name") == "Indice"


def read_sidecar(path: bytes) -> dict[str, Any]:
    """`about`, the kind of thing that it speaks of where it says so, `facts`, and `own` where Indice wrote it.

    Empty when it is of another sort. `left` names fields whose values no field can hold.

    Raises ValueError with words for a person when it says that it is one of these and cannot be understood.
    """
    extension = path.lower().rpartition(b".")[2]
    if extension not in (b"jsonld", b"json", b"xmp"):
        return {}
    if os.stat(path).st_size > MOST_BYTES:
        raise ValueError(phrase("It is too large for a sidecar."))
    with open(path, "rb") as file:
        content = file.read(MOST_BYTES)
    if extension == b"xmp":
        facts = read_xmp(content)
        if not facts and b"<" not in content[:200]:
            raise ValueError(phrase("It says that it is XMP, but it is none."))
        return _kept("photo", facts)
    try:
        data = json.loads(content, parse_int=_whole)
    except (ValueError, RecursionError) as error:
        raise ValueError(phrase("It is no JSON that can be read.")) from error
    linked = facts_of_linked(data)
    if linked is not None:
        return {**_kept(*linked), **({"own": True} if _is_own(data) else {})}
    return _kept("", plain_facts(data))


def _whole(digits: str) -> int | float:
    """A whole number, however many digits somebody wrote."""
    return int(digits) if len(digits) < 20 else float("inf")


def _kept(about: str, said: dict[str, Any]) -> dict[str, Any]:
    facts, left = clean_facts(said)
    if not facts and not left:
        return {}
    return {"about": about, "facts": facts, **({"left": left} if left else {})}
