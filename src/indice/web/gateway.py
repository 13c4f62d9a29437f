"""What stands between the line and the application: proxies that are named as
trusted, and networks that may come in."""

from __future__ import annotations

import ipaddress
from collections.abc import Callable, Iterable, Sequence
from typing import Any

__all__ = ["Networks", "TrustedProxies", "is_away", "read_networks"]

_AT_HOME = tuple(
    ipaddress.ip_network(one)
    for one in (
        *("127.0.0.0/8", "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "100.64.0.0/10"),
        *("::1/128", "fc00::/7", "fe80::/10"),
    )
)
_Network = ipaddress.IPv4Network | ipaddress.IPv6Network


class Networks:
    """Networks, of which an address is one or not."""

    def __init__(self, networks: Sequence[_Network]) -> None:
        self.networks = tuple(networks)

    def __bool__(self) -> bool:
        return bool(self.networks)

    def __contains__(self, address: object) -> bool:
        try:
            told = ipaddress.ip_address(str(address))
        except ValueError:
            return False
        if isinstance(told, ipaddress.IPv6Address) and told.ipv4_mapped is not None:
            told = told.ipv4_mapped
        return any(told.version == one.version and told in one for one in self.networks)


def is_away(address: str) -> bool:
    """Whether an address lies outside: neither this machine's nor one of a home's
    network (RFC 1918, 4193, 3927, 6598)."""
    try:
        told = ipaddress.ip_address(address.partition("%")[0])
    except ValueError:
        return False
    told = getattr(told, "ipv4_mapped", None) or told
    return not any(told.version == one.version and told in one for one in _AT_HOME)


def read_networks(setting: str, text: str) -> Networks:
    """Networks as a setting lists them, parted by commas; raises ValueError that names the setting."""
    found: list[_Network] = []
    for one in filter(None, (part.strip() for part in text.split(","))):
        try:
            found.append(ipaddress.ip_network(one, strict=False))
        except ValueError as error:
            raise ValueError(
                f"Setting {setting}: {one!r} is no address and no network, such as 192.168.1.0/24."
            ) from error
    return Networks(found)


class TrustedProxies:
    """Believes what a named proxy says of who asks and how (X-Forwarded-For, -Proto, -Host), and nobody else.

    Of the addresses in X-Forwarded-For the last counts that is no trusted proxy
    itself: those before it could be made up.
    """

    def __init__(self, app: Callable[..., Iterable[bytes]], trusted: Networks) -> None:
        self._app = app
        self._trusted = trusted

    def __call__(self, environ: dict[str, Any], start_response: Any) -> Iterable[bytes]:
        """Answer a request (WSGI, PEP 3333)."""
        if self._trusted and environ.get("REMOTE_ADDR") in self._trusted:
            self._believe(environ)
        return self._app(environ, start_response)

    def _believe(self, environ: dict[str, Any]) -> None:
        told = [one.strip() for one in environ.pop("HTTP_X_FORWARDED_FOR", "").split(",") if one.strip()]
        client = next((one for one in reversed(told) if one not in self._trusted), None)
        if client is not None:
            environ["REMOTE_ADDR"] = client.strip("[]")
        scheme = environ.pop("HTTP_X_FORWARDED_PROTO", "").rpartition(",")[2].strip().lower()
        if scheme in ("http", "https"):
            environ["wsgi.url_scheme"] = scheme
        host = environ.pop("HTTP_X_FORWARDED_HOST", "").rpartition(",")[2].strip()
        if host:
            environ["HTTP_HOST"] = host
        for name in ("HTTP_X_REAL_IP", "HTTP_VIA", "HTTP_FORWARDED"):
            environ.pop(name, None)
        # A proxy that does not say for whom it asks is no neighbour.
        if not told:
            environ["HTTP_VIA"] = "1.1 trusted"
