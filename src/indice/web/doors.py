"""What every request passes first: by which name it asked, from how near, and
whether what it says can be read at all."""

from __future__ import annotations

import ipaddress
import json
import socket
from functools import cache
from typing import Any

from flask import Flask, current_app, request
from flask.json.provider import DefaultJSONProvider
from werkzeug.routing import IntegerConverter

from ..core.phrase import phrase
from ..errors import IndiceError
from ..network.wishes import read_standing
from .common import settings
from .gateway import read_networks

__all__ = ["is_near", "set_up_doors"]

_FORWARDED = ("Forwarded", "X-Forwarded-For", "X-Real-IP", "Via")
LARGEST = 2**31 - 1
DEEPEST = 32
LARGEST_NUMBER = 2**53


class Bounded(IntegerConverter):
    """A number in an address that a record can have; others are nothing that there is."""

    def __init__(self, *arguments: Any, **more: Any) -> None:
        more.setdefault("max", LARGEST)
        super().__init__(*arguments, **more)


class StrictJson(DefaultJSONProvider):
    """JSON from outside: finite numbers of bounded size, no NUL, no halves of surrogate pairs, not too deep."""

    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        """The value; raises ValueError for what no record could hold."""
        try:
            value = json.loads(s, parse_constant=_refuse, **kwargs)
        except RecursionError as error:
            raise ValueError(phrase("It is nested too deeply.")) from error
        _check(value)
        return value


def _refuse(name: str) -> Any:
    raise ValueError(phrase("{name} is no number.", name=name))


def _check(value: Any) -> None:
    level = [value]
    for _ in range(DEEPEST):
        below: list[Any] = []
        for one in level:
            if isinstance(one, dict):
                below += [*one.keys(), *one.values()]
            elif isinstance(one, list):
                below += one
            elif isinstance(one, str):
                if not _is_fit(one):
                    raise ValueError(phrase("There is a letter in it that is none."))
            elif isinstance(one, int | float) and not -LARGEST_NUMBER <= one <= LARGEST_NUMBER:
                raise ValueError(phrase("A number is too large."))
        if not below:
            return
        level = below
    raise ValueError(phrase("It is nested too deeply."))


def _is_fit(text: str) -> bool:
    return "\0" not in text and (text.isascii() or not any(0xD800 <= ord(letter) <= 0xDFFF for letter in text))


def check_text() -> None:
    """Before every request: letters that no record takes are refused, wherever they stand."""
    words = [request.path, *request.args.keys(), *(value for values in request.args.listvalues() for value in values)]
    if not all(map(_is_fit, words)):
        raise IndiceError("There is a letter in this address that is none.", reference="request-wrong", status=400)


def is_near() -> bool:
    """Whether a request comes from this very machine, and not through something that passes on what others ask."""
    if any(request.headers.get(name) for name in _FORWARDED):
        return False
    try:
        return ipaddress.ip_address(request.remote_addr or "").is_loopback
    except ValueError:
        return False


@cache
def _own_names() -> frozenset[str]:
    name = socket.gethostname().lower()
    return frozenset(("localhost", name, f"{name}.local", name.partition(".")[0]))


def _name_of(host: str) -> str:
    """A host's name or address, without its port, its brackets and its last dot."""
    host = host.strip().lower()
    if host.startswith("["):
        return host[1:].partition("]")[0]
    return host.partition(":")[0].rstrip(".")


def _is_known(name: str) -> bool:
    chosen = settings()
    allowed = {one.strip().lower() for one in chosen.allowed_hosts.split(",") if one.strip()}
    if name in _own_names() or name in allowed or name == chosen.host.lower():
        return True
    try:
        address = ipaddress.ip_address(name)
    except ValueError:
        return False
    # An address, unlike a name, cannot be made to mean another machine; it must be one by which this one is reached.
    return address.is_loopback or name in _local_addresses() or name == _outside_address()


def _outside_address() -> str:
    """The router's, while it passes on a port to this machine because the owner wanted it."""
    standing = read_standing(settings().home)
    return standing.outside_address if standing.outside_port else ""


def _local_addresses() -> set[str]:
    link = request.environ.get("gunicorn.socket")
    try:
        return {str(link.getsockname()[0])} if link is not None else set()
    except OSError:
        return set()


def check_address() -> None:
    """Before every request: who asks from a network that is not let in is told so, and nothing else."""
    allowed, refused = current_app.extensions["indice-networks"]
    address = request.remote_addr or ""
    if is_near():
        return
    if address in refused or (allowed and address not in allowed):
        raise IndiceError(
            "From this network nobody comes in.",
            hint="The owner says which do, in indice.toml (allowed_networks, refused_networks).",
            reference="network-refused",
            status=403,
        )


def check_host() -> None:
    """Before every request: whoever asks for a machine of another name is no guest of this one."""
    if not _is_known(_name_of(request.headers.get("Host", ""))):
        raise IndiceError(
            "Indice is not known by this name.",
            hint="Use the machine's own name or address, or add the name to allowed_hosts in indice.toml.",
            reference="host-unknown",
            status=421,
        )


def set_up_doors(app: Flask) -> None:
    """Let every request of an application pass these doors."""
    app.json = StrictJson(app)
    app.url_map.converters["int"] = Bounded
    chosen = app.extensions["indice"][0]
    app.extensions["indice-networks"] = (
        read_networks("allowed_networks", chosen.allowed_networks if chosen else ""),
        read_networks("refused_networks", chosen.refused_networks if chosen else ""),
    )
    app.before_request(check_address)
    app.before_request(check_host)
    app.before_request(check_text)
