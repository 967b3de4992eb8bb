import pytest

from urial.stock import catalogue as c


def test_every_row_states_its_source_and_has_possible_sizes():
    rows = [r for shelf in c.SHELVES.values() for r in shelf().values()]
    assert len(rows) > 700
    assert all(r.source for r in rows)
    for bar in c.bars().values():
        section = bar.section()
        assert 0 < section.area <= bar.width * bar.height


def test_both_systems_and_the_named_ranges_are_on_the_shelf():
    for name in (
        "3/4x3/4x0.083",
        "5x5x3/8",
        "20x20x2",
        "120x120x8",
        "4 od x 0.250",
        "pipe 1/2 sch 40",
        "pipe 4 sch 80",
    ):
        assert c.bar(name)
    assert c.plate("1").thickness == 25.4
    assert c.plate("16 ga").thickness == pytest.approx(1.519, abs=0.01)


def test_names_are_found_the_way_people_write_them():
    assert c.bar("2-1/2 X 2-1/2 × 1/4") is c.bar("2 1/2x2 1/2x1/4")
    assert c.material("a36").Fy == 248


def test_an_unknown_name_says_what_is_near():
    with pytest.raises(c.StockError, match="nearest"):
        c.bar("2 1/2x2 1/2x1/5")


def test_stress_areas_are_the_published_ones():
    # ISO 898-1 table 4 and ASME B1.1 table 4A
    published = {"M12": 84.3, "M16": 157, "M20": 245, "1/2": 0.1419 * 645.16, "3/4": 0.3345 * 645.16}
    for name, area in published.items():
        assert c.bolt(name).stress_area == pytest.approx(area, rel=0.005)


def test_welding_softens_cold_drawn_tube_and_aluminium():
    assert c.material("A513-DOM").beside_weld().Fy == pytest.approx(0.62 * 483)
    soft = c.material("6061-T6").beside_weld()
    assert (soft.Fy, soft.Fu) == pytest.approx((80, 165), rel=1e-3)
    assert c.material("A36").beside_weld() is c.material("A36")


def test_design_wall_follows_the_standard_of_the_steel():
    tube = c.bar("2 1/2x2 1/2x1/4")
    assert tube.section(c.material("A500-B").wall_factor).wall == pytest.approx(0.93 * 6.35)
    assert c.material("A513-AW").wall_factor == 0.90
    assert c.material("S355").wall_factor == 1.0
