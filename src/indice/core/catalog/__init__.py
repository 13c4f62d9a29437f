"""What the catalog is looked through by."""

from .filters import Filters, parse_filters
from .traits import GROUPS, Ground, Trait, traits_of

__all__ = ["GROUPS", "Filters", "Ground", "Trait", "parse_filters", "traits_of"]
