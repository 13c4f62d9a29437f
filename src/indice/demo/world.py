"""The world of the demo: what was made in it, by whom, and when. Every name here is invented.

The Ostrander-Veil household lives in Saltmere, a harbour town with a lighthouse
school, a closed cannery and one cinema.
"""

from __future__ import annotations

import random
import re
from dataclasses import dataclass, field
from functools import cache

__all__ = ["ADJECTIVES", "NOUNS", "PHRASES", "Album", "Episode", "Film", "Series", "albums", "films", "series_list"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Film:
    """A film of this world."""

    id: str
    title: str
    year: int
    minutes: int
    genres: tuple[str, ...]
    director: str
    cast: tuple[str, ...]
    plot: str
    original: str = ""
    aliases: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Episode:
    """An episode."""

    id: str
    title: str
    season: int
    number: int
    date: str
    minutes: int
    plot: str
    absolute: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Series:
    """A series with its episodes."""

    id: str
    title: str
    year: int
    minutes: int
    genres: tuple[str, ...]
    cast: tuple[str, ...]
    plot: str
    episodes: tuple[Episode, ...]
    original: str = ""
    aliases: tuple[str, ...] = ()
    style: str = "seasons"
    """`seasons`, `dated` or `running`."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Album:
    """An album; a compilation names the artist of each track."""

    id: str
    title: str
    artist: str
    year: int
    genres: tuple[str, ...]
    tracks: tuple[tuple[str, int, str, int], ...] = field(default=())
    """Title, seconds, artist, disc."""


_PEOPLE = (
    "Ilse Varn",
    "Corin Tasker",
    "Maud Ellery",
    "Josip Handl",
    "Petra Quillon",
    "Adair Moss",
    "Noor Halvard",
    "Bram Sutterby",
    "Yuki Amano-Reyes",
    "Tobin Farrow",
    "Celeste Oduya",
    "Rafe Lindqvar",
    "Wilhelmina Stroud",
    "Anselm Kroy",
    "Dita Morwenna",
    "Hollis Brandt-Iyer",
    "Sunniva Leck",
    "Emeka Vantongeren",
    "Greta Pell",
    "Orson Thwaite-Nakai",
    "Lior Castellane",
    "Fenna Drost",
    "Matthias Ruun",
    "Odile Sarrazine",
    "Kwame Bellweather",
    "Ingrid Solace",
    "Pim Havercroft",
    "Zadie Northam",
    "Ruben Alsace-Ota",
    "Vera Kostenka",
)

_FILMS = """
Harbour Glass|1987|112|Drama|A glassmaker's daughter finds her father's last window in a drowned chapel.
Harbour Glass|2019|104|Drama|The chapel is dredged up again, and with it a quarrel that two towns had agreed to forget.
The Salt Meridian|1994|131|Adventure|A mapmaker sails to a line that exists on only one chart, which she drew herself.
Nine Umbrellas for Odile|1962|96|Comedy|A hatcheck clerk returns nine lost umbrellas in one wet night.
The Cartographer's Lunch|2004|101|Comedy|Four mapmakers and a waiter disagree about where the table ends.
Tin Orchard|1978|118|Drama|A bankrupt fairground is planted with metal trees by the boy who grew up in it.
Velvet Quarry|1991|125|Thriller|A quarryman hears his own voice on a tape that was sealed before he was born.
Velvet Quarry II|1996|119|Thriller|The tape has a second side.
Low Tide Cinema|2011|93|Documentary|The last projectionist of Saltmere shows one film to the sea.
A Kettle for the General|1958|88|Comedy|An occupied village wages war by never letting the water boil.
Moth Season|2016|107|Mystery|Every porch light in the valley goes out, one by one, from the north.
The Quiet Ferry|1973|109|Drama|A ferryman stops speaking, and his passengers begin to.
Ledger of Small Storms|2008|122|Drama|An insurance clerk pays out for weather that has not happened yet.
Parsnip and the Moon Machine|2013|84|Family,Animation|A hedgehog engineer borrows the moon for one evening and must bring it back full.
Parsnip Goes Under|2017|87|Family,Animation|A leaky diving bell, a shy octopus and a very small submarine licence.
The Weathercock's Apprentice|2009|91|Family|A girl who can tell the wind is hired by a tower that cannot.
Fog Signals|1985|115|Thriller|Two keepers, one lamp, and a third set of footprints.
Copper Sparrow|1999|98|Crime|A safe-cracker takes a job repairing clocks and finds the same lock in each.
Copper Sparrow Returns|2003|102|Crime|Somebody has wound them all again.
The Long Afternoon of Bertil Ask|1969|140|Drama|A widower walks across town with a chair.
Snow on the Switchboard|1954|92|Romance|Two operators fall in love by misconnecting everyone else.
Orrery Street|2022|116|Science fiction|A street of identical houses turns out to keep time.
Glasshouse Nine|2018|121|Science fiction|The ninth greenhouse on the orbital farm is growing something nobody sowed.
Die Laternenprobe|1976|103|Drama|A village rehearses its lantern festival for a visitor who never says who he is.
Le Dernier Aiguilleur|1981|110|Drama|A signalman keeps one line open for a train that was cancelled in the war.
La Casa de las Mareas|2006|113|Mystery|A house in the dunes is dry only while somebody lies in it.
Bruggen van Riet|1998|95|Documentary|A year with the women who weave the footbridges of the polder.
夜市の時計屋|2001|108|Fantasy|A clockmaker at the night market repairs the hours that people have lost.
Тихая пристань|1988|127|Drama|Three sisters run a harbour where no ship has stopped for a decade.
Thirteen Ways to Leave Saltmere|2015|99|Comedy|A town that cannot keep its young holds a leaving competition.
The Bee Census|1966|86|Documentary|An earnest attempt to count every bee in one county.
Marrow & Sons|1983|117|Horror|A family of undertakers takes in an apprentice who casts two shadows.
The Hollow Choir|2014|105|Horror|A cathedral's organ answers in a voice that was never a pipe's.
Seven Minutes at Pell Junction|1959|79|Thriller|A bomb, a pram and a station clock that runs slow.
The Pewter Saint|1971|124|Historical|A pilgrim is paid to carry another man's sins, and counts them.
Ash Wednesday Regatta|2020|111|Comedy,Romance|Two rowing clubs share one boat.
Postcards from the Breakwater|2007|97|Romance|Forty years of unsent cards wash up in the order they were written.
A Violin Called Tuesday|2012|106|Family|A stolen violin is returned by a different child each week.
Ember Atlas|2021|134|Adventure|Fire-watchers in six countries follow one spark around the world.
The Understudy's Understudy|1997|94|Comedy|Nobody left to go on but the prompter.
Granite Waltz|1949|90|Romance|A dance hall is built inside a mountain, for the acoustics.
Old Ropes|1992|100|Drama|Three generations of a chandlery cut the same knot.
Signal Fires|2010|128|Historical|A chain of beacons, a false message, and the boy who lit it.
The Girl Who Mended Rain|2005|89|Fantasy,Family|It falls in the wrong places; she has thread.
Midnight at the Cannery|1990|113|Crime|The night shift packs something that is not fish.
The Paper Lighthouse|2000|136|Drama|A lighthouse school must fold itself away before winter.
Dust Opera|1968|151|Western|A travelling company sings to towns that have run out of water.
Cold Harbour Blues|1986|104|Drama,Music|A bassist comes home to play at the funeral of the man who taught him wrong.
The Map Thief's Daughter|2023|126|Adventure|She returns each one with a single correction.
Unmarked Stairs|2017|95|Thriller|A surveyor finds one floor too many.
Lighthouse Summer|2002|92|Home,Family|Two cousins, one boat and a forbidden island.
The Third Bell|1964|101|Mystery|The village has two.
Winter Ledger|1995|118|Drama|A bookkeeper audits her marriage.
The Tern Colony|2011|90|Documentary|A year on a sandbank that is gone by the end of the film.
Everything the Sea Keeps|2024|129|Drama|A salvage diver brings up her own childhood, one drawer at a time.
Borrowed Thunder|1979|108|Comedy|A theatre's thunder sheet is stolen on opening night.
Clockwork Plums|2018|82|Family,Animation|An orchard runs down and must be wound by the smallest badger.
A Short History of Fog|2016|76|Documentary|What it hides, and who was paid to look.
The Oyster Parliament|1974|123|Satire|A council of oysters would have done better.
Last Tram to Averley|1989|99|Drama|The driver knows every passenger, and that it is their last.
"""

_SERIES = """
The Lampwrights|2014|seasons|8,8,6|44|Drama,Mystery|A canal town changes from gas to electric light, and five lampwrights who know every window are asked to forget what they saw.
Kessel & Daughters|2009|seasons|6,6|50|Drama|A mill is left to three sisters who have not spoken since the flood.
Gannet Row|1998|seasons|10,10|28|Comedy|Six houses, one telephone, and a landlady who listens.
Tollgate Nights|2019|seasons|8|47|Crime|A detective works the last manned tollgate, where everybody passes once.
The Saltmere Evening|2021|dated|12|24|News|What happened in Saltmere today, and what nearly did.
灯台守の猫|2012|running|26|24|Animation,Fantasy|A lighthouse, its keeper, and the cat who really keeps it.
Professor Quill's Cabinet|1976|seasons|6,7|30|Family,Documentary|Forty drawers, one object a week, and a professor who has lost the key to the last.
Die Fährleute|2016|seasons|8|55|Drama|Am Fluss gehört jede Überfahrt jemandem.
Undercroft|2022|seasons|9|52|Science fiction|Below the library is another, older, that lends only once.
Bramblewick Lane|2005|seasons|13|11|Family,Animation|A postman, a badger and a very long lane.
"""

_ARTISTS = """
Wren Calloway|folk|Tidewrack:2004,Low Lamps:2007,The Ropewalk:2012,Salt & Sleep:2018
The Night Ferries|indie|Timetable:1999,Second Sitting:2002,Gangway:2006,All Ashore:2015
Adisa Marlowe Quartet|jazz|Blue Hour at Pell's:1961,Foghorn Suite:1964,Late Tram:1968
Ottoline Brask|classical|Preludes for a Cold Room:1994,Harbour Variations:2001,Nocturnes & Tides:2010
Kopper|electronic|Relay:2009,Transistor Garden:2013,Kupferzeit:2017
Mothwing|rock|Porchlight:1991,Dust & Filament:1993,Wingbeat:1997,Lanternfall:2011
Sister Salt|soul|Kitchen Radio:1972,Bread and Brass:1975
Los Faroles|latin|Calle del Puerto:1988,Noche de Sal:1996
雨宮の灯|pop|港の歌:2003,夜の切符:2008
Grethe og Havet|folk|Tang:1979,Fyrvokter:1985
Tin Parade|brass|March of the Umbrellas:1955,Regatta Day:1959
Dorrit Vane|singer-songwriter|Unsent:2010,The Smaller Room:2014,Ledger Songs:2021
The Cannery Floor|punk|Nine to Nothing:1980,Clock Off:1982
Halvard Ruun|ambient|Breakwater:2015,Ice Ledger:2019
Marisol & the Weathermen|pop|Forecast:1984,High Pressure:1986
Old Pell Choir|choral|Carols from the Breakwater:1970
"""

ADJECTIVES = [
    "Borrowed",
    "Brass",
    "Broken",
    "Careful",
    "Cold",
    "Copper",
    "Crooked",
    "Distant",
    "Early",
    "Empty",
    "Folded",
    "Forgotten",
    "Gilded",
    "Hollow",
    "Hidden",
    "Idle",
    "Iron",
    "Late",
    "Little",
    "Lost",
    "Northern",
    "Paper",
    "Patient",
    "Quiet",
    "Rusted",
    "Salted",
    "Second",
    "Silver",
    "Slow",
    "Small",
    "Spare",
    "Stubborn",
    "Unsent",
    "Velvet",
    "Western",
    "Wet",
    "Wooden",
    "Yellow",
]
NOUNS = [
    "Anchor",
    "Almanac",
    "Bell",
    "Boat",
    "Bridge",
    "Button",
    "Candle",
    "Chair",
    "Clock",
    "Comet",
    "Cupboard",
    "Door",
    "Drawer",
    "Feather",
    "Ferry",
    "Flood",
    "Garden",
    "Glove",
    "Harbour",
    "Key",
    "Ladder",
    "Lamp",
    "Lantern",
    "Ledger",
    "Letter",
    "Mirror",
    "Moth",
    "Orchard",
    "Overcoat",
    "Pier",
    "Promise",
    "Quarry",
    "Ribbon",
    "River",
    "Rope",
    "Sparrow",
    "Stair",
    "Storm",
    "Teacup",
    "Thread",
    "Tide",
    "Train",
    "Umbrella",
    "Visitor",
    "Wager",
    "Wick",
    "Window",
    "Winter",
    "Witness",
]
PHRASES = (
    "{a} {n}",
    "The {a} {n}",
    "The {n} and the {m}",
    "A {n} for the {m}",
    "What the {n} Knew",
    "{n} by {m}",
    "No {n} Today",
    "Under the {n}",
    "{a} Weather",
    "The {n}'s {m}",
    "Half a {n}",
    "After the {n}",
    "{n} Street",
    "Two {n}s",
    "The Last {n}",
)
_NIHON = [
    "猫と灯",
    "霧の朝",
    "届かない手紙",
    "青い傘",
    "魚市場の夢",
    "灯台の鍵",
    "雪の客",
    "鐘の音",
    "小さな船",
    "夜の潮",
    "古い地図",
    "眠れる灯",
    "約束の窓",
    "潮風",
    "秘密の階段",
    "月を借りる",
    "紙の舟",
    "海の記憶",
    "灯の修理",
    "冬の渡り鳥",
    "迷子の星",
    "二つの影",
    "最後の油",
    "嵐の前",
    "帰り道",
    "また明日",
]
_DEUTSCH = [
    "Hochwasser",
    "Der erste Kahn",
    "Nebelhorn",
    "Das andere Ufer",
    "Stromschnellen",
    "Die Kette",
    "Stille Wasser",
    "Überfahrt",
]


def _phrase(rng: random.Random, used: set[str]) -> str:
    while True:
        noun, other = rng.sample(NOUNS, 2)
        text = rng.choice(PHRASES).format(a=rng.choice(ADJECTIVES), n=noun, m=other)
        text = re.sub(r"\bA (?=[AEIOU])", "An ", text)
        if text not in used:
            used.add(text)
            return text


@cache
def films() -> tuple[Film, ...]:
    """All films that the household has."""
    made: list[Film] = []
    for place, line in enumerate(_FILMS.strip().splitlines(), 1):
        title, year, minutes, genres, plot = line.split("|")
        rng = random.Random(f"film {title} {year}")
        people = rng.sample(_PEOPLE, 6)
        aliases = {
            "Die Laternenprobe": ("The Lantern Rehearsal",),
            "Le Dernier Aiguilleur": ("The Last Signalman",),
            "La Casa de las Mareas": ("The House of Tides",),
            "Bruggen van Riet": ("Bridges of Reed",),
            "夜市の時計屋": ("The Night Market Clockmaker",),
            "Тихая пристань": ("A Quiet Landing",),
        }.get(title, ())
        made.append(
            Film(
                id=f"f{place:04d}",
                title=title,
                year=int(year),
                minutes=int(minutes),
                genres=tuple(genres.split(",")),
                director=people[0],
                cast=tuple(people[1:]),
                plot=plot,
                aliases=aliases,
            )
        )
    return tuple(made)


def _episodes(
    series_id: str, title: str, year: int, style: str, seasons: list[int], minutes: int
) -> tuple[Episode, ...]:
    rng = random.Random(f"series {title}")
    used: set[str] = set()
    made: list[Episode] = []
    running = 0
    for season, count in enumerate(seasons, 1):
        for number in range(1, count + 1):
            running += 1
            name = (
                _NIHON[running - 1]
                if style == "running"
                else _DEUTSCH[number - 1]
                if title == "Die Fährleute"
                else _phrase(rng, used)
            )
            month, day = (number * 7 // 28) % 12 + 1, (number * 7) % 28 + 1
            date = f"{year}-03-{number + 1:02d}" if style == "dated" else f"{year + season - 1}-{month:02d}-{day:02d}"
            finder, thing = rng.choice(_PEOPLE).split()[0], rng.choice(NOUNS).lower()
            plot = f"{finder} finds the {thing}, and somebody who has been waiting for it."
            made.append(
                Episode(
                    id=f"{series_id}e{running:03d}",
                    title=name,
                    season=season,
                    number=number,
                    date=date,
                    minutes=minutes,
                    plot=plot,
                    absolute=running if style == "running" else None,
                )
            )
    if title in ("The Lampwrights", "Gannet Row"):
        for number in (1, 2):
            made.append(
                Episode(
                    id=f"{series_id}s{number:02d}",
                    title=("The Winter Lamp", "Behind the Wick")[number - 1]
                    if title == "The Lampwrights"
                    else ("Christmas at the Row", "The Telephone")[number - 1],
                    season=0,
                    number=number,
                    date=f"{year + number}-12-24",
                    minutes=minutes,
                    plot="A special evening.",
                )
            )
    return tuple(made)


@cache
def series_list() -> tuple[Series, ...]:
    """All series of the household."""
    made: list[Series] = []
    for place, line in enumerate(_SERIES.strip().splitlines(), 1):
        title, year, style, seasons, minutes, genres, plot = line.split("|")
        rng = random.Random(f"cast {title}")
        aliases = {
            "灯台守の猫": ("The Lighthouse Cat", "Tōdaimori no Neko"),
            "Die Fährleute": ("The Ferry People",),
        }.get(title, ())
        series_id = f"s{place:03d}"
        made.append(
            Series(
                id=series_id,
                title=title,
                year=int(year),
                minutes=int(minutes),
                genres=tuple(genres.split(",")),
                cast=tuple(rng.sample(_PEOPLE, 5)),
                plot=plot,
                aliases=aliases,
                style=style,
                episodes=_episodes(
                    series_id, title, int(year), style, [int(n) for n in seasons.split(",")], int(minutes)
                ),
            )
        )
    return tuple(made)


@cache
def albums() -> tuple[Album, ...]:
    """All albums of the household: one of two discs, and a compilation."""
    made: list[Album] = []
    for line in _ARTISTS.strip().splitlines():
        artist, genre, titles = line.split("|")
        for entry in titles.split(","):
            title, year = entry.rsplit(":", 1)
            rng = random.Random(f"album {artist} {title}")
            used: set[str] = set()
            count = rng.randint(6, 9)
            discs = 2 if title == "All Ashore" else 1
            tracks = tuple(
                (_phrase(rng, used), rng.randint(95, 290), artist, disc)
                for disc in range(1, discs + 1)
                for _ in range(count)
            )
            made.append(
                Album(
                    id=f"a{len(made) + 1:04d}",
                    title=title,
                    artist=artist,
                    year=int(year),
                    genres=(genre,),
                    tracks=tracks,
                )
            )
    rng = random.Random("compilation")
    used = set()
    names = [line.split("|")[0] for line in _ARTISTS.strip().splitlines()]
    tracks = tuple((_phrase(rng, used), rng.randint(120, 260), artist, 1) for artist in rng.sample(names, 9))
    made.append(
        Album(
            id=f"a{len(made) + 1:04d}",
            title="Saltmere Harbour Radio, Volume One",
            artist="Various Artists",
            year=2016,
            genres=("various",),
            tracks=tracks,
        )
    )
    return tuple(made)
