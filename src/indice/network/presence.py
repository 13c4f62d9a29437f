"""Sees to it that the network is as the owner wants it, as long as Indice runs:
announced, and with its port open at the router.

A process of its own beside the web server (`python -m indice.children PARENT network PORT`), which runs
only while something is wanted. When it is told to end it takes back what it has done.
"""

from __future__ import annotations

import asyncio
import contextlib
import ipaddress
import signal
import socket
from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path

from zeroconf import Error as ZeroconfError
from zeroconf import IPVersion, NonUniqueNameException, ServiceInfo
from zeroconf.asyncio import AsyncZeroconf

from ..disk.certificate import own_addresses
from ..errors import IndiceError
from ..settings import Settings
from .router import LEASE_SECONDS, NAME, Router, find_router
from .wishes import Standing, Wishes, read_standing, read_wishes, write_standing

__all__ = ["Presence", "is_loopback", "listening_addresses", "see_to_network"]

LOOK_EVERY_SECONDS = 1.0
AGAIN_SECONDS = 60.0
"""So long after a failure, or after the line was lost, it is tried again."""
RENEW_SECONDS = LEASE_SECONDS / 3


def is_loopback(host: str) -> bool:
    """Whether a name or address to listen on means this machine alone."""
    try:
        return ipaddress.ip_address(host.strip("[]")).is_loopback
    except ValueError:
        return host == "localhost"


def listening_addresses(host: str) -> tuple[str, ...]:
    """This machine's addresses (IPv4) on the networks that it listens on; on
    the loopback nobody but itself is asked."""
    host = host.strip("[]")
    if is_loopback(host):
        return ("127.0.0.1",)
    own = [one for one in own_addresses() if ipaddress.ip_address(one).version == 4]
    return tuple(own) if host in ("0.0.0.0", "::") else (host,)


class Presence:
    """What is announced and opened; `addresses` are this machine's on the networks that it listens on."""

    def __init__(self, port: int, addresses: Sequence[str], *, secure: bool, tell: Callable[[Standing], None]) -> None:
        self.port = port
        self.find = find_router
        self.addresses = tuple(addresses)
        self.secure = secure
        self.standing = Standing()
        self._tell = tell
        self._zeroconf: AsyncZeroconf | None = None
        self._router: Router | None = None
        self._again_at = 0.0

    async def follow(self, wishes: Wishes, now: float) -> None:
        """Bring it to what is wanted, at a moment of a steady clock in seconds."""
        before = self.standing
        if wishes.announce != (self._zeroconf is not None):
            await (self._announce() if wishes.announce else self._be_silent())
        opened = self.standing.outside_port
        if opened and opened != wishes.outside_port:
            await self.close(opened)
            self._again_at = 0.0
        if not wishes.outside_port:
            self._say(problem="")
        elif now >= self._again_at:
            well = await self._open(wishes.outside_port)
            self._again_at = now + (RENEW_SECONDS if well else AGAIN_SECONDS)
        if self.standing != before:
            self._tell(self.standing)

    async def end(self) -> None:
        """Take back everything."""
        if self.standing.outside_port:
            await self.close(self.standing.outside_port)
        await self._be_silent()
        self._say(problem="")
        self._tell(self.standing)

    def _say(self, **told: str | int) -> None:
        self.standing = replace(self.standing, **told)  # type: ignore[arg-type]

    async def _open(self, outside_port: int) -> bool:
        router = self._router or await self.find(self.addresses)
        if router is None:
            self._say(outside_port=0, router="", outside_address="", problem="router-none")
            return False
        try:
            await router.open(outside_port, self.port)
            address = await router.outside_address()
        except IndiceError as error:
            self._router = None
            self._say(outside_port=0, router=router.name, problem=error.reference)
            return False
        except Exception:  # the router's own words for its address may be anything
            address = ""
        self._router = router
        self._say(outside_port=outside_port, router=router.name, outside_address=address, problem="")
        return True

    async def close(self, outside_port: int) -> None:
        """Have a port passed on no longer, also one that a process before this one had opened."""
        router = self._router or await self.find(self.addresses)
        if router is not None:
            with contextlib.suppress(IndiceError):
                await router.close(outside_port)
        self._router = None
        self._say(outside_port=0, router="", outside_address="")

    async def _announce(self) -> None:
        """By mDNS and DNS-SD (RFC 6762, 6763): `_http._tcp`, and `_https._tcp` where that is what is spoken."""
        zeroconf = AsyncZeroconf(interfaces=list(self.addresses), ip_version=IPVersion.V4Only)
        self._zeroconf = zeroconf
        host = f"{socket.gethostname().partition('.')[0]}.local."
        packed = [socket.inet_aton(one) for one in self.addresses]
        for kind in ("_http._tcp.local.", *(("_https._tcp.local.",) if self.secure else ())):
            told = ServiceInfo(
                kind, f"{NAME}.{kind}", self.port, addresses=packed, properties={"path": "/"}, server=host
            )
            try:
                await zeroconf.async_register_service(told, allow_name_change=True)
            except (NonUniqueNameException, ZeroconfError, OSError):
                continue
            self._say(announced=told.name.removesuffix(f".{kind}"))

    async def _be_silent(self) -> None:
        if self._zeroconf is not None:
            zeroconf, self._zeroconf = self._zeroconf, None
            await zeroconf.async_unregister_all_services()
            await zeroconf.async_close()
        self._say(announced="")


async def _stay(home: Path, presence: Presence, *, announce: bool) -> None:
    loop = asyncio.get_running_loop()
    ended = asyncio.Event()
    for one in (signal.SIGTERM, signal.SIGINT):
        loop.add_signal_handler(one, ended.set)
    left = read_standing(home).outside_port
    if left and left != read_wishes(home, announce=announce).outside_port:
        await presence.close(left)  # of a process that was killed
    while not ended.is_set():
        await presence.follow(read_wishes(home, announce=announce), loop.time())
        with contextlib.suppress(TimeoutError):
            await asyncio.wait_for(ended.wait(), LOOK_EVERY_SECONDS)
    await presence.end()


def see_to_network(settings: Settings, port: int, *, secure: bool) -> None:
    """See to it until told to end; `port` is where the web server listens."""
    home = settings.home
    presence = Presence(
        port, listening_addresses(settings.host), secure=secure, tell=lambda standing: write_standing(home, standing)
    )
    presence.find = partial(find_router, port=settings.ssdp_port)
    asyncio.run(_stay(home, presence, announce=settings.announce))
