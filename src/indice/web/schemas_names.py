"""Names and folders: the tree, readings, findings, plans, conventions, copies, what waits at the
door and what is missing."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from .schemas import Asked, FileOut, LackOut, Picture


class MissingQuery(BaseModel):
    after: str = Field("", max_length=2000)
    library_id: int | None = Field(None, ge=1, le=2**31 - 1)


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
