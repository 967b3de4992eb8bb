from threading import Event, Thread

import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import units


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ('24 3/8"', 619.125),
        ("24-3/8", 619.125),
        ("2' 1 1/2\"", 647.7),
        ("2'-1 1/2\"", 647.7),
        ("619mm", 619),
        ("61.9 cm", 619),
        ("24in", 609.6),
        ("2 ft", 609.6),
        ('24½"', 622.3),
        ('-3/4"', -19.05),
        ("1.2 m", 1200),
        ("61,9 cm", 619),
        ("0.0254 km", 25400),
        ("1′ 6″", 457.2),
        ("1 yd", 914.4),
    ],
)
def test_lengths_as_the_trade_writes_them(text, mm):
    assert units.parse(text, "length", "inch") == pytest.approx(mm, rel=1e-12)


@pytest.mark.parametrize(
    ("text", "kind", "core"),
    [
        ("2000lb", "mass", 907.18474),
        ("12 450 kg", "mass", 12450),
        ("1.2 t", "mass", 1200),
        ("450 lbf", "force", 2001.6987),
        ("1 kip", "force", 4448.2216),
        ("9.1 kN", "force", 9100),
        ("60 ft·lb", "moment", 81349.08),
        ("80 N·m", "moment", 80000),
        ("80 Nm", "moment", 80000),
        ("50 ksi", "stress", 344.7379),
        ("36000 psi", "stress", 248.2113),
        ("345 MPa", "stress", 345),
        ("100 kg", "force", 980.665),
        ("45°", "angle", 45),
        ("0.5 rad", "angle", 28.64789),
    ],
)
def test_other_quantities(text, kind, core):
    assert units.parse(text, kind) == pytest.approx(core, rel=1e-6)


@pytest.mark.parametrize(
    "text",
    [
        "",
        "abc",
        "12 kg",
        '1/0"',
        "--3",
        "24 3/8 3/8",
        "1e999 mm",
        "three",
        "12 mm mm",
        "1,234",
        "nan",
        "inf mm",
        "__import__('os')",
    ],
)
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


@given(
    st.floats(0, 1e7),
    st.sampled_from(["mass", "force", "moment", "stress", "line_force", "percent", "angle", "number"]),
    st.sampled_from(["inch", "metric"]),
)
def test_every_kind_reads_what_it_prints(value, kind, system):
    shown = units.show(value, kind, system)
    assert units.show(units.parse(shown, kind, system), kind, system) == shown


def test_the_factors_are_pints():
    registry = units.registry()
    assert registry.Quantity(1, "inch").to("mm").magnitude == pytest.approx(units.MM_PER_INCH, rel=1e-12)
    assert registry.Quantity(1, "lb").to("kg").magnitude == pytest.approx(units.KG_PER_POUND, rel=1e-12)
    assert registry.Quantity(1, "force_pound").to("N").magnitude == pytest.approx(units.N_PER_LBF, rel=1e-12)
    assert registry.Quantity(1, "ksi").to("MPa").magnitude == pytest.approx(
        units._KINDS["stress"].inch_factor, rel=1e-9
    )
    assert registry.Quantity(1, "foot*force_pound").to("N*mm").magnitude == pytest.approx(
        units._KINDS["moment"].inch_factor, rel=1e-9
    )


def test_a_bare_figure_is_in_the_jobs_units():
    assert units.parse("10", "length", "inch") == 254
    assert units.parse("10", "length", "metric") == 10
    assert units.parse("10", "mass", "inch") == pytest.approx(4.5359237)


def test_feet_are_written_on_request():
    assert units.show_length(647.7, "inch", feet=True) == "2' 1 1/2\""


# ---- what the trade writes in two ways, gauges, sentences


@pytest.mark.parametrize(
    ("text", "kind", "readings"),
    [
        ("1'000", "length", ("1 feet 0 inches", "1000")),
        ("1.000", "length", ("1 ", "1000")),
        ("1,234", "length", ("1.234", "1234")),
        ("2 ton", "mass", ("1000 kg", "2000 lb")),
        ("3 tons", "force", ("1000 kg", "2000 lb")),
    ],
)
def test_text_with_two_meanings_is_refused_with_both(text, kind, readings):
    with pytest.raises(units.UnitError) as error:
        units.parse(text, kind)
    assert all(r in str(error.value) for r in readings) and str(error.value).count("\n") == 0


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("1,234.5", 1234.5),
        ("1.234,5", 1234.5),
        ("2,5", 2.5),
        ("19''", 482.6),
        ("10 ga", 3.4163),
        ("16 gauge", 1.51892),
        ("12ga", 2.65684),
        ("1'6", 457.2),
    ],
)
def test_what_can_be_read_one_way_only_is_understood(text, mm):
    assert units.parse(text, "length") == pytest.approx(mm)


@pytest.mark.parametrize("text", ["5'6'7", "99 ga", "10 gallons", "1 m)", "''"])
def test_lengths_that_are_none_are_refused_in_one_sentence(text):
    with pytest.raises(units.UnitError) as error:
        units.parse(text, "length")
    assert len(str(error.value)) < 200


def test_a_size_that_is_no_common_fraction_is_written_in_thousandths():
    assert (
        units.show(0.135 * 25.4, "length", "inch") == '0.135"'
        and units.show(0.125 * 25.4, "length", "inch") == '1/8"'
    )
    assert units.show(0.4, "length", "inch") == '0.016"' and units.show(619.0, "length", "inch") == '24 3/8"'


@given(st.floats(-5000, 5000))
def test_what_is_shown_in_inches_is_read_back_as_near_as_it_was_shown(mm):
    assert units.parse(units.show(mm, "length", "inch"), "length", "inch") == pytest.approx(
        mm, abs=25.4 / 32 + 1e-6
    )


def test_speed_and_rope_have_units_of_their_own():
    assert units.show(88.51392, "speed", "inch") == "55\u00a0mph" and units.parse(
        "55", "speed", "inch"
    ) == pytest.approx(88.51392)
    assert units.show(12.192, "distance", "inch") == "40\u00a0ft" and units.parse(
        "40 ft", "distance"
    ) == pytest.approx(12.192)


@pytest.mark.parametrize(
    ("metric", "inch"),
    [
        ("Only 160 mm to the ground.", 'Only 6 5/16" to the ground.'),
        ("behind +3.0 mm, across -0.4 mm", 'behind +0.118", across -0.016"'),
        ("M10 grade 8.8: 48 N·m dry", "M10 grade 8.8: 35\u00a0ft·lb dry"),
        ("31.2 MPa", "4.5\u00a0ksi"),
        ("at 90 km/h", "at 56\u00a0mph"),
        ("2448 mm²", "3.79\u00a0in²"),
        ("26 kN and 40 kg", "5845\u00a0lbf and 88\u00a0lb"),
        ("6.6 mm × 30 mm", '0.26" × 1 3/16"'),
        ("plate A-5 of 3 pieces, Ω 2.00", "plate A-5 of 3 pieces, Ω 2.00"),
    ],
)
def test_a_sentence_is_said_in_the_jobs_units(metric, inch):
    assert units.in_words(metric, "inch") == inch and units.in_words(metric, "metric") == metric


def test_a_working_keeps_its_figures_with_the_others_beside():
    assert (
        units.in_words("A 2448 mm², 31.2 MPa", "inch", beside=True)
        == "A 2448 mm² (3.79\u00a0in²), 31.2 MPa (4.5\u00a0ksi)"
    )


# ---- a comma before the decimals


@pytest.fixture
def comma():
    units.write_decimals(",")
    yield
    units.write_decimals(".")


@pytest.mark.parametrize("kind", units.kinds())
def test_with_a_comma_what_is_shown_is_read_back_as_it_stands(comma, kind):
    @given(st.floats(-99_999, 99_999), st.sampled_from(["metric", "inch"]))
    def there_and_back(value, system):
        shown = units.show(value, kind, system)
        assert "." not in shown
        assert units.show(units.parse(shown, kind, system), kind, system) == shown

    there_and_back()


@pytest.mark.parametrize(
    ("text", "value"),
    [("12,5 mm", 12.5), ("12.5 mm", 12.5), ("1,234", 1.234), ("1.234,5", 1234.5), ("0,135", 0.135)],
)
def test_with_a_comma_the_place_s_own_mark_is_a_decimal(comma, text, value):
    assert units.parse(text, "length") == value


@pytest.mark.parametrize(("text", "readings"), [("1.234", ("1,234", "1234")), ("1,000", ("1", "1000"))])
def test_with_a_comma_the_other_mark_before_three_figures_is_refused(comma, text, readings):
    with pytest.raises(units.UnitError) as caught:
        units.parse(text, "length")
    assert all(r in str(caught.value) for r in readings)


def test_with_a_comma_sentences_have_it_and_clauses_keep_their_point(comma):
    said = "AISC 360 J2.4: 12.5 mm at 345.5 MPa is 68.2 % of table J2.5, M14 grade 10.9, 33.7 od × 4."
    assert units.in_words(said, "metric") == (
        "AISC 360 J2.4: 12,5 mm at 345,5 MPa is 68,2 % of table J2.5, M14 grade 10.9, 33.7 od × 4."
    )
    assert units.in_words("it lacks 1.5 kg", "inch") == "it lacks 3\u00a0lb"
    assert units.in_words("it lacks 1,5 kg", "inch") == "it lacks 3\u00a0lb"
    assert units.in_words("leg 12.5 mm", "inch", beside=True) == 'leg 12,5 mm (1/2")'


def test_a_thread_that_writes_for_machines_leaves_the_windows_mark_alone():
    units.write_decimals(",")
    inside, go_on = Event(), Event()

    def machine():
        with units.for_machines():
            inside.set()
            go_on.wait(5)
            written.append(units.figure(1.5, 1))

    written: list[str] = []
    worker = Thread(target=machine)
    try:
        worker.start()
        inside.wait(5)
        assert units.figure(1.5, 1) == "1,5"
    finally:
        go_on.set()
        worker.join()
        units.write_decimals(".")
    assert written == ["1.5"]


@pytest.mark.parametrize(
    ("metric", "inch"),
    [
        ("it runs 1 mm into the tank", 'it runs 1/16" into the tank'),  # 0.039 in: a length, not a play
        ("a bead of 6 mm", 'a bead of 1/4"'),
        ("legs of 10 mm", 'legs of 3/8"'),
        ("a play of 0.8 mm", 'a play of 0.031"'),
        ("a coat of 0.1 mm", 'a coat of 0.004"'),
        ("1098 mm apart", '43 1/4" apart'),
    ],
)
def test_a_length_is_said_in_fractions_and_a_play_as_finely_as_it_was_reckoned(metric, inch):
    assert units.in_words(metric, "inch") == inch


def test_what_a_person_called_a_thing_is_never_read_as_a_size():
    said = units.in_words("50 mm strap carries 4.45 kN, 50 mm of it", "inch", names=("50 mm strap",))
    assert said == '50 mm strap carries 1000\u00a0lbf, 1 15/16" of it'
    units.write_decimals(",")
    try:
        assert units.in_words("1.5 t net: 2.5 kN", "metric", names=("1.5 t net",)) == "1.5 t net: 2,5 kN"
    finally:
        units.write_decimals(".")


@pytest.mark.parametrize(
    ("mm", "said"),
    [
        (6.0, '1/4"'),
        (5.0, '1/4"'),
        (4.7625, '3/16"'),
        (8.0, '5/16"'),
        (3.0, '1/8"'),
        (25.4, '1"'),
        (0.5, '1/16"'),
    ],
)
def test_a_leg_is_said_in_sixteenths_and_never_less_than_it_is(mm, said):
    """5 mm are 3.15 sixteenths: a bead of 3/16 would be a twentieth short.  8 mm are 5.04, near enough."""
    assert units.show_leg(mm, "inch") == said
    assert units.show_leg(mm, "metric") == units.show_length(mm, "metric")
