"""Who may call each operation of the API. One that is not named here is refused to everybody, and fails a test."""

from __future__ import annotations

from typing import Literal

__all__ = ["SCOPES", "Scope", "Who", "needed_scope", "who_may"]

Who = Literal["anybody", "shared", "everyone", "tidier", "librarian", "owner"]
Scope = Literal["see", "mark", "manage"]
_ANYBODY = """
session.read_status session.set_up session.sign_in openapi.spec invited.read_invited invited.come_in devices.start
devices.ask
passkeys.begin_sign_in passkeys.sign_in
"""
"""Also without signing in: what the first page needs, and the page of an invitation."""
_SHARED = """
shared.read_shared shared.open_by_password shared.hand_in shared.read_entry shared.read_picture shared.read_content
shared.play shared.measure_line shared.beat shared.end shared.read_main shared.read_playlist shared.read_text
shared.read_text_segment shared.read_head shared.read_segment
"""
"""Who holds the link of a share that is open; what it tells them is bound by what is shared."""
_EVERYONE = """
me.choose_looks me.upload_own_picture me.remove_own_picture me.read_person_picture
session.sign_out session.change_password session.list_sessions session.end_session session.lift events.listen
songs.read_songs songs.read_lyrics_of lying.read_folders lying.read_pieces
shelves.read_shelf shelves.read_traits shelves.read_traits_like shelves.read_groups shelves.read_ruler shelves.read_ids
catalog.search catalog.read_with
entry.read_entry shelves.read_map
media.read_content media.read_frame media.read_picture media.read_sheet media.read_sheet_picture marks.mark
marks.keep_position marks.read_front marks.read_going_on marks.write_marks
playback.play playback.measure_line playback.beat playback.end playback.read_main playback.read_playlist
playback.read_text playback.read_text_segment playback.read_head playback.read_segment
together.list_parties together.invite together.beat together.tell together.leave
lists.list_playlists lists.make lists.read lists.change lists.remove lists.add lists.drop lists.write_file
lists.read_file
sharing.list_shares sharing.share sharing.take_back passkeys.list_passkeys passkeys.begin_making passkeys.make
passkeys.remove tokens.list_tokens tokens.make tokens.end devices.read devices.answer
"""
"""Who is signed in; what it tells them is bound by what they may see."""
_TIDIER = """
byhand.choose_picture byhand.leave_choice byhand.take_frame byhand.upload_picture byhand.write_fact entry.read_kept
findings.excuse_finding findings.list_findings findings.list_safe_findings
jobs.list_jobs jobs.read_log libraries.list_libraries
matches.fetch_again matches.fetch_offers
plans.apply plans.draft plans.read_plan plans.take_back
subtitles.change_times subtitles.draft subtitles.list_texts subtitles.listen subtitles.search
"""
"""Who keeps the catalog; and of one library who may tidy it (`store/tidiers` says what belongs to which)."""
_LIBRARIAN = """
byhand.write_many
conventions.bring_in conventions.choose conventions.forget conventions.preview conventions.read_conventions
conventions.set_check conventions.take_out conventions.write_own
duplicates.draft_bin duplicates.list_twins duplicates.look duplicates.tell_apart
files.list_files files.read_tree files.read_ways
findings.forget_excuse findings.list_excuses
intake.add intake.file intake.leave intake.list_intakes intake.remove
jobs.stop_job jobs.list_machines
libraries.browse libraries.declare libraries.edit libraries.forget libraries.match
libraries.preview libraries.scan libraries.settle
matches.confirm matches.decide matches.decide_together matches.list_matches
matches.look_again matches.look_closer matches.read_match matches.read_preview matches.search_again matches.suggest
matches.undo
plans.draft_what_to_write plans.list_plans
missing.read_missing missing.read_list
playback.list_playings playback.stop
sources.list_sources sources.look sources.order sources.put_key sources.put_source sources.remove sources.test
subtitles.list_services subtitles.put_service subtitles.put_service_key subtitles.remove_service subtitles.test_service
taught.correct taught.forget taught.read_aliases taught.read_taught taught.remove_alias
today.list_troubles today.read_today
"""
"""Who keeps the catalog."""
_OWNER = """
people.list_people people.add people.change people.remove people.list_limits people.limit
people.list_invitations people.invite people.take_back people.list_deeds people.list_seers away.read_away away.wish
me.read_watched storage.read_storage storage.clean
"""
_ALL: dict[str, Who] = {
    **dict.fromkeys(_ANYBODY.split(), "anybody"),
    **dict.fromkeys(_SHARED.split(), "shared"),
    **dict.fromkeys(_EVERYONE.split(), "everyone"),
    **dict.fromkeys(_TIDIER.split(), "tidier"),
    **dict.fromkeys(_LIBRARIAN.split(), "librarian"),
    **dict.fromkeys(_OWNER.split(), "owner"),
}


def who_may(operation: str) -> Who | None:
    """Who may call an operation; None when nobody has said."""
    return _ALL.get(operation)


SCOPES: tuple[Scope, ...] = ("see", "mark", "manage")
"""What a script may be let do: look and play; keep marks, positions and lists; all else that its person may."""
_PLAYING = "playback."
_OWN = ("marks.", "lists.")
_IN_PERSON = ("session.", "me.", "passkeys.", "tokens.", "devices.", "sharing.", "people.")
"""What only a person does, in a browser: passwords, sessions, secrets, rights."""


def needed_scope(operation: str, method: str) -> Scope | None:
    """The scope that a script needs for an operation; None where no script may."""
    if operation.startswith(_IN_PERSON):
        return None
    if who_may(operation) != "everyone":
        return "manage"
    if method in ("GET", "HEAD") or operation.startswith(_PLAYING):
        return "see"
    return "mark" if operation.startswith(_OWN) else None
