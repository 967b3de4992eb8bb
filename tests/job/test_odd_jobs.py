"""Jobs that nobody meant: two of a kind on one host, steel nobody sells, formulas for no size."""

import pytest

from urial import families
from urial.assembly.model import BuildError
from urial.families.registry import families as kinds
from urial.job import formula
from urial.job.file import Document, FileError, from_bytes, to_bytes
from urial.job.model import Follows
from urial.prove.verdict import prove

NAMES = sorted(kinds())


@pytest.mark.parametrize("name", NAMES)
def test_two_of_a_kind_on_one_host_are_judged_or_refused_in_a_sentence(name):
    job = families.new_job(name)
    piece = next(p for p in job.stack if p.family == name)
    number = str(max(int(p.id) for p in job.stack) + 1)
    twice = job.model_copy(update={"stack": (*job.stack, piece.model_copy(update={"id": number}))})
    try:
        v = prove(twice)
    except BuildError as refusal:
        assert str(refusal).endswith(".") and "\n" not in str(refusal)
        return
    assert len({c.id for c in v.cases}) == len(v.cases)
    assert len(v.checks[0].by_case) == len(v.cases)


@pytest.mark.parametrize("where", ["rail_material", "wall_material"])
def test_a_host_of_unknown_steel_is_refused_by_its_name(where):
    job = families.new_job("rear-receiver")
    host = job.vehicle
    if where == "rail_material":
        host = host.model_copy(update={where: "unobtainium"})
    else:
        first = host.left[0].model_copy(update={where: "unobtainium"})
        host = host.model_copy(update={"left": (first, *host.left[1:])})
    odd = job.model_copy(update={"hosts": (host,)})
    with pytest.raises(FileError, match=r"unobtainium.*is in stock"):
        from_bytes(to_bytes(Document(odd)), "odd.urial")
    with pytest.raises(BuildError, match="unobtainium"):
        prove(odd)


@pytest.mark.parametrize("size", ["nonsense", "values.nope", "nope_mm", "plate", "family"])
def test_a_formula_for_a_size_that_is_not_there_is_a_sentence(size):
    job = families.new_job("rear-receiver")
    odd = job.stack[0].model_copy(update={"formulas": (Follows(size=size, text="= 5 mm"),)})
    job = job.model_copy(update={"stack": (odd, *job.stack[1:])})
    same, said = formula.applied(job)
    assert same == job and len(said) == 1
    assert f"no size “{size}” that could follow “= 5 mm”" in said[0]
    assert any(said[0] in w for w in prove(job).warnings)
