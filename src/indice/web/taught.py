"""What people teach the reader: this is not the year, the title ends here. Kept, shown, removable."""

from __future__ import annotations

from apiflask import APIBlueprint

from ..core.reading.corrections import Correction
from ..errors import IndiceError
from ..store.aliases import forget_alias, list_aliases
from ..store.found import find
from ..store.models import File
from ..store.taught import forget_taught, list_taught, teach
from ..work.reread import reread
from .common import begin, database
from .schemas import Done
from .schemas_matching import AliasesOut, AliasOut
from .schemas_names import TaughtList, TaughtOut, TeachIn

__all__ = ["bp"]

bp = APIBlueprint("taught", __name__, url_prefix="/api", tag="Folders")


@bp.get("/taught")
@bp.output(TaughtList)
def read_taught() -> TaughtList:
    """All that was taught, newest first."""
    with begin() as db:
        return TaughtList(
            taught=[
                TaughtOut(
                    id=row.id,
                    library=library,
                    path=row.path,
                    siblings=row.siblings,
                    field=row.field,
                    action=row.action,
                    value=row.value.get("v"),
                    at=row.at.isoformat(),
                )
                for row, library in list_taught(db)
            ]
        )


@bp.post("/files/<int:file_id>/corrections")
@bp.input(TeachIn, arg_name="body")
@bp.output(Done)
def correct(file_id: int, body: TeachIn) -> Done:
    """Correct the reading of a file, or of all files of its folder, and read them anew."""
    if body.action != "drop" and body.value in (None, ""):
        raise IndiceError("Say what the value is.", reference="value-missing")
    with begin() as db:
        file = find(db, File, file_id)
        folder_id, path = file.folder_id, file.shown
        teach(
            db,
            folder_id,
            Correction(path=path, siblings=body.siblings, field=body.field, action=body.action, value=body.value),
        )
    reread(database(), folder_id, path, siblings=body.siblings)
    return Done()


@bp.delete("/taught/<int:taught_id>")
@bp.output(Done)
def forget(taught_id: int) -> Done:
    """Take a correction back, and read the names anew."""
    with begin() as db:
        row = forget_taught(db, taught_id)
    reread(database(), row.folder_id, row.path, siblings=row.siblings)
    return Done()


@bp.get("/aliases")
@bp.output(AliasesOut)
def read_aliases() -> AliasesOut:
    """Names that mean a certain thing, as decisions taught, newest first."""
    with begin() as db:
        return AliasesOut(
            aliases=[
                AliasOut(id=a.id, kind=a.kind, name=a.name, title=a.title, source=source, at=a.at.isoformat())
                for a, source in list_aliases(db)
            ]
        )


@bp.delete("/aliases/<int:alias_id>")
@bp.output(Done)
def remove_alias(alias_id: int) -> Done:
    """Forget what a name means; what was decided by it stays."""
    with begin() as db:
        forget_alias(db, alias_id)
    return Done()
