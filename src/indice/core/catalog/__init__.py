"""What the catalog is looked through by."""

from .traits import GROUPS, Ground, Trait, traits_of

__all__ = ["GROUPS", "Ground", "Trait", "traits_of"]
