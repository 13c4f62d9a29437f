"""Services of subtitles and their keys, and what is asked of them about a file."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..sources.text_profile import parse_text_profile
from .models import Secret, TextService, now

__all__ = [
    "add_text_service",
    "key_of_service",
    "list_text_services",
    "note_service",
    "remove_text_service",
    "set_service_key",
]


def add_text_service(db: Session, profile_text: str, key: str | None) -> TextService:
    """Add a service from its profile, or replace the one of the same name; raises ProfileError."""
    profile = parse_text_profile(profile_text)
    service = db.scalars(select(TextService).where(TextService.name == profile.name)).first()
    if service is None:
        service = TextService(name=profile.name, url=profile.url, profile=profile_text)
        db.add(service)
    service.url, service.profile, service.problem = profile.url, profile_text, ""
    db.flush()
    if key is not None:
        set_service_key(db, profile.name, key)
    return service


def list_text_services(db: Session) -> list[TextService]:
    """All services, the one that was added first at the top."""
    return list(db.scalars(select(TextService).order_by(TextService.id)))


def remove_text_service(db: Session, service: TextService) -> None:
    """Forget a service and its key."""
    secret = db.get(Secret, f"texts:{service.name}")
    if secret is not None:
        db.delete(secret)
    db.delete(service)


def set_service_key(db: Session, name: str, key: str) -> None:
    """Keep a service's key, apart from everything that is shown."""
    db.merge(Secret(name=f"texts:{name}", value=key))


def key_of_service(db: Session, name: str) -> str:
    """A service's key, empty when there is none."""
    secret = db.get(Secret, f"texts:{name}")
    return secret.value if secret else ""


def note_service(db: Session, name: str, problem: str) -> None:
    """How it went when a service was asked last."""
    service = db.scalars(select(TextService).where(TextService.name == name)).first()
    if service is not None:
        service.problem, service.checked_at = problem, now()
