"""Hostile files, sources and templates: each costs itself, within bounds of memory and time that are measured here."""

from __future__ import annotations

import gzip
import io
import os
import socket
import struct
import threading
import time
import zlib
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest
from PIL import Image

from indice.core.naming.convention import ConventionError, read_convention
from indice.disk.apart import embedded_thumbnails, frame_thumbnails, probe_apart, thumbnails_apart
from indice.disk.formats import MOST_BYTES
from indice.disk.workshop import TooMuch, Workshop
from indice.disk.xmp import read_xmp
from indice.sources.client import SourceClient
from indice.sources.polite import SourceDown
from indice.sources.profile import ProfileError, parse_profile
from indice.sources.transport import GuardedTransport, Refused, as_json, deadline

MEGABYTE = 1 << 20


def chunk(kind: bytes, data: bytes) -> bytes:
    """A chunk of a PNG."""
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


def png(width: int, height: int) -> bytes:
    """A PNG of one colour, small as a file however large its picture."""
    row = b"\0" + bytes(width * 3)
    packer = zlib.compressobj(9)
    body = b"".join(packer.compress(row) for _ in range(height)) + packer.flush()
    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", body) + chunk(b"IEND", b"")


@pytest.fixture(scope="module")
def bomb() -> bytes:
    """A picture of 24,000 × 24,000 in a small file."""
    return png(24_000, 24_000)


def peak_of(workshop: Workshop, work: Callable[[], Any]) -> int:
    """The most memory (bytes) that a workshop's children had while something was done."""
    most, over = [0], threading.Event()

    def look() -> None:
        while not over.wait(0.01):
            for child in list(workshop._all):
                try:
                    text = Path(f"/proc/{child.process.pid}/status").read_text()
                except OSError:
                    continue
                line = next((one for one in text.splitlines() if one.startswith("VmHWM")), "VmHWM: 0")
                most[0] = max(most[0], int(line.split()[1]) * 1024)

    watching = threading.Thread(target=look)
    watching.start()
    try:
        work()
    finally:
        over.set()
        watching.join()
    return most[0]


@pytest.fixture(scope="module")
def small() -> Iterator[Workshop]:
    """A workshop of one child."""
    made = Workshop(1, memory_bytes=512 * MEGABYTE)
    yield made
    made.close()


def test_a_picture_bomb_is_refused_before_it_is_decoded(small: Workshop, tmp_path: Path, bomb: bytes) -> None:
    assert len(bomb) < 2 * MEGABYTE

    def work() -> None:
        with pytest.raises(ValueError, match="too large"):
            small.run("thumbnails", tmp_path, bomb, (240,))

    assert peak_of(small, work) < 300 * MEGABYTE


def test_what_is_under_the_bound_of_pixels_is_held_by_the_bound_of_memory(small: Workshop, tmp_path: Path) -> None:
    large = png(13_000, 13_000)

    def work() -> None:
        with pytest.raises(ValueError, match="memory"):
            Workshop(1, memory_bytes=200 * MEGABYTE).run("thumbnails", tmp_path, large, (240,))
        with pytest.raises(ValueError, match=r"memory|damaged"):
            small_again.run("thumbnails", tmp_path, large, (240,))

    small_again = Workshop(1, memory_bytes=300 * MEGABYTE)
    try:
        assert peak_of(small_again, work) < 600 * MEGABYTE
    finally:
        small_again.close()


def test_a_large_photo_is_still_shown(tmp_path: Path) -> None:
    out = io.BytesIO()
    Image.new("RGB", (12_000, 9_000), (90, 120, 60)).save(out, "JPEG", quality=60)
    made = thumbnails_apart(tmp_path, out.getvalue())
    assert (made.width, made.height) == (12_000, 9_000)


def test_a_sparse_file_is_not_read(tmp_path: Path) -> None:
    path = tmp_path / "huge.jpg"
    with path.open("wb") as file:
        file.write(b"\xff\xd8\xff\xe0")
        file.truncate(MOST_BYTES * 10)
    with pytest.raises(ValueError, match="too large"):
        thumbnails_apart(tmp_path, path)


OTHERS = {
    "postscript": b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 100 100\n(%pipe%touch pwned) (w) file\nshowpage\n",
    "pdf": b"%PDF-1.4\n1 0 obj<</Type/Catalog>>endobj\n",
    "svg": b'<svg xmlns="http://www.w3.org/2000/svg"><image href="file:///etc/passwd"/></svg>',
}


@pytest.mark.parametrize("what", OTHERS)
@pytest.mark.parametrize("extension", ["jpg", "png", "eps"])
def test_only_pictures_are_opened_as_pictures(tmp_path: Path, what: str, extension: str) -> None:
    path = tmp_path / f"a.{extension}"
    path.write_bytes(OTHERS[what])
    with pytest.raises(ValueError, match="it is none"):
        thumbnails_apart(tmp_path, path)
    assert "none" in probe_apart(os.fsencode(path), "photo").problem


def test_a_film_that_is_a_list_of_addresses_is_opened_by_nobody(tmp_path: Path) -> None:
    with socket.create_server(("127.0.0.1", 0)) as server:
        server.settimeout(0.3)
        port = server.getsockname()[1]
        secret = tmp_path / "secret.ts"
        secret.write_bytes(b"secret")
        lists = (
            f"#EXTM3U\n#EXT-X-TARGETDURATION:10\n#EXTINF:10,\nhttp://127.0.0.1:{port}/x.ts\n#EXT-X-ENDLIST\n",
            f"ffconcat version 1.0\nfile {secret}\n",
            f"v=0\no=- 0 0 IN IP4 127.0.0.1\ns=x\nc=IN IP4 127.0.0.1\nm=video {port} RTP/AVP 96\n",
            f'<?xml version="1.0"?><MPD><Period><BaseURL>http://127.0.0.1:{port}/</BaseURL></Period></MPD>',
        )
        for number, text in enumerate(lists):
            path = tmp_path / f"{number}.mkv"
            path.write_text(text)
            assert probe_apart(os.fsencode(path), "movie").problem
            assert frame_thumbnails(tmp_path, os.fsencode(path)) is None
        with pytest.raises(TimeoutError):
            server.accept()


def test_a_task_that_takes_too_long_or_breaks_its_child_is_given_up_and_the_next_goes_on(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    made = Workshop(1)
    try:
        good = io.BytesIO()
        Image.new("RGB", (40, 30)).save(good, "PNG")
        assert made.run("thumbnails", tmp_path, good.getvalue(), (240,))["width"] == 40
        os.mkfifo(tmp_path / "pipe.jpg")
        with pytest.raises(TooMuch, match="too long"):
            made.run("thumbnails", tmp_path, tmp_path / "pipe.jpg", (240,), seconds=0.5)
        assert made.run("thumbnails", tmp_path, good.getvalue(), (240,))["width"] == 40
        (child,) = made._all
        child.process.kill()
        child.process.wait()
        assert made.run("thumbnails", tmp_path, good.getvalue(), (240,))["width"] == 40
    finally:
        made.close()


@pytest.mark.parametrize("content", [b"", b"ID3", b"fLaC" + b"\xff" * 200, b"\0" * 5000, os.urandom(3000)])
def test_broken_sound_has_no_picture(tmp_path: Path, content: bytes) -> None:
    path = tmp_path / "a.flac"
    path.write_bytes(content)
    assert embedded_thumbnails(tmp_path, os.fsencode(path)) is None
    assert probe_apart(os.fsencode(path), "track").problem


def test_nested_xmp_is_read_in_one_go() -> None:
    rdf = 'xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" xmlns:dc="http://purl.org/dc/elements/1.1/"'
    deep = (
        f"<x {rdf}>" + "<dc:subject><rdf:Bag>" * 900 + "<rdf:li>a</rdf:li>" + "</rdf:Bag></dc:subject>" * 900 + "</x>"
    )
    wide = f"<x {rdf}>" + "<dc:subject><rdf:Bag><rdf:li>a</rdf:li></rdf:Bag></dc:subject>" * 40_000 + "</x>"
    for packet in (deep, wide):
        began = time.process_time()
        read_xmp(packet.encode())
        assert time.process_time() - began < 5  # quadratic it was minutes
    plain = f"<x {rdf}><dc:subject><rdf:Bag><rdf:li>sea</rdf:li><rdf:li>kite</rdf:li></rdf:Bag></dc:subject></x>"
    assert read_xmp(plain.encode()) == {"keywords": ["sea", "kite"]}


TEMPLATES = {
    "filters": "{{ title" + "|short" * 290 + " }}",
    "brackets": "{{ " + "(" * 800 + "title" + ")" * 800 + " }}",
    "not": "{{ " + "not " * 480 + "title }}",
    "conditions": "{{ " + "title if year else (" * 60 + "title" + ")" * 60 + " }}",
    "many": "{{ title ~ " * 1 + " ~ ".join(["title"] * 280) + " }}",
    "loop": "{% for x in title %}{{ x }}{% endfor %}",
    "attribute": "{{ title.__class__.__mro__ }}",
    "call": "{{ title.upper() }}",
}


@pytest.mark.parametrize("what", TEMPLATES)
def test_templates_that_nobody_writes_are_refused_at_once(what: str) -> None:
    began = time.process_time()
    with pytest.raises(ConventionError):
        read_convention(f"name = 'X'\n[templates]\nmovie = '''{TEMPLATES[what]}'''")
    assert time.process_time() - began < 3


@pytest.mark.parametrize("number", ["1e400", "1e9", "9" * 400])
def test_endless_numbers_in_a_template_are_refused(number: str) -> None:
    with pytest.raises(ConventionError, match="too large"):
        read_convention(f"name = 'X'\n[templates]\nmovie = '''{{{{ year|pad({number}) }}}}'''")


PROFILE = """
name = "Stranger"
url = "http://source.example/reconcile"
[movie]
type = "Film"
fields = { title = "title", runtime = "length", date = "date", genres = "genres" }
"""


def serve(answers: Callable[[socket.socket, bytes], None]) -> tuple[int, threading.Event, list[bytes]]:
    """A server on loopback that answers as it likes; its port, how to end it, and what it was asked."""
    server = socket.create_server(("127.0.0.1", 0))
    server.settimeout(0.1)
    over, asked = threading.Event(), list[bytes]()

    def one(link: socket.socket) -> None:
        with link:
            link.settimeout(5)
            try:
                asked.append(link.recv(65536))
                answers(link, asked[-1])
            except OSError:
                return

    def run() -> None:
        with server:
            while not over.is_set():
                try:
                    link, _ = server.accept()
                except TimeoutError:
                    continue
                threading.Thread(target=one, args=(link,), daemon=True).start()

    threading.Thread(target=run, daemon=True).start()
    return server.getsockname()[1], over, asked


def ok(body: bytes, *more: str) -> bytes:
    """An answer."""
    head = "\r\n".join(["HTTP/1.1 200 OK", f"Content-Length: {len(body)}", "Connection: close", *more])
    return head.encode() + b"\r\n\r\n" + body


MANIFEST = b'{"name": "Stranger", "versions": ["0.2"]}'


def client_of(port: int, transport: httpx.BaseTransport | None = None) -> SourceClient:
    """A client of a server on loopback."""
    profile = parse_profile(PROFILE.replace("http://source.example", f"http://127.0.0.1:{port}"))
    return SourceClient(profile, transport=transport, sleep=lambda _: None)


def test_an_answer_that_unpacks_to_gigabytes_is_cut_off() -> None:
    packed = gzip.compress(bytes(60 * MEGABYTE), 9)
    port, over, _ = serve(lambda link, _: link.sendall(ok(packed, "Content-Encoding: gzip")))
    with client_of(port) as client, pytest.raises(SourceDown, match="larger than"):
        client.picture("/picture")
    with client_of(port) as client, pytest.raises(SourceDown, match="cannot be taken"):
        client.manifest()
    over.set()


@pytest.mark.parametrize("packing", ["br", "zstd", "gzip, gzip", "compress"])
def test_an_answer_packed_otherwise_than_asked_is_not_taken(packing: str) -> None:
    port, over, _ = serve(lambda link, _: link.sendall(ok(b"xxxx", f"Content-Encoding: {packing}")))
    with client_of(port) as client, pytest.raises(SourceDown, match="cannot be taken"):
        client.picture("/picture")
    over.set()


@pytest.mark.parametrize("part", ["head", "body"])
def test_a_source_that_drips_is_given_up(part: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("indice.sources.polite.LONGEST_SECONDS", 1.0)

    def drip(link: socket.socket, _: bytes) -> None:
        link.sendall(b"HTTP/1.1 200 OK\r\n" + (b"" if part == "head" else b"Content-Length: 9000\r\n\r\n"))
        for _ in range(100):
            link.sendall(b"X" if part == "body" else b"X-More: 1\r\n")
            time.sleep(0.1)

    port, over, _ = serve(drip)
    began = time.monotonic()
    with client_of(port) as client, pytest.raises(SourceDown, match="cannot be fetched"):
        client.picture("/picture")
    assert time.monotonic() - began < 4
    over.set()


INSIDE = [
    "http://127.0.0.1:{inner}/secret",
    "http://localhost:{inner}/secret",
    "http://[::1]:{inner}/secret",
    "http://0.0.0.0:{inner}/secret",
    "http://2130706433:{inner}/secret",
    "http://127.1:{inner}/secret",
    "http://[::ffff:127.0.0.1]:{inner}/secret",
    "http://10.0.0.1/secret",
    "http://192.168.1.1/secret",
    "http://169.254.169.254/secret",
    "http://[fe80::1]/secret",
    "http://[fd00::1]/secret",
    "http://224.0.0.1/secret",
    "http://100.64.0.1/secret",
]


@pytest.mark.parametrize("address", INSIDE)
@pytest.mark.parametrize("how", ["named", "redirected"])
def test_a_source_does_not_lead_into_the_house(address: str, how: str) -> None:
    inner, inner_over, inner_asked = serve(lambda link, _: link.sendall(ok(b"secret")))
    target = address.format(inner=inner)

    def answers(link: socket.socket, _: bytes) -> None:
        link.sendall(
            f"HTTP/1.1 302 Found\r\nLocation: {target}\r\nContent-Length: 0\r\nConnection: close\r\n\r\n".encode()
        )

    port, over, _ = serve(answers)
    with client_of(port) as client, pytest.raises(SourceDown):
        client.picture(target if how == "named" else "/picture")
    assert inner_asked == []
    over.set()
    inner_over.set()


def test_a_source_reaches_its_own_host_and_the_networks_that_its_owner_named() -> None:
    port, over, asked = serve(lambda link, _: link.sendall(ok(b"picture")))
    with client_of(port) as client:
        assert client.picture("/picture") == b"picture"
    profile = parse_profile('networks = ["127.0.0.0/8"]\n' + PROFILE)
    with SourceClient(profile, sleep=lambda _: None) as client:
        assert client.picture(f"http://127.0.0.1:{port}/other") == b"picture"
    assert len(asked) == 2
    with pytest.raises(ProfileError, match="no network"):
        parse_profile('networks = ["everything"]\n' + PROFILE)
    over.set()


def test_a_name_is_looked_up_once_and_keeps_its_meaning() -> None:
    port, over, asked = serve(lambda link, _: link.sendall(ok(b"x")))
    turns: list[str] = []

    def look_up(host: str, _: int) -> list[str]:
        turns.append(host)
        return ["93.184.216.34"] if len(turns) == 1 else ["127.0.0.1"]

    transport = GuardedTransport("http://source.example", look_up=look_up)
    request = httpx.Request("GET", f"http://pictures.example:{port}/x")
    first = transport._address(request.url, request)
    assert first == transport._address(request.url, request) == "93.184.216.34" and turns == ["pictures.example"]
    mixed = GuardedTransport("http://source.example", look_up=lambda *_: ["93.184.216.34", "127.0.0.1"])
    with pytest.raises(Refused):
        mixed._address(request.url, request)
    assert asked == []
    over.set()


def test_redirects_without_end_are_told() -> None:
    def answers(link: socket.socket, _: bytes) -> None:
        link.sendall(b"HTTP/1.1 302 Found\r\nLocation: /again\r\nContent-Length: 0\r\nConnection: close\r\n\r\n")

    port, over, _ = serve(answers)
    with client_of(port) as client, pytest.raises(SourceDown):
        client.manifest()
    with client_of(port) as client, pytest.raises(SourceDown):
        client.picture("/picture")
    over.set()


CELLS: list[tuple[str, Any, Any]] = [
    ("title", {"str": "Kite\ud800"}, "Kite\ufffd"),
    ("title", {"str": "Kite\0"}, "Kite\ufffd"),
    ("title", {"int": 1931}, "1931"),
    ("title", {"str": ["Kite"]}, None),
    ("title", [["Kite"]], None),
    ("title", {"bool": True}, None),
    ("runtime", {"float": float("inf")}, None),
    ("runtime", {"str": "102 min"}, 6120.0),
    ("runtime", {"str": "-5"}, None),
    ("runtime", {"int": 10**30}, None),
    ("date", {"str": "1999-04-02"}, "1999-04-02"),
    ("date", {"int": 1999}, "1999"),
    ("date", {"str": "soon"}, None),
    ("genres", {"id": 7, "name": None}, {"id": "7", "name": ""}),
    ("genres", {"id": ["x"]}, None),
    ("genres", {"float": float("nan")}, None),
]


@pytest.mark.parametrize(("field", "cell", "wanted"), CELLS)
def test_a_cell_of_another_type_costs_itself(field: str, cell: Any, wanted: Any) -> None:
    profile = parse_profile(PROFILE)
    property_ = profile.kinds["movie"].fields[field].property

    def service(request: httpx.Request) -> httpx.Response:
        if request.method == "GET":
            return httpx.Response(200, content=MANIFEST)
        import json

        row = {property_: [cell], "title" if property_ != "title" else "date": [{"str": "1999"}]}
        return httpx.Response(200, content=json.dumps({"rows": {"m1": row}}).encode())

    client = SourceClient(profile, transport=httpx.MockTransport(service), sleep=lambda _: None)
    fields = client.extend(["m1"], "movie")["m1"]
    assert fields[field] == [wanted]
    other = "title" if property_ != "title" else "date"
    assert fields[other] == ["1999"]


ROWS: list[tuple[Any, list[str]]] = [
    ([{"id": 7, "name": "Kite", "score": float("nan"), "type": "Film"}], ["7"]),
    (
        [{"id": ["x"], "name": "Kite"}, {"id": "ok", "name": ["Kite"], "score": "high", "type": [7, {"id": "Film"}]}],
        ["ok"],
    ),
    (["no row", None, 7, {"name": "without"}], []),
    ({"id": "x"}, []),
    (None, []),
]


@pytest.mark.parametrize(("rows", "ids"), ROWS)
def test_candidates_of_any_shape_are_taken_or_left(rows: Any, ids: list[str]) -> None:
    import json

    def service(request: httpx.Request) -> httpx.Response:
        if request.method == "GET":
            return httpx.Response(200, content=MANIFEST)
        return httpx.Response(200, content=json.dumps({"q0": {"result": rows}}).encode())

    client = SourceClient(parse_profile(PROFILE), transport=httpx.MockTransport(service), sleep=lambda _: None)
    (found,) = client.reconcile([{"query": "Kite"}])
    assert [row["id"] for row in found] == ids
    assert all(isinstance(row["score"], float) and isinstance(row["name"], str) for row in found)


@pytest.mark.parametrize("content", [b"[" * 200_000, b'{"a": 1' + b"0" * 10_000 + b"}", b'{"a": NaN}', b"\xff", b""])
def test_any_json_is_a_value_or_a_word(content: bytes) -> None:
    try:
        as_json(content)
    except ValueError:
        return


def test_deadlines_nest_and_end() -> None:
    with deadline(10), deadline(0.0):
        port, over, _ = serve(lambda link, _: link.sendall(ok(MANIFEST)))
        transport = GuardedTransport(f"http://127.0.0.1:{port}")
        with pytest.raises(httpx.TimeoutException):
            transport.handle_request(httpx.Request("GET", f"http://127.0.0.1:{port}/"))
    assert transport.handle_request(httpx.Request("GET", f"http://127.0.0.1:{port}/")).status_code == 200
    over.set()
