"""How the interface describes itself: what each operation is for, in whole sentences."""

from __future__ import annotations

import re
from typing import Any

__all__ = ["in_sentences"]

_END = re.compile(r"(?<=[.;])\s+(?=[A-Z0-9`])")


def in_sentences(spec: dict[str, Any] | str) -> dict[str, Any] | str:
    """An OpenAPI description whose operations are summed up by their first sentence.

    It is made from docstrings, of which a line is a line and no sentence. A text (YAML) is left alone.
    """
    if isinstance(spec, str):
        return spec
    for path in spec["paths"].values():
        for operation in path.values():
            if not isinstance(operation, dict) or "summary" not in operation:
                continue
            text = " ".join(f"{operation['summary']} {operation.get('description', '')}".split())
            summary, *more = _END.split(text, maxsplit=1)
            operation["summary"] = summary
            operation.pop("description", None)
            if more:
                operation["description"] = more[0]
    return spec
