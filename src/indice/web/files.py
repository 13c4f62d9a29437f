"""Folders: the disk as it is, and every file with the story of its reading."""

from __future__ import annotations

from apiflask import APIBlueprint

from ..core.reading.reader import read_path
from ..core.reading.ways import ways_of
from ..store.catalog import facts_for_names, files_in
from ..store.conventions import conventions_by_folder
from ..store.family import entries_at
from ..store.files import located
from ..store.found import find
from ..store.libraries import all_folders, library_names
from ..store.models import Library
from ..store.tallies import tree_level
from .common import begin, file_out
from .schemas_names import (
    FilesOut,
    FilesQuery,
    TreeNode,
    TreeOut,
    TreeQuery,
    WayOption,
    WayOut,
    WayPart,
    WayPoint,
    WaysOut,
)

__all__ = ["bp"]

bp = APIBlueprint("files", __name__, url_prefix="/api", tag="Folders")


@bp.get("/tree")
@bp.input(TreeQuery, location="query", arg_name="query")
@bp.output(TreeOut)
def read_tree(query: TreeQuery) -> TreeOut:
    """The directories directly below one, with the states of the files in and
    below each; the roots if none is given."""
    with begin() as db:
        folders = {folder.id: folder for folder in all_folders(db)}
        libraries = library_names(db)
        depth = 0 if query.folder_id is None else query.path.count("/") + 2 if query.path else 1
        return TreeOut(
            nodes=[
                TreeNode(
                    folder_id=node.folder_id,
                    path=node.path,
                    name=node.path.rpartition("/")[2]
                    or libraries.get(folders[node.folder_id].library_id, folders[node.folder_id].shown),
                    depth=depth,
                    states=node.states,
                    has_children=node.has_children,
                )
                for node in tree_level(db, query.folder_id, query.path)
                if node.folder_id in folders
            ]
        )


@bp.get("/files")
@bp.input(FilesQuery, location="query", arg_name="query")
@bp.output(FilesOut)
def list_files(query: FilesQuery) -> FilesOut:
    """Files of one directory: what each was taken for, and why."""
    with begin() as db:
        rows = files_in(db, query.folder_id, query.directory)
        entries = {entry.id: entry for entry in entries_at(db, {file.entry_id for file, _ in rows if file.entry_id})}
        followed = conventions_by_folder(db)
        facts = facts_for_names(db, [file for file, _ in rows])
        return FilesOut(
            files=[
                file_out(
                    file,
                    convention=followed[file.folder_id],
                    state=state,
                    entry=entries.get(file.entry_id or 0),
                    facts=facts.get(file.entry_id or 0),
                )
                for file, state in rows
            ]
        )


@bp.get("/files/<int:file_id>/ways")
@bp.output(WaysOut)
def read_ways(file_id: int) -> WaysOut:
    """The ways in which a file's name could be read, what speaks for each, and which one won."""
    with begin() as db:
        file, folder = located(db, file_id)
        path, library = file.shown, find(db, Library, folder.library_id).kind
    return WaysOut(
        ways=[
            WayOut(
                question=way.question,
                subject=way.subject,
                options=[
                    WayOption(
                        name=option.name,
                        parts=[WayPart(label=label, text=text) for label, text in option.parts],
                        points=[WayPoint(name=name, count=count) for name, count in option.points],
                        won=option.won,
                    )
                    for option in way.options
                ],
            )
            for way in ways_of(path, read_path(path, library))
        ]
    )
