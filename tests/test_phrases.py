"""What is said to people: in every language, and kept without words."""

from __future__ import annotations

import importlib.util
import json
import string
import sys
from pathlib import Path
from types import ModuleType

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.phrase import Phrase, joined, listed, phrase
from indice.phrases import LANGUAGES, kept, revived, told
from indice.settings import Settings
from indice.store.database import Database
from indice.store.models import Job
from indice.work.progress import Progress

ROOT = Path(__file__).resolve().parents[1]
WORDS = {
    language: json.loads((ROOT / "src" / "indice" / "phrases" / f"{language}.json").read_text("utf-8"))
    for language in LANGUAGES
}


def tool() -> ModuleType:
    """`tools/phrases.py`, which keeps the files in step with the code."""
    spec = importlib.util.spec_from_file_location("phrases_tool", ROOT / "tools" / "phrases.py")
    assert spec is not None and spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    sys.modules[spec.name] = module
    spec.loader.exec_module(module)
    return module


def slots(template: str) -> list[tuple[str, bool]]:
    """Names in a template, and whether each counts something."""
    return sorted((name, "|" in (spec or "")) for _, name, spec, _ in string.Formatter().parse(template) if name)


def test_all_that_the_code_says_has_a_reference() -> None:
    assert sorted(tool().templates()) == sorted(WORDS["en"].values()), "run `python tools/phrases.py`"


def test_every_language_says_everything() -> None:
    for language in LANGUAGES:
        assert WORDS[language].keys() == WORDS["en"].keys(), language


@pytest.mark.parametrize("language", [language for language in LANGUAGES if language != "en"])
def test_a_language_names_the_same_values(language: str) -> None:
    wrong = {
        reference: template
        for reference, template in WORDS[language].items()
        if {name for name, _ in slots(template)} != {name for name, _ in slots(WORDS["en"][reference])}
    }
    assert wrong == {}


@pytest.mark.parametrize(
    ("said", "record", "german"),
    [
        (phrase("Asking {name}", name="Quay"), 'asking-name {"name": "Quay"}', "Fragt Quay"),
        (phrase("Reading names"), "reading-names", "Liest die Namen"),
        ("Reading names", "reading-names", "Liest die Namen"),
        (phrase("{n:file|files} moved.", n=1), 'n-file-files-moved {"n": 1}', "1 Datei verschoben."),
        ("disk exploded", "disk exploded", "disk exploded"),
        ("", "", ""),
    ],
)
def test_what_is_said_is_kept_without_words_and_said_in_german(said: str, record: str, german: str) -> None:
    assert kept(said) == record
    assert revived(record) == said
    assert told(revived(record), "de") == german
    assert told(said, "de") == german
    assert told(said, "en") == said
    assert told(said, "xx") == said, "a language that nobody speaks here is English"


def test_phrases_within_phrases_are_said_in_one_language() -> None:
    said = joined(
        phrase("{n:file|files} moved.", n=2),
        phrase("The disk of {parent} is full. Free some space there, then go on or undo.", parent="/media/{x}"),
    )
    assert told(revived(kept(said)), "de") == (
        "2 Dateien verschoben. Das Laufwerk von /media/{x} ist voll. "
        "Schaffen Sie dort Platz, und fahren Sie dann fort oder nehmen Sie zurück."
    )
    counts = listed([phrase("{n} new", n=3), phrase("{n} gone", n=1)])
    assert told(revived(kept(counts)), "de") == "3 neu, 1 weg"


def test_a_library_may_be_called_as_something_is_said() -> None:
    said = phrase("Scan {name}", name="music")
    assert kept(said) == 'scan-name {"name": "music"}'
    assert told(said, "de") == told(revived(kept(said)), "de") == "music einlesen"


def test_a_sentence_of_somebody_else_among_ours_stays_as_it_is() -> None:
    said = joined("It is {full}.", "Ask the owner.")
    assert said == "It is {full}. Ask the owner."
    assert told(revived(kept(said)), "de") == "It is {full}. Fragen Sie den Eigner."


@given(st.text(max_size=40))
def test_somebody_elses_words_stay_as_they_are(text: str) -> None:
    assert revived(kept(text)) == text
    assert told(revived(kept(phrase("{name}: {reason}", name=text, reason=text))), "en") == f"{text}: {text}"


@pytest.mark.parametrize("record", ["asking-name {", "asking-name {}", "asking-name [1]", "reading-names of mine"])
def test_a_record_that_is_damaged_is_shown_as_it_stands(record: str) -> None:
    assert revived(record) == record


def test_a_job_keeps_no_words(database: Database, settings: Settings) -> None:
    with database.begin() as db:
        job = Job(kind="scan", title=phrase("Scan {name}", name="Films"))
        db.add(job)
        db.flush()
        number = job.id
    progress = Progress(database, number)
    progress.step(phrase("Asking {name}", name="Quay"))
    progress.log(phrase("It could not be read: {why}.", why="i/o error"), path="a.mkv", level="warning")
    with database.begin() as db:
        raw = db.connection().exec_driver_sql(
            "select job.title, job.step, job_line.text from job join job_line on job_line.job_id = job.id"
        )
        assert raw.one() == (
            'scan-name {"name": "Films"}',
            'asking-name {"name": "Quay"}',
            'it-could-not-be-read-why {"why": "i/o error"}',
        )
    with database.begin() as db:
        job = db.get_one(Job, number)
        assert isinstance(job.step, Phrase)
        assert (job.title, told(job.step, "de")) == ("Scan Films", "Fragt Quay")
