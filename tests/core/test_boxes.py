"""Fragments in, segments out: whatever pieces they come in, nothing is lost and every time is right."""

from __future__ import annotations

import contextlib
import struct

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.playing.boxes import BadBoxes, Sample, SampleReader, segment_of

samples = st.lists(
    st.builds(
        Sample,
        dts=st.just(0),
        shift=st.integers(0, 5000),
        duration=st.integers(1, 4000),
        is_sync=st.booleans(),
        data=st.binary(min_size=0, max_size=60),
    ),
    min_size=1,
    max_size=12,
)


def in_a_row(given_samples: list[Sample], start: int) -> list[Sample]:
    """Samples one after the other."""
    row: list[Sample] = []
    for sample in given_samples:
        row.append(Sample(start, sample.shift, sample.duration, sample.is_sync, sample.data))
        start += sample.duration
    return row


@given(samples, st.integers(0, 2**40), st.lists(st.integers(1, 90), min_size=1, max_size=30))
def test_what_is_written_is_read(given_samples: list[Sample], start: int, cuts: list[int]) -> None:
    row = in_a_row(given_samples, start)
    stream = segment_of(1, 1, row) + segment_of(2, 1, in_a_row(given_samples, row[-1].dts + row[-1].duration))
    reader = SampleReader()
    found: list[Sample] = []
    place = 0
    for cut in [*cuts, len(stream)]:
        found += list(reader.feed(stream[place : place + cut]))
        place += cut
    assert found[: len(row)] == row
    assert [one.data for one in found[len(row) :]] == [one.data for one in given_samples]


@given(samples, st.integers(-4000, -1))
def test_what_is_decoded_before_the_beginning_is_shown_when_it_should_be(
    given_samples: list[Sample], start: int
) -> None:
    row = in_a_row(given_samples, start)
    found = list(SampleReader().feed(segment_of(1, 1, row)))
    assert [one.pts for one in found] == [one.pts for one in row]
    assert min(one.dts for one in found) >= 0


@given(st.binary(max_size=400))
def test_what_is_no_fragment_is_said_or_waited_for(noise: bytes) -> None:
    with contextlib.suppress(BadBoxes):
        list(SampleReader().feed(noise))


def test_a_fragment_that_lies_about_its_size() -> None:
    whole = bytearray(segment_of(1, 1, [Sample(0, 0, 10, True, b"abc")]))
    place = whole.index(b"trun") + 4 + 12 + 4
    whole[place : place + 4] = struct.pack(">I", 1 << 20)
    with pytest.raises(BadBoxes):
        list(SampleReader().feed(bytes(whole)))
