"""Values of one field from several origins → the one shown."""

from .certificates import certificate_for, certificates
from .merge import OWN, RANK, Ranking, Value, best_value

__all__ = ["OWN", "RANK", "Ranking", "Value", "best_value", "certificate_for", "certificates"]
