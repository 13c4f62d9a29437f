"""A household with people of every role, and what of it each of them may not see."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask.testing import FlaskClient
from sqlalchemy import select

from indice.store.database import Database
from indice.store.models import Entry

from ..playing.zoo import Animal

SECRET = "Zanthoxyl"
"""A word in the title of everything that a child, or somebody with one library, may not see."""
FILM = Animal("film.mp4", "-c:v libx264 -preset ultrafast -pix_fmt yuv420p -c:a aac", "direct")
NAMES = {
    "Films": (
        f"{SECRET} Nights (2001)/{SECRET} Nights (2001).mp4",
        f"{SECRET} Unrated (2002)/{SECRET} Unrated (2002).mp4",
        f"Cellar/{SECRET} Below (2003)/{SECRET} Below (2003).mp4",
        "Kettle Morning (2004)/Kettle Morning (2004).mp4",
    ),
    "Series": (
        f"{SECRET} Row (2005)/Season 01/{SECRET} Row - S01E01.mp4",
        "Kettle Row (2006)/Season 01/Kettle Row - S01E01.mp4",
    ),
    "Away": (f"{SECRET} Elsewhere (2007)/{SECRET} Elsewhere (2007).mp4",),
}
RATED = {
    f"{SECRET} Nights": "16",
    "Kettle Morning": "6",
    f"{SECRET} Row": "18",
    "Kettle Row": "0",
    f"{SECRET} Below": "0",
    f"{SECRET} Elsewhere": "0",
}
ROLES = ("owner", "librarian", "member", "child", "guest")
Sign = Callable[[str], FlaskClient]


def said(answer: Any, status: int = 200) -> Any:
    """What an answer holds, after it was of this status."""
    assert answer.status_code == status, answer.get_json()
    return answer.get_json()


def ids(database: Database, kind: str) -> dict[str, int]:
    """Title → number of the entries of a kind."""
    with database.begin() as db:
        return {e.title: e.id for e in db.scalars(select(Entry).where(Entry.kind == kind))}
