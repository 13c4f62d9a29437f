"""What goes over the wire, typed; the OpenAPI description and the front end's client are made from these."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..store.orders import Sort

Kind = Literal["movies", "series", "music", "photos", "home-videos", "mixed"]
JobState = Literal["queued", "running", "done", "failed", "stopped"]


class Asked(BaseModel):
    """Base of request bodies: nothing is guessed."""

    model_config = ConfigDict(strict=True, extra="forbid")


class Problem(BaseModel):
    """An error with words for a person."""

    reference: str
    message: str
    hint: str = ""


class Done(BaseModel):
    """It is done."""

    ok: bool = True


class DemoFolder(BaseModel):
    name: str
    path: str
    kind: Kind


class LooksOut(BaseModel):
    theme: Literal["system", "light", "dark"]
    cards: Literal["small", "medium", "large"]
    hides: list[Literal["year", "marks", "state"]]
    """What cards do not show."""


class Status(BaseModel):
    version: str
    has_owner: bool
    needs_code: bool
    """Whether the first run asks for the code that the start command prints."""
    has_library: bool
    person: str | None
    role: Literal["owner", "librarian", "member", "guest"] | None
    manages: bool
    """Whether who is signed in keeps the catalog, and does not only look at it."""
    tidies: list[int]
    """Libraries that they may keep, who do not keep the whole catalog."""
    age: int | None
    has_pin: bool
    is_lifted: bool
    """Whether their age limit is lifted in this browser at the moment."""
    language: str
    looks: LooksOut
    person_id: int | None
    tells_seen: bool
    """Whether the owner may look at what they saw."""
    csrf: str
    demo_folders: list[DemoFolder]
    waiting: dict[str, int]


class SetupIn(Asked):
    language: str = Field(pattern="^[a-z]{2}$")
    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    password: str = Field(min_length=8, max_length=200)
    code: str = Field(default="", max_length=40)


class PinIn(Asked):
    pin: str = Field("", max_length=12)


class PersonIn(Asked):
    name: str | None = Field(None, min_length=1, max_length=60, pattern=r"\S")
    password: str | None = Field(None, min_length=8, max_length=200)
    role: Literal["owner", "librarian", "member", "guest"] | None = None
    libraries: list[Annotated[str, Field(max_length=80)]] | None = Field(None, max_length=500)
    """Names; the list takes the place of the one before."""
    downloads: bool | None = None
    shares: bool | None = None
    tidies: bool | None = None
    most_streams: int | None = Field(None, ge=1, le=50)
    """So many things at a time; None, where it is said: any number."""
    away_kbps: int | None = Field(None, ge=200, le=1_000_000)
    """So much a second when away from home; None, where it is said: any amount."""
    age: int | None = Field(None, ge=0, le=21)
    """None, where it is said: any age."""
    unrated: Literal["show", "hide"] | None = None
    pin: str | None = Field(None, max_length=12, pattern=r"^([0-9]{4,12})?$")
    """Empty: none any more."""


class InvitationIn(Asked):
    role: Literal["librarian", "member", "guest"] = "member"
    libraries: list[Annotated[str, Field(max_length=80)]] = Field(default_factory=list, max_length=500)
    """Names."""
    age: int | None = Field(None, ge=0, le=21)
    unrated: Literal["show", "hide"] = "hide"
    downloads: bool = True
    days: int = Field(7, ge=1, le=90)
    """For so many days it can be used."""


class InvitationOut(BaseModel):
    id: int
    role: str
    libraries: list[str]
    age: int | None
    ends_at: str
    made_at: str
    used_at: str | None
    used_by: str | None


class InvitationsOut(BaseModel):
    invitations: list[InvitationOut]


class InvitationMade(BaseModel):
    id: int
    link: str
    """The whole address; shown this once."""
    picture: str
    """The same as a QR code: SVG in a data URL."""


class InvitedOut(BaseModel):
    by: str
    role: str
    libraries: list[str]
    age: int | None
    ends_at: str


class InvitedIn(Asked):
    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    password: str = Field(min_length=8, max_length=200)
    language: Literal["en", "de"] = "en"


class PersonOut(BaseModel):
    id: int
    name: str
    role: str
    libraries: list[int]
    downloads: bool
    shares: bool
    tidies: bool
    most_streams: int | None
    away_kbps: int | None
    tells_seen: bool
    has_picture: bool
    age: int | None
    unrated: str
    has_pin: bool
    seen_at: str | None


class PeopleOut(BaseModel):
    people: list[PersonOut]


class LimitIn(Asked):
    path: str = Field(min_length=1, max_length=4000)
    age: int | None = Field(None, ge=0, le=21)


class LimitOut(BaseModel):
    id: int
    path: str
    age: int


class LimitsOut(BaseModel):
    limits: list[LimitOut]


class PasswordIn(Asked):
    old: str = Field(max_length=200)
    new: str = Field(min_length=8, max_length=200)


class SessionOut(BaseModel):
    id: int
    device: str
    address: str
    created_at: str
    seen_at: str
    is_this: bool


class SessionsOut(BaseModel):
    sessions: list[SessionOut]


class Trouble(BaseModel):
    name: str
    at: str
    what: str


class TroublesOut(BaseModel):
    troubles: list[Trouble]


class SignIn(Asked):
    name: str = Field(max_length=200)
    password: str = Field(max_length=200)


class BrowsedFolder(BaseModel):
    name: str
    path: str
    readable: bool


class Browsed(BaseModel):
    path: str
    parent: str | None
    folders: list[BrowsedFolder]


class BrowseQuery(BaseModel):
    path: str = Field("/", max_length=4096)


class FolderPreview(BaseModel):
    path: str
    counts: dict[str, int]
    suggestion: Kind
    complete: bool


class FolderOut(BaseModel):
    id: int
    path: str
    state: str
    problem: str


class LibraryOut(BaseModel):
    id: int
    name: str
    kind: Kind
    language: str
    country: str
    sources: list[str]
    own_first: list[str]
    writes: list[str]
    convention: str
    schedule: str
    checks: dict[str, str]
    folders: list[FolderOut]
    scanned_at: str | None
    states: dict[str, int]
    size_bytes: int


class LibraryIn(Asked):
    name: str = Field(min_length=1, max_length=80)
    kind: Kind
    folders: list[str] = Field(min_length=1, max_length=50)
    language: str = Field("en", pattern="^[a-z]{2}$")
    country: str = Field("", pattern="^([A-Z]{2})?$")
    sure: bool = False


Writable = Literal["facts", "artwork", "photos", "tags"]


class LibraryEdit(Asked):
    name: str = Field(min_length=1, max_length=80)
    language: str = Field(pattern="^[a-z]{2}$")
    country: str = Field(pattern="^([A-Z]{2})?$")
    sources: list[str] = Field(max_length=50)
    """Names in their order; empty means all."""
    own_first: list[str] = Field(max_length=60)
    """Fields in which the library's own files are believed before any source."""
    writes: list[Writable] = Field(max_length=4)
    schedule: str | None = Field(None, max_length=40)
    """Such as `nightly at 3` or `every 6 hours`; empty: only when something changes."""


class JobOut(BaseModel):
    id: int
    kind: str
    title: str
    state: JobState
    step: str
    done: int
    total: int
    rate: float
    seconds_left: int | None
    current: str
    message: str
    created_at: str
    finished_at: str | None


class MachineOut(BaseModel):
    id: int
    name: str
    is_home: bool
    is_silent: bool
    """It has said nothing for long: it is gone for all that is known."""
    can: list[str]
    sees: list[list[str]]
    """Where a folder lies at home, and where for it."""
    job: str | None
    """What it is at, or helps with."""
    helps: bool
    done: int
    """Files that it has looked into for others."""
    began_at: str


class MachinesOut(BaseModel):
    machines: list[MachineOut]


class HeldOut(BaseModel):
    what: str
    path: str
    size_bytes: int
    is_about: bool
    limit_bytes: int | None


class DiskOut(BaseModel):
    path: str
    free_bytes: int
    total_bytes: int
    holds: list[str]


class SheetOut(BaseModel):
    is_there: bool
    """Else it is being drawn."""
    url: str
    step_seconds: float
    count: int
    columns: int
    width: int
    """Of one picture, in pixels."""
    height: int


class StorageOut(BaseModel):
    home: str
    held: list[HeldOut]
    disks: list[DiskOut]
    little_bytes: int
    """With less room on the disk of the data folder Indice may stop."""


class MissingQuery(BaseModel):
    after: str = Field("", max_length=2000)
    library_id: int | None = Field(None, ge=1, le=2**31 - 1)


class LackOut(BaseModel):
    group: int
    """Its season or disc."""
    number: int
    title: str
    date: str
    is_out: bool
    """Whether it has been aired."""
    is_known: bool
    """Whether a source says that there is one; else it is a hole between numbers."""


class LackingOut(BaseModel):
    kind: str
    entry_id: int | None
    title: str
    by: str
    year: int | None
    library: str
    lacks: list[LackOut]


class MissingOut(BaseModel):
    rows: list[LackingOut]
    following: str | None


class CleanIn(Asked):
    what: Literal["segments", "pictures", "bins"]


class CleanOut(BaseModel):
    freed_bytes: int


class JobLineOut(BaseModel):
    at: str
    level: str
    path: str
    text: str


class JobRef(BaseModel):
    job_id: int


class Picture(BaseModel):
    digest: str
    width: int
    height: int
    blur: str


class MarkOut(BaseModel):
    seen: bool
    favourite: bool
    rating: int | None
    tags: list[str]
    note: str
    share: float
    """How much of it was played where one stopped, from 0 to 1; 0 when one did not."""
    position_seconds: float | None


class EntryCard(BaseModel):
    id: int
    kind: str
    title: str
    subtitle: str
    year: int | None
    state: str
    moment: str | None
    added_at: str
    picture: Picture | None
    count: int
    mark: MarkOut | None = None
    """One's own; None where there is none."""
    seconds: int | None = None
    """Of a film, as the two below: how long it is."""
    lines: int | None = None
    size_bytes: int | None = None
    moves: bool = False
    """Of a photo: whether the moments around it can be played."""


class Arrival(BaseModel):
    at: str
    library: str
    entries: list[EntryCard]
    total: int


class LibraryPicture(BaseModel):
    id: int
    name: str
    kind: str
    states: dict[str, int]
    size_bytes: int
    away: bool


class GuessOut(BaseModel):
    name: str
    """Empty: whatever the name."""
    address: str
    wrong: int
    at: str


class NewcomerOut(BaseModel):
    """Somebody signed in from where, and with what, they were never seen before."""

    person: str
    device: str
    address: str
    at: str


class AbsenceOut(BaseModel):
    library_id: int
    folder: str
    files: int


class SettleIn(Asked):
    gone: bool


class Today(BaseModel):
    since: str | None
    arrivals: list[Arrival]
    libraries: list[LibraryPicture]
    jobs: list[JobOut]
    waiting: dict[str, int]
    little_room: int | None
    """Bytes that are free on the disk of the data folder, where they are few."""
    troubles: list[JobLineOut]
    newcomers: list[NewcomerOut]
    guesses: list[GuessOut]
    absences: list[AbsenceOut]


class TreeNode(BaseModel):
    folder_id: int
    path: str
    name: str
    depth: int
    states: dict[str, int]
    has_children: bool


class TreeQuery(BaseModel):
    folder_id: int | None = None
    """Whose directories; of the roots where it is left out."""
    path: str = ""


class Mark(BaseModel):
    field: str
    value: Any
    spans: list[list[int]]
    rule: str


class FileOut(BaseModel):
    id: int
    folder_id: int
    path: str
    directory: str
    name: str
    kind: str
    state: str
    size_bytes: int
    serves: str
    marks: list[Mark]
    media: dict[str, Any] | None
    problem: str
    entry_id: int | None
    entry_title: str | None
    tidy: str | None


class TeachIn(Asked):
    field: str = Field(pattern="^[a-z_]{2,20}$")
    action: Literal["drop", "cut", "set"]
    value: str | int | None = None
    siblings: bool = False


class TaughtOut(BaseModel):
    id: int
    library: str
    path: str
    siblings: bool
    field: str
    action: str
    value: Any
    at: str


class TaughtList(BaseModel):
    taught: list[TaughtOut]


class FilesQuery(BaseModel):
    folder_id: int
    directory: str = ""


class CheckOut(BaseModel):
    slug: str
    title: str
    severity: str
    why: str
    before: str
    after: str
    looks_at: str
    count: int


class FindingMove(BaseModel):
    before: str
    after: str | None


class FindingOut(BaseModel):
    id: int
    check: str
    severity: str
    library_id: int
    path: str
    message: str
    fix: str | None
    fix_kind: str | None
    missing: list[int]
    moves: list[FindingMove]


class PlanIn(Asked):
    library_id: int
    findings: list[int] = Field(default_factory=list, max_length=400_000)
    edits: dict[str, str] = Field(default_factory=dict)
    below: str | None = Field(None, max_length=4096)


class UndoIn(Asked):
    only: list[str] | None = None


class PlanMove(BaseModel):
    folder_id: int
    before: str
    after: str
    what: str = ""
    """Of a plan that writes: `facts`, `artwork`, `photos`, or `tags` with their names."""


class PlanConflict(BaseModel):
    before: str
    after: str
    why: str


class PlanLeft(BaseModel):
    path: str
    why: str


class WritingIn(Asked):
    library_id: int


class PlanOut(BaseModel):
    id: int
    library_id: int | None
    kind: str
    title: str
    state: str
    count: int
    moves: list[PlanMove]
    conflicts: list[PlanConflict]
    left: list[PlanLeft]
    folders: int
    bytes_to_copy: int
    made_at: str
    applied_at: str | None
    can_undo: bool


class PlansOut(BaseModel):
    plans: list[PlanOut]


TwinKind = Literal["same-bytes", "same-work", "near-picture", "near-sound"]


class TwinsIn(BaseModel):
    after: int = Field(0, ge=0, le=2**31 - 1)
    kind: Literal["", "same-bytes", "same-work", "near-picture", "near-sound"] = ""


class TwinFile(BaseModel):
    id: int
    library: str
    path: str
    size_bytes: int
    quality: str
    kind: str
    entry_id: int | None
    picture: Picture | None


class TwinOut(BaseModel):
    id: int
    kind: TwinKind
    why: str
    files: list[TwinFile]
    """The one to keep first."""


class TwinsOut(BaseModel):
    groups: list[TwinOut]
    counts: dict[str, int]
    next: int | None
    """Where the next page begins; None at the end."""
    job_id: int | None
    """The job that looks at the moment."""


class BinChoice(Asked):
    group: int
    keep: int


class BinIn(Asked):
    choices: list[BinChoice] = Field(min_length=1, max_length=5000)


class BinOut(BaseModel):
    plans: list[int]


class IntakeIn(Asked):
    path: str = Field(min_length=1, max_length=4096)
    alone: bool = False


class IntakeOut(BaseModel):
    id: int
    path: str
    alone: bool
    problem: str


class ArrivalOut(BaseModel):
    id: int
    path: str
    intake: str
    state: str
    why: str
    library: str | None
    files: int
    size_bytes: int
    moves: list[PlanMove]


class IntakesOut(BaseModel):
    intakes: list[IntakeOut]
    arrivals: list[ArrivalOut]


class ConventionOut(BaseModel):
    name: str
    about: str
    file_system: str
    templates: dict[str, str] = Field(max_length=60)
    own: bool
    libraries: list[str]


class ConventionsOut(BaseModel):
    conventions: list[ConventionOut]
    values: list[str]
    filters: list[str]
    slots: list[str]
    file_systems: list[str]


class ConventionBody(Asked):
    name: str = Field(min_length=1, max_length=60)
    about: str = Field("", max_length=400)
    file_system: Literal["any", "strict", "linux"]
    templates: dict[str, str] = Field(max_length=60)


class ConventionText(Asked):
    text: str = Field(max_length=60_000)


class PreviewIn(Asked):
    file_system: Literal["any", "strict", "linux"] = "any"
    templates: dict[str, str] = Field(max_length=60)
    library_id: int | None = None


class PreviewError(BaseModel):
    slot: str
    message: str
    line: int


class PreviewSample(BaseModel):
    slot: str
    before: str
    after: str


class PreviewOut(BaseModel):
    errors: list[PreviewError]
    samples: list[PreviewSample]


class NamingIn(Asked):
    convention: str = Field(max_length=60)


class CheckLoudness(Asked):
    loudness: Literal["off", "note", "advice", "problem"] | None


class FindingsOut(BaseModel):
    checks: list[CheckOut]
    libraries: dict[int, int]
    """Library → how many."""
    since: dict[int, int]
    """Library → the least id of its findings: what has a lesser one was found by an earlier check and is settled."""
    total: int
    """Of those that were asked for; the findings are the first of them."""
    findings: list[FindingOut]
    safe: int
    """Of those that were asked for the cure is safe of so many."""


class SafeOut(BaseModel):
    findings: dict[int, list[int]]
    """Library → its findings whose cure is safe."""


class ExcuseOut(BaseModel):
    id: int
    library: str
    check: str
    path: str


class ExcusesOut(BaseModel):
    excuses: list[ExcuseOut]


class FindingsQuery(BaseModel):
    check: str | None = None
    library_id: int | None = None


class ScorePart(BaseModel):
    name: str
    likeness: float
    weight: float
    here: str
    there: str
    veto: bool


class CandidateOut(BaseModel):
    id: int
    external_id: str
    source: str
    name: str
    description: str
    score: float
    parts: list[ScorePart]
    fields: dict[str, Any]
    is_looked_at: bool
    """Whether the source was asked for more than its name."""


class ApartOut(BaseModel):
    name: str
    description: str
    type: str
    source: str


class MatchOut(BaseModel):
    entry: EntryCard
    library: str
    note: str
    taken: str | None
    """Identifier of the candidate that was taken."""
    files: list[FileOut]
    here: dict[str, Any]
    picture: Picture | None
    """A picture of the household's own, such as the cover that its tracks carry."""
    frame: int | None
    """A file of which a frame can be shown."""
    candidates: list[CandidateOut]
    apart: list[ApartOut]
    """What sources brought up that is of another type."""


class AgainOut(BaseModel):
    entries: list[EntryCard]


class MatchesQuery(BaseModel):
    after: int | None = None
    """The last entry of the page before."""


class MatchesOut(BaseModel):
    waiting: list[EntryCard]
    total: int
    decided: list[EntryCard]


class TakeIn(Asked):
    candidate_id: int | None


class ChoiceIn(Asked):
    entry_id: int
    candidate_id: int | None
    """The likeliest where it is null."""


class ChoicesIn(Asked):
    choices: list[ChoiceIn] = Field(min_length=1, max_length=200)


class AliasOut(BaseModel):
    id: int
    kind: str
    name: str
    title: str
    source: str
    """Empty where a person said that no source knows it."""
    at: str


class AliasesOut(BaseModel):
    aliases: list[AliasOut]


class WordsIn(Asked):
    words: str = Field(min_length=1, max_length=300)
    source: str | None = Field(None, max_length=200)
    """Only this one; all sources of the library otherwise."""


class SuggestedOut(BaseModel):
    names: list[str]


class MarksIn(BaseModel):
    entry_ids: list[int] = Field(min_length=1, max_length=100_000)
    seen: bool | None = None
    favourite: bool | None = None
    rating: int | None = Field(None, ge=0, le=10)
    """From 1 to 10; 0 takes it back."""
    tags: list[Annotated[str, Field(max_length=60)]] | None = Field(None, max_length=50)
    note: Annotated[str, Field(max_length=4000)] | None = None
    """For oneself; an empty one takes it back."""


class MarksQuery(BaseModel):
    form: Literal["csv", "jsonld"] = "csv"


class PositionIn(BaseModel):
    seconds: float = Field(ge=0, le=10_000_000)
    duration_seconds: float = Field(gt=0, le=10_000_000)


class PositionOut(BaseModel):
    came: Literal["left", "kept", "seen"]


class FrontRow(BaseModel):
    name: str
    """`going-on`, `next`, `new-films`, `new-series`, `new-albums`, `this-day`, `favourites` or `seen`."""
    entries: list[EntryCard]


class FrontOut(BaseModel):
    rows: list[FrontRow]


class GoingOn(BaseModel):
    entries: list[EntryCard]


class FactIn(Asked):
    value: Any = None


class ShelfQuery(BaseModel):
    after: str = Field("", max_length=600)
    """What the page before said of the following one."""
    year: str = Field("", max_length=7, pattern=r"^(\?|[0-9]{4}(-[0-9]{2})?)?$")
    until: str = Field("", max_length=7, pattern=r"^([0-9]{4}(-[0-9]{2})?)?$")
    """Of photos: the list begins at this month, and goes on to older ones."""
    words: str = Field("", max_length=200)
    traits: str = Field("", max_length=2000)
    """What it is narrowed down by, parted by `|`: `genre:Drama|genre:Comedy|resolution:1080p`."""
    sort: Sort = "title"
    """Of films and series; length, resolution and size are of films."""


class TraitQuery(ShelfQuery):
    like: str = Field("", max_length=80)
    """Letters that stand in what is looked for."""


class GroupOut(BaseModel):
    value: str
    count: int
    entries: list[EntryCard]
    """The first of them."""
    lacks: list[LackOut]
    """Of a set of films what is not here, for who keeps the catalog."""


class GroupsOut(BaseModel):
    groups: list[GroupOut]
    total: int
    """How many groups there are in all."""
    following: str | None


class TraitOut(BaseModel):
    value: str
    label: str
    """Empty where the words of the page say it."""
    count: int


class TraitGroup(BaseModel):
    name: str
    traits: list[TraitOut]
    has_more: bool
    """Whether there are more of them, which one looks for by their letters."""


class TraitsOut(BaseModel):
    groups: list[TraitGroup]
    is_settled: bool
    """Whether all that was read lately is counted already."""


class Shelf(BaseModel):
    entries: list[EntryCard]
    following: str | None
    """What the next page is asked with; null after the last."""


class MapQuery(ShelfQuery):
    """What of the photos is asked for, and what is seen of the earth, in degrees."""

    west: float = Field(-180, ge=-180, le=180)
    south: float = Field(-90, ge=-90, le=90)
    east: float = Field(180, ge=-180, le=180)
    north: float = Field(90, ge=-90, le=90)


class HeapOut(BaseModel):
    """Photos that were taken near each other, and one of them."""

    cell: str
    """Its name, as photos are narrowed down by it: `near:1203`."""
    count: int
    entry: EntryCard
    latitude: float
    longitude: float
    town: str
    country: str


class MapOut(BaseModel):
    heaps: list[HeapOut]


class Ruler(BaseModel):
    steps: dict[str, int]
    """Year, of photos month → how many."""
    total: int


class MatchingIds(BaseModel):
    ids: list[int]


class SearchQuery(BaseModel):
    q: str = Field("", max_length=300)


class SourceOut(BaseModel):
    id: int
    name: str
    url: str
    problem: str
    has_key: bool
    checked_at: str | None
    unknown_fields: list[str]
    profile: str


class SourceIn(Asked):
    profile: str = Field(max_length=100_000)
    key: str | None = Field(None, max_length=500)


class LookIn(Asked):
    url: str = Field(min_length=8, max_length=2000)
    key: str | None = Field(None, max_length=4000)


class NamedOut(BaseModel):
    id: str
    name: str


class LookOut(BaseModel):
    name: str
    versions: list[str]
    batch_size: int
    wants_key: bool
    types: list[NamedOut]
    properties: dict[str, list[NamedOut]]
    profile: str
    """A draft, as TOML."""


class OrderIn(Asked):
    ids: list[int] = Field(max_length=200)


class ManyFactsIn(Asked):
    entry_ids: list[int] = Field(min_length=1, max_length=50_000)
    field: str = Field(max_length=40)
    value: Any
    how: Literal["set", "add", "drop"]
    """`add` and `drop` change single values of a list."""


class Changed(BaseModel):
    count: int


class FrameIn(Asked):
    file_id: int
    seconds: float = Field(ge=0, le=200_000)
    role: Literal["poster", "backdrop", "thumb"]


class ContentQuery(BaseModel):
    download: bool = False
    """Whether it is to be saved instead of shown."""


class FrameQuery(BaseModel):
    at: float = Field(0, ge=0, le=200_000)


class WithQuery(BaseModel):
    field: str = Field(max_length=40)
    value: str = Field(max_length=400)


class RoleOut(BaseModel):
    field: str
    """What the value is of these: `directors`, `cast`, `genres` …"""
    entries: list[EntryCard]


class WithOut(BaseModel):
    value: str
    roles: list[RoleOut]
    more: int
    """So many things more than are listed."""
    portrait: Picture | None
    lacks: list[LackOut]
    """Of a set of films what is not here, for who keeps the catalog."""


class KeyIn(Asked):
    key: str = Field(max_length=500)


class Said(BaseModel):
    message: str


class LibrariesOut(BaseModel):
    libraries: list[LibraryOut]


class JobsOut(BaseModel):
    jobs: list[JobOut]


class LogOut(BaseModel):
    lines: list[JobLineOut]


class TreeOut(BaseModel):
    nodes: list[TreeNode]


class FilesOut(BaseModel):
    files: list[FileOut]


class WayPart(BaseModel):
    label: str
    text: str


class WayPoint(BaseModel):
    name: str
    """What speaks for it, or against it where the number is negative: a reference, the words are in the locales."""
    count: int


class WayOption(BaseModel):
    name: str
    parts: list[WayPart]
    points: list[WayPoint]
    won: bool


class WayOut(BaseModel):
    question: str
    subject: str
    options: list[WayOption]


class WaysOut(BaseModel):
    ways: list[WayOut]


class SourcesOut(BaseModel):
    sources: list[SourceOut]


class FoundNameOut(BaseModel):
    group: str
    """`credit` for who made something or is in it, else a group of traits."""
    value: str
    shelf: str
    """Where to look for it."""
    count: int


class FoundOut(BaseModel):
    entries: list[EntryCard]
    named: list[FoundNameOut] = Field(default_factory=list)
    """Names that are no entries: people, places, genres, collections."""
    lines: dict[int, str] = Field(default_factory=dict)
    """What is sung in those that were found by their words."""


class PlaybackIn(Asked):
    can: list[Annotated[str, Field(max_length=300)]] = Field(max_length=400)
    """What the player says it can play, as RFC 6381 writes it."""
    max_height: int | None = Field(None, ge=1, le=10_000)
    max_kbps: int | None = Field(None, ge=1, le=10_000_000)
    sound: int | None = Field(None, ge=0, le=999)
    text: int | None = Field(None, ge=0, le=999)
    file_id: int | None = Field(None, ge=1, le=2**31 - 1)
    hls: bool = True
    from_seconds: float | None = Field(None, ge=0, le=10_000_000)
    """Where the player will begin: what is made first."""
    list_id: int | None = Field(None, ge=1, le=2**31 - 1)
    """The playlist that is played through; what follows in it is what comes next."""


class SoundTrack(BaseModel):
    index: int
    language: str | None
    label: str
    codec: str
    channels: int
    default: bool


class TextTrack(BaseModel):
    index: int
    language: str | None
    label: str
    flags: list[str]
    url: str | None
    """WebVTT; none for pictures of words, which are drawn in when they are chosen."""


class ChapterOut(BaseModel):
    start_seconds: float
    title: str


class VersionOut(BaseModel):
    file_id: int
    label: str
    width: int
    height: int


class PartOut(BaseModel):
    file_id: int
    start_seconds: float
    duration_seconds: float


PlayMode = Literal["direct", "repackaged", "converted"]


class PassageOut(BaseModel):
    kind: Literal["recap", "opening", "closing"]
    start_seconds: float
    end_seconds: float


class LoudnessOut(BaseModel):
    """What a song's tags say: the gains that bring it and its album to -18
    LUFS, and how far the loudest moment goes."""

    track: float | None = None
    album: float | None = None
    track_peak: float | None = None
    album_peak: float | None = None


class PlaybackOut(BaseModel):
    mode: PlayMode
    reason: str
    reasons: list[str]
    """Words for the front end's own languages."""
    url: str
    mime: str
    entry_id: int
    """What really plays: of a series an episode."""
    kind: str
    title: str
    subtitle: str
    parent_id: int | None
    picture: Picture | None
    file_id: int
    duration_seconds: float
    width: int | None
    height: int | None
    source_height: int | None
    kbps: int | None
    """How much is sent a second, in thousand bits; none where nothing bounds it."""
    sound: int | None
    """Number of the sound track that is heard."""
    sounds: list[SoundTrack]
    texts: list[TextTrack]
    chapters: list[ChapterOut]
    passages: list[PassageOut]
    """What one may want to skip."""
    versions: list[VersionOut]
    position_seconds: float
    keeps_position: bool
    """Not of an extra: that one has looked at it says nothing of the film."""
    next_entry_id: int | None
    parts: list[PartOut]
    loudness: LoudnessOut | None
    key: str
    download: str


class PlayingOut(BaseModel):
    key: str
    person: str
    entry_id: int
    title: str
    mode: PlayMode
    reasons: list[str]
    began_at: str
    device: str
    height: int | None
    machine: str
    """Which other machine converts it; empty: none."""
    speed: float
    """Seconds of the film that are made a second; 0 when nothing is being made."""


class PlayingsOut(BaseModel):
    playings: list[PlayingOut]
    most: int
    """So many may be converted at the same time."""
