"""Values of one field from several origins → the one shown."""

from .merge import RANK, Value, best_value, origin_rank

__all__ = ["RANK", "Value", "best_value", "origin_rank"]
