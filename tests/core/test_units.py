import json
from pathlib import Path

import pytest

from fulgen.problem import Problem
from fulgen.units import counted, parse_length, show_length

CASES = json.loads((Path(__file__).parents[1] / "lengths.json").read_text("utf-8"))["cases"]


@pytest.mark.parametrize(("text", "unit", "mm"), CASES)
def test_a_length_is_read_as_the_maker_means_it_or_refused(text, unit, mm):
    if mm is None:
        with pytest.raises(Problem) as caught:
            parse_length(text, unit)
        assert "40 mm, 7 in or 1/8 in" in caught.value.todo
    else:
        assert parse_length(text, unit) == pytest.approx(mm, abs=1e-12)


def test_an_inch_is_25_4_mm_exactly():
    # International yard and pound agreement, 1959; NIST SP 811, appendix B.6.
    assert parse_length("1in") == 25.4


def test_lengths_are_shown_with_their_unit():
    assert show_length(177.8) == "177.8 mm"
    assert show_length(177.8, "in") == "7.00 in"


def test_things_are_counted_in_words() -> None:
    assert [counted(n, "piece") for n in (0, 1, 2)] == ["0 pieces", "1 piece", "2 pieces"]
    assert counted(1, "part lies", "parts lie") == "1 part lies"
    assert counted(3, "part lies", "parts lie") == "3 parts lie"
