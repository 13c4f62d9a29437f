"""Tokens: secrets by which one's own scripts do what one may, within their scopes."""

from __future__ import annotations

from apiflask import APIBlueprint
from flask import g

from ..store.deeds import note_deed
from ..store.tokens import end_token, make_token, tokens_of
from .common import begin, iso
from .schemas import Done
from .schemas_lists import TokenIn, TokenMade, TokenOut, TokensOut
from .session import who_asks

__all__ = ["bp"]

bp = APIBlueprint("tokens", __name__, url_prefix="/api", tag="Session")


@bp.get("/tokens")
@bp.output(TokensOut)
def list_tokens() -> TokensOut:
    """One's own tokens, and when and from where each was used last."""
    with begin() as db:
        return TokensOut(
            tokens=[
                TokenOut(
                    id=one.id,
                    name=one.name,
                    scopes=[str(scope) for scope in one.scopes],
                    made_at=one.made_at.isoformat(),
                    ends_at=iso(one.ends_at),
                    seen_at=iso(one.seen_at),
                    address=one.address,
                )
                for one in tokens_of(db, g.person.id)
            ]
        )


@bp.post("/tokens")
@bp.input(TokenIn, arg_name="body")
@bp.output(TokenMade)
def make(body: TokenIn) -> TokenMade:
    """A new token of one's own; its secret is told this once."""
    with begin() as db:
        made, secret = make_token(db, g.person, name=body.name, scopes=body.scopes, days=body.days)
        note_deed(db, "token-made", **who_asks(), values={"name": made.name})
        return TokenMade(id=made.id, secret=secret)


@bp.delete("/tokens/<int:token_id>")
@bp.output(Done)
def end(token_id: int) -> Done:
    """End a token of one's own, at once."""
    with begin() as db:
        name = end_token(db, g.person.id, token_id)
        note_deed(db, "token-ended", **who_asks(), values={"name": name})
    return Done()
