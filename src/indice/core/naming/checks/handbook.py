"""The documentation of all checks, made from the rules themselves."""

from __future__ import annotations

from . import CHECKS
from .model import Check

__all__ = ["handbook"]

_HEAD = """# Checks

What Indice finds wrong with names. This page is made from the rules (`./indice handbook docs/checks.md`); a test keeps it true.

Each check can be switched off or made quieter for a library, and excused for one path, in Names. On the command line:
`./indice check FOLDER --library KIND`. A *problem* is misread or lost by software, *advice* works but is not tidy.
Checks marked *content* look inside the files; `--names-only` leaves them out.
"""


def handbook() -> str:
    """The page, in Markdown."""
    return _HEAD + "".join(_section(rule) for rule in CHECKS)


def _section(rule: Check) -> str:
    where = "every library" if len(rule.libraries) == 6 else ", ".join(rule.libraries) + " (and mixed)"
    content = ", content" if rule.content else ""
    example = f"    {rule.before}\n" + (f"    → {rule.after}\n" if rule.after else "")
    return (
        f"\n## {rule.title} (`{rule.slug}`)\n\n*{rule.severity}{content}; {where}.* "
        f"{rule.looks_at}\n\n{rule.why}\n\n{example}"
    )
