"""What a day of switching leaves behind: nothing."""

import gc

from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QApplication, QCompleter


def settled() -> None:
    for _ in range(4):
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        QApplication.processEvents()
    gc.collect()


def standing(window) -> tuple[int, int, int]:
    """Widgets of the whole application, objects under the window, completers that Python still holds."""
    settled()
    return (
        len(QApplication.allWidgets()),
        len(window.findChildren(QObject)),
        sum(isinstance(o, QCompleter) for o in gc.get_objects()),
    )


def test_switching_to_and_fro_leaves_no_objects_behind(qtbot, window):
    for what in ("night", "bench_size", "switch_units", "toggle_drawer"):
        for _ in range(2):  # the first time makes what is kept
            getattr(window, what)()
        before = standing(window)
        for _ in range(2):
            getattr(window, what)()
            settled()
        after = standing(window)
        assert all(now <= then for now, then in zip(after, before, strict=True)), (what, before, after)


def test_a_window_that_goes_takes_its_store_and_its_renderer_along(qtbot, tmp_path):
    from urial.desk.scene.render import Renderer
    from urial.desk.start import demo_jobs
    from urial.desk.store import Store
    from urial.desk.theme import Theme
    from urial.desk.window import Window
    from urial.job.recovery import Recovery

    def alive() -> int:
        settled()
        return sum(isinstance(o, (Store, Renderer)) for o in gc.get_objects())

    before = alive()
    for _ in range(2):
        window = Window(Theme(), Store(Recovery(tmp_path / "recovery")))
        window.show()
        window.open_demo(demo_jobs()[0][0])
        window.go("Prove")
        window.scene.settle()
        assert alive() > before
        window.store.document.saved_job = window.store.job
        window.close()
        window.deleteLater()
        del window
    assert alive() <= before + 1  # what Qt itself still holds of the last one
