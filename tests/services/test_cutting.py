"""A cutting service over real HTTP: offers that are true, and every way in which one may be slow, away, lying
or broken off said in a sentence, with nothing ordered twice.
"""

import itertools
import json
import socket
import threading
import time

import pytest

from urial.cli import main
from urial.desk.start import demo_jobs
from urial.families import build, new_job
from urial.geometry.outline import rectangle
from urial.geometry.shape import Plate
from urial.job.file import load
from urial.making.parts import parts_list
from urial.making.plan import plan
from urial.making.status import status
from urial.papers.dxf import plate_dxf
from urial.papers.have_cut import compared, order_key, to_have_cut
from urial.services import cutting
from urial.services.cutting import CuttingService, PartWanted, ServiceError
from urial.services.cutting_house import BEND, DELIVERY, FINISHED, METAL, PER_M, PIERCE, SET_UP, CuttingHouse
from urial.shop.snapshot import usual


@pytest.fixture
def house():
    with CuttingHouse() as made:
        yield made


@pytest.fixture(autouse=True)
def in_a_hurry(monkeypatch):
    monkeypatch.setattr(cutting, "WHOLE_S", 1.5)
    monkeypatch.setattr(cutting, "CONNECT_S", 1.0)


def part(mark="A", shape=None, **more):
    shape = shape or Plate(rectangle(0, 0, 200, 100), 8.0, holes=((30, 50, 14), (170, 50, 14)))
    dxf = plate_dxf(shape, (mark,)).decode()
    return PartWanted(**{"mark": mark, "dxf": dxf, "material": "S235", "thick_mm": 8.0, **more})


def test_an_offer_is_the_table_s_own_by_hand(house):
    """200 × 100 × 8 with two holes of 14, three of them: metal, metres, pierces, setting up."""
    offer = CuttingService(house.address).quote([part(count=3)])
    kg = 200 * 100 * 8 * 7.85e-6
    metres = (2 * 300 + 2 * 3.14159265 * 14) / 1000
    each = kg * METAL["steel"] + metres * PER_M * 1.8 + PIERCE * 3 * (1 + 8 / 12) + SET_UP / 3
    assert offer.lines[0].each == pytest.approx(each, abs=0.01)
    assert offer.total({"A": 3}) == pytest.approx(DELIVERY + 3 * offer.lines[0].each)
    assert offer.days == 3
    dear = CuttingService(house.address).quote([part(count=3, finish="powder", bends=2)])
    more = FINISHED["powder"] * 2 * 200 * 100 * 1e-6 + 2 * BEND
    assert dear.lines[0].each == pytest.approx(each + more, abs=0.01) and dear.days == 8


def test_what_cannot_be_cut_is_said_where_it_is_on_the_drawing(house):
    """A hole of 3 in 8 mm at (30, 50), a slot of 2 at (150, 80), from the lower left corner."""
    shape = Plate(
        rectangle(-10, -20, 190, 80),
        8.0,
        holes=((20, 30, 3), (100, 30, 14)),
        windows=(rectangle(120, 59, 160, 61),),
    )
    offer = CuttingService(house.address).quote([part("A", shape), part("B")])
    first, second = offer.lines
    assert first.each is None and second.each and offer.total({"A": 1, "B": 1}) is None
    places = sorted((t.at_mm, t.words) for t in first.troubles)
    assert places[0][0] == pytest.approx((30.0, 50.0), abs=0.1) and "under 4.8 mm" in places[0][1]
    assert places[1][0] == pytest.approx((150.0, 80.0), abs=0.1) and "narrower" in places[1][1]
    large = part("L", Plate(rectangle(0, 0, 3100, 100), 8.0))
    thick = part("T", thick_mm=30.0)
    nothing = part("N").model_copy(update={"dxf": "no drawing"})
    words = [
        t.words
        for line in CuttingService(house.address).quote([large, thick, nothing]).lines
        for t in line.troubles
    ]
    for what in ("larger than our table", "we cut to 25 mm", "a hole under 18.0 mm", "save it as DXF"):
        assert any(what in w for w in words), what


def test_an_order_is_one_however_often_it_is_asked(house):
    service = CuttingService(house.address)
    asked = [part()]
    offer = service.quote(asked)
    key = order_key("job", asked)
    first = service.order(offer.id, key)
    assert service.order(offer.id, key) == first and len(house.orders) == 1
    house.fault = "half"  # the answer is lost, the order stands; asked again it is the same
    again = order_key("other", asked)
    with pytest.raises(ServiceError, match=r"broke off|half of one"):
        service.order(offer.id, again)
    house.fault = "none"
    assert service.order(offer.id, again).order == house.orders[again].order and len(house.orders) == 2
    with pytest.raises(ServiceError, match="not known here"):
        service.order("never", key)
    with pytest.raises(ServiceError, match=r"key of its own"):
        service.order(offer.id, "")
    bad = service.quote([part(shape=Plate(rectangle(0, 0, 50, 50), 8.0, holes=((25, 25, 2),)))])
    with pytest.raises(ServiceError, match="cannot be cut as it is drawn"):
        service.order(bad.id, "k")


FAULTS = {
    "slow": "takes longer than",
    "down": "broke off|cannot be asked|Nobody answers",
    "half": "broke off|half of one",
    "lying": r"holds what cannot be \(lines.0.each\)",
    "nonsense": "no offer",
    "endless": "without end|takes longer",
}


@pytest.mark.parametrize("fault", FAULTS)
def test_every_fault_is_one_sentence_and_soon(house, fault):
    house.fault = fault
    start = time.monotonic()
    with pytest.raises(ServiceError, match=FAULTS[fault]) as found:
        CuttingService(house.address).quote([part()])
    assert time.monotonic() - start < 8 and "\n" not in str(found.value)
    house.fault = "none"
    assert CuttingService(house.address).quote([part()]).lines  # and it works again


def answering(value, status=200):
    """A server that gives one answer to everybody, whatever it is."""
    data = value if isinstance(value, bytes) else json.dumps(value).encode()
    listening = socket.create_server(("127.0.0.1", 0))

    def serve():
        while True:
            try:
                line, _ = listening.accept()
            except OSError:
                return
            with line:
                line.recv(65_536)
                head = f"HTTP/1.1 {status} x\r\nContent-Length: {len(data)}\r\nConnection: close\r\n\r\n"
                line.sendall(head.encode() + data)

    threading.Thread(target=serve, daemon=True).start()
    return listening, f"http://127.0.0.1:{listening.getsockname()[1]}"


OFFER = {"id": "x", "currency": "EUR", "days": 3, "lines": [{"mark": "A", "each": 5.0}]}
ODD = {
    "another part": ({**OFFER, "lines": [{"mark": "B", "each": 5.0}]}, "not for what was asked: A, B"),
    "one twice": ({**OFFER, "lines": OFFER["lines"] * 2}, "not for what was asked: A"),
    "no price and no reason": ({**OFFER, "lines": [{"mark": "A"}]}, "no price for A and no reason"),
    "not a number": (b'{"id":"x","currency":"EUR","days":3,"lines":[{"mark":"A","each":NaN}]}', "cannot be"),
    "days without end": ({**OFFER, "days": 10**9}, "cannot be"),
    "a list": ([1, 2], "cannot be"),
    "nested deep": (b"[" * 100_000, "no offer"),
    "nothing": (b"", "no offer"),
}


@pytest.mark.parametrize("name", ODD)
def test_an_odd_answer_is_not_taken(name):
    value, said = ODD[name]
    listening, address = answering(value)
    with listening, pytest.raises(ServiceError, match=said):
        CuttingService(address).quote([part()])


@pytest.mark.parametrize(("status", "body", "said"), [
    (500, b"<html>", "answers with 500"),
    (302, b"", "answers with 302"),
    (403, {"error": "Your account\nis <b>closed</b>"}, "refuses: Your account is <b>closed</b>."),
    (400, {"error": ["x"]}, "answers with 400"),
])  # fmt: skip
def test_a_refusal_is_said_in_its_own_words_on_one_line(status, body, said):
    listening, address = answering(body, status)
    with listening, pytest.raises(ServiceError) as found:
        CuttingService(address).quote([part()])
    assert said in str(found.value) and "\n" not in str(found.value)


@pytest.mark.parametrize(
    "text",
    ["", "cut.example", "ftp://cut.example", "http://cut.example", "https://", "https://me:pw@cut.example",
     "https://cut.example:port", "http://127.0.0.1.example"],
)  # fmt: skip
def test_an_address_that_is_none_or_unsafe_is_refused(text):
    with pytest.raises(ServiceError):
        CuttingService(text)
    assert CuttingService(" https://cut.example/shop/ ").address == "https://cut.example/shop"
    assert CuttingService("http://[::1]:8000").address == "http://[::1]:8000"


def test_a_stopped_question_is_left(house):
    with pytest.raises(ServiceError, match="Stopped"):
        CuttingService(house.address).quote([part()], lambda: True)


def test_only_plates_that_are_not_cut_go_out_and_their_ways_add_up():
    """Of the rear receiver: one gusset fewer once one is ticked; table, hand and service as by hand."""
    assembly, shop = build(new_job("rear-receiver")), usual()
    rows, work = parts_list(assembly), plan(assembly)
    stood = status(work, ())
    parts = to_have_cut(assembly, rows, stood)
    assert {p.mark for p in parts} == {
        r.mark for r in rows if isinstance(assembly.by_key[r.parts[0]].shape, Plate) and not r.hardware
    }
    with CuttingHouse() as house:
        offer = CuttingService(house.address).quote(parts)
    ways = compared(assembly, rows, stood, parts, offer, shop)
    for w, p in zip(ways, parts, strict=True):
        step = next(s for s in work.steps if s.kind == "cut plate" and p.mark in s.marks)
        line = next(x for x in offer.lines if x.mark == p.mark)
        if p.thick_mm > 25:  # on no table, here or there: by hand alone
            assert w.table is None and w.service is None and line.troubles
            assert w.hand.minutes == pytest.approx(step.minutes)
            continue
        assert w.table.minutes == pytest.approx(step.minutes)
        once = shop.minutes["cut_plate_setup"]
        assert w.hand.minutes == pytest.approx(4 * (step.minutes - once) + once)
        gap = (w.hand.price - w.table.price) / (w.hand.minutes - w.table.minutes)
        assert gap == pytest.approx(shop.rates.labour_h / 60)
        assert w.service.price == pytest.approx(line.each * p.count) and w.service.minutes == 0
    assert to_have_cut(assembly, rows, stood, only=("D",))[0].mark == "D"
    names = [p.mark for p in to_have_cut(assembly, rows, stood, sets=3)]
    assert len(names) == len(set(names))


def said(capsys, *words):
    capsys.readouterr()
    code = main([*map(str, words)])
    out = capsys.readouterr()
    return code, out.out, out.err


def test_the_command_asks_compares_and_orders(house, capsys):
    job = next(path for path, *_ in demo_jobs() if path.stem == "rescue-winch")
    code, out, err = said(capsys, "order", job, "--json")
    alone = json.loads(out)
    assert code == 0 and not err and alone["service"] is None and alone["order"] is None
    assert all(p["hand"] > 0 and p["service"] is None for p in alone["parts"])
    code, out, err = said(capsys, "order", job, "--service", house.address, "--only", "D,E", "--json")
    found = json.loads(out)
    counts = {p["mark"]: p["count"] for p in found["parts"]}
    assert counts == {"D": 1, "E": 1} and not house.orders
    assert found["service"]["total"] == pytest.approx(
        found["service"]["delivery"] + sum(p["service"] for p in found["parts"]), abs=0.02
    )
    code, out, err = said(capsys, "order", job, "--service", house.address, "--only", "D", "--place")
    assert code == 0 and "Ordered: S-0001" in out and len(house.orders) == 1
    again = ("order", job, "--service", house.address, "--only", "D", "--place")
    assert (
        "Ordered: S-0001" in said(capsys, *again)[1] and len(house.orders) == 1
    )  # the same plates: one order
    assert "S-0002" in said(capsys, *again, "--again", "two were lost")[1] and len(house.orders) == 2
    for words, what in (
        (("--place",), "say of whom"),
        (("--only", "Q"), "no plate Q"),
        (("--service", "http://cut.example"), "https alone"),
    ):
        code, out, err = said(capsys, "order", job, *words)
        assert code == 2 and what in err and err.count("\n") == 1
    assert said(capsys, "bench", "service", "--fault", "garbage")[0] == 2
    assert said(capsys, "bench", "gauge", "--fault", "lying")[0] == 2
    assert said(capsys, "bench", "service", "--port", str(house.port))[0] == 2
    code, out, _ = said(capsys, "bench", "service", "--seconds", "0.2")
    assert code == 0 and "listens at http://127.0.0.1" in out


def test_every_demo_job_s_plates_can_be_asked_for(house):
    service = CuttingService(house.address)
    for path in itertools.islice((p for p, *_ in demo_jobs()), 4):
        job = load(path).job
        if job.has_part:
            assembly = build(job)
            parts = to_have_cut(assembly, parts_list(assembly))
            lines = service.quote(parts).lines
            assert all(line.each or line.troubles for line in lines)
