"""Towns by their places; the list is one of real towns, so only what any such list must say is asked."""

from __future__ import annotations

import re

from indice.disk.towns import towns_at
from indice.disk.workshop import workshop


def test_in_a_city_at_sea_and_nowhere() -> None:
    city, sea, pole = towns_at([(52.52, 13.40), (-48.9, -123.4), (-90.0, 0.0)])
    assert city["country"] == "DE" and city["town"]
    assert sea == {} and pole == {}
    assert towns_at([]) == []


def test_far_from_any_town_the_country_is_told_alone() -> None:
    (told,) = towns_at([(23.5, 11.0)])
    assert set(told) <= {"country"}


def test_by_the_workshop() -> None:
    found = workshop().run("towns", [[52.52, 13.40], [48.2, 16.37]])
    assert [one["country"] for one in found] == ["DE", "AT"]
    assert all(re.fullmatch(r"[A-Z]{2}", one["country"]) for one in found)
