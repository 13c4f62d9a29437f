"""The command line: thin commands, heavy imports only where they are needed."""

from __future__ import annotations

import gc
import os
import sys
from importlib import import_module

from .commands.base import app, own_settings
from .errors import IndiceError

__all__ = ["main"]

for _name in ("serving", "naming", "libraries", "people", "working", "keeping", "making"):
    import_module(f".commands.{_name}", __package__)  # each hangs its commands on the application, in this order


def _act_as_owner() -> None:
    from .account import act_as_owner

    command = next((word for word in sys.argv[1:] if not word.startswith("-")), "")
    if command:
        act_as_owner(command, own_settings().home)


def main() -> None:
    """Run the command; errors that have a message for a person end with 2 and no trace."""
    gc.set_threshold(20_000, 20, 20)  # what is loaded stays: looking through it again and again is a tenth of a command
    if sys.argv[1:3] == ["read", "--jsonl"] and len(sys.argv) == 3:
        from .commands.naming import read_jsonl

        raise SystemExit(read_jsonl())
    try:
        if not os.geteuid():
            _act_as_owner()
        app(prog_name="indice")
    except IndiceError as error:
        print(f"indice: {error.message}", file=sys.stderr)
        if error.hint:
            print(f"        {error.hint}", file=sys.stderr)
        raise SystemExit(2) from None
    except BrokenPipeError:
        os._exit(0)


if __name__ == "__main__":
    main()
