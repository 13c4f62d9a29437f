"""The client of the subtitle exchange, against a service that is written from
`docs/subtitles.md` alone, and often errs."""

from __future__ import annotations

import json
from typing import Any

import httpx
import pytest

from indice.core.playing.offered import Wanted
from indice.sources.polite import SourceDown, SourceKeyWrong
from indice.sources.profile import ProfileError
from indice.sources.text_profile import is_text_profile, parse_text_profile
from indice.sources.texts import TextServiceClient

PROFILE = 'name = "Undersea"\nserves = "subtitles"\nurl = "http://texts.test/x/"\nlanguages = ["EN", "de"]\n'
WANTED = Wanted(titles=("Tin Roof",), languages=("en", "fr"), seconds=61.0, file_name="Tin Roof.mkv", digest="cafe")


class Service:
    """Answers as it is told to; keeps what it was asked."""

    def __init__(self, rows: Any = (), *, key: str = "", content: bytes = b"", manifest: Any = None) -> None:
        self.rows, self.key, self.content = rows, key, content
        self.manifest = manifest or {"protocol": "subtitle-exchange", "version": 1, "name": "Undersea"}
        if key:
            self.manifest["authentication"] = {"type": "apiKey", "in": "query", "name": "pass"}
        self.asked: list[dict[str, Any]] = []

    def __call__(self, request: httpx.Request) -> httpx.Response:
        if request.url.path == "/x":
            return httpx.Response(200, json=self.manifest)
        if self.key and request.url.params.get("pass") != self.key:
            return httpx.Response(403)
        if request.url.path == "/x/search":
            self.asked.append(json.loads(request.content))
            return httpx.Response(200, json={"texts": self.rows} if not isinstance(self.rows, str) else self.rows)
        if request.url.raw_path.startswith(b"/x/texts/a%20b%2F"):
            return httpx.Response(200, content=iter([self.content]))
        return httpx.Response(404)


def client(service: Service, key: str = "") -> TextServiceClient:
    return TextServiceClient(parse_text_profile(PROFILE), key=key, transport=httpx.MockTransport(service))


def test_it_asks_for_the_languages_that_the_service_has_and_says_what_is_known() -> None:
    service = Service()
    assert client(service).search(WANTED, size_bytes=9) == []
    assert service.asked == [
        {
            "titles": ["Tin Roof"],
            "languages": ["en"],
            "seconds": 61.0,
            "file": {"name": "Tin Roof.mkv", "bytes": 9, "digest": "cafe"},
        }
    ]


def test_a_language_that_it_has_not_is_not_asked_for() -> None:
    service = Service()
    assert client(service).search(Wanted(titles=("x",), languages=("fr",))) == []
    assert service.asked == []


def test_rows_that_are_not_as_they_should_be_cost_themselves_alone() -> None:
    good = {"id": "1", "language": "EN", "title": "Tin Roof", "seconds": 61, "for_deaf": True, "digests": ["cafe"]}
    bad = [{}, {"id": "2"}, "x", None, {"id": "3", "language": "en", "form": "exe"}, {"id": 4, "language": ["en"]}]
    bad += [{"id": "5", "language": "en", "seconds": -1}, {"id": "6", "language": "en", "year": "soon"}]
    (found,) = client(Service([*bad, good])).search(WANTED)
    assert (found.id, found.language, found.is_for_deaf, found.digests) == ("1", "en", True, ("cafe",))


@pytest.mark.parametrize("rows", ["nothing", {"a": 1}, None])
def test_an_answer_of_another_shape_is_said(rows: Any) -> None:
    with pytest.raises(SourceDown, match="Undersea"):
        client(Service(rows)).search(WANTED)


@pytest.mark.parametrize("manifest", [{"name": "Undersea"}, {"protocol": "subtitle-exchange", "version": 2}, []])
def test_another_protocol_or_version_is_refused(manifest: Any) -> None:
    with pytest.raises(SourceDown, match="no subtitle-exchange 1"):
        client(Service(manifest=manifest or [1])).search(WANTED)


def test_the_key_goes_where_the_manifest_says_and_a_wrong_one_is_told() -> None:
    service = Service([{"id": "1", "language": "en"}], key="opensesame", content=b"words")
    assert len(client(service, "opensesame").search(WANTED)) == 1
    with pytest.raises(SourceKeyWrong):
        client(service, "guess").search(WANTED)


def test_a_text_is_fetched_by_its_id_whatever_signs_that_holds() -> None:
    assert client(Service(content=b"\xffwords")).fetch("a b/") == b"\xffwords"
    with pytest.raises(SourceDown, match="not there"):
        client(Service()).fetch("../../secret")


def test_a_text_of_monstrous_size_is_not_taken() -> None:
    with pytest.raises(SourceDown, match="cannot be taken"):
        client(Service(content=b"x" * 5_000_000)).fetch("a b/")


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("name = ", "TOML"),
        ('url = "http://x.test"', "no name"),
        ('name = "A"\nurl = "ftp://x.test"', "no web address"),
        ('name = "A"\nurl = "http://x.test"\nlanguages = "en"', "list of words"),
        ('name = "A"\nurl = "http://x.test"\nnetworks = ["home"]', "no network"),
    ],
)
def test_a_profile_that_is_wrong_says_where(text: str, said: str) -> None:
    with pytest.raises(ProfileError, match=said):
        parse_text_profile(text)


def test_what_kind_a_profile_is() -> None:
    assert is_text_profile(PROFILE)
    assert not is_text_profile('name = "Almanac"\nurl = "http://x.test"\n[movie.fields]\ntitle = "title"')
