"""A job's own names stay as they were written, in every unit it speaks."""

from urial.job import speech
from urial.job.duty import Carrier, Item, Recovery
from urial.job.model import Job


def test_a_load_called_by_a_size_keeps_its_name_in_an_inch_job():
    job = Job(units="inch", duties=(Recovery(title="50 mm strap"),))
    assert speech.names(job) == ("50 mm strap",)
    assert speech.said(job, "In 50 mm strap the leg of 6 mm carries 4.45 kN") == (
        'In 50 mm strap the leg of 1/4" carries 1000\u00a0lbf'
    )


def test_names_deep_in_the_job_are_known_and_the_longest_counts_first():
    assert speech.names(Job(units="inch")) == ()
    job = Job(units="inch", duties=(Carrier(items=(Item(name="10 kg can"), Item(name="10 kg can, blue"))),))
    assert speech.names(job) == ("10 kg can, blue", "10 kg can")
    assert speech.said(job, "10 kg can, blue: 10 kg") == "10 kg can, blue: 22\u00a0lb"
