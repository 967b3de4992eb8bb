"""STEP and IGES files written by hand, so that what is in them is known."""

from __future__ import annotations


def drilled_plate(long: float, wide: float, thick: float, hole: tuple[float, float, float]) -> bytes:
    """A plate from (0, 0, 0) to (long, wide, thick), mm, with an upright hole (x, y, diameter)."""
    rows: list[str] = []

    def add(text: str) -> str:
        rows.append(text)
        return f"#{len(rows)}"

    def point(x: float, y: float, z: float) -> str:
        return add(f"CARTESIAN_POINT('',({x:.6f},{y:.6f},{z:.6f}))")

    def way(x: float, y: float, z: float) -> str:
        return add(f"DIRECTION('',({x:.6f},{y:.6f},{z:.6f}))")

    def place(o: tuple[float, ...], z: tuple[float, ...], x: tuple[float, ...]) -> str:
        return add(f"AXIS2_PLACEMENT_3D('',{point(*o)},{way(*z)},{way(*x)})")

    corners = [
        (x, y, z) for z in (0.0, thick) for x, y in ((0.0, 0.0), (long, 0.0), (long, wide), (0.0, wide))
    ]
    vertices = [add(f"VERTEX_POINT('',{point(*c)})") for c in corners]
    edges: dict[tuple[int, int], str] = {}

    def edge(i: int, j: int) -> str:
        """The straight edge from corner i to corner j, made once, used either way."""
        if (i, j) not in edges and (j, i) not in edges:
            d = [b - a for a, b in zip(corners[i], corners[j], strict=True)]
            size = sum(v * v for v in d) ** 0.5
            vector = add(f"VECTOR('',{way(*(v / size for v in d))},1.)")
            line = add(f"LINE('',{point(*corners[i])},{vector})")
            edges[i, j] = add(f"EDGE_CURVE('',{vertices[i]},{vertices[j]},{line},.T.)")
        forward = (i, j) in edges
        name = edges[(i, j) if forward else (j, i)]
        return add(f"ORIENTED_EDGE('',*,*,{name},.{'T' if forward else 'F'}.)")

    x, y, d = hole
    round_: list[str] = []
    for z in (0.0, thick):
        circle = add(f"CIRCLE('',{place((x, y, z), (0, 0, 1), (1, 0, 0))},{d / 2:.6f})")
        seam = add(f"VERTEX_POINT('',{point(x + d / 2, y, z)})")
        round_.append(add(f"EDGE_CURVE('',{seam},{seam},{circle},.T.)"))

    def rim(n: int, forward: bool) -> str:
        return add(f"ORIENTED_EDGE('',*,*,{round_[n]},.{'T' if forward else 'F'}.)")

    def loop(*of: str) -> str:
        return add(f"EDGE_LOOP('',({','.join(of)}))")

    faces = []
    for ring, o, normal, along in (
        ((0, 3, 2, 1), (0, 0, 0), (0, 0, -1), (1, 0, 0)),
        ((4, 5, 6, 7), (0, 0, thick), (0, 0, 1), (1, 0, 0)),
        ((0, 1, 5, 4), (0, 0, 0), (0, -1, 0), (1, 0, 0)),
        ((1, 2, 6, 5), (long, 0, 0), (1, 0, 0), (0, 1, 0)),
        ((2, 3, 7, 6), (long, wide, 0), (0, 1, 0), (-1, 0, 0)),
        ((3, 0, 4, 7), (0, wide, 0), (-1, 0, 0), (0, -1, 0)),
    ):
        outer = loop(*(edge(a, b) for a, b in zip(ring, (*ring[1:], ring[0]), strict=True)))
        bounds = [add(f"FACE_OUTER_BOUND('',{outer},.T.)")]
        if normal[2]:
            bounds.append(add(f"FACE_BOUND('',{loop(rim(int(normal[2] > 0), normal[2] < 0))},.T.)"))
        plane = add(f"PLANE('',{place(o, normal, along)})")
        faces.append(add(f"ADVANCED_FACE('',({','.join(bounds)}),{plane},.T.)"))
    wall = add(f"CYLINDRICAL_SURFACE('',{place((x, y, 0), (0, 0, 1), (1, 0, 0))},{d / 2:.6f})")
    low, high = loop(rim(0, True)), loop(rim(1, False))
    ends = [add(f"FACE_BOUND('',{ring},.T.)") for ring in (low, high)]
    faces.append(add(f"ADVANCED_FACE('',({','.join(ends)}),{wall},.F.)"))
    shell = add(f"CLOSED_SHELL('',({','.join(faces)}))")
    solid = add(f"MANIFOLD_SOLID_BREP('plate',{shell})")
    mm = add("(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))")
    rad = add("(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))")
    ster = add("(NAMED_UNIT(*)SI_UNIT($,.STERADIAN.)SOLID_ANGLE_UNIT())")
    close = add(f"UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.E-06),{mm},'distance','')")
    context = add(
        "(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT(("
        f"{close}))GLOBAL_UNIT_ASSIGNED_CONTEXT(({mm},{rad},{ster}))REPRESENTATION_CONTEXT('',''))"
    )
    app = add("APPLICATION_CONTEXT('mechanical design')")
    add(f"APPLICATION_PROTOCOL_DEFINITION('international standard','config_control_design',1994,{app})")
    part = add(f"PRODUCT_CONTEXT('',{app},'mechanical')")
    product = add(f"PRODUCT('plate','plate','',({part}))")
    made = add(f"PRODUCT_DEFINITION_FORMATION('','',{product})")
    design = add(f"PRODUCT_DEFINITION_CONTEXT('part definition',{app},'design')")
    defined = add(f"PRODUCT_DEFINITION('design','',{made},{design})")
    shape = add(f"PRODUCT_DEFINITION_SHAPE('','',{defined})")
    axes = place((0, 0, 0), (0, 0, 1), (1, 0, 0))
    drawn = add(f"ADVANCED_BREP_SHAPE_REPRESENTATION('',({axes},{solid}),{context})")
    add(f"SHAPE_DEFINITION_REPRESENTATION({shape},{drawn})")
    body = "\n".join(f"#{n}={text};" for n, text in enumerate(rows, 1))
    return (
        "ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\n"
        "FILE_NAME('plate','2000-01-01T00:00:00',(''),(''),'','','');\n"
        "FILE_SCHEMA(('CONFIG_CONTROL_DESIGN'));\nENDSEC;\nDATA;\n" + body + "\nENDSEC;\nEND-ISO-10303-21;\n"
    ).encode()


def ruled_surface(unit: str, flag: int) -> bytes:
    """An IGES file of the ruled surface between (0, 0, 0)–(100, 0, 0) and (0, 50, 0)–(100, 50, 20), in a unit
    and the format's number of it.
    """

    def rows(text: str, section: str) -> list[str]:
        return [text[n : n + 72].ljust(72) + section + f"{n // 72 + 1:7}" for n in range(0, len(text), 72)]

    head = rows("a ruled surface", "S")
    whole = rows(
        "1H,,1H;,5Hruled,9Hruled.igs,5Hurial,5Hurial,32,38,6,308,15,5Hruled,1.0,"
        f"{flag},{len(unit)}H{unit},1,0.01,15H20000101.000000,1.0E-6,1000.0,5Hurial,5Hurial,11,0,"
        "15H20000101.000000;",
        "G",
    )
    entries, parameters = [], []
    for n, (kind, form, values) in enumerate(
        ((110, 0, "0.,0.,0.,100.,0.,0."), (110, 0, "0.,50.,0.,100.,50.,20."), (118, 1, "1,3,0,1")), 1
    ):
        first, second = (kind, n, 0, 0, 0, 0, 0, 0, "00000000"), (kind, 0, 0, 1, form, "", "", "", 0)
        for k, row in enumerate((first, second)):
            entries.append("".join(f"{v:>8}" for v in row) + f"D{2 * n - 1 + k:7}")
        parameters.append(f"{kind},{values};".ljust(64) + f"{2 * n - 1:8}P{n:7}")
    counts = zip("SGDP", (head, whole, entries, parameters), strict=True)
    last = "".join(f"{letter}{len(lines):7}" for letter, lines in counts).ljust(72) + f"T{1:7}"
    return ("\n".join([*head, *whole, *entries, *parameters, last]) + "\n").encode()
