"""Questions are worked out off the asker's thread: the newest wins, what is stale stops, the last answers of
all are remembered, and what comes to grief is an answer too."""

import threading
import time

import pytest

from urial import families
from urial.session.questions import Question, State, question, questions, register
from urial.session.scheduler import Failed, Scheduler

JOB = families.survey_job("pickup")
HANGS_S = 60.0


def of(about):
    return State(JOB, about=about)


def made(reckon, key=lambda s: s.about, kept=8):
    asked = Question("one", key, reckon)
    return Scheduler(lambda name: {"one": asked, "other": asked}[name], kept)


def result(scheduler, name="one"):
    assert scheduler.wait(name, HANGS_S)
    scheduler.news()
    return scheduler.answer(name)


def test_an_answer_comes_by_news_and_from_another_thread():
    s = made(lambda s, stopped, tell: (s.about, threading.current_thread().name))
    s.ask("one", of(3))
    assert s.busy("one") and s.answer("one") is None
    assert s.wait("one", HANGS_S) and s.answer("one") is None  # nobody has looked yet
    assert s.news() == ("one",) and s.news() == ()
    about, thread = s.answer("one")
    assert about == 3 and thread.startswith("urial") and not s.busy("one") and s.idle


def test_the_newest_wins_and_the_older_one_really_stops():
    gate, left = threading.Event(), []

    def reckon(s, stopped, tell):
        if s.about == 1:
            gate.set()
            while not stopped():
                time.sleep(0.001)
            left.append(s.about)
        return s.about

    s = made(reckon)
    s.ask("one", of(1))
    assert gate.wait(HANGS_S)
    s.ask("one", of(2))
    assert result(s) == 2 and left == [1]
    s.ask("one", of(1))  # what was left half done is not remembered: it is begun anew
    gate.clear()
    s.drop("one")
    assert not s.busy("one") and s.state("one") is None and s.news() == ()


def test_what_was_told_is_news_before_the_answer_is():
    gate = threading.Event()

    def reckon(s, stopped, tell):
        tell("half way")
        gate.wait(HANGS_S)
        return "there"

    s = made(reckon)
    s.ask("one", of(1))
    end = time.monotonic() + HANGS_S
    while not (news := s.news()):
        assert time.monotonic() < end
        time.sleep(0.001)
    assert news == ("one",) and s.told("one") == ("half way",) and s.busy("one") and s.news() == ()
    gate.set()
    assert result(s) == "there"


def test_equal_states_are_answered_once_and_only_so_many_are_remembered():
    asked = []
    s = made(lambda s, stopped, tell: asked.append(s.about) or s.about, kept=2)
    for about in (1, 1, 2, 1, 3, 2):
        s.ask("one", of(about))
        assert result(s) == about
    assert asked == [1, 2, 3, 2]  # of 1, 3 only the last two were known when 2 came again
    s.ask("other", of(3))  # the same state of another question
    assert result(s, "other") == 3 and asked == [1, 2, 3, 2, 3]


def test_what_depends_on_more_than_its_state_is_worked_out_each_time():
    asked = []
    s = made(lambda s, stopped, tell: asked.append(1) or len(asked), key=lambda _: None)
    for n in (1, 2):
        s.ask("one", of(0))
        assert result(s) == n


def test_work_that_comes_to_grief_is_an_answer_and_nothing_is_remembered_of_it(caplog):
    tries = []

    def reckon(s, stopped, tell):
        tries.append(1)
        return 1 // (len(tries) - 1)

    s = made(reckon)
    s.ask("one", of(1))
    assert isinstance(result(s), Failed) and "working out “one”" in caplog.text
    s.ask("one", of(1))
    assert result(s) == 1


def test_waiting_ends_when_enough_is_known():
    gate = threading.Event()
    s = made(lambda s, stopped, tell: (tell("shape"), gate.wait(HANGS_S))[0])
    s.ask("one", of(1))
    assert not s.wait("one", HANGS_S, lambda: bool(s.told("one"))) and s.busy("one")
    assert not s.wait("one", 0.0)
    gate.set()
    s.forget()
    assert s.idle and not s.busy("one")


def test_two_questions_do_not_wait_for_each_other():
    gate = threading.Event()
    s = made(lambda s, stopped, tell: gate.wait(HANGS_S) if s.about == "long" else "short")
    s.ask("one", of("long"))
    s.ask("other", of("short"))
    assert result(s, "other") == "short" and s.busy("one")
    gate.set()


def test_a_question_has_one_name():
    register("asked in a test", key=lambda s: 1)(lambda s, stopped, tell: 2)
    assert question("asked in a test").key(of(0)) == 1 and "asked in a test" in questions()
    with pytest.raises(ValueError, match="already"):
        register("asked in a test", key=lambda s: 1)(lambda s, stopped, tell: 2)
    with pytest.raises(KeyError):
        Scheduler().ask("never heard of", of(0))
