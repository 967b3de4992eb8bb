"""A force's figure stands aside from dimensions and never beyond the drawing's edge."""

from PySide6.QtCore import QRectF

from urial.desk.scene.arrows import clear_of


def test_a_figure_steps_to_the_right_of_what_stands_there():
    box = clear_of(QRectF(100, 50, 60, 20), [QRectF(90, 45, 40, 30)], 95.0, 800)
    assert box == QRectF(136, 50, 60, 20)


def test_at_the_edge_it_steps_down_instead():
    dimensions = [QRectF(720, 40, 60, 30), QRectF(700, 72, 60, 30)]
    box = clear_of(QRectF(710, 50, 80, 20), dimensions, 700.0, 800)
    assert box.right() <= 800 and not any(box.intersects(d) for d in dimensions)
    assert box.top() > 100


def test_where_nothing_stands_it_stays():
    assert clear_of(QRectF(10, 10, 30, 10), [QRectF(200, 200, 5, 5)], 0.0, 800) == QRectF(10, 10, 30, 10)
