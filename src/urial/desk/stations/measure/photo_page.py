"""Photo: mark a known rectangle, and holes, points and edges are read off the squared-up face."""

from __future__ import annotations

import logging
from pathlib import Path

from PySide6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urial import units
from urial.desk.scene.photo_view import PhotoView
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import Field, clear, label, within
from urial.desk.widgets.pickers import Picker
from urial.desk.widgets.segments import Segments
from urial.job.file import os_words
from urial.job.survey import Corner, Photo, Pick
from urial.measure import edges, photo
from urial.measure.rectify import PictureError, Squared, homography
from urial.measure.survey_photo import as_hard_point, on_host, picks_on_host, rectangle, squared

log = logging.getLogger("urial")
MODES = (("corners", "Corners"), ("hole", "Hole"), ("point", "Point"), ("edge", "Edge"))
ORDER = ("lower left", "lower right", "upper right", "upper left")


class PhotoPage(Page):
    """Off a photo."""

    name = "Photo"
    question = "Off a photo"

    def fill(self) -> None:
        self.canvas = self.picture = PhotoView(self.theme)
        self.picture.clicked.connect(self.click)
        self.column.addWidget(
            label(
                "Stand square to a flat face with something of known size on it: a sheet of paper, a "
                "square, the distance between two holes and their height. Picture it, then mark its "
                "four corners.",
                "quiet",
                wrap=True,
            )
        )
        row = QHBoxLayout()
        self.pick = Picker()
        self.pick.setObjectName("photo")
        self.pick.setMinimumContentsLength(8)
        self.pick.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.pick.currentIndexChanged.connect(self._show)
        row.addWidget(self.pick, 1)
        for words, name, slot in (
            ("+ photo…", "add photo", self._ask),
            ("Take away", "drop photo", self._drop),
        ):
            button = QPushButton(words)
            button.setObjectName(name)
            button.setProperty("segment", True)
            button.clicked.connect(slot)
            row.addWidget(button)
        self.column.addLayout(row)
        self.tools = Segments(MODES, 4, "mode", self._mode)
        self.column.addWidget(self.tools)
        self.mode = "corners"
        self.form = QVBoxLayout()
        self.column.addLayout(self.form)
        self.found = label("", "", wrap=True)
        self.column.addWidget(self.found)
        self.distances = label("", "quiet", wrap=True)
        self.column.addWidget(self.distances)
        buttons = QHBoxLayout()
        self.undo_corner, self.take = QPushButton("Mark corners again"), QPushButton("Holes into the survey")
        for button, name, slot in (
            (self.undo_corner, "clear corners", self._clear),
            (self.take, "take picks", self._take),
        ):
            button.setObjectName(name)
            button.clicked.connect(slot)
            buttons.addWidget(button)
        self.column.addLayout(buttons)
        self.picks = QVBoxLayout()
        self.column.addLayout(self.picks)
        self._made: object = None
        self._shown_file = "?"
        self._picks_made: object = None

    # ---- what is shown

    @property
    def number(self) -> int:
        """Which photo is open, or -1."""
        return self.pick.currentIndex() if self.store.job.survey.photos else -1

    def _photo(self) -> Photo | None:
        photos = self.store.job.survey.photos
        return photos[self.number] if 0 <= self.number < len(photos) else None

    def refresh(self) -> None:
        photos = self.store.job.survey.photos
        names = [f"{n}  {p.title}" for n, p in enumerate(photos, 1)]
        self.offer(self.pick, names)
        self._show()

    def _show(self) -> None:
        shot = self._photo()
        self.tools.setVisible(shot is not None)
        for button in (self.undo_corner, self.take):
            button.setVisible(shot is not None)
        if (self.number, shot is None) != self._made:
            self._made = (self.number, shot is None)
            clear(self.form)
            if shot is not None:
                for name in (
                    "title",
                    "face",
                    "width_mm",
                    "height_mm",
                    "at_behind_mm",
                    "at_height_mm",
                    *(("at_across_mm",) if shot.face == "rear" else ()),
                ):
                    field = within(self.store, f"survey.photos.{self.number}.{name}")
                    self.form.addWidget(field)
        file = shot.file if shot else ""
        if file != self._shown_file:
            self._shown_file = file
            self.picture.show_picture(self.store.document.attachments.get(file))
            self._mode("corners" if shot is None or len(shot.corners) < 4 else self.mode)
        self._overlay(shot)

    def _squared(self, shot: Photo) -> Squared | None:
        if len(shot.corners) < 4:
            return None
        try:
            return squared(shot, self.store.job.survey.tape_sigma_mm)
        except PictureError as error:
            self.say(str(error))
            return None

    def _overlay(self, shot: Photo | None) -> None:
        view = self.picture
        view.corners = [(c.px, c.py) for c in shot.corners] if shot else []
        result = self._squared(shot) if shot else None
        view.squared = result
        view.picks = []
        lines, job = [], self.store.job
        if shot and result is not None:
            for p, uv, s in zip(shot.picks, result.points, result.sigma, strict=True):
                x, y, z = on_host(shot, float(uv[0]), float(uv[1]), job.vehicle)
                d = job.survey.datum
                size = f", ⌀{self.length(p.hole_mm)}" if p.hole_mm else ""
                first = (
                    f"{self.length(y - d.across_mm)} to the left"
                    if shot.face == "rear"
                    else f"{self.length(-x - d.behind_mm)} behind"
                )
                lines.append(
                    f"{p.name}  {first}, {self.length(z - d.height_mm)} high, ± "
                    f"{units.figure(2 * max(float(s[0]), float(s[1])), 1)}{size}"
                )
                view.picks.append((p.name, p.px, p.py, f"⌀ {self.length(p.hole_mm)}" if p.hole_mm else ""))
        self.found.setText("\n".join(lines))
        self.found.setVisible(bool(lines))
        apart = []
        if shot and result is not None:
            for n in range(1, len(shot.picks)):
                apart_mm, sigma = result.distance(n - 1, n)
                apart.append(
                    f"{shot.picks[n - 1].name} to {shot.picks[n].name}: {self.length(apart_mm)} ± "
                    f"{units.figure(2 * sigma, 1)} mm"
                )
        self.distances.setText("\n".join(apart))
        self.distances.setVisible(bool(apart))
        self._pick_rows(shot)
        self._hint(shot)
        view.update()

    def _pick_rows(self, shot: Photo | None) -> None:
        shape = (self.number, len(shot.picks)) if shot else None
        if shape == self._picks_made:
            return
        self._picks_made = shape
        clear(self.picks)
        for k in range(len(shot.picks) if shot else 0):
            row = QWidget()
            line = QHBoxLayout(row)
            line.setContentsMargins(0, 0, 0, 0)
            field = Field(self.store, f"survey.photos.{self.number}.picks.{k}.name", title=f"pick {k + 1}")
            line.addWidget(field, 1)
            away = QPushButton("×")
            away.setObjectName(f"drop pick:{k}")
            away.setProperty("segment", True)
            away.clicked.connect(lambda _=False, n=k: self._drop_pick(n))
            line.addWidget(away)
            self.picks.addWidget(row)

    def _hint(self, shot: Photo | None) -> None:
        if shot is None:
            words = "Add a photo: + photo… on the right."
        elif self.mode == "corners" and len(shot.corners) < 4:
            words = (
                f"Click the {ORDER[len(shot.corners)]} corner of the known rectangle "
                f"({self.length(shot.width_mm)} × {self.length(shot.height_mm)})."
            )
        elif self.mode == "corners":
            words = "Click near a corner to move it there; the grid must lie flat on the face."
        else:
            words = {
                "hole": "Click in a hole: its rim is found and its middle taken.",
                "point": "Click a place.",
                "edge": "Click near an edge: the steepest change is taken.",
            }[self.mode]
        self.picture.hint = words

    def _mode(self, mode: str) -> None:
        self.mode = mode
        self.tools.choose(mode)
        self._hint(self._photo())
        self.picture.update()

    # ---- edits

    def _replace(self, changed: Photo, words: str) -> bool:
        photos = list(self.store.job.survey.photos)
        photos[self.number] = changed
        return self.put("survey.photos", tuple(photos), words)

    def _ask(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self,
            "Take in a photo",
            str(Path.home()),
            "Pictures (*.jpg *.jpeg *.png *.webp *.tif *.tiff *.bmp);;All files (*)",
        )
        if name:
            self.add(Path(name))

    def add(self, path: Path) -> None:
        """Take a picture in: turned upright, scaled down, kept in the job."""
        try:
            kept = photo.store(path.read_bytes(), path.name)
        except OSError as error:
            self.say(f"{path.name} cannot be read: {os_words(error)}.")
            return
        except PictureError as error:
            self.say(str(error))
            return
        self.store.document.attach(kept.name, kept.data)
        photos = self.store.job.survey.photos
        host = self.store.job.vehicle
        new = Photo(
            title=path.stem[:60],
            file=kept.name,
            at_behind_mm=host.left[0].behind_mm,
            at_height_mm=host.left[0].height_mm,
        )
        if self.put("survey.photos", (*photos, new), f"add photo {path.stem}"):
            self.refresh()
            self.pick.setCurrentIndex(len(photos))
            self._mode("corners")
            self._show()

    def _drop(self) -> None:
        photos = list(self.store.job.survey.photos)
        if photos:
            gone = photos.pop(self.number)
            self.put("survey.photos", tuple(photos), f"take away photo {gone.title}")
            self.refresh()

    def _clear(self) -> None:
        shot = self._photo()
        if shot:
            self._replace(shot.model_copy(update={"corners": ()}), "mark corners again")
            self._mode("corners")

    def _drop_pick(self, n: int) -> None:
        shot = self._photo()
        if shot and n < len(shot.picks):
            self._replace(
                shot.model_copy(update={"picks": tuple(p for k, p in enumerate(shot.picks) if k != n)}),
                f"take away {shot.picks[n].name}",
            )

    def click(self, x: float, y: float) -> None:
        """A click in the picture, in its pixels."""
        shot = self._photo()
        if shot is None:
            return
        try:
            grey = photo.grey(self.store.document.attachments[shot.file])
            if not (0 <= x < grey.shape[1] and 0 <= y < grey.shape[0]):
                raise PictureError("That place is outside the picture; click inside it.")
            if self.mode == "corners":
                self._corner(shot, *edges.snap_corner(grey, x, y)[:2])
            else:
                self._pick(shot, grey, x, y)
        except KeyError:
            self.say("The picture of this photo is missing from the job; take it in again.")
        except PictureError as error:
            self.say(str(error))

    def _corner(self, shot: Photo, x: float, y: float) -> None:
        corners = [(c.px, c.py) for c in shot.corners]
        if len(corners) < 4:
            corners.append((x, y))
            words = f"corner {len(corners)}"
        else:
            nearest = min(
                range(len(corners)), key=lambda n: (corners[n][0] - x) ** 2 + (corners[n][1] - y) ** 2
            )
            corners[nearest] = (x, y)
            words = f"corner {nearest + 1}"
        known = rectangle(shot)
        rows = tuple(
            Corner(px=round(px, 3), py=round(py, 3), along_mm=u, up_mm=v)
            for (px, py), (u, v) in zip(corners, known, strict=False)
        )
        changed = shot.model_copy(update={"corners": rows})
        if len(rows) == 4:
            squared(
                changed, self.store.job.survey.tape_sigma_mm
            )  # crossed corners are refused and the old ones kept
        self._replace(changed, words)
        if len(rows) == 4 and len(shot.corners) < 4:
            self._mode("hole")

    def _pick(self, shot: Photo, grey: object, x: float, y: float) -> None:
        if len(shot.corners) < 4:
            raise PictureError("Mark the four corners first; without them nothing can be measured.")
        h = homography([(c.px, c.py) for c in shot.corners], [(c.along_mm, c.up_mm) for c in shot.corners])
        name = f"H{len(shot.picks) + 1}" if self.mode == "hole" else f"P{len(shot.picks) + 1}"
        if self.mode == "hole":
            rim = edges.find_hole(grey, h, x, y, 45.0)  # type: ignore[arg-type]
            pick = Pick(
                name=name,
                px=round(rim.px, 3),
                py=round(rim.py, 3),
                hole_mm=round(2 * rim.radius, 2),
                sigma_px=0.2,
            )
        elif self.mode == "edge":
            ex, ey = edges.snap_edge(grey, x, y)  # type: ignore[arg-type]
            pick = Pick(name=name, px=round(ex, 3), py=round(ey, 3), sigma_px=0.4)
        else:
            pick = Pick(name=name, px=round(x, 3), py=round(y, 3), sigma_px=1.0)
        changed = shot.model_copy(update={"picks": (*shot.picks, pick)})
        squared(changed, self.store.job.survey.tape_sigma_mm)  # beyond the horizon is refused
        self._replace(changed, f"pick {name}")

    def _take(self) -> None:
        """The holes of this photo become the hard points of its side."""
        shot = self._photo()
        if shot is None:
            return
        if shot.face == "rear":
            self.say(
                "A picture of the rear shows no rail's side; picture the left or right side for its holes."
            )
            return
        try:
            found = [
                f
                for f in picks_on_host(shot, self.store.job.survey.tape_sigma_mm, self.store.job.vehicle)
                if f.hole_mm
            ]
        except PictureError as error:
            self.say(str(error))
            return
        if not found:
            self.say("No hole is picked yet: click in the holes first.")
            return
        points = tuple(sorted((as_hard_point(f) for f in found), key=lambda h: h.behind_mm))
        hand = self.store.document.by_hand("vehicle")
        self.put(f"vehicle.{shot.face}", points, f"{shot.face} holes from photo", hand)
