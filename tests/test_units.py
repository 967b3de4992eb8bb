import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import units


@pytest.mark.parametrize(
    ("text", "mm"),
    [('24 3/8"', 619.125), ("24-3/8", 619.125), ("2' 1 1/2\"", 647.7), ("2'-1 1/2\"", 647.7), ("619mm", 619), ("61.9 cm", 619), ("24in", 609.6), ("2 ft", 609.6),
     ("24½\"", 622.3), ("-3/4\"", -19.05), ("1.2 m", 1200), ("61,9 cm", 619), ("0.0254 km", 25400), ("1′ 6″", 457.2), ("1 yd", 914.4)],
)  # fmt: skip
def test_lengths_as_the_trade_writes_them(text, mm):
    assert units.parse(text, "length", "inch") == pytest.approx(mm, rel=1e-12)


@pytest.mark.parametrize(
    ("text", "kind", "core"),
    [("2000lb", "mass", 907.18474), ("12 450 kg", "mass", 12450), ("1.2 t", "mass", 1200), ("450 lbf", "force", 2001.6987), ("1 kip", "force", 4448.2216), ("9.1 kN", "force", 9100),
     ("60 ft·lb", "moment", 81349.08), ("80 N·m", "moment", 80000), ("80 Nm", "moment", 80000), ("50 ksi", "stress", 344.7379), ("36000 psi", "stress", 248.2113), ("345 MPa", "stress", 345),
     ("100 kg", "force", 980.665), ("45°", "angle", 45), ("0.5 rad", "angle", 28.64789)],
)  # fmt: skip
def test_other_quantities(text, kind, core):
    assert units.parse(text, kind) == pytest.approx(core, rel=1e-6)


@pytest.mark.parametrize("text", ["", "abc", "12 kg", '1/0"', "--3", "24 3/8 3/8", "1e999 mm", "three", "12 mm mm", "1,234", "nan", "inf mm", "__import__('os')"])
def test_wrong_lengths_are_refused_in_a_sentence(text):
    with pytest.raises(units.UnitError) as refusal:
        units.parse(text, "length")
    assert str(refusal.value).endswith(".")


@given(st.floats(-5000, 5000), st.sampled_from(["inch", "metric"]), st.sampled_from([16, 32]))
def test_printing_then_reading_returns_the_shown_value(mm, system, nearest):
    shown = units.show(mm, "length", system, nearest)
    again = units.parse(shown, "length", system)
    assert units.show(again, "length", system, nearest) == shown
    assert abs(again - mm) <= (25.4 / nearest / 2 if system == "inch" else 0.05) + 1e-6


@given(st.floats(0, 1e7), st.sampled_from(["mass", "force", "moment", "stress", "line_force", "percent", "angle", "number"]), st.sampled_from(["inch", "metric"]))
def test_every_kind_reads_what_it_prints(value, kind, system):
    shown = units.show(value, kind, system)
    assert units.show(units.parse(shown, kind, system), kind, system) == shown


def test_the_factors_are_pints():
    registry = units.registry()
    assert registry.Quantity(1, "inch").to("mm").magnitude == pytest.approx(units.MM_PER_INCH, rel=1e-12)
    assert registry.Quantity(1, "lb").to("kg").magnitude == pytest.approx(units.KG_PER_POUND, rel=1e-12)
    assert registry.Quantity(1, "force_pound").to("N").magnitude == pytest.approx(units.N_PER_LBF, rel=1e-12)
    assert registry.Quantity(1, "ksi").to("MPa").magnitude == pytest.approx(units._KINDS["stress"].inch_factor, rel=1e-9)
    assert registry.Quantity(1, "foot*force_pound").to("N*mm").magnitude == pytest.approx(units._KINDS["moment"].inch_factor, rel=1e-9)


def test_a_bare_figure_is_in_the_jobs_units():
    assert units.parse("10", "length", "inch") == 254
    assert units.parse("10", "length", "metric") == 10
    assert units.parse("10", "mass", "inch") == pytest.approx(4.5359237)


def test_feet_are_written_on_request():
    assert units.show_length(647.7, "inch", feet=True) == "2' 1 1/2\""
