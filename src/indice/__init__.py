"""Indice keeps a household's films, series, music and photos in order."""

__version__ = "0.1.0"
