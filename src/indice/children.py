"""A child of the supervisor: ends with it, however it ends, and logs as all processes do.

python -m indice.children PARENT web|worker|network|almanac|footline|router [arguments]
"""

from __future__ import annotations

import ctypes
import os
import signal
import sys

__all__ = ["die_with_parent", "main"]

_PR_SET_PDEATHSIG = 1


def die_with_parent(parent: int) -> None:
    """Have the system end this process when its parent ends (Linux `prctl`); at once when that has happened already."""
    try:
        ctypes.CDLL(None, use_errno=True).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM, 0, 0, 0)
    except (OSError, AttributeError):
        return
    if os.getppid() != parent:
        os._exit(0)


def main() -> None:
    """Be the child that is named, until it ends."""
    parent, name, *arguments = sys.argv[1:]
    die_with_parent(int(parent))
    from .logs import set_up_logs

    set_up_logs()
    sys.argv = [name, *arguments]
    if name == "web":
        from gunicorn.app.wsgiapp import run

        run()
    elif name == "almanac":
        from .standins.almanac import main as almanac

        almanac()
    elif name == "footline":
        from .standins.footline import main as footline

        footline()
    elif name == "router":
        from .standins.router import main as router

        router()
    elif name == "network":
        from .network.presence import see_to_network
        from .settings import Settings

        chosen = Settings.load()
        secure = chosen.https not in ("", "off")
        see_to_network(chosen, int(arguments[0]), secure=secure)
    else:
        from .settings import Settings
        from .store.database import open_database
        from .work.queue import run_worker
        from .work.requests import ensure_queue

        settings = Settings.load()
        database = open_database(settings)
        ensure_queue(database)
        run_worker(database, settings)


if __name__ == "__main__":
    main()
