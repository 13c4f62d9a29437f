"""Missing: what series, albums and films in parts lack, as pages and as a list to take along."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping, Sequence
from datetime import UTC, datetime

from apiflask import APIBlueprint
from flask import Response
from sqlalchemy.orm import Session

from ..core.catalog.lacking import Lack
from ..store.film_sets import lacking_beside
from ..store.lacking import COLUMNS, Lacking, lacking_page, lines_of
from ..store.models import Entry
from .common import begin, viewer
from .schemas import LackOut
from .schemas_names import LackingOut, MissingOut, MissingQuery

__all__ = ["bp", "lacks_out", "set_lacks"]

bp = APIBlueprint("missing", __name__, url_prefix="/api/missing", tag="Missing")


def _today() -> str:
    return datetime.now(UTC).date().isoformat()


def _libraries(query: MissingQuery) -> list[int] | None:
    return None if query.library_id is None else [query.library_id]


@bp.get("")
@bp.input(MissingQuery, location="query", arg_name="query")
@bp.output(MissingOut)
def read_missing(query: MissingQuery) -> MissingOut:
    """Series and albums that lack something, by title; films of which a part is missing last."""
    with begin() as db:
        page = lacking_page(db, today=_today(), after=query.after, library_ids=_libraries(query))
    return MissingOut(rows=[_out(one) for one in page.rows], following=page.following)


def _out(one: Lacking) -> LackingOut:
    return LackingOut(
        kind=one.kind,
        entry_id=one.entry_id,
        title=one.title,
        by=one.by,
        year=one.year,
        library=one.library,
        lacks=lacks_out(one.lacks),
    )


def lacks_out(lacks: Iterable[Lack]) -> list[LackOut]:
    """What is missing, as it is told."""
    return [
        LackOut(
            group=lack.group,
            number=lack.number,
            title=lack.title,
            date=lack.date,
            is_out=lack.is_out,
            is_known=lack.is_known,
        )
        for lack in lacks
    ]


def set_lacks(db: Session, groups: Mapping[str, Sequence[Entry]]) -> dict[str, list[LackOut]]:
    """What sets of films lack, for who keeps the catalog: others are not told of films by their absence."""
    if not viewer().manages:
        return {}
    return {name: lacks_out(lacks) for name, lacks in lacking_beside(db, groups, today=_today()).items()}


@bp.get("/list.csv")
@bp.input(MissingQuery, location="query", arg_name="query")
@bp.doc(responses={200: {"description": "The list", "content": {"text/csv": {}}}})
def read_list(query: MissingQuery) -> Response:
    """All that is missing as CSV (RFC 4180, UTF-8 with a mark, as table programs want it)."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    after: str | None = ""
    while after is not None:
        with begin() as db:
            page = lacking_page(db, today=_today(), after=after, limit=500, library_ids=_libraries(query))
        for one in page.rows:
            writer.writerows(lines_of(one))
        after = page.following
    answer = Response("\ufeff" + out.getvalue(), mimetype="text/csv")
    answer.headers.set("Content-Disposition", "attachment", filename="missing.csv")
    return answer
