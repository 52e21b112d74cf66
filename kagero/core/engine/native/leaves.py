"""Leaf functions, written and compiled once for each width: noise and its curl, curves, gradients, powers.

Programs call them instead of inlining them, and compile fast. Each line is that of `kernels/noise.py` and
`kernels/curves.py`, in the same order, so that both round alike. Sources are named there.
"""

from __future__ import annotations

import math

from ...kernels.noise import GRADIENTS, PERMUTATION
from ..ir import LEAVES, Block, Lanes

NAMES = (
    "noise_lanes",
    "curl_lanes",
    "turbulence_lanes",
    "curve_lanes",
    "gradient_lanes",
    "power_lanes",
    "fault_lanes",
    *(f"{name}_lanes" for name in LEAVES),
)


def gradient_codes() -> list[int]:
    """Return, for x, y and z, the components of the sixteen gradients as two bits each (0, 1, or 3 for -1) in a 32-bit
    number."""
    return [sum((int(g) & 3) << (2 * h) for h, g in enumerate(GRADIENTS[:, axis])) for axis in range(3)]


def tables() -> str:
    """Return the leaf module's global table: entry i holds the permutation's value at i and, eight bits up, at i +
    1."""
    pairs = [int(PERMUTATION[i]) | int(PERMUTATION[i + 1]) << 8 for i in range(256)]
    return (
        f"@permutation = private unnamed_addr constant [256 x i32] [{', '.join(f'i32 {p}' for p in pairs)}], align 64\n"
    )


def noise_with_gradient(b: Block, x: Lanes, y: Lanes, z: Lanes) -> tuple[Lanes, Lanes, Lanes, Lanes]:
    """Return improved noise at (x, y, z) and its three partial derivatives."""

    def corner_of(v: Lanes) -> tuple[Lanes, Lanes]:
        whole = b.floor(v)
        # whole modulo 256, exact in floats: whatever is larger than an integer holds stays in range
        wrapped = whole - b.floor(whole * (1 / 256)) * 256.0
        fine = b.fabs(wrapped).compare("olt", 256.0)
        return v - whole, fine.where(wrapped, 0.0).to("i") & 255

    def look(index: Lanes) -> tuple[Lanes, Lanes]:
        """Return the permutation at an index and the next, both modulo 256, by one gather."""
        at = index & 255
        pointers = b.scalar(f"getelementptr i32, ptr @permutation, {b.type('i')} {at.name}")
        name = f"llvm.masked.gather.v{b.width}i32.v{b.width}p0"
        everyone = b.lanes(1, "m").name
        b.declared[name] = f"declare {b.type('i')} @{name}(<{b.width} x ptr>, i32, {b.type('m')}, {b.type('i')})"
        given = f"<{b.width} x ptr> {pointers}, i32 4, {b.type('m')} {everyone}, {b.type('i')} zeroinitializer"
        both = b.line(f"call {b.type('i')} @{name}({given})", "i")
        return both & 255, both >> 8

    x, X = corner_of(x)
    y, Y = corner_of(y)
    z, Z = corner_of(z)

    def fade(t: Lanes) -> Lanes:
        return t * t * t * (t * (t * 6.0 - 15.0) + 10.0)

    def slope(t: Lanes) -> Lanes:
        return b.lanes(30.0, "f") * t * t * (t * (t - 2.0) + 1.0)

    u, v, w = fade(x), fade(y), fade(z)
    du, dv, dw = slope(x), slope(y), slope(z)
    at_x, behind_x = look(X)
    at_a, behind_a = look(at_x + Y)
    at_b, behind_b = look(behind_x + Y)
    AA, AB, BA, BB = at_a + Z, behind_a + Z, at_b + Z, behind_b + Z
    codes = gradient_codes()

    def gradient(hashed: Lanes) -> list[Lanes]:
        shift = b.lanes(30, "i") - ((hashed & 15) << 1)
        return [(b.lanes(code, "i") << shift).signed_shift(30).to("f") for code in codes]

    hashes = [look(p) for p in (AA, BA, AB, BB)]
    g = [gradient(h) for h, _ in hashes] + [gradient(h) for _, h in hashes]
    x1, y1, z1 = x - 1.0, y - 1.0, z - 1.0

    def dot(g: list[Lanes], x: Lanes, y: Lanes, z: Lanes) -> Lanes:
        return g[0] * x + g[1] * y + g[2] * z

    n0, n1, n2, n3 = dot(g[0], x, y, z), dot(g[1], x1, y, z), dot(g[2], x, y1, z), dot(g[3], x1, y1, z)
    n4, n5, n6, n7 = dot(g[4], x, y, z1), dot(g[5], x1, y, z1), dot(g[6], x, y1, z1), dot(g[7], x1, y1, z1)
    k1, k2, k3 = n1 - n0, n2 - n0, n4 - n0
    k4, k5, k6 = n0 - n1 - n2 + n3, n0 - n2 - n4 + n6, n0 - n1 - n4 + n5
    k7 = n1 + n2 + n4 + n7 - n0 - n3 - n5 - n6
    n = n0 + k1 * u + k2 * v + k3 * w + k4 * u * v + k5 * v * w + k6 * u * w + k7 * u * v * w
    uv, vw, uw, uvw = u * v, v * w, u * w, u * v * w
    weights = [
        b.lanes(1.0, "f") - u - v - w + uv + vw + uw - uvw,
        u - uv - uw + uvw,
        v - uv - vw + uvw,
        uv - uvw,
        w - vw - uw + uvw,
        uw - uvw,
        vw - uvw,
        uvw,
    ]

    def blend(axis: int) -> Lanes:
        total = weights[0] * g[0][axis]
        for weight, corner in zip(weights[1:], g[1:], strict=True):
            total = total + weight * corner[axis]
        return total

    dx = du * (k1 + k4 * v + k6 * w + k7 * vw) + blend(0)
    dy = dv * (k2 + k4 * u + k5 * w + k7 * uw) + blend(1)
    dz = dw * (k3 + k5 * v + k6 * u + k7 * uv) + blend(2)
    return n, dx, dy, dz


def lookup(b: Block, pointer: str, rows: str, columns: int, v: Lanes) -> list[Lanes]:
    """Return, for each lane, the columns of a table's last row whose first column is at most v."""

    def row(at: str) -> list[Lanes]:
        start = b.scalar(f"mul i64 {at}, {columns}")
        places = [b.scalar(f"add i64 {start}, {c}") for c in range(columns)]
        pointers = [b.scalar(f"getelementptr float, ptr {pointer}, i64 {p}") for p in places]
        return [b.splat(b.scalar(f"load float, ptr {p}, align 4"), "f") for p in pointers]

    first = row("0")
    before, loop, body, done = b.label, *(b.fresh(n)[1:] for n in ("rows", "row", "found"))
    b.write(f"br label %{loop}")
    b.start(loop)
    k = b.fresh("k")
    chosen = [Lanes(b, b.fresh("c"), "f") for _ in range(columns)]
    at = len(b.lines)
    go = b.scalar(f"icmp slt i64 {k}, {rows}")
    b.write(f"br i1 {go}, label %{body}, label %{done}")
    b.start(body)
    here = row(k)
    passed = v >= here[0]
    taken = [passed.where(h, c) for h, c in zip(here, chosen, strict=True)]
    after = b.scalar(f"add i64 {k}, 1")
    b.write(f"br label %{loop}")
    phis = [
        f"  {c.name} = phi {b.type('f')} [ {f.name}, %{before} ], [ {t.name}, %{body} ]"
        for c, f, t in zip(chosen, first, taken, strict=True)
    ]
    b.lines[at:at] = [f"  {k} = phi i64 [ 1, %{before} ], [ {after}, %{body} ]", *phis]
    b.start(done)
    return chosen


def within(b: Block, pointer: str, rows: str, columns: int, t: Lanes) -> Lanes:
    """Clamp t between a table's first and last key, as the kernels do."""
    before_last = b.scalar(f"sub i64 {rows}, 1")
    last = b.scalar(f"mul i64 {before_last}, {columns}")
    last_at = b.scalar(f"getelementptr float, ptr {pointer}, i64 {last}")
    low = b.splat(b.scalar(f"load float, ptr {pointer}, align 4"), "f")
    high = b.splat(b.scalar(f"load float, ptr {last_at}, align 4"), "f")
    raised = low.compare("ogt", t).where(low, t)  # as Python's max and min: what is not a number comes through
    return high.compare("olt", raised).where(high, raised)


def leaf_module(width: int) -> str:
    """Return the IR of all leaves. Those of noise take pointers to the vectors of their arguments (x, y, z, time,
    scale, drift, gain), to nine offsets and to their results (one vector, or three), and the number of octaves."""
    functions: list[str] = []
    declared: dict[str, str] = {}
    for name, outs in (("noise_lanes", 1), ("curl_lanes", 3), ("turbulence_lanes", 3)):
        b = Block(width)
        size = 4 * width

        def place(p: str, k: int, b: Block = b, size: int = size) -> str:
            return b.scalar(f"getelementptr i8, ptr {p}, i64 {k * size}")

        given = [b.load(place("%args", k), "f") for k in range(7 if outs == 3 else 6)]
        weaker = given[6] if outs == 3 else b.lanes(0.5, "f")
        offset_at = [b.scalar(f"getelementptr float, ptr %offsets, i64 {k}") for k in range(9)]
        offsets = [b.splat(b.scalar(f"load float, ptr {p}"), "f") for p in offset_at]
        inverse = b.lanes(1.0, "f") / given[4]
        slide = given[3] * given[5]
        start = [given[0] * inverse, given[1] * inverse, given[2] * inverse, slide * inverse]
        zero, one = b.lanes(0.0, "f"), b.lanes(1.0, "f")
        carried = [*start, one, *([zero] * (outs if outs == 3 else 2))]
        b.write("br label %octave")
        b.start("octave")
        names = [b.fresh("c") for _ in carried]
        phis_at = len(b.lines)
        count = b.fresh("n")
        x, y, z, slide, strength, *sums = [Lanes(b, n, "f") for n in names]
        if name == "turbulence_lanes":
            n_a, *_ = noise_with_gradient(b, x + offsets[0] + slide, y + offsets[1], z + offsets[2])
            n_b, *_ = noise_with_gradient(b, x + offsets[3], y + offsets[4] + slide, z + offsets[5])
            n_c, *_ = noise_with_gradient(b, x + offsets[6], y + offsets[7], z + offsets[8] + slide)
            sums = [total + strength * n for total, n in zip(sums, (n_a, n_b, n_c), strict=True)]
        elif outs == 3:
            _, _, a_y, a_z = noise_with_gradient(b, x + offsets[0] + slide, y + offsets[1], z + offsets[2])
            _, b_x, _, b_z = noise_with_gradient(b, x + offsets[3], y + offsets[4] + slide, z + offsets[5])
            _, c_x, c_y, _ = noise_with_gradient(b, x + offsets[6], y + offsets[7], z + offsets[8] + slide)
            sums = [
                sums[0] + strength * (c_y - b_z),
                sums[1] + strength * (a_z - c_x),
                sums[2] + strength * (b_x - a_y),
            ]
        else:
            n, *_ = noise_with_gradient(b, x + offsets[0], y + offsets[1] + slide, z + offsets[2])
            sums = [sums[0] + strength * n, sums[1] + strength]
        after = [x * 2.0, y * 2.0, z * 2.0, slide * 2.0, strength * weaker, *sums]
        more = b.scalar(f"sub i64 {count}, 1")
        repeats = b.scalar(f"icmp sgt i64 {more}, 0")
        b.write(f"br i1 {repeats}, label %octave, label %done")
        phis = [
            f"  {n} = phi {b.type('f')} [ {c.name}, %entry ], [ {a.name}, %octave ]"
            for n, c, a in zip(names, carried, after, strict=True)
        ]
        b.lines[phis_at:phis_at] = [*phis, f"  {count} = phi i64 [ %octaves, %entry ], [ {more}, %octave ]"]
        b.start("done")
        results = sums if outs == 3 else [sums[0] / sums[1]]
        for k, result in enumerate(results):
            b.store(result, place("%result", k))
        b.write("ret void")
        functions.append(
            f"define void @{name}(ptr %args, ptr %offsets, ptr %result, i64 %octaves) {{\nentry:\n"
            + "\n".join(b.lines)
            + "\n}\n"
        )
        declared |= b.declared
    for text, b in (
        _curve(width),
        _gradient(width),
        _power(width),
        _fault(width),
        *(_function_of(name, width) for name in LEAVES),
    ):
        functions.append(text)
        declared |= b.declared
    return tables() + "\n".join(declared.values()) + "\n" + "\n".join(functions)


def _curve(width: int) -> tuple[str, Block]:
    b = Block(width)
    v = within(b, "%table", "%rows", 5, Lanes(b, "%t", "f"))
    x, c0, c1, c2, c3 = lookup(b, "%table", "%rows", 5, v)
    d = v - x
    b.write(f"ret {b.type('f')} {(((c3 * d + c2) * d + c1) * d + c0).name}")
    return _function(f"{b.type('f')} @curve_lanes(ptr %table, i64 %rows, {b.type('f')} %t)", b)


def _gradient(width: int) -> tuple[str, Block]:
    b = Block(width)
    v = within(b, "%table", "%rows", 9, Lanes(b, "%t", "f"))
    x, *colour, dr, dg, db, inverse, shape = lookup(b, "%table", "%rows", 9, v)
    d = (v - x) * inverse
    d = shape.compare("oeq", 1.0).where(d * d * (b.lanes(3.0, "f") - d * 2.0), d)
    for k, (c, slope) in enumerate(zip(colour, (dr, dg, db), strict=True)):
        b.store(slope * d + c, b.scalar(f"getelementptr i8, ptr %result, i64 {4 * width * k}"))
    b.write("ret void")
    return _function(f"void @gradient_lanes(ptr %table, i64 %rows, {b.type('f')} %t, ptr %result)", b)


def _power(width: int) -> tuple[str, Block]:
    b = Block(width)
    x, e = Lanes(b, "%x", "f"), Lanes(b, "%e", "f")
    raised = e.compare("oeq", 1.0).where(x, b.intrinsic("copysign", b.intrinsic("pow", b.fabs(x), e), x))
    b.write(f"ret {b.type('f')} {raised.name}")
    return _function(f"{b.type('f')} @power_lanes({b.type('f')} %x, {b.type('f')} %e)", b)


def _function_of(name: str, width: int) -> tuple[str, Block]:
    """Return sin, cos or exp of all lanes at once where each is within the fast method's range, otherwise by libm lane
    by lane.

    The fast methods are those of the Cephes mathematical library (S. Moshier, Methods and Programs for Mathematical
    Functions, 1989; coefficients from memory, and measured against float64 in `tests/engine/test_native.py`): range
    reduction by a multiple of pi / 2 or log 2 in two or three parts, and a polynomial.
    """
    b = Block(width)
    x = Lanes(b, "%x", "f")
    within = b.fabs(x).compare("olt", 87.0 if name == "exp" else 8192.0)
    bits = b.scalar(f"bitcast {b.type('m')} {within.name} to i{width}")
    b.write(f"br i1 {b.scalar(f'icmp eq i{width} {bits}, -1')}, label %short, label %long")
    b.start("long")
    b.write(f"ret {b.type('f')} {b.intrinsic(name, x).name}")
    b.start("short")
    result = _exp(b, x) if name == "exp" else _wave(b, x, name == "cos")
    b.write(f"ret {b.type('f')} {result.name}")
    return _function(f"{b.type('f')} @{name}_lanes({b.type('f')} %x)", b)


def _wave(b: Block, x: Lanes, cosine: bool) -> Lanes:
    turns = b.floor(x * (2 / math.pi) + 0.5)
    r = x - turns * 1.5703125 - turns * 4.837512969970703125e-4 - turns * 7.54978995489188216e-8
    z = r * r
    sine = ((z * -1.9515295891e-4 + 8.3321608736e-3) * z - 1.6666654611e-1) * z * r + r
    other = ((z * 2.443315711809948e-5 - 1.388731625493765e-3) * z + 4.166664568298827e-2) * z * z - z * 0.5 + 1.0
    quarter = turns.to("i") + int(cosine)
    wave = (quarter & 1).compare("ne", 0).where(other, sine)
    return (quarter & 2).compare("ne", 0).where(-wave, wave)


def _exp(b: Block, x: Lanes) -> Lanes:
    doublings = b.floor(x * math.log2(math.e) + 0.5)
    r = x - doublings * 0.693359375 - doublings * -2.12194440e-4
    series = b.lanes(1.9875691500e-4, "f")
    for factor in (1.3981999507e-3, 8.3334519073e-3, 4.1665795894e-2, 1.6666665459e-1, 5.0000001201e-1):
        series = series * r + factor
    scale = b.line(f"bitcast {b.type('i')} {((doublings.to('i') + 127) << 23).name} to {b.type('f')}", "f")
    return (series * r * r + r + 1.0) * scale


def _fault(width: int) -> tuple[str, Block]:
    """Count the lanes of a mask at a guard, and remember the first particle."""
    b = Block(width)
    w = f"i{width}"
    b.declared["bits"] = f"declare {w} @llvm.ctpop.{w}({w})\ndeclare {w} @llvm.cttz.{w}({w}, i1)"
    count = b.scalar("zext " + w + " " + b.scalar(f"call {w} @llvm.ctpop.{w}({w} %mask)") + " to i64")
    first = b.scalar("zext " + w + " " + b.scalar(f"call {w} @llvm.cttz.{w}({w} %mask, i1 true)") + " to i64")
    at = b.scalar("getelementptr i64, ptr %faults, i64 " + b.scalar("mul i64 %guard, 2"))
    so_far = b.scalar(f"load i64, ptr {at}")
    b.write(f"store i64 {b.scalar(f'add i64 {so_far}, {count}')}, ptr {at}")
    first_at = b.scalar(f"getelementptr i64, ptr {at}, i64 1")
    here, known = b.scalar(f"add i64 %i, {first}"), b.scalar(f"load i64, ptr {first_at}")
    sooner = b.scalar(f"icmp slt i64 {here}, {known}")
    b.write(f"store i64 {b.scalar(f'select i1 {sooner}, i64 {here}, i64 {known}')}, ptr {first_at}")
    b.write("ret void")
    return _function(f"void @fault_lanes(ptr %faults, i64 %guard, i64 %i, {w} %mask)", b)


def _function(head: str, b: Block) -> tuple[str, Block]:
    return f"define {head} {{\nentry:\n" + "\n".join(b.lines) + "\n}\n", b
