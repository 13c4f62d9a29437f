"""What the catalog is looked through by."""

from .filters import Filters, parse_filters
from .traits import GROUPED, GROUPS, NEWEST_FIRST, Ground, Measures, Trait, measures_of, traits_of

__all__ = [
    "GROUPED",
    "GROUPS",
    "NEWEST_FIRST",
    "Filters",
    "Ground",
    "Measures",
    "Trait",
    "measures_of",
    "parse_filters",
    "traits_of",
]
