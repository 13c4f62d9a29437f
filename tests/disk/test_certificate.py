"""Certificates: made where there is none, renewed in time, one's own looked at before it is used."""

from __future__ import annotations

import ssl
import stat
from pathlib import Path

import pytest

from indice.disk import certificate as made
from indice.disk.certificate import certificate_files, look_at_certificate
from indice.errors import IndiceError


def test_a_self_made_one_is_made_once_and_can_be_served(tmp_path: Path) -> None:
    assert certificate_files(tmp_path, "off", "", "") is None
    files = certificate_files(tmp_path, "self", "", "")
    assert files is not None
    found = look_at_certificate(files[0])
    assert found.is_self_made and 390 < found.days_left < 398
    assert {"localhost", "127.0.0.1", "::1"} <= set(found.names)
    assert all(stat.S_IMODE(file.stat().st_mode) == 0o600 for file in files)
    ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER).load_cert_chain(*files)
    before = files[0].read_bytes()
    certificate_files(tmp_path, "self", "", "")
    assert files[0].read_bytes() == before


def test_one_that_is_about_to_end_is_made_anew(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(made, "LASTS_DAYS", made.RENEW_DAYS - 1)
    files = certificate_files(tmp_path, "self", "", "")
    assert files is not None
    before = look_at_certificate(files[0]).fingerprint
    monkeypatch.undo()
    certificate_files(tmp_path, "self", "", "")
    assert look_at_certificate(files[0]).fingerprint != before


def test_ones_own_is_looked_at_before_it_is_used(tmp_path: Path) -> None:
    one, other = tmp_path / "one", tmp_path / "other"
    for folder in (one, other):
        folder.mkdir()
        certificate_files(folder, "self", "", "")
    own = certificate_files(tmp_path, "own", str(one / "certificate.pem"), str(one / "certificate-key.pem"))
    assert own == (one / "certificate.pem", one / "certificate-key.pem")
    (tmp_path / "no.pem").write_text("-----BEGIN CERTIFICATE-----\nAAAA\n-----END CERTIFICATE-----\n")
    for certificate, key, named in (
        (tmp_path / "no.pem", one / "certificate-key.pem", "no.pem"),
        (tmp_path / "gone.pem", one / "certificate-key.pem", "gone.pem"),
        (one / "certificate.pem", tmp_path / "gone.pem", "gone.pem"),
        (one / "certificate.pem", other / "certificate-key.pem", "not the key"),
    ):
        with pytest.raises(IndiceError, match=named):
            certificate_files(tmp_path, "own", str(certificate), str(key))
    with pytest.raises(IndiceError, match="'yes'"):
        certificate_files(tmp_path, "yes", "", "")
