"""The profiles of Almanac and Footline, the stand-ins, apart from the service so
that a start loads no more than this."""

from __future__ import annotations

__all__ = ["PROFILE", "TEXT_PROFILE"]

PROFILE = """# Profile of the stand-in source that ships with Indice.
name = "Almanac"
url = "{url}"
languages = ["en", "de", "ja"]
scheme = "almanac"

[movie]
type = "Film"
[movie.fields]
title = "title"
original_title = "originalTitle"
aliases = "alsoKnownAs"
date = "released"
runtime = "length"
plot = "synopsis"
genres = "genre"
rating = "certificate"
set = "collection"
directors = "director"
cast = "cast"
artwork = "poster"
backdrop = "still"

[set]
type = "Collection"
[set.fields]
title = "title"
films = "films"

[series]
type = "Series"
[series.fields]
title = "title"
aliases = "alsoKnownAs"
date = "released"
runtime = "length"
plot = "synopsis"
genres = "genre"
rating = "certificate"
cast = "cast"
artwork = "poster"
backdrop = "still"
episodes = "episodes"

[episode]
type = "Episode"
[episode.fields]
title = "title"
season = "season"
number = "number"
absolute = "runningNumber"
date = "released"
runtime = "length"
plot = "synopsis"

[album]
type = "Album"
[album.fields]
title = "title"
artists = "artist"
date = "released"
genres = "genre"
artwork = "poster"
tracks = "tracks"

[artist]
type = "Artist"
[artist.fields]
title = "title"
plot = "synopsis"
artwork = "portrait"

[track]
type = "Track"
[track.fields]
title = "title"
artists = "artist"
disc = "disc"
number = "number"
runtime = {{ property = "seconds", unit = "seconds" }}
"""

TEXT_PROFILE = """# Profile of the stand-in service of subtitles that ships with Indice.
name = "Footline"
serves = "subtitles"
url = "{url}"
languages = ["en", "de"]
"""
