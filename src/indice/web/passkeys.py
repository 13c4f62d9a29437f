"""Passkeys (WebAuthn, https://www.w3.org/TR/webauthn-2/): made by who is signed
in, and signed in by without a password."""

from __future__ import annotations

import ipaddress
import json
import secrets
import time
from typing import Any

from apiflask import APIBlueprint
from flask import g, request, session
from webauthn import (
    generate_authentication_options,
    generate_registration_options,
    options_to_json,
    verify_authentication_response,
    verify_registration_response,
)
from webauthn.helpers import base64url_to_bytes, bytes_to_base64url
from webauthn.helpers.exceptions import WebAuthnException
from webauthn.helpers.structs import (
    AuthenticatorSelectionCriteria,
    PublicKeyCredentialDescriptor,
    ResidentKeyRequirement,
    UserVerificationRequirement,
)

from ..errors import IndiceError
from ..store.deeds import note_deed
from ..store.passkeys import add_passkey, note_use, passkey_of, passkeys_of, remove_passkey
from .common import begin, begin_for_all, iso
from .schemas import Done
from .schemas_lists import PasskeyAnswer, PasskeyIn, PasskeyOptions, PasskeyOut, PasskeysOut
from .session import enter, patiently, who_asks

__all__ = ["bp"]

bp = APIBlueprint("passkeys", __name__, url_prefix="/api", tag="Session")
LASTS_SECONDS = 300
"""So long a device may take."""


def _host() -> str:
    """The name that a key is bound to; raises :class:`IndiceError` where there can be none."""
    name = request.host.rpartition(":")[0] if request.host.rpartition(":")[2].isdigit() else request.host
    try:
        ipaddress.ip_address(name.strip("[]"))
    except ValueError:
        return name
    raise IndiceError(
        "A passkey is bound to a name, and this is a number.",
        hint="Open Indice by the name of its machine, such as http://localhost or https://indice.home.",
        reference="passkey-needs-name",
        status=409,
    )


def _origins() -> list[str]:
    return [f"{scheme}://{request.host}" for scheme in ("https", "http")]


def _challenge(kind: str) -> bytes:
    """A fresh challenge for this browser, good once and for a while."""
    made = secrets.token_bytes(32)
    session["ceremony"] = [kind, bytes_to_base64url(made), int(time.time())]
    return made


def _answered(kind: str) -> bytes:
    """The challenge that this browser was given; raises :class:`IndiceError` when it was none, or long ago."""
    told = session.pop("ceremony", None)
    if not isinstance(told, list) or len(told) != 3 or told[0] != kind or time.time() - told[2] > LASTS_SECONDS:
        raise IndiceError("That took too long.", hint="Try it again.", reference="passkey-late", status=401)
    return base64url_to_bytes(told[1])


@bp.get("/passkeys")
@bp.output(PasskeysOut)
def list_passkeys() -> PasskeysOut:
    """One's own passkeys, and when each was used last."""
    with begin() as db:
        return PasskeysOut(
            passkeys=[
                PasskeyOut(id=one.id, name=one.name, made_at=one.made_at.isoformat(), seen_at=iso(one.seen_at))
                for one in passkeys_of(db, g.person.id)
            ]
        )


@bp.post("/passkeys/options")
@bp.output(PasskeyOptions)
def begin_making() -> PasskeyOptions:
    """What a browser is asked, to make a key in a device of one's own."""
    with begin() as db:
        known = [PublicKeyCredentialDescriptor(id=one.credential_id) for one in passkeys_of(db, g.person.id)]
    options = generate_registration_options(
        rp_id=_host(),
        rp_name="Indice",
        user_id=f"person {g.person.id}".encode(),
        user_name=g.person.name,
        challenge=_challenge("make"),
        exclude_credentials=known,
        authenticator_selection=AuthenticatorSelectionCriteria(
            resident_key=ResidentKeyRequirement.REQUIRED, user_verification=UserVerificationRequirement.REQUIRED
        ),
    )
    return PasskeyOptions(options=json.loads(options_to_json(options)))


@bp.post("/passkeys")
@bp.input(PasskeyIn, arg_name="body")
@bp.output(Done)
def make(body: PasskeyIn) -> Done:
    """Keep the key that a device has made."""
    challenge = _answered("make")
    try:
        made = verify_registration_response(
            credential=body.credential,
            expected_challenge=challenge,
            expected_rp_id=_host(),
            expected_origin=_origins(),
            require_user_verification=True,
        )
    except (WebAuthnException, ValueError, KeyError, TypeError, AttributeError) as error:
        raise IndiceError(
            "This key cannot be used.", hint="Try it again, or another device.", reference="passkey-wrong", status=400
        ) from error
    with begin() as db:
        add_passkey(
            db,
            g.person,
            name=body.name,
            credential_id=made.credential_id,
            public_key=made.credential_public_key,
            sign_count=made.sign_count,
        )
        note_deed(db, "passkey-made", **who_asks(), values={"name": body.name.strip()})
    return Done()


@bp.delete("/passkeys/<int:passkey_id>")
@bp.output(Done)
def remove(passkey_id: int) -> Done:
    """Remove a passkey of one's own: it opens nothing any more."""
    with begin() as db:
        name = remove_passkey(db, g.person.id, passkey_id)
        note_deed(db, "passkey-removed", **who_asks(), values={"name": name})
    return Done()


@bp.post("/session/passkey/options")
@bp.output(PasskeyOptions)
def begin_sign_in() -> PasskeyOptions:
    """What a browser is asked, to sign somebody in by a key of a device."""
    options = generate_authentication_options(
        rp_id=_host(), challenge=_challenge("sign-in"), user_verification=UserVerificationRequirement.REQUIRED
    )
    return PasskeyOptions(options=json.loads(options_to_json(options)))


@bp.post("/session/passkey")
@bp.input(PasskeyAnswer, arg_name="body")
@bp.output(Done)
def sign_in(body: PasskeyAnswer) -> Done:
    """Sign in by a key of a device."""
    challenge = _answered("sign-in")
    with patiently("a passkey"):
        person_id = _verified(body.credential, challenge)
    enter(person_id)
    return Done()


def _verified(credential: dict[str, Any], challenge: bytes) -> int:
    """Whose key has signed a challenge; raises :class:`IndiceError` (401) when it is nobody's, or has not."""
    wrong = IndiceError(
        "This passkey does not open anything here.",
        hint="Sign in by your password.",
        reference="sign-in-wrong",
        status=401,
    )
    try:
        credential_id = base64url_to_bytes(str(credential.get("rawId", "")))
    except ValueError as error:
        raise wrong from error
    with begin_for_all() as db:
        found = passkey_of(db, credential_id)
        if found is None:
            raise wrong
        try:
            used = verify_authentication_response(
                credential=credential,
                expected_challenge=challenge,
                expected_rp_id=_host(),
                expected_origin=_origins(),
                credential_public_key=found.public_key,
                credential_current_sign_count=found.sign_count,
                require_user_verification=True,
            )
        except (WebAuthnException, ValueError, KeyError, TypeError, AttributeError) as error:
            raise wrong from error
        note_use(found, used.new_sign_count)
        return found.person_id
