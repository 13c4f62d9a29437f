"""Does what a journal says, step by step; takes it back; mends what was broken off."""

from __future__ import annotations

import errno
import os
import stat
from collections.abc import Callable, Collection
from dataclasses import dataclass, field
from pathlib import Path

from ..core.naming.plan import make_plan
from ..errors import IndiceError
from .journal import Identity, Journal, PlannedMove, StepState, journals
from .rename import copy_verified, rename_without_replacing
from .walk import shown

__all__ = ["Outcome", "carry_out", "find_journal", "mend", "mend_all", "plan_undo", "undo"]

Tell = Callable[[int, int, bytes], None]
"""Told after each step: done, all, path."""


@dataclass(slots=True)
class Outcome:
    """What came of it."""

    done: int = 0
    left: list[tuple[bytes, str]] = field(default_factory=list)
    """Files that were left alone, and why."""
    stopped: bool = False


def _quiet(done: int, total: int, path: bytes) -> None:
    """Nobody listens."""


def _never() -> bool:
    return False


def carry_out(journal: Journal, *, tell: Tell = _quiet, should_stop: Callable[[], bool] = _never) -> Outcome:
    """Do the steps that wait. A file that has changed, or whose new name is taken, is left alone and said so.

    Raises :class:`IndiceError` when another process works on the journal.
    """
    _lock(journal)
    outcome = Outcome()
    try:
        journal.follow()
        mend(journal)
        if journal.ended:
            journal.write("resumed")
        broken: set[int] = set()
        for number, step in enumerate(journal.steps):
            if step.state != "pending":
                continue
            if should_stop() and not (step.ring and _is_ring_open(journal, step.ring)):
                outcome.stopped = True
                break
            if step.ring in broken and step.ring:
                _leave(journal, number, "The file that it changes places with could not be moved.")
            elif not _do(journal, number) and step.ring:
                broken.add(step.ring)
                _roll_back(journal, step.ring)
            tell(number + 1, len(journal.steps), step.after)
        _remove_empty_folders(journal)
        _sync_folders(journal)
        outcome.done = sum(step.state == "done" for step in journal.steps)
        outcome.left = [(step.before, step.why) for step in journal.steps if step.state == "left"]
        if journal.undoes:
            _tell_original(journal)
        journal.write("end", state="stopped" if outcome.stopped else "done", sync=True)
    finally:
        journal.release()
    return outcome


def _tell_original(journal: Journal) -> None:
    """Write into the journal that is taken back what is back; when all is, folders get their old times."""
    original = Journal.read(journal.path.with_name(f"{journal.undoes}.jsonl"))
    if not original.lock():
        return
    try:
        original.follow()
        moved = journal.moves()
        back = [after for before, after in original.moves().items() if moved.get(after) == before]
        if back:
            original.write("back again", by=journal.id, paths=[os.fsdecode(path) for path in back], sync=True)
        if not original.moves():
            _restore_folders(journal)
    finally:
        original.release()


def _lock(journal: Journal) -> None:
    if not journal.lock():
        raise IndiceError("Another process is at work on this plan.", hint="Wait until it is done.")


def _leave(journal: Journal, number: int, why: str) -> None:
    journal.write("left", n=number, why=why)


def _do(journal: Journal, number: int) -> bool:
    """One step; False when it was left."""
    step = journal.steps[number]
    why = _obstacle(step)
    if why:
        _leave(journal, number, why)
        return False
    try:
        _make_folders(journal, os.path.dirname(step.after))
        journal.write("begun", n=number)
        try:
            rename_without_replacing(step.before, step.after)
        except OSError as error:
            if error.errno != errno.EXDEV:
                raise
            _copy_over(journal, number)
    except FileExistsError:
        _leave(journal, number, f"{shown(step.after)} is there.")
        return False
    except OSError as error:
        _leave(journal, number, _said(error))
        return False
    journal.write("done", n=number)
    return True


def _said(error: OSError) -> str:
    if error.errno in (errno.EACCES, errno.EPERM, errno.EROFS):
        return "No permission to change it. Give the account that runs Indice write access to the folder."
    if error.errno == errno.ENOSPC:
        return "The disk is full."
    if error.errno == errno.ENAMETOOLONG:
        return "This disk does not take a name of that length."
    return f"It could not be moved: {error.strerror or error}."


def _obstacle(step: StepState) -> str:
    """Why a step must not be done now; empty when it may."""
    try:
        status = os.lstat(step.before)
    except OSError:
        return "It is not there any more."
    if stat.S_ISDIR(status.st_mode):
        return "It is a folder now."
    if not step.identity.is_same_content(status):
        return "It has changed since the plan was made."
    if os.path.lexists(step.after):
        return f"{shown(step.after)} is there."
    return ""


def _make_folders(journal: Journal, folder: bytes) -> None:
    missing: list[bytes] = []
    while not os.path.isdir(folder):
        missing.append(folder)
        folder = os.path.dirname(folder)
    modes = dict(journal.removed)
    known = journal.folder_times
    for path in reversed(missing):
        os.mkdir(path)
        if path in modes or path in known:
            os.chmod(path, modes.get(path) or known[path][2])
        journal.write("made", folder=os.fsdecode(path))


def _hidden(step: StepState, journal: Journal, number: int) -> bytes:
    return os.path.join(os.path.dirname(step.after), f".indice-{journal.id}-{number}.part".encode())


def _copy_over(journal: Journal, number: int) -> None:
    """Across file systems: copy to a hidden name, write, compare, give it its name, then remove the old file."""
    step = journal.steps[number]
    part = _hidden(step, journal, number)
    journal.write("copying", n=number)
    copied = copy_verified(step.before, part)
    if not step.identity.is_same_content(os.lstat(step.before)):
        os.unlink(part)
        raise OSError(errno.EAGAIN, "It changed while it was copied")
    journal.write("copied", n=number, inode=copied.st_ino, sync=True)
    try:
        rename_without_replacing(part, step.after)
    except OSError:
        os.unlink(part)
        raise
    _sync(os.path.dirname(step.after))
    os.unlink(step.before)


def _is_ring_open(journal: Journal, ring: int) -> bool:
    states = {step.state for step in journal.steps if step.ring == ring}
    return "done" in states and "pending" in states


def _roll_back(journal: Journal, ring: int) -> None:
    """Take back the steps of a ring that could not be closed, the last first."""
    for number in range(len(journal.steps) - 1, -1, -1):
        step = journal.steps[number]
        if step.ring == ring and step.state == "done":
            rename_without_replacing(step.after, step.before)
            journal.write("left", n=number, why="The file that it changes places with could not be moved.")


def _is(path: bytes, identity: Identity) -> bool:
    try:
        return identity.is_same_file(os.lstat(path))
    except OSError:
        return False


def _inode(path: bytes) -> int:
    try:
        return os.lstat(path).st_ino
    except OSError:
        return -1


def mend(journal: Journal) -> str:
    """Finish the step that was broken off, or take it back; returns what was done, in words, or nothing.

    The journal must be locked by the caller.
    """
    said = ""
    for number, step in enumerate(journal.steps):
        if step.state in ("begun", "copying", "copied"):
            said = _mend_step(journal, number)
    for ring in sorted({step.ring for step in journal.steps if step.ring}):
        if _is_ring_open(journal, ring):
            for number in range(len(journal.steps) - 1, -1, -1):
                step = journal.steps[number]
                if step.ring == ring and step.state == "done":
                    rename_without_replacing(step.after, step.before)
                    journal.write("back", n=number)
            said = said or "Files that were changing places were put back."
    return said


def _mend_step(journal: Journal, number: int) -> str:
    step = journal.steps[number]
    name = shown(os.path.basename(step.before))
    part = _hidden(step, journal, number)
    if step.state == "copied" and _inode(step.after) == step.copy_inode:
        if os.path.lexists(step.before):
            os.unlink(step.before)
        journal.write("done", n=number)
        return f"{name}: the move was finished."
    if step.state in ("copying", "copied"):
        if os.path.lexists(part):
            os.unlink(part)
        journal.write("back", n=number)
        return f"{name}: a copy that was broken off was removed; the file is where it was."
    if _is(step.before, step.identity):
        if _is(step.after, step.identity):
            os.unlink(step.before)  # the old name of a hard link: both are the same file
            journal.write("done", n=number)
            return f"{name}: the move was finished."
        if os.path.lexists(part):
            os.unlink(part)
        journal.write("back", n=number)
        return f"{name}: the move had not begun; the file is where it was."
    if _is(step.after, step.identity):
        journal.write("done", n=number)
        return f"{name}: the move had been done."
    journal.write("left", n=number, why="It could not be found after the plan was broken off.")
    return f"{name}: it could not be found after the plan was broken off."


def mend_all(folder: Path) -> list[tuple[Journal, str]]:
    """Mend every journal of a data folder that was broken off and that nobody works on; each is stopped then."""
    mended: list[tuple[Journal, str]] = []
    for journal in journals(folder):
        if journal.ended or not journal.lock():
            continue
        try:
            journal.follow()
            if journal.ended:
                continue
            said = mend(journal)
            if journal.undoes:
                _tell_original(journal)
            journal.write("end", state="stopped", sync=True)
            mended.append((journal, said))
        finally:
            journal.release()
    return mended


def _remove_empty_folders(journal: Journal) -> None:
    """Folders that fell empty because of the steps, from the inside out; never a library's own folder."""
    roots = set(journal.roots)
    removable = journal.removable
    folders = {os.path.dirname(step.before) for step in journal.steps if step.state == "done"}
    for folder in sorted(folders | set(journal.made), key=lambda path: -path.count(b"/")):
        while folder not in roots and any(folder.startswith(root + b"/") for root in roots):
            try:
                mode = stat.S_IMODE(os.stat(folder).st_mode)
                if (removable is not None and folder not in removable) or os.listdir(folder):
                    break
                os.rmdir(folder)
            except OSError:
                break
            journal.write("removed", folder=os.fsdecode(folder), mode=mode)
            folder = os.path.dirname(folder)


def _sync(folder: bytes) -> None:
    try:
        handle = os.open(folder, os.O_RDONLY)
    except OSError:
        return
    try:
        os.fsync(handle)
    except OSError:
        pass  # some network file systems cannot; the rename itself has been done
    finally:
        os.close(handle)


def _sync_folders(journal: Journal) -> None:
    for folder in {os.path.dirname(path) for step in journal.steps for path in (step.before, step.after)}:
        _sync(folder)


def find_journal(folder: Path, name: str | None) -> Journal:
    """A journal by its id, or the newest that can be undone; raises :class:`IndiceError` when there is none."""
    known = journals(folder)
    if name is None:
        candidates = [j for j in known if not j.undoes and j.moves()]
        if not candidates:
            raise IndiceError(
                "There is nothing to undo.", hint="`./indice tidy FOLDER --library KIND --apply` would change names."
            )
        return candidates[0]
    found = next((journal for journal in known if journal.id == name), None)
    if found is None:
        raise IndiceError(f"There is no plan {name}.", hint="`./indice undo --list` shows those that there are.")
    return found


def plan_undo(journal: Journal, only: Collection[bytes] | None = None) -> list[PlannedMove]:
    """Moves that take a journal back, whole or for files that lie at these paths now."""
    identities = {step.after: step.identity for step in journal.steps if step.state == "done"}
    back = [(after, before) for before, after in journal.moves().items() if only is None or after in only]
    names = [os.fsdecode(after)[1:] for after, _ in back]
    plan = make_plan([(os.fsdecode(a)[1:], os.fsdecode(b)[1:]) for a, b in back], names, folds_case=False)
    return [
        PlannedMove(b"/" + os.fsencode(step.before), b"/" + os.fsencode(step.after), identities.get(b"/" + os.fsencode(step.before)))
        for step in plan.steps
    ]  # fmt: skip


def undo(
    journal: Journal,
    folder: Path,
    *,
    only: Collection[bytes] | None = None,
    tell: Tell = _quiet,
    should_stop: Callable[[], bool] = _never,
) -> tuple[Journal, Outcome]:
    """Take a plan back, whole or for single files, by a journal of its own. What has changed since is left alone.

    When everything is back, folders have their old times again.
    """
    moves = plan_undo(journal, only)
    if not moves:
        raise IndiceError("Nothing of this plan is left to undo.")
    back = Journal.create(folder, moves, title=journal.title, roots=journal.roots, undoes=journal)
    outcome = carry_out(back, tell=tell, should_stop=should_stop)
    return back, outcome


def _restore_folders(journal: Journal) -> None:
    """Permissions and times of folders as they were, the innermost first."""
    times = journal.folder_times
    for folder in sorted(times, key=lambda path: -path.count(b"/")):
        accessed, changed, _ = times[folder]
        if os.path.isdir(folder):
            try:
                os.utime(folder, ns=(accessed, changed))
            except OSError:
                continue  # not ours to date; the files are back all the same
