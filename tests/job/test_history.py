"""Undo and redo of a job: a plain list with a finger in it, tried against one."""

from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule

from urial import families
from urial.job import edit
from urial.job.history import History

START = families.new_job("recovery-point")
PATH = next(p for p, s in edit.all_specs(START).items() if s.quantity == "length" and p.startswith("stack."))


def with_size(n):
    return edit.put(START, PATH, float(edit.get(START, PATH)) + n / 16)


class AgainstAList(RuleBasedStateMachine):
    """Every state a user has stood at, and where he stands."""

    def __init__(self):
        super().__init__()
        self.history, self.states, self.names, self.at = History(START), [START], [], 0

    @rule(n=st.integers(0, 6), name=st.sampled_from(["reach", "drop", "weld"]))
    def record(self, n, name):
        job = with_size(n)
        self.history.record(job, name)
        if job != self.states[self.at]:
            self.states[self.at + 1 :], self.names[self.at :] = [job], [name]
            self.at += 1

    @precondition(lambda self: self.at > 0)
    @rule(n=st.integers(0, 6))
    def drag_on(self, n):
        """What is dragged is one step; back where it began it is none."""
        job = with_size(n)
        self.history.restate(job, "dragged")
        if job == self.states[self.at - 1]:
            del self.states[self.at], self.names[self.at - 1]
            self.at -= 1
        else:
            self.states[self.at], self.names[self.at - 1] = job, "dragged"

    @rule()
    def undo(self):
        assert self.history.undo() == (self.at > 0)
        self.at = max(self.at - 1, 0)

    @rule()
    def redo(self):
        assert self.history.redo() == (self.at + 1 < len(self.states))
        self.at = min(self.at + 1, len(self.states) - 1)

    @invariant()
    def stands_where_the_list_says(self):
        assert self.history.job == self.states[self.at]
        assert self.history.undo_name == (self.names[self.at - 1] if self.at else None)
        ahead = self.names[self.at] if self.at + 1 < len(self.states) else None
        assert self.history.redo_name == ahead


TestAgainstAList = AgainstAList.TestCase


def test_what_follows_from_a_job_is_no_step_of_its_own():
    history = History(START)
    history.record(with_size(3), "reach")
    history.amend(with_size(4))
    assert history.job == with_size(4) and history.undo() and history.job == START and not history.undo()
    assert history.redo() and history.job == with_size(4)


def test_the_same_again_is_no_step():
    history = History(START)
    history.record(START, "nothing")
    assert history.undo_name is None and not history.undo() and not history.redo()
    history.restate(with_size(1), "nothing to restate")
    assert history.job == START
