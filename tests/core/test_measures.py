"""The unit grammar: what people type, what it comes to, and what is refused in words."""

from math import pi

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zevlo.core.measures import NotAMeasure, feet_and_inches, measure

LENGTHS = {
    "1.65": 1.65, "1,65": 1.65, ".5": 0.5, "2.": 2.0, "1e3mm": 1.0, "165cm": 1.65, "165 cm": 1.65, "1650 MM": 1.65,
    "0.00165 km": 1.65, "1 m 65 cm": 1.65, "1m65cm": 1.65, "3.2+0.1": 3.3, "3.2 - 0.1": 3.1, "3.2−0.1": 3.1,
    "2*1.65": 3.3, "2 × 1.65 m": 3.3, "1.65m*2": 3.3, "3.3/2": 1.65, "(3.2+0.1)/2": 1.65, "((1))": 1.0,
    "-(2-0.5)": -1.5, "--2": 2.0, "+2": 2.0, "1+2*3": 7.0, "(1+2)*3": 9.0, "10/4/2": 1.25, "1.2 - 20cm": 1.0,
    "1 m + 1 ft": 1.3048, "3ft+2": 2.9144, "10 ft / 4": 0.762, "6 m / 2 m": 3.0, "(2+1) ft": 0.9144,
    "5'6\"": 1.6764, "5'6": 1.6764, "5' 6\"": 1.6764, "5ft6in": 1.6764, "5 ft 6 in": 1.6764, "5 feet 6 inches": 1.6764,
    "5′6″": 1.6764, "5’6”": 1.6764, "-5'6\"": -1.6764, "5'": 1.524, "66\"": 1.6764, "66''": 1.6764, "1 yd": 0.9144,
    "5 1/2 ft": 1.6764, "5' 6 1/2\"": 1.6891, "6 1/2\"": 0.1651, "1/2 in": 0.0127, "3/4\"": 0.01905, "7 1/2": 7.5,
    "5'6\" + 10cm": 1.7764, "2*5'6\"": 3.3528, "0": 0.0, "-0.3": -0.3,
}  # fmt: skip


@pytest.mark.parametrize(("text", "metres"), LENGTHS.items(), ids=LENGTHS)
def test_lengths_as_people_write_them(text, metres):
    assert measure(text, "length") == pytest.approx(metres, abs=1e-12)


@pytest.mark.parametrize(
    "text",
    ["", "   ", "abc", "1..2", "1.2.3", "5 6", "2m*2m", "2/(1m)", "1/0", "1/(2-2)", "((1)", "1)", "(", "+", "1+", "*2",
     "1e400", "-1e400", "1 m 65", "20cm 1m", "6\" 5'", "5'6'", "m", "1 mm cm", "1 furlong", "1 m m", "0x10", "1_000",
     "1 m;", "$5", "nan", "inf", "1 1/0", "1 3/2", "1.5 1/2", "9" * 90],
)  # fmt: skip
def test_what_is_no_length_is_refused_with_an_example(text):
    with pytest.raises(NotAMeasure, match=r"is not a length\. Write for example 1\.65, 165 cm, 5'6"):
        measure(text, "length")


def test_a_deep_pile_of_brackets_is_refused_not_followed():
    with pytest.raises(NotAMeasure):
        measure("(" * 79, "length")
    assert measure("(" * 30 + "1" + ")" * 30, "length") == 1.0


@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [("45", "angle", 45), ("22.5+90", "angle", 112.5), ("1/4 turn", "angle", 90), ("12°30'", "angle", 12.5),
     ("12° 30", "angle", 12.5), ("1°0'36\"", "angle", 1.01), ("1 rad", "angle", 180 / pi), ("-90 deg", "angle", -90),
     ("1/125", "time", 0.008), ("1/125 s", "time", 0.008), ("0.5 s", "time", 0.5), ("2 min", "time", 120),
     ("8 ms", "time", 0.008), ("35", "film", 35), ("1.4 in", "film", 35.56), ("24+1", "film", 25), ("3.5 cm", "film", 35),
     ("f/5.6", "number", 5.6), ("F / 8", "number", 8), ("2*1.4", "number", 2.8), ("50 %", "number", 0.5)],
)  # fmt: skip
def test_angles_times_film_and_plain_numbers(text, kind, value):
    assert measure(text, kind) == pytest.approx(value)


def test_a_bare_number_counts_in_the_unit_the_field_shows():
    assert measure("5.5", "length", "ft") == pytest.approx(1.6764)
    assert measure("5.5 + 1 m", "length", "ft") == pytest.approx(2.6764)
    assert measure("2*3", "length", "in") == pytest.approx(0.1524), "the product counts, not each factor"


@given(st.floats(-1e4, 1e4), st.sampled_from(["m", "cm", "mm", "ft", "in", "yd", "km"]))
def test_any_number_with_any_unit(value, unit):
    size = {"m": 1, "cm": 0.01, "mm": 0.001, "ft": 0.3048, "in": 0.0254, "yd": 0.9144, "km": 1000}[unit]
    assert measure(f"{value:.6f} {unit}", "length") == pytest.approx(float(f"{value:.6f}") * size, abs=1e-9, rel=1e-9)


@settings(deadline=None)
@given(st.text(alphabet="0123456789.,+-*/() mcft'\"in", max_size=40))
def test_anything_typed_is_a_number_or_a_refusal_in_words(text):
    refused, value = "", 0.0
    try:
        value = measure(text, "length")
    except NotAMeasure as reason:
        refused = str(reason)
    assert abs(value) < 1e300
    assert refused == "" or "Write for example" in refused


@given(st.integers(0, 99), st.integers(0, 23))
def test_feet_and_inches_are_read_back(feet, halves):
    metres = feet * 0.3048 + halves * 0.0127
    words = feet_and_inches(metres).replace("½", " 1/2")
    assert measure(words, "length") == pytest.approx(metres)


def test_feet_and_inches_for_reading():
    written = [feet_and_inches(m) for m in (1.6764, 0.9144, 1.6891, 0.0127, 0.0, -1.6764, 1.6)]
    assert written == ["5 ft 6 in", "3 ft", "5 ft 6½ in", "½ in", "0 in", "-5 ft 6 in", "5 ft 3 in"]
