"""The survey as a table, and pictures kept with a job."""

import io
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from urial import families
from urial.job.file import load
from urial.job.host import kinds
from urial.measure import photo
from urial.measure.rectify import PictureError
from urial.measure.table import TableError, read_csv, write_csv

DEMOS = sorted((Path(families.__file__).parent / "demo").glob("*.urial"))


@pytest.mark.parametrize("path", DEMOS, ids=lambda p: p.stem)
def test_a_whole_survey_goes_out_and_comes_in_again(path):
    job = load(path).job
    text = write_csv(job)
    fresh = families.survey_job(job.vehicle.kind)
    again = read_csv(fresh, text)
    assert again.vehicle == job.vehicle and again.survey == job.survey
    assert read_csv(job, text) == job


def test_there_is_a_demo_survey_for_every_kind_of_host():
    assert {load(p).job.vehicle.kind for p in DEMOS} == set(kinds())


def test_a_table_of_two_lines_changes_two_values(job):
    text = 'path,value,unit\nvehicle.rail_spacing_mm,37 3/4,in\nsurvey.answers.pin_room_mm,"7 1/2""",\n'
    new = read_csv(job, text)
    assert new.vehicle.rail_spacing_mm == pytest.approx(
        958.85
    ) and new.survey.answers.pin_room_mm == pytest.approx(190.5)
    assert new.with_vehicle(job.vehicle).model_copy(update={"survey": job.survey}) == job


def test_an_empty_value_is_one_not_measured(job):
    new = read_csv(job, "path,value\nsurvey.answers.pin_room_mm,120\n")
    assert read_csv(new, "path,value\nsurvey.answers.pin_room_mm,\n").survey.answers.pin_room_mm is None


def test_a_table_of_another_kind_brings_its_host(job):
    post = families.survey_job("post")
    new = read_csv(families.survey_job("van"), write_csv(post))
    assert new.vehicle == post.vehicle


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "not a survey table"),
        ("a,b\n1,2\n", "not a survey table"),
        ("path,what\nvehicle.track_mm,track\n", "no column “value”"),
        ("path,value\nvehicle.track_mm,wide\n", "Line 2, vehicle.track_mm: “wide” is not a length"),
        (
            "path,value\nvehicle.tracks_mm,12\n",
            "Line 2: there is no place in a survey called “vehicle.tracks_mm”",
        ),
        ("path,value\ndesign.drop_mm,12\n", "no place in a survey"),
        ("path,value\nvehicle.track_mm,-5\n", "track_mm.* must be"),
        ("path,value\nvehicle.left.0.fixing,glue\n", "glue"),
        ("path,value\nvehicle.track_mm,1\nvehicle.track_mm.x,1\n", "Line 3|no place"),
    ],
)
def test_a_bad_table_is_refused_by_line_and_changes_nothing(job, text, says):
    with pytest.raises(TableError, match=says) as refusal:
        read_csv(job, text)
    assert "\n" not in str(refusal.value)


# ---- pictures


def jpeg(size, exif=None, fmt="JPEG"):
    x = np.linspace(0, 255, size[0], dtype=np.uint8)
    picture = Image.fromarray(np.broadcast_to(x, (size[1], size[0])).copy())
    out = io.BytesIO()
    picture.save(out, fmt, **({"exif": exif} if exif else {}))
    return out.getvalue()


def test_a_picture_is_scaled_down_and_named_by_its_contents():
    kept = photo.store(jpeg((4000, 1000)))
    assert kept.size == (photo.LONGEST, 600) and kept.name.startswith("photos/")
    assert photo.store(jpeg((4000, 1000))).name == kept.name
    grey = photo.grey(kept.data)
    assert grey.shape == (600, 2400) and grey.min() >= 0 and grey.max() <= 1


def test_a_picture_taken_on_its_side_is_turned_upright():
    exif = Image.Exif()
    exif[0x0112] = 6  # the camera was turned: show it a quarter turn clockwise
    kept = photo.store(jpeg((300, 200), exif))
    assert kept.size == (200, 300)
    grey = photo.grey(kept.data)
    assert grey[0].mean() < 0.1 < 0.9 < grey[-1].mean()  # what ran left to right now runs down
    assert Image.open(io.BytesIO(kept.data)).getexif().get(0x0112) in (None, 1)


@pytest.mark.parametrize("data", [b"", b"hello", jpeg((300, 200))[:400], b"\x89PNG\r\n\x1a\n" + b"x" * 50])
def test_what_is_no_picture_is_refused_in_a_sentence(data):
    with pytest.raises(PictureError, match="not a picture Urial can read"):
        photo.store(data, "notes.txt")


def test_a_stamp_sized_picture_is_refused():
    with pytest.raises(PictureError, match="nothing to measure"):
        photo.store(jpeg((10, 10), fmt="PNG"))
