"""What the catalog is looked through by."""

from .filters import Filters, parse_filters
from .traits import GROUPED, GROUPS, LOOKED_FOR, NEWEST_FIRST, Ground, Measures, Trait, cast_of, measures_of, traits_of

__all__ = [
    "GROUPED",
    "GROUPS",
    "LOOKED_FOR",
    "NEWEST_FIRST",
    "Filters",
    "Ground",
    "Measures",
    "Trait",
    "cast_of",
    "measures_of",
    "parse_filters",
    "traits_of",
]
