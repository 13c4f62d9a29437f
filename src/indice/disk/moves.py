"""Does what a journal says, step by step; takes it back; mends what was broken off."""

from __future__ import annotations

import contextlib
import errno
import os
import stat
from collections.abc import Callable, Collection
from dataclasses import dataclass, field
from pathlib import Path

from ..core.naming.plan import make_plan
from ..core.phrase import joined, phrase
from ..errors import IndiceError
from .journal import Identity, Journal, PlannedMove, StepState, journals
from .ledger import LedgerFull
from .links import link_of, linked_folder
from .rename import copy_verified, digest_of, rename_without_replacing
from .walk import shown

__all__ = ["Outcome", "carry_out", "find_journal", "left_alone", "mend", "mend_all", "plan_undo", "undo"]

Tell = Callable[[int, int, bytes], None]
"""Told after each step: done, all, path."""


@dataclass(slots=True)
class Outcome:
    """What came of it."""

    done: int = 0
    left: list[tuple[bytes, str]] = field(default_factory=list)
    """Files that were left alone, and why."""
    stopped: bool = False
    why: str = ""
    """Why it was stopped, where nobody wanted it to."""


def _quiet(done: int, total: int, path: bytes) -> None:
    """Nobody listens."""


def _never() -> bool:
    return False


def carry_out(journal: Journal, *, tell: Tell = _quiet, should_stop: Callable[[], bool] = _never) -> Outcome:
    """Do the steps that wait. A file that has changed, or whose new name is taken, is left alone and said so.

    When the journal cannot be written any more, the plan stops there: nothing is done that is not written down.
    Raises :class:`IndiceError` when another process works on the journal, or when there is no room to begin.
    """
    _lock(journal)
    outcome = Outcome()
    try:
        journal.follow()
        mend(journal)
        if journal.ended:
            journal.write("resumed")
        _do_all(journal, outcome, tell, should_stop)
        _remove_empty_folders(journal)
        _sync_folders(journal)
        if journal.undoes:
            _tell_original(journal)
        journal.write("end", state="stopped" if outcome.stopped else "done", sync=True)
    except LedgerFull as error:
        outcome.stopped, outcome.why = True, joined(error.message, error.hint)
    finally:
        journal.release()
    outcome.done = sum(step.state == "done" for step in journal.steps)
    outcome.left = left_alone(journal)
    return outcome


def left_alone(journal: Journal) -> list[tuple[bytes, str]]:
    """What was left alone, or lies where a person must look at it."""
    return [
        (step.before if step.state == "left" else step.after, step.why)
        for step in journal.steps
        if step.state == "left" or (step.state == "done" and step.why)
    ]


def _do_all(journal: Journal, outcome: Outcome, tell: Tell, should_stop: Callable[[], bool]) -> None:
    broken = {step.ring for step in journal.steps if step.ring and step.state == "done" and step.why}
    for number, step in enumerate(journal.steps):
        if step.state != "pending":
            continue
        is_open = bool(step.ring) and _is_ring_open(journal, step.ring)
        if not is_open and (should_stop() or journal.is_short):
            outcome.stopped = True
            if journal.is_short:
                outcome.why = phrase(
                    "The disk of {parent} is full. Free some space there, then go on or undo.",
                    parent=journal.path.parent,
                )
            break
        if step.ring in broken and step.ring:
            _leave(journal, number, phrase("The file that it changes places with could not be moved."))
        elif not _do(journal, number) and step.ring:
            broken.add(step.ring)
            _put_back(journal, step.ring, "left")
        tell(number + 1, len(journal.steps), step.after)


def _tell_original(journal: Journal) -> None:
    """Write into the journal that is taken back what is back; when all is, folders get their old times."""
    original = Journal.read(journal.path.with_name(f"{journal.undoes}.jsonl"))
    if not original.lock():
        return
    try:
        original.follow()
        moved = journal.moves()
        back = [after for before, after in original.moves().items() if moved.get(after) == before]
        relinked = {step.after for step in journal.relinked()}
        back += [step.after for step in original.relinked() if step.after in relinked]
        if back:
            original.write("back again", by=journal.id, paths=[os.fsdecode(path) for path in back], sync=True)
        if not original.moves() and not original.relinked():
            _restore_folders(journal)
    finally:
        original.release()


def _lock(journal: Journal) -> None:
    if not journal.lock():
        raise IndiceError(phrase("Another process is at work on this plan."), hint=phrase("Wait until it is done."))


def _leave(journal: Journal, number: int, why: str) -> None:
    journal.write("left", n=number, why=why)


def _do(journal: Journal, number: int) -> bool:
    """One step; False when it was left."""
    step = journal.steps[number]
    why = _obstacle(step, journal.roots)
    if why:
        _leave(journal, number, why)
        return False
    try:
        _make_folders(journal, os.path.dirname(step.after))
        journal.write("begun", n=number, sync=True)
        if step.link is not None and step.link[0] != step.link[1]:
            _relink(journal, number)
        else:
            _move(journal, number)
    except FileExistsError:
        _leave(journal, number, phrase("{after} is there.", after=shown(step.after)))
        return False
    except OSError as error:
        _leave(journal, number, _said(error))
        return False
    journal.write("done", n=number)
    return True


def _move(journal: Journal, number: int) -> None:
    step = journal.steps[number]
    try:
        rename_without_replacing(step.before, step.after)
    except OSError as error:
        if error.errno != errno.EXDEV:
            raise
        if step.link is not None:
            _relink(journal, number)
        else:
            _copy_over(journal, number)


def _relink(journal: Journal, number: int) -> None:
    """A link that says something else, or lies on another disk, is made anew; then the old one goes."""
    step = journal.steps[number]
    assert step.link is not None
    part = _hidden(step, journal, number)
    status = os.lstat(step.before)
    os.symlink(step.link[1], part)
    try:
        os.utime(part, ns=(status.st_atime_ns, status.st_mtime_ns), follow_symlinks=False)
        if link_of(step.before) != step.link[0]:
            raise OSError(errno.EAGAIN, "It changed while it was moved")
        if step.before == step.after:
            os.replace(part, step.after)
            return
        rename_without_replacing(part, step.after)
    except OSError:
        if os.path.lexists(part):
            os.unlink(part)
        raise
    os.unlink(step.before)


def _said(error: OSError) -> str:
    if error.errno in (errno.EACCES, errno.EPERM, errno.EROFS):
        return phrase("No permission to change it. Give the account that runs Indice write access to the folder.")
    if error.errno == errno.ENOSPC:
        return phrase("The disk is full.")
    if error.errno == errno.ENAMETOOLONG:
        return phrase("This disk does not take a name of that length.")
    return phrase("It could not be moved: {why}.", why=error.strerror or error)


def _obstacle(step: StepState, roots: list[bytes]) -> str:
    """Why a step must not be done now; empty when it may."""
    try:
        status = os.lstat(step.before)
    except OSError:
        return phrase("It is not there any more.")
    if stat.S_ISDIR(status.st_mode):
        return phrase("It is a folder now.")
    if step.link is not None:
        if link_of(step.before) != step.link[0]:
            return phrase("It has changed since the plan was made.")
    elif stat.S_ISLNK(status.st_mode) or not step.identity.is_same_content(status):
        return phrase("It has changed since the plan was made.")
    if step.before != step.after and os.path.lexists(step.after):
        return phrase("{after} is there.", after=shown(step.after))
    for path in (step.before, step.after):
        linked = linked_folder(path, roots)
        if linked is not None:
            return phrase("{linked} is a link to another folder; it is not followed.", linked=shown(linked))
    return ""


def _make_folders(journal: Journal, folder: bytes) -> None:
    missing: list[bytes] = []
    while not os.path.isdir(folder):
        missing.append(folder)
        folder = os.path.dirname(folder)
    modes = dict(journal.removed)
    known = journal.folder_times
    for path in reversed(missing):
        journal.write("making", folder=os.fsdecode(path), sync=True)
        try:
            os.mkdir(path)
        except OSError:
            journal.write("not made", folder=os.fsdecode(path))
            if not os.path.isdir(path):
                raise
            continue
        if path in modes or path in known:
            os.chmod(path, modes.get(path) or known[path][2])


def _hidden(step: StepState, journal: Journal, number: int) -> bytes:
    return os.path.join(os.path.dirname(step.after), f".indice-{journal.id}-{number}.part".encode())


def _copy_over(journal: Journal, number: int) -> None:
    """Across file systems: copy to a hidden name, write, compare, give it its name, then remove the old file.

    The old file goes only if it is, to the last moment, what was copied.
    """
    step = journal.steps[number]
    part = _hidden(step, journal, number)
    journal.write("copying", n=number)
    first = os.lstat(step.before)
    copied, digest = copy_verified(step.before, part)
    try:
        _must_be_untouched(step, first)
        journal.write("copied", n=number, inode=copied.st_ino, digest=digest, sync=True)
        rename_without_replacing(part, step.after)
    except (OSError, LedgerFull):
        os.unlink(part)
        raise
    _sync(os.path.dirname(step.after))
    try:
        _must_be_untouched(step, first)
    except OSError:
        if _inode(step.after) == copied.st_ino:
            os.unlink(step.after)
        raise
    os.unlink(step.before)


def _must_be_untouched(step: StepState, first: os.stat_result) -> None:
    """Raises OSError when a file was written to, or replaced, while it was copied."""
    now = os.lstat(step.before)
    same = (now.st_ino, now.st_dev, now.st_ctime_ns) == (first.st_ino, first.st_dev, first.st_ctime_ns)
    if not same or not step.identity.is_same_content(now):
        raise OSError(errno.EAGAIN, "It changed while it was copied")


def _is_ring_open(journal: Journal, ring: int) -> bool:
    states = {step.state for step in journal.steps if step.ring == ring and not step.why}
    return "done" in states and "pending" in states


_SWAPPED = phrase("The file that it changes places with could not be moved.")


def _put_back(journal: Journal, ring: int, state: str) -> bool:
    """Take back the steps of a ring that is not closed, the last first; True when all are back.

    What cannot be put back, because somebody else's file is there by now, stays where it lies; a person decides.
    """
    for number in range(len(journal.steps) - 1, -1, -1):
        step = journal.steps[number]
        if step.ring != ring or step.state != "done":
            continue
        try:
            rename_without_replacing(step.after, step.before)
        except OSError as error:
            _give_up(journal, ring, error)
            return False
        if state == "left":
            _leave(journal, number, _SWAPPED)
        else:
            journal.write(state, n=number)
    return True


def _give_up(journal: Journal, ring: int, error: OSError) -> None:
    """Say of each file of a broken ring where it lies, and leave it there."""
    taken = isinstance(error, FileExistsError)
    for number, step in enumerate(journal.steps):
        if step.ring != ring:
            continue
        if step.state == "done":
            reason = f"{shown(step.before)} is there by now" if taken else _said(error).rstrip(".")
            why = phrase(
                "It was to change places and could not be put back: {reason}. Make room, then undo the plan.",
                reason=reason,
            )
            journal.write("stuck", n=number, why=why)
        elif step.state == "pending":
            _leave(journal, number, _SWAPPED)


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

    Nothing is removed that is not, byte for byte, what the journal says. What cannot be mended is left as it lies, and
    said. The journal must be locked by the caller.
    """
    said = ""
    for number, step in enumerate(journal.steps):
        if step.state in ("begun", "copying", "copied"):
            try:
                said = _mend_step(journal, number)
            except OSError as error:
                _leave(journal, number, f"It could not be mended after the plan was broken off. {_said(error)}")
                said = phrase("{name}: {why}", name=shown(os.path.basename(step.before)), why=step.why)
    for ring in sorted({step.ring for step in journal.steps if step.ring}):
        if _is_ring_open(journal, ring):
            back = _put_back(journal, ring, "back")
            said = said or (
                phrase("Files that were changing places were put back.")
                if back
                else phrase("Files that were changing places wait.")
            )
    return said


def _mend_step(journal: Journal, number: int) -> str:
    step = journal.steps[number]
    name = shown(os.path.basename(step.before))
    part = _hidden(step, journal, number)
    if step.state == "begun" and step.link is not None and link_of(step.after) == step.link[1]:
        if step.before != step.after and link_of(step.before) == step.link[0]:
            os.unlink(step.before)
        if os.path.islink(part):
            os.unlink(part)
        journal.write("done", n=number)
        return phrase("{name}: the move was finished.", name=name)
    if step.state == "copied" and _inode(step.after) == step.copy_inode:
        return _mend_copied(journal, number, name)
    if step.state in ("copying", "copied"):
        _remove_part(part)
        journal.write("back", n=number)
        return phrase("{name}: a copy that was broken off was removed; the file is where it was.", name=name)
    if _is(step.before, step.identity):
        if _is(step.after, step.identity):
            os.unlink(step.before)  # the old name of a hard link: both are the same file
            journal.write("done", n=number)
            return phrase("{name}: the move was finished.", name=name)
        _remove_part(part)
        journal.write("back", n=number)
        return phrase("{name}: the move had not begun; the file is where it was.", name=name)
    if _is(step.after, step.identity):
        journal.write("done", n=number)
        return phrase("{name}: the move had been done.", name=name)
    journal.write("left", n=number, why=phrase("It could not be found after the plan was broken off."))
    return phrase("{name}: it could not be found after the plan was broken off.", name=name)


def _mend_copied(journal: Journal, number: int, name: str) -> str:
    """The copy has its name; the old file goes if it is what was copied, and the copy is whole."""
    step = journal.steps[number]
    try:
        status = os.lstat(step.before)
    except FileNotFoundError:
        journal.write("done", n=number)
        return phrase("{name}: the move was finished.", name=name)
    if (
        stat.S_ISREG(status.st_mode)
        and step.identity.is_untouched(status)
        and step.copy_digest
        and digest_of(step.before) == digest_of(step.after) == step.copy_digest
    ):
        os.unlink(step.before)
        journal.write("done", n=number)
        return phrase("{name}: the move was finished.", name=name)
    journal.write(
        "left",
        n=number,
        why=phrase(
            "It was written to after it had been copied to {after}. Both are kept; remove the "
            "one that you do not want.",
            after=shown(step.after),
        ),
    )
    return phrase("{name}: it has changed since it was copied; both files are kept.", name=name)


def _remove_part(part: bytes) -> None:
    """Remove a hidden copy of ours; its name carries the journal's and the step's number."""
    with contextlib.suppress(FileNotFoundError):
        os.unlink(part)


def mend_all(folder: Path) -> list[tuple[Journal, str]]:
    """Mend every journal of a data folder that was broken off and that nobody works on; each is stopped then.

    One that cannot be mended is told among the others, and stops nobody.
    """
    mended: list[tuple[Journal, str]] = []
    for reserve in folder.glob(".*.reserve") if folder.is_dir() else ():
        _drop_reserve(reserve)
    for journal in journals(folder):
        if journal.ended:
            continue
        try:
            if not journal.lock():
                continue
            journal.follow()
            if journal.ended:
                continue
            said = mend(journal)
            _remove_empty_folders(journal)
            if journal.undoes:
                _tell_original(journal)
            journal.write("end", state="stopped", sync=True)
            mended.append((journal, said))
        except (IndiceError, OSError) as error:
            mended.append((journal, f"It could not be mended: {error}"))
        finally:
            journal.release()
    return mended


def _drop_reserve(reserve: Path) -> None:
    """Room that a killed process kept aside is given back, unless its journal is at work."""
    journal = Journal(reserve.with_name(reserve.name[1:].removesuffix(".reserve")), {}, [])
    try:
        if not journal.path.exists():
            reserve.unlink(missing_ok=True)
        elif journal.lock():
            journal.release()
    except (IndiceError, OSError):
        return


def _remove_empty_folders(journal: Journal) -> None:
    """Folders that fell empty because of the steps, from the inside out; never a library's own folder."""
    roots = set(journal.roots)
    removable = journal.removable
    folders = {os.path.dirname(step.before) for step in journal.steps if step.state == "done"}
    for folder in sorted(folders | set(journal.made) | (removable or set()), key=lambda path: -path.count(b"/")):
        while folder not in roots and any(folder.startswith(root + b"/") for root in roots):
            try:
                mode = stat.S_IMODE(os.lstat(folder).st_mode)
                if (removable is not None and folder not in removable) or os.listdir(folder):
                    break
                journal.write("removed", folder=os.fsdecode(folder), mode=mode, sync=True)
                os.rmdir(folder)
            except OSError:
                break
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
        candidates = [j for j in known if not j.undoes and (j.moves() or j.relinked())]
        if not candidates:
            raise IndiceError(
                phrase("There is nothing to undo."),
                hint="`./indice tidy FOLDER --library KIND --apply` would change names.",
            )
        return candidates[0]
    found = next((journal for journal in known if journal.id == name), None)
    if found is None:
        raise IndiceError(
            phrase("There is no plan {name}.", name=name), hint="`./indice undo --list` shows those that there are."
        )
    return found


def plan_undo(journal: Journal, only: Collection[bytes] | None = None) -> list[PlannedMove]:
    """Moves that take a journal back, whole or for files that lie at these paths now."""
    identities = {step.after: step.identity for step in journal.steps if step.state == "done"}
    said = {step.after: step.link[0] for step in journal.steps if step.state == "done" and step.link}
    back = [(after, before) for before, after in journal.moves().items() if only is None or after in only]
    names = [os.fsdecode(after)[1:] for after, _ in back]
    plan = make_plan([(os.fsdecode(a)[1:], os.fsdecode(b)[1:]) for a, b in back], names, folds_case=False)
    moves: list[PlannedMove] = []
    for step in plan.steps:
        before, after = b"/" + os.fsencode(step.before), b"/" + os.fsencode(step.after)
        moves.append(PlannedMove(before, after, identities.get(before), said.get(before)))
    if only is None:
        moves += [PlannedMove(step.after, step.after, link=step.link[0]) for step in journal.relinked() if step.link]
    return moves


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
    _mend_first(journal)
    moves = plan_undo(journal, only)
    if not moves:
        raise IndiceError(phrase("Nothing of this plan is left to undo."))
    back = Journal.create(folder, moves, title=journal.title, roots=journal.roots, undoes=journal)
    outcome = carry_out(back, tell=tell, should_stop=should_stop)
    return back, outcome


def _mend_first(journal: Journal) -> None:
    """A plan that was broken off is mended before it is taken back, so that its last step is not forgotten."""
    _lock(journal)
    try:
        journal.follow()
        if not journal.ended:
            mend(journal)
            journal.write("end", state="stopped", sync=True)
    finally:
        journal.release()


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
