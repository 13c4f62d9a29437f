"""Ages of certificates: letters and words of many countries, and numbers however they are dressed."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.facts.ages import age_of, age_of_certificate


@pytest.mark.parametrize(
    ("certificate", "country", "age"),
    [
        ("12", "DE", 12),
        ("FSK 16", "DE", 16),
        ("FSK16", "DE", 16),
        ("ab 12 Jahren", "DE", 12),
        ("from 12", "AT", 12),
        ("12+", "RU", 12),
        ("-12", "FR", 12),
        ("Tous publics", "FR", 0),
        ("U", "GB", 0),
        ("PG", "GB", 8),
        ("12A", "GB", 12),
        ("R18", "GB", 18),
        ("PG-13", "US", 13),
        ("R", "US", 17),
        ("Rated R", "US", 17),
        ("R", "CA", 18),
        ("TV-MA", "US", 17),
        ("TV-14", "US", 14),
        ("tv-y7", "US", 7),
        ("NC-17", "US", 18),
        ("MA15+", "AU", 15),
        ("M", "AU", 15),
        ("M", "NZ", 16),
        ("R15+", "JP", 15),
        ("VM14", "IT", 14),
        ("T", "IT", 0),
        ("AL", "NL", 0),
        ("Btl", "SE", 0),
        ("L", "BR", 0),
        ("B15", "MX", 15),
        ("UA", "IN", 12),
        ("all", "AT", 0),
        ("0", "DE", 0),
        ("16+", "", 16),
        ("Not Rated", "US", None),
        ("NR", "US", None),
        ("Unrated", "GB", None),
        ("?", "DE", None),
        ("", "DE", None),
        ("99", "DE", None),
        ("R", "XX", None),
    ],
)
def test_a_certificate_has_an_age(certificate: str, country: str, age: int | None) -> None:
    assert age_of_certificate(certificate, country) == age


@pytest.mark.parametrize(
    ("values", "country", "age"),
    [
        (["AT: 6", "DE: 12"], "AT", 6),
        (["AT: 6", "DE: 12"], "DE", 12),
        (["AT: 6", "DE: 12"], "FR", 12),
        (["US: R", "GB: 15"], "SE", 17),
        (["12 (AT)"], "AT", 12),
        (["AT: unrated", "DE: 16"], "AT", 16),
        (["16"], "DE", 16),
        ([], "DE", None),
        (["US: NR"], "US", None),
    ],
)
def test_the_country_s_own_counts_else_the_strictest(values: list[str], country: str, age: int | None) -> None:
    assert age_of(values, country) == age


@given(st.text(max_size=30), st.sampled_from(["", "US", "DE", "XX"]))
def test_no_text_is_an_error(text: str, country: str) -> None:
    found = age_of_certificate(text, country)
    assert found is None or 0 <= found <= 21
