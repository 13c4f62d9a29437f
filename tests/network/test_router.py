"""The router at home: found, asked and left as it was, whatever it is like. The
made-up one answers by the open protocol."""

from __future__ import annotations

import asyncio
import socket
import threading
from collections.abc import Callable, Iterator
from functools import cache, partial

import pytest

from indice.errors import IndiceError
from indice.network.presence import Presence, is_loopback, listening_addresses
from indice.network.router import LEASE_SECONDS, Router, find_router, is_behind_another
from indice.network.wishes import Standing, Wishes
from indice.standins.router import FakeRouter

HERE = ("127.0.0.1",)
MakeRouter = Callable[..., FakeRouter]


@cache
def port() -> int:
    """Where the routers of this process hear searches: tests that run beside it have others."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as link:
        link.bind(("127.0.0.1", 0))
        return int(link.getsockname()[1])


find_here = partial(find_router, port=port())


@pytest.fixture
def make_router() -> Iterator[MakeRouter]:
    made: list[FakeRouter] = []

    def make(**what: object) -> FakeRouter:
        router = FakeRouter(port=port(), **what)  # type: ignore[arg-type]
        router.start()
        made.append(router)
        return router

    yield make
    for one in made:
        one.stop()


def found() -> Router:
    router = asyncio.run(find_here(HERE))
    assert router is not None
    return router


def present(tell: Callable[[Standing], None] = lambda _: None) -> Presence:
    presence = Presence(7800, HERE, secure=False, tell=tell)
    presence.find = find_here
    return presence


def asked(router: Router, what: str, *values: int) -> object:
    return asyncio.run(getattr(router, what)(*values))


@pytest.mark.parametrize(
    ("address", "behind"),
    [
        ("203.0.113.9", False),
        ("192.168.1.1", True),
        ("10.3.0.9", True),
        ("172.20.0.4", True),
        ("172.32.0.4", False),
        ("100.64.8.1", True),
        ("100.128.8.1", False),
        ("0.0.0.0", True),
        ("2001:db8::9", False),
        ("", True),
        ("router", True),
    ],
)
def test_an_outside_address_that_nobody_reaches_is_told_from_one_that_is(address: str, behind: bool) -> None:
    assert is_behind_another(address) is behind


@pytest.mark.parametrize(
    ("host", "alone"),
    [("127.0.0.1", True), ("[::1]", True), ("localhost", True), ("0.0.0.0", False), ("192.0.2.4", False)],
)
def test_what_listens_on_this_machine_alone_asks_nobody_else(host: str, alone: bool) -> None:
    assert is_loopback(host) is alone
    assert (listening_addresses(host) == HERE) is alone


def test_without_a_router_there_is_none() -> None:
    assert asyncio.run(find_here(HERE)) is None


def test_a_port_is_opened_passed_on_and_closed(make_router: MakeRouter) -> None:
    router = make_router(outside="127.0.0.9")
    with socket.create_server(("127.0.0.1", 0)) as inside:
        inner = inside.getsockname()[1]

        def answer() -> None:
            link, _ = inside.accept()
            with link:
                link.sendall(b"from inside")

        threading.Thread(target=answer, daemon=True).start()
        known = found()
        assert asked(known, "outside_address") == "127.0.0.9"
        assert asked(known, "mapping", 18_443) is None
        asked(known, "open", 18_443, inner)
        opened = router.opened[18_443]
        assert (opened.client, opened.port, opened.name) == ("127.0.0.1", inner, "Indice")
        assert opened.until is not None, "what a crash leaves behind ends by itself"
        with socket.create_connection(("127.0.0.9", 18_443), timeout=5) as outside:
            assert outside.recv(100) == b"from inside"
        asked(known, "close", 18_443)
        assert not router.opened
        with pytest.raises(OSError):
            socket.create_connection(("127.0.0.9", 18_443), timeout=1).close()


def test_what_others_have_opened_stays_theirs(make_router: MakeRouter) -> None:
    router = make_router()
    told = {"NewProtocol": "TCP", "NewExternalPort": "8443", "NewInternalPort": "22", "NewInternalClient": "192.0.2.7"}
    router.act("AddPortMapping", told)
    with pytest.raises(IndiceError) as problem:
        asked(found(), "open", 8443, 7800)
    assert problem.value.reference == "router-taken"
    asked(found(), "close", 8443)
    assert router.opened[8443].client == "192.0.2.7"


def test_one_that_knows_no_leases_opens_for_good_and_closes(make_router: MakeRouter) -> None:
    router = make_router(permanent=True)
    known = found()
    asked(known, "open", 8443, 7800)
    assert router.opened[8443].until is None
    asked(known, "close", 8443)
    assert not router.opened


def test_one_that_refuses_says_so(make_router: MakeRouter) -> None:
    make_router(refuse=True)
    with pytest.raises(IndiceError) as problem:
        asked(found(), "open", 8443, 7800)
    assert problem.value.reference == "router-refused"


def test_one_that_is_gone_meanwhile_is_said_to_be_silent(make_router: MakeRouter) -> None:
    router = make_router()
    known = found()
    router.stop()
    with pytest.raises(IndiceError) as problem:
        asked(known, "open", 8443, 7800)
    assert problem.value.reference == "router-silent"


@pytest.mark.parametrize(
    ("spoilt", "by"),
    [
        ("location", "http://192.0.2.9:80/router.xml"),
        ("location", "file:///etc/passwd"),
        ("scpd", "http://192.0.2.9/line.xml"),
        ("control", "http://192.0.2.9/control"),
        ("description", "<!DOCTYPE a [<!ENTITY b 'bbbb'>]><root>&b;</root>"),
        ("description", "<root>"),
    ],
)
def test_what_points_elsewhere_or_is_no_description_is_not_asked(
    make_router: MakeRouter, monkeypatch: pytest.MonkeyPatch, spoilt: str, by: str
) -> None:
    from indice.standins import router as standin

    page = standin._DESCRIPTION
    if spoilt == "scpd":
        page = page.replace("/line.xml", by)
    elif spoilt == "control":
        page = page.replace("/control", by)
    elif spoilt == "description":
        page = by
    monkeypatch.setattr(standin, "_DESCRIPTION", page)
    router = make_router()
    if spoilt == "location":
        router.location = by
    assert asyncio.run(find_here(HERE)) is None
    assert not router.asked


def test_presence_follows_what_is_wanted_and_takes_it_back(make_router: MakeRouter) -> None:
    router = make_router()
    told: list[Standing] = []
    presence = present(told.append)

    async def live() -> None:
        await presence.follow(Wishes(), 0)
        assert not told and not router.asked, "nothing is done unasked"
        await presence.follow(Wishes(outside_port=8443), 1)
        assert told[-1] == Standing(router="Made-up router", outside_address="203.0.113.9", outside_port=8443)
        asked_before = len(router.asked)
        await presence.follow(Wishes(outside_port=8443), 2)
        assert len(router.asked) == asked_before, "it is renewed when a third of the lease is over"
        await presence.follow(Wishes(outside_port=8443), 2 + LEASE_SECONDS / 3)
        assert router.asked[asked_before:].count("AddPortMapping") == 1
        await presence.follow(Wishes(outside_port=9443), 3 + LEASE_SECONDS / 3)
        assert list(router.opened) == [9443], "another port takes the place of the one before"
        await presence.end()

    asyncio.run(live())
    assert not router.opened and told[-1] == Standing()


def test_presence_says_why_not_and_tries_again_after_a_minute(make_router: MakeRouter) -> None:
    router = make_router(refuse=True)
    presence = present()

    async def live() -> None:
        await presence.follow(Wishes(outside_port=8443), 0)
        assert presence.standing.problem == "router-refused" and presence.standing.outside_port == 0
        router.refuse = False
        await presence.follow(Wishes(outside_port=8443), 30)
        assert presence.standing.outside_port == 0
        await presence.follow(Wishes(outside_port=8443), 61)
        assert presence.standing.outside_port == 8443 and presence.standing.problem == ""
        await presence.end()

    asyncio.run(live())


def test_presence_announces_itself_by_mdns() -> None:
    from zeroconf import IPVersion
    from zeroconf.asyncio import AsyncServiceInfo, AsyncZeroconf

    kind = "_http._tcp.local."

    async def look(name: str) -> AsyncServiceInfo | None:
        async with AsyncZeroconf(interfaces=list(HERE), ip_version=IPVersion.V4Only) as other:
            info = AsyncServiceInfo(kind, f"{name}.{kind}")
            return info if await info.async_request(other.zeroconf, 1500) else None

    async def live() -> None:
        presence = Presence(7812, HERE, secure=False, tell=lambda _: None)
        await presence.follow(Wishes(announce=True), 0)
        name = presence.standing.announced
        assert name.startswith("Indice")
        seen = await look(name)
        assert seen is not None and seen.port == 7812 and seen.parsed_addresses() == ["127.0.0.1"]
        assert seen.properties[b"path"] == b"/"
        await presence.follow(Wishes(), 1)
        assert presence.standing.announced == "" and await look(name) is None

    asyncio.run(live())
