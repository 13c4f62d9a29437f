"""Values of one field from several origins → the one shown."""

from .certificates import certificate_for, certificates
from .clean import clean_fact, clean_facts, clean_text, clean_value
from .linked import facts_of_linked, linked_of_facts, plain_facts
from .merge import OWN, RANK, Ranking, Value, best_value

__all__ = [
    "OWN",
    "RANK",
    "Ranking",
    "Value",
    "best_value",
    "certificate_for",
    "certificates",
    "clean_fact",
    "clean_facts",
    "clean_text",
    "clean_value",
    "facts_of_linked",
    "linked_of_facts",
    "plain_facts",
]
