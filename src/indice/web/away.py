"""From away: looks at what works from where, and says it; it changes nothing."""

from __future__ import annotations

import ipaddress
import socket
from pathlib import Path

from apiflask import APIBlueprint
from flask import request

from ..disk.certificate import certificate_files, look_at_certificate, own_addresses, own_names
from ..errors import IndiceError
from .common import settings
from .schemas_lists import AwayOut, AwayStep, CertificateOut

__all__ = ["bp"]

bp = APIBlueprint("away", __name__, url_prefix="/api", tag="People")
LOOK_SECONDS = 1.0


@bp.get("/from-away")
@bp.output(AwayOut)
def read_away() -> AwayOut:
    """What works from where: address, port, name, certificate, networks, each with how it stands."""
    chosen = settings()
    host = chosen.host.strip("[]")
    port = int(request.environ.get("SERVER_PORT") or chosen.port)
    addresses = own_addresses()
    listens = "loopback" if _is_loopback(host) else "all" if host in ("0.0.0.0", "::") else "one"
    reached = [one for one in addresses if listens != "loopback" and _answers(one, port)]
    certificate, problem = _certificate()
    steps = [AwayStep(name=f"listens-{listens}", fine=listens != "loopback", values={"host": host, "port": str(port)})]
    if listens != "loopback":
        steps.append(
            AwayStep(
                name="reached" if reached else "not-reached",
                fine=bool(reached),
                values={"addresses": ", ".join(reached or addresses)},
            )
        )
        if chosen.allowed_hosts:
            steps.append(AwayStep(name="hosts", fine=True, values={"hosts": chosen.allowed_hosts}))
        else:
            steps.append(AwayStep(name="no-hosts", fine=True, values={"names": ", ".join(own_names())}))
    if problem:
        steps.append(AwayStep(name="certificate-wrong", fine=False, values={"problem": problem}))
    elif certificate is None:
        steps.append(
            AwayStep(name="no-certificate", fine=listens == "loopback" or bool(chosen.trusted_proxies), values={})
        )
    elif certificate.days_left < 0:
        steps.append(AwayStep(name="certificate-over", fine=False, values={}))
    else:
        name = "certificate-self" if certificate.is_self_made else "certificate-own"
        steps.append(AwayStep(name=name, fine=certificate.days_left > 14, values={"days": str(certificate.days_left)}))
    if chosen.trusted_proxies:
        steps.append(AwayStep(name="proxies", fine=True, values={"proxies": chosen.trusted_proxies}))
    if chosen.allowed_networks or chosen.refused_networks:
        told = {"allowed": chosen.allowed_networks, "refused": chosen.refused_networks}
        steps.append(AwayStep(name="networks", fine=True, values=told))
    return AwayOut(address=f"{request.host_url}", steps=steps, certificate=certificate)


def _is_loopback(host: str) -> bool:
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return host == "localhost"


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
        return None, error.message
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
