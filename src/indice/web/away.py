"""From away: looks at what works from where, and says it; what the owner wants of the network is done beside it."""

from __future__ import annotations

import asyncio
import socket
from pathlib import Path

from apiflask import APIBlueprint
from flask import request

from ..disk.certificate import certificate_files, look_at_certificate, own_addresses, own_names
from ..errors import IndiceError
from ..network.presence import is_loopback, listening_addresses
from ..network.router import find_router, is_behind_another
from ..network.wishes import Standing, Wishes, read_standing, read_wishes, write_wishes
from ..store.deeds import note_deed
from .common import begin, say, settings
from .schemas import Done
from .schemas_lists import AwayIn, AwayOut, AwayStep, CertificateOut
from .session import who_asks

__all__ = ["bp"]

bp = APIBlueprint("away", __name__, url_prefix="/api", tag="People")
LOOK_SECONDS = 1.0


@bp.get("/from-away")
@bp.output(AwayOut)
def read_away() -> AwayOut:
    """What works from where: address, port, name, certificate, networks, router, each with how it stands."""
    chosen = settings()
    certificate, problem = _certificate()
    steps = [
        *_listening_steps(),
        *_certificate_steps(certificate, problem),
        *_network_steps(),
        *_router_steps(is_plain=certificate is None and not chosen.trusted_proxies),
    ]
    wishes, standing = read_wishes(chosen.home, announce=chosen.announce), read_standing(chosen.home)
    return AwayOut(
        address=request.host_url,
        port=_port(),
        steps=steps,
        certificate=certificate,
        announce=wishes.announce,
        announced=standing.announced if wishes.announce else "",
        outside_port=wishes.outside_port,
        is_settled=_is_settled(wishes, standing),
    )


@bp.put("/from-away")
@bp.input(AwayIn, arg_name="body")
@bp.output(Done)
def wish(body: AwayIn) -> Done:
    """Say whether Indice announces itself, and which port the router is to open; it is done a moment later."""
    chosen = settings()
    write_wishes(chosen.home, Wishes(announce=body.announce, outside_port=body.outside_port))
    with begin() as db:
        told = {"announce": body.announce, "port": body.outside_port}
        note_deed(db, "network-changed", **who_asks(), values=told)
    return Done()


def _port() -> int:
    return int(request.environ.get("SERVER_PORT") or settings().port)


def _is_settled(wishes: Wishes, standing: Standing) -> bool:
    """Whether what is wanted has been done, or has failed."""
    announced = wishes.announce == bool(standing.announced)
    return announced and (standing.outside_port == wishes.outside_port or bool(standing.problem))


def _listening_steps() -> list[AwayStep]:
    chosen = settings()
    host = chosen.host.strip("[]")
    port = _port()
    addresses = own_addresses()
    listens = "loopback" if is_loopback(host) else "all" if host in ("0.0.0.0", "::") else "one"
    steps = [AwayStep(name=f"listens-{listens}", fine=listens != "loopback", values={"host": host, "port": str(port)})]
    if listens == "loopback":
        return steps
    reached = [one for one in addresses if _answers(one, port)]
    name, told = "reached" if reached else "not-reached", {"addresses": ", ".join(reached or addresses)}
    steps.append(AwayStep(name=name, fine=bool(reached), values=told))
    if chosen.allowed_hosts:
        steps.append(AwayStep(name="hosts", fine=True, values={"hosts": chosen.allowed_hosts}))
    else:
        steps.append(AwayStep(name="no-hosts", fine=True, values={"names": ", ".join(own_names())}))
    return steps


def _certificate_steps(certificate: CertificateOut | None, problem: str) -> list[AwayStep]:
    chosen = settings()
    if problem:
        return [AwayStep(name="certificate-wrong", fine=False, values={"problem": problem})]
    if certificate is None:
        is_inside = is_loopback(chosen.host) and not read_standing(chosen.home).outside_port
        fine = is_inside or bool(chosen.trusted_proxies)
        return [AwayStep(name="no-certificate", fine=fine, values={})]
    if certificate.days_left < 0:
        return [AwayStep(name="certificate-over", fine=False, values={})]
    name = "certificate-self" if certificate.is_self_made else "certificate-own"
    return [AwayStep(name=name, fine=certificate.days_left > 14, values={"days": str(certificate.days_left)})]


def _network_steps() -> list[AwayStep]:
    chosen = settings()
    steps: list[AwayStep] = []
    if chosen.trusted_proxies:
        steps.append(AwayStep(name="proxies", fine=True, values={"proxies": chosen.trusted_proxies}))
    if chosen.allowed_networks or chosen.refused_networks:
        told = {"allowed": chosen.allowed_networks, "refused": chosen.refused_networks}
        steps.append(AwayStep(name="networks", fine=True, values=told))
    return steps


def _router_steps(*, is_plain: bool) -> list[AwayStep]:
    """How it stands with the router: which there is, whether it is reached from outside, whether a port is open."""
    chosen = settings()
    wishes, standing = read_wishes(chosen.home), read_standing(chosen.home)
    if standing.outside_port:
        name, address = standing.router, standing.outside_address
    else:
        name, address = asyncio.run(_ask_router(listening_addresses(chosen.host), chosen.ssdp_port))
    if not name:
        return [AwayStep(name="router-none", fine=False, values={"port": str(_port())})]
    steps = [AwayStep(name="router", fine=True, values={"router": name, "address": address or "?"})]
    if is_behind_another(address):
        steps[0] = AwayStep(name="router-behind", fine=False, values={"router": name, "address": address or "?"})
    if standing.outside_port:
        scheme = "https" if chosen.https not in ("", "off") else "http"
        told = {"port": str(standing.outside_port), "address": f"{scheme}://{address}:{standing.outside_port}"}
        steps.append(AwayStep(name="port-plain" if is_plain else "port-open", fine=not is_plain, values=told))
    elif wishes.outside_port and standing.problem:
        steps.append(AwayStep(name=standing.problem, fine=False, values={"port": str(wishes.outside_port)}))
    else:
        steps.append(AwayStep(name="port-closed", fine=True, values={"port": str(_port())}))
    return steps


async def _ask_router(addresses: tuple[str, ...], port: int) -> tuple[str, str]:
    """Name and outside address of the router; empty where none answers."""
    router = await find_router(addresses, port=port)
    if router is None:
        return "", ""
    try:
        return router.name, await router.outside_address()
    except Exception:  # a router says what it likes; that it is there is what counts
        return router.name, ""


def _answers(address: str, port: int) -> bool:
    """Whether something listens at an address of this machine."""
    try:
        with socket.create_connection((address, port), LOOK_SECONDS):
            return True
    except OSError:
        return False


def _certificate() -> tuple[CertificateOut | None, str]:
    chosen = settings()
    try:
        files = certificate_files(Path(chosen.home), chosen.https, chosen.certificate, chosen.certificate_key)
        found = look_at_certificate(files[0]) if files is not None else None
    except IndiceError as error:
        return None, say(error.message)
    if found is None:
        return None, ""
    return (
        CertificateOut(
            names=list(found.names),
            ends_at=found.ends_at.isoformat(),
            days_left=found.days_left,
            fingerprint=found.fingerprint,
            is_self_made=found.is_self_made,
        ),
        "",
    )
