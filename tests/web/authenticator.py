"""A device that makes keys and signs with them, written from WebAuthn level 2: ES256, no attestation."""

from __future__ import annotations

import hashlib
import json
import secrets
import struct
from base64 import urlsafe_b64decode, urlsafe_b64encode
from dataclasses import dataclass, field
from typing import Any

import cbor2
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec

PRESENT, VERIFIED, WITH_KEY = 0x01, 0x04, 0x40


def text(data: bytes) -> str:
    return urlsafe_b64encode(data).decode().rstrip("=")


def data(said: str) -> bytes:
    return urlsafe_b64decode(said + "=" * (-len(said) % 4))


@dataclass
class Device:
    """Holds one key for one place."""

    origin: str
    verifies: bool = True
    key: ec.EllipticCurvePrivateKey = field(default_factory=lambda: ec.generate_private_key(ec.SECP256R1()))
    id: bytes = field(default_factory=lambda: secrets.token_bytes(16))
    count: int = 0

    def _client(self, kind: str, challenge: str) -> bytes:
        told = {"type": f"webauthn.{kind}", "challenge": challenge, "origin": self.origin, "crossOrigin": False}
        return json.dumps(told).encode()

    def _data(self, place: str, flags: int) -> bytes:
        self.count += 1
        flags |= PRESENT | (VERIFIED if self.verifies else 0)
        return hashlib.sha256(place.encode()).digest() + struct.pack(">BI", flags, self.count)

    def make(self, options: dict[str, Any]) -> dict[str, Any]:
        """What a browser sends when a key was made."""
        numbers = self.key.public_key().public_numbers()
        public = {1: 2, 3: -7, -1: 1, -2: numbers.x.to_bytes(32, "big"), -3: numbers.y.to_bytes(32, "big")}
        told = self._data(options["rp"]["id"], WITH_KEY)
        told += bytes(16) + struct.pack(">H", len(self.id)) + self.id + cbor2.dumps(public)
        response = {
            "clientDataJSON": text(self._client("create", options["challenge"])),
            "attestationObject": text(cbor2.dumps({"fmt": "none", "attStmt": {}, "authData": told})),
        }
        return self._credential(response)

    def sign(self, options: dict[str, Any]) -> dict[str, Any]:
        """What a browser sends when the key has signed."""
        client, told = self._client("get", options["challenge"]), self._data(options["rpId"], 0)
        signature = self.key.sign(told + hashlib.sha256(client).digest(), ec.ECDSA(hashes.SHA256()))
        response = {"clientDataJSON": text(client), "authenticatorData": text(told), "signature": text(signature)}
        return self._credential(response)

    def _credential(self, response: dict[str, str]) -> dict[str, Any]:
        return {"id": text(self.id), "rawId": text(self.id), "type": "public-key", "response": response}
