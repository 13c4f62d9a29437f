"""How a source is reached: only where it may be, within a time for the whole, and with a bound on what comes back.

A source is a stranger. What it names (pictures, previews, a new address) may lie at its own host, at a public
address, or in a network that the owner has named; never at another machine of the house. A name is looked up once and
kept, so that it cannot mean something else a moment later; redirects pass the same door.
"""

from __future__ import annotations

import contextlib
import ipaddress
import json
import socket
import threading
import time
import zlib
from collections.abc import Callable, Generator, Iterator, Sequence
from typing import Any

import httpcore
import httpx

from ..core.facts.clean import clean_value

__all__ = ["GuardedTransport", "Refused", "TooLarge", "as_json", "deadline", "read_capped"]

LARGEST_LIST = 20_000
_clock = threading.local()


class Refused(httpx.TransportError):
    """An address that a source may not name."""


class TooLarge(ValueError):
    """An answer that is larger than it may be, or packed in a way that is not known."""


@contextlib.contextmanager
def deadline(seconds: float) -> Generator[None]:
    """Everything that this thread asks for inside must be there by then, headers and all."""
    before = getattr(_clock, "until", None)
    _clock.until = time.monotonic() + seconds
    try:
        yield
    finally:
        _clock.until = before


def _left(timeout: float | None) -> float | None:
    until = getattr(_clock, "until", None)
    if until is None:
        return timeout
    left = until - time.monotonic()
    if left <= 0:
        raise httpcore.ReadTimeout("it takes too long")
    return left if timeout is None else min(left, timeout)


class _TimedStream(httpcore.NetworkStream):
    """A connection that heeds the deadline with every byte."""

    def __init__(self, inner: httpcore.NetworkStream) -> None:
        self._inner = inner

    def read(self, max_bytes: int, timeout: float | None = None) -> bytes:
        return self._inner.read(max_bytes, _left(timeout))

    def write(self, buffer: bytes, timeout: float | None = None) -> None:
        self._inner.write(buffer, _left(timeout))

    def close(self) -> None:
        self._inner.close()

    def start_tls(self, ssl_context: Any, server_hostname: str | None = None, timeout: float | None = None) -> Any:
        return _TimedStream(self._inner.start_tls(ssl_context, server_hostname, _left(timeout)))

    def get_extra_info(self, info: str) -> Any:
        return self._inner.get_extra_info(info)


class _TimedBackend(httpcore.SyncBackend):
    def connect_tcp(
        self,
        host: str,
        port: int,
        timeout: float | None = None,
        local_address: str | None = None,
        socket_options: Any = None,
    ) -> httpcore.NetworkStream:
        return _TimedStream(super().connect_tcp(host, port, _left(timeout), local_address, socket_options))


Look = Callable[[str, int], Sequence[str]]


def _look_up(host: str, port: int) -> Sequence[str]:
    """Addresses of a name; raises OSError when it has none."""
    found = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)
    return list(dict.fromkeys(str(info[4][0]) for info in found))


class GuardedTransport(httpx.BaseTransport):
    """Reaches a source's own address, and public ones. `networks` are private ones that the owner has named."""

    def __init__(self, home: str, *, networks: Sequence[str] = (), look_up: Look = _look_up) -> None:
        self._home = _origin(httpx.URL(home))
        self._networks = [ipaddress.ip_network(one, strict=False) for one in networks]
        self._look_up = look_up
        self._known: dict[tuple[str, int], str] = {}
        self._pool = httpcore.ConnectionPool(
            ssl_context=httpx.create_ssl_context(),
            max_connections=8,
            max_keepalive_connections=4,
            network_backend=_TimedBackend(),
        )

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        """Send a request to where its host was first found."""
        url = request.url
        if url.scheme not in ("http", "https") or not url.host:
            raise Refused(f"{url.scheme} is no way to reach it", request=request)
        address = self._address(url, request)
        asked = httpcore.Request(
            method=request.method,
            url=httpcore.URL(scheme=url.raw_scheme, host=address.encode("ascii"), port=url.port, target=url.raw_path),
            headers=request.headers.raw,
            content=request.stream,  # pyright: ignore[reportArgumentType]
            extensions={**request.extensions, "sni_hostname": url.host},
        )
        with _as_httpx(request):
            answer = self._pool.handle_request(asked)
        return httpx.Response(
            status_code=answer.status,
            headers=answer.headers,
            stream=_Body(answer, request),
            extensions=answer.extensions,
        )

    def _address(self, url: httpx.URL, request: httpx.Request) -> str:
        origin = _origin(url)
        key = (origin[1], origin[2])
        if key not in self._known:
            try:
                found = list(self._look_up(*key))
            except (OSError, UnicodeError) as error:
                raise httpx.ConnectError(f"{url.host} is not found", request=request) from error
            if origin != self._home and not all(self._is_allowed(one) for one in found):
                raise Refused(f"{url.host} lies inside the house, where a source may not lead", request=request)
            if not found:
                raise httpx.ConnectError(f"{url.host} is not found", request=request)
            self._known[key] = found[0]
        return self._known[key]

    def _is_allowed(self, text: str) -> bool:
        try:
            address = ipaddress.ip_address(text.partition("%")[0])
        except ValueError:
            return False
        if isinstance(address, ipaddress.IPv6Address) and address.ipv4_mapped is not None:
            address = address.ipv4_mapped
        if any(address.version == network.version and address in network for network in self._networks):
            return True
        return address.is_global and not address.is_multicast

    def close(self) -> None:
        """Close all connections."""
        self._pool.close()


def _origin(url: httpx.URL) -> tuple[str, str, int]:
    return url.scheme, url.host.lower(), url.port or (443 if url.scheme == "https" else 80)


class _Body(httpx.SyncByteStream):
    def __init__(self, answer: httpcore.Response, request: httpx.Request) -> None:
        self._answer = answer
        self._request = request

    def __iter__(self) -> Iterator[bytes]:
        with _as_httpx(self._request):
            yield from self._answer.iter_stream()

    def close(self) -> None:
        self._answer.close()


@contextlib.contextmanager
def _as_httpx(request: httpx.Request) -> Generator[None]:
    """What goes wrong below, in the words of the client above."""
    try:
        yield
    except httpcore.TimeoutException as error:
        raise httpx.ReadTimeout(str(error) or "it takes too long", request=request) from error
    except (httpcore.NetworkError, httpcore.ProtocolError, httpcore.UnsupportedProtocol, OSError) as error:
        raise httpx.ConnectError(str(error) or type(error).__name__, request=request) from error


def read_capped(answer: httpx.Response, most_bytes: int) -> bytes:
    """The body of a streamed answer, unpacked; raises :class:`TooLarge` as soon as it is larger than it may be."""
    if answer.is_stream_consumed:  # an answer that was never on the wire
        return answer.content
    packed = answer.headers.get("content-encoding", "identity").strip().lower()
    if packed in ("", "identity"):
        unpack = None
    elif packed in ("gzip", "x-gzip", "deflate"):
        unpack = zlib.decompressobj(zlib.MAX_WBITS | 32)
    else:
        raise TooLarge(f"it is packed as {packed[:40]}, which was not asked for")
    body = bytearray()
    for chunk in answer.iter_raw():
        if unpack is None:
            body += chunk
        else:
            try:
                body += unpack.decompress(chunk, most_bytes + 1 - len(body))
            except zlib.error as error:
                raise TooLarge("it cannot be unpacked") from error
        if len(body) > most_bytes:
            raise TooLarge(f"it is larger than {most_bytes // 1_000_000 or 1} MB")
    return bytes(body)


def as_json(content: bytes) -> Any:
    """The value of JSON from outside, cleaned; raises ValueError when it is none."""

    def whole(digits: str) -> int | None:
        return int(digits) if len(digits) < 19 else None

    try:
        return clean_value(json.loads(content, parse_int=whole, parse_constant=lambda _: None), most=LARGEST_LIST)
    except RecursionError as error:
        raise ValueError("it is nested too deeply") from error
