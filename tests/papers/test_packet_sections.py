"""The packet is made of sections by name, each found by itself, and of those that are asked for."""

import pytest

from tests.papers.test_papers import text_of
from urial import cli, families
from urial.making.parts import parts_list
from urial.papers import packet
from urial.papers.section import chosen, section, sections
from urial.prove.verdict import CAUTION, prove


def test_all_of_them_are_found_in_the_packets_order():
    names = [s.name for s in sections()]
    assert names[0] == "cover" and names[-1] == "workings"
    assert {"elevations", "survey", "together", "parts", "welds", "chain", "proof test"} <= set(names)
    assert [s.name for s in chosen(("welds", "cover"))] == ["cover", "welds"]
    with pytest.raises(KeyError):
        chosen(("cover", "recipes"))
    with pytest.raises(ValueError, match="already"):
        section("cover", 12_345)(lambda p, s: None)


def test_a_packet_of_two_pages_has_those_and_the_caution():
    v = prove(families.new_job("shackle-insert"))
    words = " ".join(
        " ".join(text_of(packet.packet_pdf(v, parts_list(v.assembly), pages=("parts",)))).split()
    )
    assert "cut length" in words and "Load chain" not in words and "Proof test" not in words
    assert " ".join(CAUTION.split())[:60] in words


def test_pages_are_named_on_the_command_line(tmp_path, capsys):
    job = tmp_path / "job.urial"
    assert cli.main(["new", "shackle-insert", "-o", str(job)]) == 0
    assert cli.main(["sheet", str(job), "-o", str(tmp_path / "out"), "--pages", "parts, welds"]) == 0
    assert (tmp_path / "out" / "packet.pdf").stat().st_size > 1000
    assert cli.main(["sheet", str(job), "-o", str(tmp_path / "no"), "--pages", "recipes"]) == 2
    said = capsys.readouterr().err
    assert "no pages called “recipes”" in said and "cover, measure anew, elevations" in said
    assert not (tmp_path / "no").exists()
