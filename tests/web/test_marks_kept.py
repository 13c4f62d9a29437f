"""Notes, and all that one marked as a file: for oneself alone, and of what one may see."""

from __future__ import annotations

import csv
import io
import json

from flask.testing import FlaskClient

from indice.store.database import Database

from .kettle import SECRET, Sign, ids, said


def test_a_note_is_kept_for_oneself(owner: FlaskClient, sign: Sign, household: Database) -> None:
    film = ids(household, "movie")["Kettle Morning"]
    owner.put("/api/marks", json={"entry_ids": [film], "note": "  Lent to Bram.\nAsk in May. "})
    assert said(owner.get(f"/api/entries/{film}"))["card"]["mark"]["note"] == "Lent to Bram.\nAsk in May."
    mark = said(sign("member").get(f"/api/entries/{film}"))["card"]["mark"]
    assert mark is None or mark["note"] == ""
    owner.put("/api/marks", json={"entry_ids": [film], "favourite": True})
    assert said(owner.get(f"/api/entries/{film}"))["card"]["mark"]["note"], "what is not said stays"
    owner.put("/api/marks", json={"entry_ids": [film], "note": ""})
    assert said(owner.get(f"/api/entries/{film}"))["card"]["mark"]["note"] == ""
    assert owner.put("/api/marks", json={"entry_ids": [film], "note": "x" * 4001}).status_code in (400, 422)


def test_what_one_marked_goes_out_as_a_table_and_as_a_graph(
    owner: FlaskClient, sign: Sign, household: Database
) -> None:
    films, episode = ids(household, "movie"), next(iter(ids(household, "episode").values()))
    owner.put("/api/marks", json={"entry_ids": [films["Kettle Morning"]], "rating": 8, "tags": ["=1+1", "rain"]})
    owner.put("/api/marks", json={"entry_ids": [episode], "seen": True, "note": "Again!"})
    owner.put("/api/marks", json={"entry_ids": [films[f"{SECRET} Nights"]], "favourite": True})
    owner.put("/api/marks", json={"entry_ids": [films[f"{SECRET} Nights"]], "favourite": False})
    answer = owner.get("/api/marks/file?form=csv")
    assert answer.mimetype == "text/csv" and "attachment" in answer.headers["Content-Disposition"]
    lines = list(csv.DictReader(io.StringIO(answer.text)))
    told = {line["title"]: line for line in lines}
    assert len(lines) == 2, "what keeps nothing any more is no line"
    assert (told["Kettle Morning"]["rating"], told["Kettle Morning"]["tags"]) == ("8", "'=1+1 | rain")
    seen = next(line for line in lines if line["kind"] == "episode")
    assert (seen["seen"], seen["note"], seen["season"], seen["number"]) == ("yes", "Again!", "1", "1")
    assert "Row" in seen["part_of"]
    graph = json.loads(owner.get("/api/marks/file?form=jsonld").text)["@graph"]
    assert {one["name"] for one in graph} == set(told)
    assert list(csv.DictReader(io.StringIO(sign("member").get("/api/marks/file").text))) == []
    assert owner.get("/api/marks/file?form=xml").status_code in (400, 422)


def test_marks_of_what_one_may_not_see_any_more_stay_at_home(sign: Sign, household: Database) -> None:
    films = ids(household, "movie")
    child = sign("child")
    child.put("/api/marks", json={"entry_ids": list(films.values()), "favourite": True})
    text = child.get("/api/marks/file?form=csv").text + child.get("/api/marks/file?form=jsonld").text
    assert "Kettle Morning" in text and SECRET not in text
