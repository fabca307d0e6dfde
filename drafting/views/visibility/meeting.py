"""Which short pieces of curves cross in the plane of the view, the second in front of the first, and where on
the exact curves."""

import math

import numpy as np

from drafting.compiled import compiled
from drafting.views.visibility.part import Floats, Ints

WIDEST = 1000
"""Most squares along a side of the grid."""
ROUNDS = 4
"""Steps of Newton's method on two curves that cross."""
MISS = 1e-7
"""How near both exact curves come, mm, where their crossing counts as found."""


@compiled("(f8, f8, f8, f8, int64)")
def _squares(start: float, step: float, reach: float, cell: float, wide: int) -> tuple[int, int]:
    """First and last square of a row of `wide` that a step touches, or comes near by `reach`."""
    slack = reach + 1e-9 * cell
    low, high = min(start, start + step) - slack, max(start, start + step) + slack
    return max(int(low / cell), 0), min(int(high / cell), wide - 1)


@compiled("(float64[:,::1], float64[:,::1], float64[:,::1], float64[:,::1], int64[::1], int64[::1], f8, f8)")
def crossing_pairs(
    a0: Floats, a1: Floats, b0: Floats, b1: Floats, name_a: Ints, name_b: Ints, reach: float, near: float
) -> tuple[Ints, Ints, Floats, Floats]:
    """Pairs of pieces (n, 3) and (m, 3) of different names that cross or meet within `reach` mm, the second
    no more than `near` mm behind the first there: rows of both, and where, as fractions of both from 0 to 1.

    A grid of squares about as wide as a piece is long; long pieces are followed from square to square, and
    the pieces of a square are kept foremost first.
    """
    n, m = len(a0), len(b0)
    low_x = low_y = np.inf
    high_x = high_y = -np.inf
    lengths = np.empty(n + m)
    front = np.empty(m)
    for i in range(n):
        low_x, low_y = min(low_x, a0[i, 0], a1[i, 0]), min(low_y, a0[i, 1], a1[i, 1])
        high_x, high_y = max(high_x, a0[i, 0], a1[i, 0]), max(high_y, a0[i, 1], a1[i, 1])
        lengths[i] = max(abs(a1[i, 0] - a0[i, 0]), abs(a1[i, 1] - a0[i, 1]))
    for j in range(m):
        low_x, low_y = min(low_x, b0[j, 0], b1[j, 0]), min(low_y, b0[j, 1], b1[j, 1])
        high_x, high_y = max(high_x, b0[j, 0], b1[j, 0]), max(high_y, b0[j, 1], b1[j, 1])
        lengths[n + j] = max(abs(b1[j, 0] - b0[j, 0]), abs(b1[j, 1] - b0[j, 1]))
        front[j] = max(b0[j, 2], b1[j, 2])
    low_x, low_y = low_x - reach, low_y - reach
    span = max(high_x + reach - low_x, high_y + reach - low_y)
    squares = min(float(WIDEST), max(32.0, 4.0 * math.sqrt(m)))
    cell = min(max(float(np.median(lengths)), span / squares, 2 * reach), max(span, 1e-12))
    wide = int(span / cell) + 2

    # the outlines sorted into squares, foremost first: counted, then filled
    order = np.argsort(-front)
    begin = np.zeros(wide * wide + 1, np.int64)
    held = np.empty(0, np.int64)
    for turn in range(2):
        if turn == 1:
            for k in range(wide * wide):
                begin[k + 1] += begin[k]
            held = np.empty(begin[wide * wide], np.int64)
            free = begin[:-1].copy()
        stamp = np.full(wide * wide, -1, np.int64)
        for j in order:
            steps = max(int(math.ceil(lengths[n + j] / cell)), 1)
            dx, dy = (b1[j, 0] - b0[j, 0]) / steps, (b1[j, 1] - b0[j, 1]) / steps
            for s in range(steps):
                x0, y0 = b0[j, 0] + s * dx - low_x, b0[j, 1] + s * dy - low_y
                first_x, last_x = _squares(x0, dx, reach, cell, wide)
                first_y, last_y = _squares(y0, dy, reach, cell, wide)
                for y in range(first_y, last_y + 1):
                    for x in range(first_x, last_x + 1):
                        square = y * wide + x
                        if stamp[square] == j:
                            continue
                        stamp[square] = j
                        if turn == 0:
                            begin[square + 1] += 1
                        else:
                            held[free[square]] = j
                            free[square] += 1

    room = 1024
    count = 0
    out_a, out_b = np.empty(room, np.int64), np.empty(room, np.int64)
    out_t, out_s = np.empty(room), np.empty(room)
    looked = np.full(m, -1, np.int64)
    for i in range(n):
        px, py, pz = a0[i, 0], a0[i, 1], a0[i, 2]
        rx, ry, rz = a1[i, 0] - px, a1[i, 1] - py, a1[i, 2] - pz
        la = max(math.hypot(rx, ry), 1e-300)
        slack_a = reach / la
        back = min(pz, pz + rz) - near
        steps = max(int(math.ceil(lengths[i] / cell)), 1)
        dx, dy = rx / steps, ry / steps
        for s in range(steps):
            x0, y0 = px + s * dx - low_x, py + s * dy - low_y
            first_x, last_x = _squares(x0, dx, 0.0, cell, wide)
            first_y, last_y = _squares(y0, dy, 0.0, cell, wide)
            for y in range(first_y, last_y + 1):
                for x in range(first_x, last_x + 1):
                    square = y * wide + x
                    for k in range(begin[square], begin[square + 1]):
                        j = held[k]
                        if front[j] < back:
                            break
                        if looked[j] == i:
                            continue
                        looked[j] = i
                        if name_a[i] == name_b[j]:
                            continue
                        ux, uy = b1[j, 0] - b0[j, 0], b1[j, 1] - b0[j, 1]
                        area = rx * uy - ry * ux
                        lb = max(math.hypot(ux, uy), 1e-300)
                        if abs(area) <= 1e-7 * la * lb:
                            continue
                        wx, wy = b0[j, 0] - px, b0[j, 1] - py
                        t = (wx * uy - wy * ux) / area
                        if t < -slack_a or t > 1 + slack_a:
                            continue
                        f = (wx * ry - wy * rx) / area
                        slack_b = reach / lb
                        if f < -slack_b or f > 1 + slack_b:
                            continue
                        if b0[j, 2] + f * (b1[j, 2] - b0[j, 2]) <= pz + t * rz - near:
                            continue
                        if count == room:
                            room *= 2
                            out_a = np.concatenate((out_a, np.empty(count, np.int64)))
                            out_b = np.concatenate((out_b, np.empty(count, np.int64)))
                            out_t = np.concatenate((out_t, np.empty(count)))
                            out_s = np.concatenate((out_s, np.empty(count)))
                        out_a[count], out_b[count] = i, j
                        out_t[count], out_s[count] = min(max(t, 0.0), 1.0), min(max(f, 0.0), 1.0)
                        count += 1
    return out_a[:count], out_b[:count], out_t[:count], out_s[:count]


@compiled("(float64[:,:,::1], float64[:,:,::1], float64[::1], float64[::1], float64[::1])")
def refined(first: Floats, second: Floats, t: Floats, s: Floats, most: Floats) -> Floats:
    """Exact parameter on the first of two curves that cross near t and s, by Newton's method on both in the
    plane of the view: nan where they do not come together, or only farther than `most` from t.

    first, second (n, 4, 2): rows C, X, Y, D of C + X cos t + Y sin t + D t.
    """
    out = np.full(len(t), np.nan)
    for i in range(len(t)):
        ta, tb = t[i], s[i]
        for turn in range(ROUNDS + 1):
            c, d = math.cos(ta), math.sin(ta)
            ax = first[i, 0, 0] + first[i, 1, 0] * c + first[i, 2, 0] * d + first[i, 3, 0] * ta
            ay = first[i, 0, 1] + first[i, 1, 1] * c + first[i, 2, 1] * d + first[i, 3, 1] * ta
            dax = first[i, 2, 0] * c - first[i, 1, 0] * d + first[i, 3, 0]
            day = first[i, 2, 1] * c - first[i, 1, 1] * d + first[i, 3, 1]
            c, d = math.cos(tb), math.sin(tb)
            bx = second[i, 0, 0] + second[i, 1, 0] * c + second[i, 2, 0] * d + second[i, 3, 0] * tb
            by = second[i, 0, 1] + second[i, 1, 1] * c + second[i, 2, 1] * d + second[i, 3, 1] * tb
            dbx = second[i, 2, 0] * c - second[i, 1, 0] * d + second[i, 3, 0]
            dby = second[i, 2, 1] * c - second[i, 1, 1] * d + second[i, 3, 1]
            mx, my = bx - ax, by - ay
            if turn == ROUNDS:
                if math.hypot(mx, my) < MISS and abs(ta - t[i]) <= most[i]:
                    out[i] = ta
                break
            area = -dax * dby + day * dbx
            if abs(area) > 1e-9 * math.hypot(dax, day) * math.hypot(dbx, dby) + 1e-300:
                ta, tb = ta + (-mx * dby + my * dbx) / area, tb + (dax * my - day * mx) / area
    return out
