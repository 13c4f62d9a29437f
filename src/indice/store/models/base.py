"""What all tables share: text that the database can keep, and the moment."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from sqlalchemy import (
    Date,
    DateTime,
    Dialect,
    LargeBinary,
    MetaData,
    Text,
    TypeDecorator,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase

from ...core.facts.clean import clean_text
from ...phrases import kept, revived

__all__ = ["Base", "CleanText", "KeptPhrase", "now"]


def now() -> datetime:
    """The present moment, with its zone."""
    return datetime.now(UTC)


class CleanText(TypeDecorator[str]):
    """Text without what no database takes: NUL and halves of surrogate pairs."""

    impl = Text
    cache_ok = True

    def process_bind_param(self, value: str | None, dialect: Dialect) -> str | None:
        """What is sent."""
        return None if value is None else clean_text(value)


class KeptPhrase(CleanText):
    """What was said to people: kept as a reference with values, without words; read as the phrase that it was."""

    cache_ok = True

    def process_bind_param(self, value: str | None, dialect: Dialect) -> str | None:
        """What is sent."""
        return None if value is None else super().process_bind_param(kept(value), dialect)

    def process_result_value(self, value: str | None, dialect: Dialect) -> str | None:
        """What is read."""
        return revived(value) if value else value


class Base(DeclarativeBase):
    """Base of all tables; every constraint gets a known name."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_N_name)s",
            "uq": "uq_%(table_name)s_%(column_0_N_name)s",
            "fk": "fk_%(table_name)s_%(column_0_N_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map = {
        datetime: DateTime(timezone=True),
        date: Date(),
        dict[str, Any]: JSONB(none_as_null=True),
        list[Any]: JSONB(none_as_null=True),
        str: CleanText,
        bytes: LargeBinary,
    }
