"""Sign-in of a television: it shows a short code, and somebody who is signed in confirms it (after RFC 8628)."""

from __future__ import annotations

from apiflask import APIBlueprint
from flask import Response, g, jsonify, request
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..errors import IndiceError
from ..store.deeds import note_deed
from ..store.devices import INTERVAL_SECONDS, LASTS, answer_code, ask_for, begin_device, waiting_device
from ..store.models import DeviceSignIn
from ..store.people import note_wrong
from .common import begin, begin_for_all, say
from .schemas import Done
from .schemas_lists import DeviceAnswer, DeviceAsk, DeviceIn, DeviceOut, DeviceToken, DeviceWaiting
from .session import enter, enter_device, has_page_token, patiently, who_asks

__all__ = ["bp"]

bp = APIBlueprint("devices", __name__, url_prefix="/api", tag="Session")


@bp.post("/device/code")
@bp.input(DeviceIn, arg_name="body")
@bp.output(DeviceOut)
def start(body: DeviceIn) -> DeviceOut:
    """A device asks for a code to show."""
    import segno

    with begin_for_all() as db:
        device = body.device.strip() or request.headers.get("User-Agent", "")
        secret, code = begin_device(db, device=device, address=request.remote_addr or "")
    shown = f"{code[:3]}-{code[3:]}"
    page = f"{request.host_url}code"
    return DeviceOut(
        device_code=secret,
        user_code=shown,
        verification_uri=page,
        verification_uri_complete=f"{page}/{shown}",
        expires_in=int(LASTS.total_seconds()),
        interval=INTERVAL_SECONDS,
        picture=segno.make(f"{page}/{shown}").svg_data_uri(scale=6, border=2),
    )


@bp.post("/device/token")
@bp.input(DeviceAsk, arg_name="body")
@bp.output(DeviceToken)
def ask(body: DeviceAsk) -> DeviceToken | Response:
    """A device asks whether it was confirmed. 400 with `error` until then; a page is signed
    in by its cookie, others get a secret."""
    with begin_for_all() as db:
        told = ask_for(db, body.device_code)
    if told.error:
        answer = jsonify(error=told.error, reference=told.error, message=say(_WORDS[told.error]), hint="")
        answer.status_code = 400
        return answer
    if has_page_token():
        enter(told.person_id)
        return DeviceToken()
    return DeviceToken(access_token=enter_device(told.person_id, told.device))


_WORDS = {
    "authorization_pending": phrase("Nobody has confirmed this code yet."),
    "slow_down": phrase("Ask less often."),
    "access_denied": phrase("Somebody has said that this device is not theirs."),
    "expired_token": phrase("This code has ended. Begin again."),
}


@bp.get("/device/waiting/<code>")
@bp.output(DeviceWaiting)
def read(code: str) -> DeviceWaiting:
    """The device that shows a code."""
    with begin() as db:
        found = _waiting(db, code)
        return DeviceWaiting(
            user_code=found.user_code, device=found.device, address=found.address, ends_at=found.ends_at.isoformat()
        )


@bp.post("/device/answer")
@bp.input(DeviceAnswer, arg_name="body")
@bp.output(Done)
def answer(body: DeviceAnswer) -> Done:
    """Say that the device that shows a code is one's own and may come in, or that it is not."""
    with begin() as db:
        found = _waiting(db, body.user_code)
        answer_code(db, g.person, found, allow=body.allow)
        if body.allow:
            note_deed(db, "device-confirmed", **who_asks(), values={"device": found.device})
    return Done()


def _waiting(db: Session, code: str) -> DeviceSignIn:
    """A device by its code; wrong ones cost time, as wrong passwords do."""
    with patiently(f"code {g.person.id}"):
        found = waiting_device(db, code)
        if found is None:
            with begin_for_all() as other:
                note_wrong(other, f"code {g.person.id}", request.remote_addr or "")
            raise IndiceError(
                "No device shows this code.",
                hint="Look at it again; a code ends after ten minutes.",
                reference="code-unknown",
                status=404,
            )
    return found
