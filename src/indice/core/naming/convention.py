"""Conventions: how a household wants its things to be called, as templates that give the tidy path of a thing.

A template is a Jinja2 expression language cut down to what a name needs: values, a few filters, `if`, `or`. `/` in
the template parts folders; a `/` inside a value never does. A value that is unknown is empty, and `wrap` puts
signs around a value only when there is one.
"""

from __future__ import annotations

import re
import tomllib
import unicodedata
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from importlib import resources
from typing import Any, cast

from anyascii import anyascii
from jinja2 import Template, TemplateSyntaxError, nodes
from jinja2.exceptions import TemplateError
from jinja2.meta import find_undeclared_variables
from jinja2.sandbox import SandboxedEnvironment

from ..phrase import phrase
from .values import SAMPLES, VALUES, values_of

__all__ = [
    "FILE_SYSTEMS",
    "FILTERS",
    "SHIPPED",
    "SLOTS",
    "Convention",
    "ConventionError",
    "read_convention",
    "safe_name",
    "shipped",
    "slot_of",
    "write_convention",
]

SLOTS: tuple[str, ...] = (
    "movie",
    "episode",
    "special",
    "dated",
    "running",
    "track",
    "compilation",
    "photo",
    "clip",
    "extra",
    "subtitle",
    "lyrics",
    "artwork",
)
"""What a convention has a template for."""

FILE_SYSTEMS: tuple[str, ...] = (
    "any",
    "strict",
    "linux",
)
"""Whose rules names keep: those of every common one, the strictest, or hardly any."""

_SWAP = str.maketrans({":": " -", "/": "-", "\\": "-", "|": "-", '"': "'", "<": "(", ">": ")", "?": "", "*": ""})
_SLASH = str.maketrans({"/": "-", "\0": ""})
_LONGEST = {"any": 240, "strict": 120, "linux": 240}
_RESERVED = re.compile(r"(?:con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³])(?=\.|$)", re.IGNORECASE)
_ARTICLE = re.compile(
    r"^(?P<article>the|an?|der|die|das|le|la|les|el|los|las|il|lo|de|het)\s+(?P<rest>\S.*)$", re.IGNORECASE
)
_SIMPLE = re.compile(r"[A-Za-z0-9 ,;()\[\]'&+!#%=@^~.-]*")
MOST_LETTERS = 2000
"""Of one template."""


class ConventionError(ValueError):
    """A convention that cannot be used: which template, where in it, and why."""

    def __init__(self, message: str, *, slot: str = "", line: int = 1) -> None:
        super().__init__(f"{slot}: {message}" if slot else message)
        self.message = message
        self.slot = slot
        self.line = line


class _Ready(str):
    """Text that is safe already; its slashes part folders."""

    __slots__ = ()


@lru_cache(maxsize=16384)
def safe_name(text: str, *, file_system: str = "any", limit_bytes: int | None = None) -> str:
    """One part of a path: composed letters, no sign that the file system refuses, no space or dot at its ends."""
    clean = safe_text(text, file_system)
    if "  " in clean or not clean.isascii():
        clean = re.sub(r"\s{2,}", " ", clean)
    clean = clean.strip(" ") if file_system == "linux" else clean.strip(" .")
    limit = limit_bytes or _LONGEST[file_system]
    while len(clean.encode("utf-8", "surrogateescape")) > limit:
        clean = clean[:-1].rstrip(" .")
    if file_system != "linux" and _RESERVED.match(clean):
        match = cast(re.Match[str], _RESERVED.match(clean))
        clean = f"{match.group()}_{clean[match.end() :]}"
    return clean or "Unnamed"


def safe_text(text: str, file_system: str) -> str:
    """Text without the signs that the file system refuses; spaces and dots at its ends stay."""
    if _SIMPLE.fullmatch(text):
        return text
    clean = unicodedata.normalize("NFC", text)
    if file_system == "strict":
        clean = anyascii(clean)
    clean = clean.translate(_SLASH if file_system == "linux" else _SWAP)
    return "".join(c for c in clean if unicodedata.category(c)[0] != "C")


def _words(value: Any) -> str:
    if value is None or value is False:
        return ""
    if isinstance(value, (list, tuple)):
        return ", ".join(_words(item) for item in cast(list[Any], value))
    return str(value)


def _pad(value: Any, width: int = 2) -> str:
    text = _words(value)
    return text.zfill(min(max(int(width), 0), 9)) if text.isdigit() else text


def _case(value: Any, form: str = "title") -> str:
    text = _words(value)
    changes: dict[str, Callable[[str], str]] = {"lower": str.lower, "upper": str.upper, "title": str.title}
    if form not in changes:
        raise TemplateError(f"case knows lower, upper and title, but not {form!r}.")
    return changes[form](text)


def _article_last(value: Any) -> str:
    text = _words(value)
    match = _ARTICLE.match(text)
    return f"{match['rest']}, {match['article']}" if match else text


def _letter(value: Any) -> str:
    text = _words(value)
    match = _ARTICLE.match(text)
    first = anyascii((match["rest"] if match else text).strip()[:1]).upper()[:1]
    return first if first.isalpha() else "0-9"


def _latin(value: Any) -> str:
    return anyascii(_words(value))


def _short(value: Any, most: int = 40) -> str:
    return _words(value)[: max(int(most), 1)].rstrip(" .-")


FILTERS: tuple[str, ...] = (
    "pad(2)",
    "case('lower')",
    "article_last",
    "letter",
    "plain",
    "wrap(' (', ')')",
    "short(40)",
)
"""What a template can do to a value, as it is written."""


def _environment(file_system: str) -> SandboxedEnvironment:
    def finish(value: Any) -> str:
        if isinstance(value, _Ready):
            return value
        text = _words(value)
        return text if text.isalnum() and text.isascii() else safe_text(text, file_system)

    def wrap(value: Any, before: str = "", after: str = "") -> _Ready:
        text = finish(value)
        return _Ready(f"{before}{text}{after}") if text else _Ready("")

    env = SandboxedEnvironment(finalize=finish, autoescape=False)
    filters: dict[str, Callable[..., Any]] = {
        "pad": _pad,
        "case": _case,
        "article_last": _article_last,
        "letter": _letter,
        "plain": _latin,
        "wrap": wrap,
        "short": _short,
    }
    env.filters.clear()
    env.filters.update(filters)
    env.tests.clear()
    env.globals.clear()
    return env


_ALLOWED = (
    nodes.Template,
    nodes.Output,
    nodes.TemplateData,
    nodes.Name,
    nodes.Const,
    nodes.Filter,
    nodes.If,
    nodes.CondExpr,
    nodes.Compare,
    nodes.Operand,
    nodes.And,
    nodes.Or,
    nodes.Not,
    nodes.Concat,
)


def _compile(slot: str, source: str, file_system: str) -> tuple[Template, frozenset[str]]:
    if len(source) > MOST_LETTERS:
        raise ConventionError(phrase("The template is longer than {most} letters.", most=MOST_LETTERS), slot=slot)
    env = _environment(file_system)
    try:
        tree = env.parse(source)
        _must_be_shallow(tree, slot)
        _allow(tree, slot)
        used = find_undeclared_variables(tree)
        unknown = sorted(used - set(VALUES))
        if unknown:
            raise ConventionError(
                phrase("There is no value {unknown}.", unknown=", ".join(unknown)),
                slot=slot,
                line=_line_of(source, unknown[0]),
            )
        return env.from_string(source), frozenset(used)
    except TemplateSyntaxError as error:
        raise ConventionError(str(error.message), slot=slot, line=error.lineno) from error
    except TemplateError as error:
        raise ConventionError(str(error.message), slot=slot) from error
    except (RecursionError, SyntaxError, OverflowError, MemoryError) as error:
        raise ConventionError(_TOO_DEEP, slot=slot) from error


DEEPEST = 24
MOST_NODES = 600
LARGEST_NUMBER = 100_000
_TOO_DEEP = phrase("The template is nested too deeply, or has too many filters behind each other.")


def _must_be_shallow(tree: nodes.Template, slot: str) -> None:
    """A template is compiled to a program, at a cost that grows fast with its depth: what nobody writes is refused."""
    level: list[nodes.Node] = [tree]
    count = 0
    for _ in range(DEEPEST):
        level = [child for node in level for child in node.iter_child_nodes()]
        count += len(level)
        if not level and count <= MOST_NODES:
            return
    raise ConventionError(_TOO_DEEP, slot=slot)


def _allow(node: nodes.Node, slot: str) -> None:
    if not isinstance(node, _ALLOWED):
        kind = type(node).__name__.lower()
        raise ConventionError(
            phrase("Only values, filters and if are allowed here, no {kind}.", kind=kind), slot=slot, line=node.lineno
        )
    if isinstance(node, nodes.Const) and isinstance(node.value, int | float) and not 0 <= node.value <= LARGEST_NUMBER:
        raise ConventionError(phrase("This number is too large."), slot=slot, line=node.lineno)
    for child in node.iter_child_nodes():
        _allow(child, slot)


def _line_of(source: str, word: str) -> int:
    place = source.find(word)
    return source.count("\n", 0, max(place, 0)) + 1


@dataclass(frozen=True)
class Convention:
    """How things are to be called. Made by :func:`read_convention`, which says what is wrong with it."""

    name: str
    about: str
    file_system: str
    templates: Mapping[str, str]
    _ready: dict[str, tuple[Template, frozenset[str]]] = field(default_factory=dict, compare=False, repr=False)

    def __post_init__(self) -> None:
        for slot, source in self.templates.items():
            self._ready[slot] = _compile(slot, source, self.file_system)

    def __reduce__(self) -> tuple[Any, ...]:
        return Convention, (self.name, self.about, self.file_system, dict(self.templates))

    def uses(self, slot: str) -> frozenset[str]:
        """Names of the values that a template writes."""
        return self._ready[slot][1] if slot in self._ready else frozenset()

    @cached_property
    def films_have_folders(self) -> bool:
        """Whether a film lies in a folder that names it."""
        return "/" in (self.path("movie", SAMPLES["movie"], "mkv") or "")

    @cached_property
    def seasons_have_folders(self) -> bool:
        """Whether a season lies in a folder below its series."""
        return (self.path("episode", SAMPLES["episode"], "mkv") or "").count("/") > 1

    def writes_year(self, slot: str) -> bool:
        """Whether a film's or a series' folder shows its year."""
        return "year" in self.uses(slot)

    def path(self, kind: str, facts: Mapping[str, Any], extension: str, *, original: str = "") -> str | None:
        """The tidy path of a thing of a kind of reading, below its library; None when too little is known of it.

        `original` is its name as it is, without the extension. For `subtitle`, `extra`, `artwork` and `lyrics` the
        facts carry `main`, the tidy path of what they belong to, without its extension.
        """
        slot = slot_of(kind, facts)
        if slot is None or slot not in self._ready:
            return None
        values = values_of(slot, facts, original)
        if kind in ("extra", "subtitle", "lyrics", "artwork"):
            values["main"] = _Ready(str(facts["main"])) if facts.get("main") else None
            values["home"] = _Ready(str(facts["main"]).rpartition("/")[0]) if facts.get("main") else None
        try:
            rendered = self._ready[slot][0].render(values)
        except (TemplateError, TypeError, ValueError, OverflowError):
            return None
        ending = f".{extension.lower()}" if extension else ""
        limit = _LONGEST[self.file_system]
        parts = [
            part for part in (piece.strip() for piece in rendered.replace("\n", "").split("/")) if part.strip(" .")
        ]
        if not parts:
            return None
        *folders, name = parts
        shown = [safe_name(part, file_system=self.file_system) for part in folders]
        return "/".join(
            [*shown, safe_name(name, file_system=self.file_system, limit_bytes=limit - len(ending.encode())) + ending]
        )


def slot_of(kind: str, facts: Mapping[str, Any]) -> str | None:
    """The template for a thing, or None when it lacks what its name is made of."""
    if kind == "movie":
        return "movie" if facts.get("title") else None
    if kind == "episode":
        if not facts.get("series"):
            return None
        if facts.get("season") is not None and facts.get("episodes"):
            return "special" if facts["season"] == 0 else "episode"
        return "dated" if facts.get("date") else "running" if facts.get("absolute") else None
    if kind == "track":
        if not facts.get("title") or not facts.get("album"):
            return None
        several = facts.get("album_artist") and facts.get("artist") and facts["album_artist"] != facts["artist"]
        return "compilation" if several else "track"
    if kind in ("photo", "clip"):
        return kind if facts.get("taken") else None
    if kind in ("extra", "subtitle", "lyrics", "artwork"):
        return kind if facts.get("main") else None
    return None


def read_convention(text: str) -> Convention:
    """A convention from TOML: `name`, `about`, `file_system` and a table `templates`; a missing template is Roomy's.

    Raises :class:`ConventionError` with the template and the line when it cannot be used.
    """
    try:
        table = tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        raise ConventionError(phrase("This is no TOML: {error}.", error=error)) from error
    name = table.get("name")
    if not isinstance(name, str) or not name.strip() or len(name) > 60:
        raise ConventionError(phrase("A convention needs a name, of 60 letters at most."))
    file_system = table.get("file_system", "any")
    if file_system not in FILE_SYSTEMS:
        raise ConventionError(f"file_system is one of {', '.join(FILE_SYSTEMS)}.")
    templates = table.get("templates", {})
    if not isinstance(templates, dict):
        raise ConventionError("templates is a table of one template for each kind of thing.")
    unknown = sorted(set(templates) - set(SLOTS))
    if unknown:
        raise ConventionError(
            phrase("There is nothing called {unknown} to name.", unknown=", ".join(unknown)), slot=unknown[0]
        )
    for slot, source in templates.items():
        if not isinstance(source, str) or not source.strip():
            raise ConventionError(phrase("The template is empty."), slot=slot)
    defaults: Mapping[str, str] = {} if name == "Roomy" and len(templates) == len(SLOTS) else shipped("Roomy").templates
    return Convention(
        name.strip(), str(table.get("about", "")), file_system, {**defaults, **cast(dict[str, str], templates)}
    )


def _toml_text(text: str) -> str:
    escaped = text.replace("\\", "\\\\").replace('"', '\\"').replace("\n", "\\n").replace("\t", "\\t")
    return '"' + "".join(c if c >= " " and c != "\x7f" else f"\\u{ord(c):04x}" for c in escaped) + '"'


def write_convention(convention: Convention) -> str:
    """A convention as TOML, as :func:`read_convention` takes it."""
    lines = [
        f"name = {_toml_text(convention.name)}",
        f"about = {_toml_text(convention.about)}",
        f"file_system = {_toml_text(convention.file_system)}",
        "",
        "[templates]",
        *(f"{slot} = {_toml_text(convention.templates[slot])}" for slot in SLOTS if slot in convention.templates),
    ]
    return "\n".join(lines) + "\n"


SHIPPED = ("Roomy", "Flat", "Careful", "Shoebox")


@lru_cache(maxsize=8)
def shipped(name: str) -> Convention:
    """A convention that ships, by its name in any case; raises :class:`ConventionError` for another."""
    known = {title.casefold(): title for title in SHIPPED}
    if name.casefold() not in known:
        raise ConventionError(
            phrase("No convention is called {name}. These ship: {shipped}.", name=name, shipped=", ".join(SHIPPED))
        )
    file = resources.files(__package__ or "").joinpath("conventions", f"{name.casefold()}.toml")
    return read_convention(file.read_text("utf-8"))
