"""Writes docs/settings.md from the settings themselves: `python tools/settings_page.py`."""

from __future__ import annotations

import ast
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
SOURCE = ROOT / "src" / "indice" / "settings.py"
PAGE = ROOT / "docs" / "settings.md"
HEAD = """# Settings

Each stands in `indice.toml` in the data folder, or in the environment, which counts more. Written by
`tools/settings_page.py` from `src/indice/settings.py`; a test keeps them together.

| in `indice.toml` | default | what it is | in the environment |
|---|---|---|---|
"""


def page() -> str:
    """The page."""
    tree = ast.parse(SOURCE.read_text("utf-8"))
    settings = next(node for node in tree.body if isinstance(node, ast.ClassDef) and node.name == "Settings")
    rows: list[str] = []
    for field, told in zip(settings.body, settings.body[1:], strict=False):
        if not isinstance(field, ast.AnnAssign) or not isinstance(told, ast.Expr):
            continue
        name = ast.unparse(field.target)
        default = "" if field.value is None else f"`{ast.unparse(field.value)}`".replace("'", '"')
        text = " ".join(ast.literal_eval(told.value).split())
        said, _, rest = text.rpartition(". `")
        rows.append(f"| `{name}` | {default} | {said}. | `{rest.rstrip(chr(46))} |")
    return HEAD + "\n".join(rows) + "\n"


if __name__ == "__main__":
    PAGE.write_text(page(), "utf-8")
