"""Certificates for HTTPS: one's own, looked at, or a self-made one, with the
fingerprint by which people recognise it."""

from __future__ import annotations

import datetime as dt
import ipaddress
import os
import socket
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from ..errors import IndiceError

__all__ = ["Certificate", "certificate_files", "look_at_certificate", "own_addresses", "own_names"]

LASTS_DAYS = 397
"""The longest that browsers take."""
RENEW_DAYS = 30
"""A self-made one is made anew when it has so little left."""


@dataclass(frozen=True, slots=True)
class Certificate:
    """What a certificate says."""

    names: tuple[str, ...]
    ends_at: dt.datetime
    fingerprint: str
    """SHA-256, in pairs of digits, as browsers show it."""
    is_self_made: bool

    @property
    def days_left(self) -> int:
        """Whole days until it ends; negative when it has."""
        return (self.ends_at - dt.datetime.now(dt.UTC)).days


def look_at_certificate(file: Path) -> Certificate:
    """What a certificate (PEM) says; raises :class:`IndiceError` that names the file when it cannot be read."""
    try:
        found = x509.load_pem_x509_certificate(file.read_bytes())
    except (OSError, ValueError) as error:
        raise IndiceError(
            f"{file} is no certificate that can be read: {error}.",
            hint="Give the path of a certificate in PEM form, with its chain, that the account of Indice may read.",
            reference="certificate-wrong",
        ) from error
    try:
        told = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
        names = [*told.get_values_for_type(x509.DNSName), *map(str, told.get_values_for_type(x509.IPAddress))]
    except x509.ExtensionNotFound:
        names = []
    digits = found.fingerprint(hashes.SHA256()).hex().upper()
    pairs = ":".join(digits[at : at + 2] for at in range(0, len(digits), 2))
    return Certificate(tuple(names), found.not_valid_after_utc, pairs, found.issuer == found.subject)


def certificate_files(home: Path, https: str, certificate: str, key: str) -> tuple[Path, Path] | None:
    """The files of the certificate and of its key by which HTTPS is spoken; None where it is not.

    A self-made one is made where there is none, or it is about to end. Raises
    :class:`IndiceError` for what cannot be used.
    """
    if https in ("", "off"):
        return None
    if https == "own":
        files = Path(certificate).expanduser(), Path(key).expanduser()
        look_at_certificate(files[0])
        _look_at_key(*files)
        return files
    if https != "self":
        raise IndiceError(
            f"Setting https: {https!r} is not known.", hint="Say off, self or own.", reference="certificate-wrong"
        )
    files = home / "certificate.pem", home / "certificate-key.pem"
    if not all(file.is_file() for file in files) or look_at_certificate(files[0]).days_left < RENEW_DAYS:
        _make(*files)
    return files


def _look_at_key(certificate: Path, key: Path) -> None:
    try:
        made = serialization.load_pem_private_key(key.read_bytes(), password=None)
    except (OSError, ValueError, TypeError) as error:
        raise IndiceError(
            f"{key} is no key that can be read: {error}.",
            hint="Give the path of the certificate's key in PEM form, without a password, that the account of Indice "
            "may read.",
            reference="certificate-wrong",
        ) from error
    public = x509.load_pem_x509_certificate(certificate.read_bytes()).public_key()
    form = serialization.Encoding.DER, serialization.PublicFormat.SubjectPublicKeyInfo
    if public.public_bytes(*form) != made.public_key().public_bytes(*form):
        raise IndiceError(
            f"{key} is not the key of {certificate}.", hint="They belong together.", reference="certificate-wrong"
        )


def own_names() -> list[str]:
    """Names by which this machine is called at home."""
    name = socket.gethostname().lower()
    return list(dict.fromkeys(("localhost", name, f"{name.partition('.')[0]}.local")))


def own_addresses() -> list[str]:
    """Addresses by which other machines reach this one; nothing is sent to find them out."""
    found: list[str] = []
    for family, far in ((socket.AF_INET, "192.0.2.1"), (socket.AF_INET6, "2001:db8::1")):
        try:
            with socket.socket(family, socket.SOCK_DGRAM) as link:
                link.connect((far, 9))
                found.append(str(link.getsockname()[0]))
        except OSError:
            continue
    return [one for one in found if not ipaddress.ip_address(one).is_loopback]


def _make(certificate: Path, key: Path) -> None:
    made = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Indice")])
    now = dt.datetime.now(dt.UTC)
    addresses: Sequence[str] = ("127.0.0.1", "::1", *own_addresses())
    names: list[x509.GeneralName] = [x509.DNSName(one) for one in own_names()]
    names += [x509.IPAddress(ipaddress.ip_address(one)) for one in addresses]
    signed = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(made.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - dt.timedelta(hours=1))
        .not_valid_after(now + dt.timedelta(days=LASTS_DAYS))
        .add_extension(x509.SubjectAlternativeName(names), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(made, hashes.SHA256())
    )
    told = made.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    _write(key, told)
    _write(certificate, signed.public_bytes(serialization.Encoding.PEM))


def _write(file: Path, content: bytes) -> None:
    """Only the account reads it, from its first byte on."""
    part = file.with_suffix(".part")
    part.unlink(missing_ok=True)
    with os.fdopen(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as opened:
        opened.write(content)
    part.replace(file)
