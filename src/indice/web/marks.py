"""One's own marks: seen, favourite, and where one stopped."""

from __future__ import annotations

import csv
import io
import json

from apiflask import APIBlueprint
from flask import Response

from ..core.facts.exported import MARK_COLUMNS, graph_node, mark_line
from ..store.front import front_rows
from ..store.jobs import announce
from ..store.marks import going_on, marked_rows, note_position, set_marks
from ..store.models import now
from ..store.playings import closing_of
from .common import begin, cards_of, entry_at, placed_cards_of, viewer
from .schemas import Changed
from .schemas_shelves import FrontOut, FrontRow, GoingOn, MarksIn, MarksQuery, PositionIn, PositionOut

__all__ = ["bp"]

bp = APIBlueprint("marks", __name__, url_prefix="/api", tag="Marks")
SHOWN = 24


@bp.put("/marks")
@bp.input(MarksIn, arg_name="body")
@bp.output(Changed)
def mark(body: MarksIn) -> Changed:
    """Mark entries as seen or as favourites, or take that back; what is not said stays."""
    with begin() as db:
        count = set_marks(
            db,
            viewer(),
            body.entry_ids,
            seen=body.seen,
            favourite=body.favourite,
            rating=body.rating,
            tags=body.tags,
            note=body.note,
        )
        announce(db, "marks")
    return Changed(count=count)


@bp.get("/marks/file")
@bp.input(MarksQuery, location="query", arg_name="query")
@bp.doc(responses={200: {"description": "All that one keeps", "content": {"text/csv": {}}}})
def write_marks(query: MarksQuery) -> Response:
    """All that one keeps of what one may see, as a table (CSV) or as one JSON-LD graph."""
    with begin() as db:
        rows = marked_rows(db, viewer())
    if query.form == "csv":
        table = io.StringIO()
        writer = csv.writer(table)
        writer.writerow(MARK_COLUMNS)
        writer.writerows(mark_line(row) for row in rows)
        answer = Response(table.getvalue(), mimetype="text/csv")
    else:
        graph = {"@context": "https://schema.org", "@graph": [graph_node(row) for row in rows]}
        answer = Response(json.dumps(graph, ensure_ascii=False), mimetype="application/ld+json")
    answer.headers.set("Content-Disposition", "attachment", filename=f"marks.{query.form}")
    return answer


@bp.post("/entries/<int:entry_id>/position")
@bp.input(PositionIn, arg_name="body")
@bp.output(PositionOut)
def keep_position(entry_id: int, body: PositionIn) -> PositionOut:
    """Keep where one is in playing; near the end it is seen, near the beginning an older position is left alone."""
    with begin() as db:
        asking, entry = viewer(), entry_at(db, entry_id)
        closing = closing_of(db, asking, entry.id, body.duration_seconds)
        came = note_position(db, asking, entry.id, body.seconds, body.duration_seconds, closing_seconds=closing)
        if came != "left":
            announce(db, "marks")
    return PositionOut(came=came)


@bp.get("/going-on")
@bp.output(GoingOn)
def read_going_on() -> GoingOn:
    """What one has begun and not finished, the latest first."""
    with begin() as db:
        return GoingOn(entries=cards_of(db, going_on(db, viewer(), limit=SHOWN)))


@bp.get("/front")
@bp.output(FrontOut)
def read_front() -> FrontOut:
    """The front page of the catalog, row by row; what has nothing in it is left out."""
    with begin() as db:
        rows = front_rows(db, viewer(), now().astimezone().date())
        shown = [entry for entries in rows.values() for entry in entries]
        cards = {card.id: card for card in placed_cards_of(db, shown)}
        return FrontOut(
            rows=[FrontRow(name=name, entries=[cards[entry.id] for entry in entries]) for name, entries in rows.items()]
        )
