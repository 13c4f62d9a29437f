"""Words for episodes, parts, discs, chapters, extras, artwork, copies and months
count in every language of the contract."""

from __future__ import annotations

from typing import Any

import pytest

from indice.core.reading.reader import read_path

LANGUAGES = {
    # season folder, episode word, extras folder (deleted scenes), trailer folder, poster,
    # cover, back cover, disc, part, copy, June
    "en": ("Season 2", "Episode 4", "Deleted Scenes", "Trailers", "poster", "cover", "back", "Disc 2", "Part 2", "Copy", "June"),
    "de": ("Staffel 2", "Folge 4", "Gelöschte Szenen", "Trailer", "Plakat", "Vorderseite", "Rückseite", "Platte 2", "Teil 2", "Kopie", "Juni"),
    "fr": ("Saison 2", "Épisode 4", "Scènes coupées", "Bandes-annonces", "affiche", "pochette", "verso", "Disque 2", "Partie 2", "copie", "juin"),
    "es": ("Temporada 2", "Capítulo 4", "Escenas eliminadas", "Tráilers", "cartel", "portada", "contraportada", "Disco 2", "Parte 2", "copia", "junio"),
    "it": ("Stagione 2", "Puntata 4", "Scene eliminate", "Trailer", "locandina", "copertina", "retro", "Disco 2", "Parte 2", "copia", "giugno"),
    "pt": ("Temporada 2", "Episódio 4", "Cenas eliminadas", "Trailers", "cartaz", "capa", "contracapa", "Disco 2", "Parte 2", "cópia", "junho"),
    "nl": ("Seizoen 2", "Aflevering 4", "Verwijderde scènes", "Trailers", "poster", "hoes", "achterkant", "Schijf 2", "Deel 2", "kopie", "juni"),
    "sv": ("Säsong 2", "Avsnitt 4", "Borttagna scener", "Trailers", "affisch", "omslag", "baksida", "Skiva 2", "Del 2", "kopia", "juni"),
    "da": ("Sæson 2", "Afsnit 4", "Slettede scener", "Trailers", "plakat", "forside", "bagside", "Plade 2", "Del 2", "kopi", "juni"),
    "no": ("Sesong 2", "Episode 4", "Slettede scener", "Trailere", "plakat", "forside", "bakside", "Plate 2", "Del 2", "kopi", "juni"),
    "fi": ("Kausi 2", "Jakso 4", "Poistetut kohtaukset", "Trailerit", "juliste", "kansi", "takakansi", "Levy 2", "Osa 2", "kopio", "kesäkuu"),
    "pl": ("Sezon 2", "Odcinek 4", "Usunięte sceny", "Zwiastuny", "plakat", "okładka", "tył", "Płyta 2", "Część 2", "kopia", "czerwiec"),
    "cs": ("Série 2", "Díl 4", "Vymazané scény", "Upoutávky", "plakát", "obal", "zadní strana", "Disk 2", "Část 2", "kopie", "červen"),
    "ru": ("Сезон 2", "Серия 4", "Удалённые сцены", "Трейлеры", "постер", "обложка", "оборот", "Диск 2", "Часть 2", "копия", "июнь"),
    "tr": ("Sezon 2", "Bölüm 4", "Silinmiş sahneler", "Fragmanlar", "afiş", "kapak", "arka kapak", "Plak 2", "Kısım 2", "kopya", "Haziran"),
    "el": ("Κύκλος 2", "Επεισόδιο 4", "Διαγραμμένες σκηνές", "Τρέιλερ", "αφίσα", "εξώφυλλο", "οπισθόφυλλο", "Δίσκος 2", "Μέρος 2", "αντίγραφο", "Ιούνιος"),
    "zh": ("第2季", "第4集", "删减片段", "预告片", "海报", "封面", "封底", "碟2", None, "副本", "6月"),
    "ja": ("シーズン2", "第4話", "未公開シーン", "予告編", "ポスター", "ジャケット", "裏表紙", "ディスク2", "パート2", "コピー", "6月"),
    "ko": ("시즌 2", "4화", "삭제 장면", "예고편", "포스터", "커버", "뒷면", "디스크 2", "파트 2", "복사본", "6월"),
    "ar": ("الموسم 2", "الحلقة 4", "مشاهد محذوفة", "إعلانات", "ملصق", "غلاف", "الغلاف الخلفي", "القرص 2", "الجزء 2", "نسخة", "يونيو"),
    "he": ("עונה 2", "פרק 4", "סצנות שנמחקו", "קדימונים", "כרזה", "עטיפה", "כריכה אחורית", "דיסק 2", "חלק 2", "עותק", "יוני"),
}  # fmt: skip
SPECIALS = ("Specials", "Sonderfolgen", "Épisodes spéciaux", "Especiales", "Speciali", "Especiais", "Specialavsnitt", "Specialafsnit",
            "Spesialepisoder", "Erikoisjaksot", "Odcinki specjalne", "Speciály", "Спецвыпуски", "Özel bölümler", "Ειδικά", "特别篇",
            "スペシャル", "스페셜", "حلقات خاصة", "פרקים מיוחדים")  # fmt: skip
CHAPTERS = ("Chapter 3", "Kapitel 3", "Chapitre 3", "Capítulo 3", "Capitolo 3", "Hoofdstuk 3", "Kapittel 3", "Luku 3", "Rozdział 3",
            "Kapitola 3", "Глава 3", "Bölüm 3", "Κεφάλαιο 3", "第3章", "제3장", "الفصل 3", "פרק 3")  # fmt: skip
INTERVIEWS = ("Interviews", "Entretiens", "Entrevistas", "Interviste", "Intervjuer", "Haastattelut", "Wywiady", "Rozhovory", "Интервью",
              "Röportajlar", "Συνεντεύξεις", "采访", "インタビュー", "인터뷰", "مقابلات", "ראיונות")  # fmt: skip
MAKING = ("Behind the Scenes", "Hinter den Kulissen", "Dans les coulisses", "Detrás de las cámaras", "Dietro le quinte", "Bastidores",
          "Achter de schermen", "Bakom kulisserna", "Bag kulisserne", "Bak kulissene", "Kulissien takana", "Za kulisami", "Ze zákulisí",
          "За кадром", "Kamera arkası", "幕后花絮", "メイキング", "메이킹", "خلف الكواليس", "מאחורי הקלעים")  # fmt: skip


def stated(path: str, library: str) -> dict[str, Any]:
    """Kind and facts of one path."""
    reading = read_path(path, library)
    return {"kind": reading.kind, **{name: fact.value for name, fact in reading.facts.items()}}


@pytest.mark.parametrize("language", LANGUAGES)
def test_seasons_and_episodes(language: str) -> None:
    season, episode = LANGUAGES[language][:2]
    want = {"kind": "episode", "series": "Orlan Weir", "year": 2011, "season": 2, "episodes": [4]}
    assert stated(f"Orlan Weir (2011)/{season}/{episode}.mkv", "series") == want
    assert stated(f"Orlan Weir (2011)/{season}/Orlan Weir - {episode} - Tern.mkv", "series") == {
        **want,
        "title": "Tern",
    }


@pytest.mark.parametrize("language", LANGUAGES)
def test_folders_of_extras(language: str) -> None:
    deleted, trailers = LANGUAGES[language][2:4]
    want = {"kind": "extra", "title": "Orlan Weir", "year": 2011, "label": "Tern"}
    assert stated(f"Orlan Weir (2011)/{deleted}/Tern.mkv", "movies") == {**want, "role": "deleted-scene"}
    if language != "no":  # the trade's own word is used there
        assert stated(f"Orlan Weir (2011)/{trailers}/Tern.mkv", "movies") == {**want, "role": "trailer"}


@pytest.mark.parametrize("folder", INTERVIEWS)
def test_folders_of_interviews(folder: str) -> None:
    want = {"kind": "extra", "title": "Orlan Weir", "year": 2011, "label": "Tern", "role": "interview"}
    assert stated(f"Orlan Weir (2011)/{folder}/Tern.mkv", "movies") == want


@pytest.mark.parametrize("folder", MAKING)
def test_folders_of_makings(folder: str) -> None:
    want = {"kind": "extra", "title": "Orlan Weir", "year": 2011, "label": "Tern", "role": "behind-the-scenes"}
    assert stated(f"Orlan Weir (2011)/{folder}/Tern.mkv", "movies") == want


@pytest.mark.parametrize("language", LANGUAGES)
def test_artwork(language: str) -> None:
    poster, cover, back = LANGUAGES[language][4:7]
    film = {"kind": "artwork", "title": "Orlan Weir", "year": 2011}
    album = {"kind": "artwork", "artist": "Mirea", "album": "Kiln", "year": 2004}
    assert stated(f"Orlan Weir (2011)/{poster}.jpg", "movies") == {**film, "role": "poster"}
    assert stated(f"Mirea/Kiln (2004)/{cover}.jpg", "music") == {**album, "role": "cover"}
    assert stated(f"Mirea/Kiln (2004)/{back}.jpg", "music") == {**album, "role": "back-cover"}


@pytest.mark.parametrize("language", LANGUAGES)
def test_discs_and_parts(language: str) -> None:
    disc, part = LANGUAGES[language][7:9]
    want = {"kind": "track", "artist": "Mirea", "album": "Kiln", "year": 2004, "disc": 2, "track": 5, "title": "Tern"}
    assert stated(f"Mirea/Kiln (2004)/{disc}/05 - Tern.flac", "music") == want
    if part is not None:
        film = {"kind": "movie", "title": "Orlan Weir", "year": 2011, "part": 2}
        assert stated(f"Orlan Weir (2011)/Orlan Weir (2011) - {part}.mkv", "movies") == film


@pytest.mark.parametrize("language", LANGUAGES)
def test_copies_and_months(language: str) -> None:
    copy, month = LANGUAGES[language][9:11]
    assert stated(f"DCIM/IMG_0042 - {copy}.jpg", "photos") == {"kind": "photo", "sequence": 42, "marks": ["copy"]}
    assert stated(f"2014/{month}/25 Bootstour/IMG_3310.jpg", "photos") == {
        "kind": "photo", "taken": "2014-06-25", "event": "Bootstour", "sequence": 3310,
    }  # fmt: skip


@pytest.mark.parametrize("folder", SPECIALS)
def test_folders_of_specials(folder: str) -> None:
    want = {"kind": "episode", "series": "Orlan Weir", "year": 2011, "season": 0, "episodes": [1], "title": "Tern"}
    assert stated(f"Orlan Weir (2011)/{folder}/01 - Tern.mkv", "series") == want


@pytest.mark.parametrize("chapter", CHAPTERS)
def test_chapters(chapter: str) -> None:
    found = stated(f"Audiobooks/Edda Quist/Grey Orchard/{chapter}.mp3", "music")
    assert (found["track"], found["album"], found["artist"]) == (3, "Grey Orchard", "Edda Quist")
    assert "title" not in found
