"""Commands for those who build Indice."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated

import typer

from .base import app

__all__: list[str] = []


@app.command(hidden=True)
def openapi(target: Annotated[Path, typer.Argument()]) -> None:
    """Write the API's description to a file."""
    from ..web.app import create_app

    target.write_text(json.dumps(create_app(None, None).spec, indent=1, ensure_ascii=False) + "\n", "utf-8")


@app.command(hidden=True)
def handbook(target: Annotated[Path, typer.Argument()]) -> None:
    """Write the documentation of all checks to a file."""
    from ..core.naming.checks.handbook import handbook as written

    target.write_text(written(), "utf-8")


@app.command("test", context_settings={"allow_extra_args": True, "ignore_unknown_options": True})
def run_tests(context: typer.Context) -> None:
    """Run everything: linters, types, tests with real PostgreSQL, files and browser, front-end checks.

    Example:  `./indice test`  or only some:  `./indice test tests/core -k year`
    """
    from ..testing import run_all

    raise typer.Exit(run_all(context.args))
