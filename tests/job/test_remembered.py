"""The last few answers: what is kept, what is not, and who may ask at once."""

from __future__ import annotations

from threading import Thread

import pytest

from urial import families
from urial.fit import fit
from urial.job import edit
from urial.job.remembered import Remembered
from urial.prove import verdict as verdicts
from urial.prove.verdict import prove


def test_an_answer_is_reckoned_once_and_the_oldest_is_forgotten():
    asked = []
    kept: Remembered[int, str] = Remembered(2)

    def answer(n):
        return kept.of(n, lambda: asked.append(n) or str(n))

    assert [answer(n) for n in (1, 2, 1, 3, 1, 2)] == ["1", "2", "1", "3", "1", "2"]
    assert asked == [1, 2, 3, 2]  # 2 made room for 3, and 3 for 2
    kept.cache_clear()
    answer(1)
    assert asked[-1] == 1


def test_what_failed_or_was_left_halfway_is_asked_again():
    kept: Remembered[str, int] = Remembered(4)
    with pytest.raises(ZeroDivisionError):
        kept.of("a", lambda: 1 // 0)
    assert kept.of("a", lambda: 1, whole=lambda: False) == 1
    assert kept.of("a", lambda: 2) == 2
    assert kept.of("a", lambda: 3) == 2


def test_many_may_ask_at_once_and_each_gets_its_own_answer():
    kept: Remembered[int, int] = Remembered(3)
    wrong = []

    def ask(seed):
        for k in range(400):
            n = (k * seed) % 7
            if kept.of(n, lambda n=n: n * n) != n * n:
                wrong.append(n)

    threads = [Thread(target=ask, args=(s,)) for s in (1, 2, 3, 5)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert not wrong


def test_an_edit_taken_back_is_proved_already_and_another_job_never_gets_its_verdict(monkeypatch):
    job = families.new_job("rear-receiver")
    before = prove(job)
    changed = edit.put(job, "duty.tongue_mass_kg", 260.0)
    after = prove(changed)
    assert after.governing.utilisation != before.governing.utilisation
    monkeypatch.setattr(verdicts, "_in_every_state", None)
    assert prove(edit.put(changed, "duty.tongue_mass_kg", job.duty.tongue_mass_kg)) is before
    with pytest.raises(TypeError):
        prove(edit.put(job, "duty.tongue_mass_kg", 261.0))


def test_a_look_left_early_is_not_taken_for_a_whole_one():
    job = families.new_job("hook-plate")
    early = fit(job, stopped=lambda: True)
    assert early.early
    whole = fit(job)
    assert not whole.early and len(whole.steps) > len(early.steps)
    assert fit(job.model_copy(update={"notes": "another word"})) is whole
    assert fit(job, moves=False) is not whole


@pytest.mark.parametrize(
    "other", [{"units": "inch"}, {"title": "Another name"}, {"nearest": 32, "notes": "x"}]
)
def test_another_name_or_other_units_need_no_new_proof_and_speak_their_own_words(monkeypatch, other):
    job = families.new_job("rear-receiver").model_copy(update=other)
    job = edit.put(job, "stack.1.drop_mm", 340.0)  # near the ground: it is warned of, with a length
    plain = job.model_copy(update={"units": "metric", "title": "New job", "nearest": 16, "notes": ""})
    first = prove(plain)
    asked = []
    monkeypatch.setattr(verdicts, "_in_every_state", lambda *_: asked.append(1))
    then = prove(job)
    assert not asked and then.job is job
    assert [c.id for c in then.checks] == [c.id for c in first.checks]
    monkeypatch.undo()
    assert then.warnings == verdicts._in_every_state(job, families.build).warnings
    assert (then.warnings == first.warnings) == ("units" not in other)


def test_an_equal_question_is_compared_once_and_known_by_sight_from_then_on():
    compared = []

    class Asked:
        def __init__(self, n):
            self.n = n

        def __eq__(self, other):
            compared.append(self.n)
            return self.n == other.n

        __hash__ = None

    kept: Remembered[Asked, int] = Remembered(3)
    assert kept.of(Asked(1), lambda: 10) == 10
    again = Asked(1)
    assert kept.of(again, lambda: 20) == 10 and compared == [1]
    assert kept.of(again, lambda: 30) == 10 and compared == [1]
    assert kept.of(Asked(2), lambda: 40) == 40 and kept.of(again, lambda: 50) == 10
