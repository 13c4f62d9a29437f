"""The router at home, asked by UPnP: its outside address, and ports that it passes on to this machine.

From the open specifications: UPnP Device Architecture 1.1, InternetGatewayDevice:1 and :2,
WANIPConnection and WANPPPConnection. Whatever answers on the network is hostile: only what answers
from where it says that it is gets asked.
"""

from __future__ import annotations

import asyncio
import contextlib
import ipaddress
import logging
from collections.abc import AsyncIterator, Mapping
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlsplit

from async_upnp_client.aiohttp import AiohttpRequester
from async_upnp_client.client import UpnpDevice, UpnpService
from async_upnp_client.client_factory import UpnpFactory
from async_upnp_client.const import HttpRequest
from async_upnp_client.exceptions import UpnpActionError, UpnpError
from async_upnp_client.search import async_search

from ..errors import IndiceError

__all__ = ["Passed", "Router", "find_router", "is_behind_another"]

SSDP_GROUP, SSDP_PORT = "239.255.255.250", 1900
SEARCH_SECONDS = 1
ASK_SECONDS = 4
LEASE_SECONDS = 3600
"""So long a port stays open without being asked for again: what a crash leaves behind ends by itself."""
NAME = "Indice"
_GATEWAYS = tuple(f"urn:schemas-upnp-org:device:InternetGatewayDevice:{version}" for version in (1, 2))
_CONNECTIONS = tuple(
    f"urn:schemas-upnp-org:service:{name}" for name in ("WANIPConnection:2", "WANIPConnection:1", "WANPPPConnection:1")
)
_ONLY_PERMANENT = 725
_TAKEN = {718: "router-taken", 727: "router-refused"}
_NOT_OUTSIDE = tuple(
    ipaddress.ip_network(one)
    for one in ("0.0.0.0/8", "10.0.0.0/8", "100.64.0.0/10", "169.254.0.0/16", "172.16.0.0/12", "192.168.0.0/16")
)
"""Addresses that nobody outside reaches (RFC 1918, 3927, 6598): a router that has one stands behind another."""

logging.getLogger("async_upnp_client").setLevel(logging.CRITICAL)


@dataclass(frozen=True, slots=True)
class Passed:
    """A port of the router that is passed on."""

    client: str
    port: int
    name: str


def is_behind_another(address: str) -> bool:
    """Whether a router's outside address is one that nobody outside reaches."""
    try:
        told = ipaddress.ip_address(address)
    except ValueError:
        return True
    return isinstance(told, ipaddress.IPv4Address) and any(told in one for one in _NOT_OUTSIDE)


class Router:
    """A router that lets programs open ports."""

    def __init__(self, device: UpnpDevice, service: UpnpService, source: str) -> None:
        self.name = " ".join(str(device.friendly_name or "").split())[:80] or "?"
        self.source = source
        """This machine's address, as the router sees it."""
        self._service = service

    async def outside_address(self) -> str:
        """The address under which it is reached from outside; empty when it does not know."""
        told = await self._ask("GetExternalIPAddress")
        address = str(told.get("NewExternalIPAddress") or "")
        try:
            return str(ipaddress.ip_address(address))
        except ValueError:
            return ""

    async def mapping(self, outside_port: int) -> Passed | None:
        """To whom a port is passed on; None when to nobody."""
        try:
            told = await self._ask(
                "GetSpecificPortMappingEntry", NewRemoteHost="", NewExternalPort=outside_port, NewProtocol="TCP"
            )
        except UpnpActionError:  # 714 by the specification; routers say other things as well
            return None
        return Passed(
            str(told.get("NewInternalClient") or ""),
            int(told.get("NewInternalPort") or 0),
            str(told.get("NewPortMappingDescription") or ""),
        )

    async def open(self, outside_port: int, port: int) -> None:
        """Pass a port on to this machine for an hour, or until it is closed; what is somebody else's stays theirs.

        Raises :class:`IndiceError` that says why not.
        """
        with _in_words():
            found = await self.mapping(outside_port)
            if found is not None and found.client != self.source:
                raise _problem("router-taken")
            values: dict[str, Any] = {
                "NewRemoteHost": "",
                "NewExternalPort": outside_port,
                "NewProtocol": "TCP",
                "NewInternalPort": port,
                "NewInternalClient": self.source,
                "NewEnabled": True,
                "NewPortMappingDescription": NAME,
            }
            try:
                await self._ask("AddPortMapping", **values, NewLeaseDuration=LEASE_SECONDS)
            except UpnpActionError as error:
                if error.error_code != _ONLY_PERMANENT:
                    raise
                await self._ask("AddPortMapping", **values, NewLeaseDuration=0)

    async def close(self, outside_port: int) -> None:
        """Pass a port on no longer, if it is passed on to this machine and nobody else."""
        with _in_words():
            found = await self.mapping(outside_port)
            if found is not None and found.client == self.source and found.name == NAME:
                await self._ask("DeletePortMapping", NewRemoteHost="", NewExternalPort=outside_port, NewProtocol="TCP")

    async def _ask(self, action: str, **values: Any) -> Mapping[str, Any]:
        if not self._service.has_action(action):
            raise UpnpError(f"no action {action}")
        async with asyncio.timeout(ASK_SECONDS):
            return await self._service.action(action).async_call(**values)


@contextlib.contextmanager
def _in_words():
    try:
        yield
    except UpnpActionError as error:
        raise _problem(_TAKEN.get(error.error_code or 0, "router-refused")) from error
    except (UpnpError, TimeoutError, OSError, ValueError) as error:
        raise _problem("router-silent") from error


def _problem(reference: str) -> IndiceError:
    return IndiceError("The router does not open the port.", reference=reference)


async def find_router(sources: tuple[str, ...], *, port: int = SSDP_PORT) -> Router | None:
    """The first router that answers a search sent from one of this machine's addresses; None when none does."""
    for source in sources:
        async for location in _locations(source, port):
            with contextlib.suppress(UpnpError, TimeoutError, OSError, ValueError):
                found = await _look(location, source)
                if found is not None:
                    return found
    return None


async def _locations(source: str, port: int) -> AsyncIterator[str]:
    """Where those say their description is that answer a search for routers; only what lies at the one who answers."""
    heard: asyncio.Queue[str] = asyncio.Queue()

    async def hear(headers: Any) -> None:
        location, host = str(headers.get_lower("location") or ""), str(headers.get_lower("_host") or "")
        parts = urlsplit(location)
        if parts.scheme == "http" and parts.hostname == host:
            heard.put_nowait(location)

    async def search(gateway: str) -> None:
        await async_search(
            hear, timeout=SEARCH_SECONDS, search_target=gateway, source=(source, 0), target=(SSDP_GROUP, port)
        )

    known: set[str] = set()
    searching = asyncio.gather(*map(search, _GATEWAYS), return_exceptions=True)
    try:
        while not (searching.done() and heard.empty()):
            waiting = asyncio.ensure_future(heard.get())
            await asyncio.wait({searching, waiting}, return_when=asyncio.FIRST_COMPLETED)
            if not waiting.done():
                waiting.cancel()
                break
            location = waiting.result()
            if location not in known and len(known) < 8:
                known.add(location)
                yield location
    finally:
        searching.cancel()
        with contextlib.suppress(asyncio.CancelledError, OSError):
            await searching


async def _look(location: str, source: str) -> Router | None:
    """The router whose description lies at an address; None when it can open no ports."""

    def only_there(request: HttpRequest) -> HttpRequest:
        if urlsplit(request.url).hostname != urlsplit(location).hostname:
            raise UpnpError("It sends elsewhere.")
        return request

    async with asyncio.timeout(ASK_SECONDS):
        requester = AiohttpRequester(timeout=ASK_SECONDS)
        factory = UpnpFactory(requester, non_strict=True, on_pre_receive_service_spec=only_there)
        root = await factory.async_create_device(location)
    for wanted in _CONNECTIONS:
        service = root.find_service(wanted)
        if service is not None and urlsplit(service.control_url).hostname == urlsplit(location).hostname:
            return Router(root, service, source)
    return None
