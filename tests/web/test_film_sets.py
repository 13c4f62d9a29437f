"""What a set of films lacks is told to who keeps the catalog, and to nobody else."""

from __future__ import annotations

from sqlalchemy import select

from indice.core.catalog.lacking import SetFilm
from indice.store.database import Database
from indice.store.film_sets import KnownSet, keep_sets
from indice.store.models import Entry, Fact, Library, Source
from indice.store.traits import settle_traits

from .kettle import Sign


def test_a_member_is_not_told_of_a_film_by_its_absence(sign: Sign, household: Database) -> None:
    with household.begin() as db:
        source = Source(name="First", url="http://127.0.0.1:1/", profile="")
        db.add(source)
        db.flush()
        film = db.scalars(
            select(Entry).join(Library).where(Library.name == "Films", Entry.kind == "movie").order_by(Entry.id)
        ).first()
        assert film is not None
        film.source_id, film.external_id = source.id, "k1"
        db.add(Fact(entry_id=film.id, field="set", origin="source:First", value={"v": "Kettle films"}))
        ones = (SetFilm("k1", film.title, "1990"), SetFilm("k2", "The Kettle Cellar", "1994"))
        keep_sets(db, source.id, {"s": KnownSet("Kettle films", ones)})
    with household.begin() as db:
        settle_traits(db, limit=1000)
    for name, told in (("owner", ["The Kettle Cellar"]), ("librarian", ["The Kettle Cellar"]), ("member", [])):
        browser = sign(name)
        page = browser.get("/api/with?field=set&value=Kettle films").get_json()
        assert len(page["roles"][0]["entries"]) == 1
        assert [one["title"] for one in page["lacks"]] == told, name
        (group,) = browser.get("/api/shelves/films/by/set").get_json()["groups"]
        assert [one["title"] for one in group["lacks"]] == told, name
    assert sign("member").get("/api/missing").status_code == 403
