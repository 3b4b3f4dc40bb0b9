"""Reads a Hillock clip file and says what it shows: python3 read_clips.py FILE CLIP SECONDS ...

A whole reader, with nothing but the standard library, to be read beside clip.md. Prints a JSON object a time: what the
clip moves, by part and path.
"""
import json
import math
import sys


def added(differences, unit=1, stride=1):
    sums = []
    for i, by in enumerate(differences):
        sums.append(by if i < stride else sums[i - stride] + by)
    return [n * unit for n in sums]


def solve(x1, x2, x):
    """The parameter of a Bezier whose time goes through 0, x1, x2, 1."""
    low, high = 0.0, 1.0
    for _ in range(60):
        u = (low + high) / 2
        if 3 * (1 - u) ** 2 * u * x1 + 3 * (1 - u) * u * u * x2 + u ** 3 < x:
            low = u
        else:
            high = u
    return (low + high) / 2


def bezier(x1, y1, x2, y2):
    """Progress over progress; also with values for y1 and y2 that are no shares."""
    def ease(x, end=1.0):
        u = solve(x1, x2, x)
        return 3 * (1 - u) ** 2 * u * y1 + 3 * (1 - u) * u * u * y2 + u ** 3 * end
    return ease


def family(shape):
    name, way = shape["family"], shape["way"]
    s = shape.get("overshoot", 1.70158)
    a, p = max(1, shape.get("amplitude", 1)), shape.get("period", 0.3)

    def wave(x):
        turns = 2 * math.pi / p
        return a * 2 ** (-10 * (1 - x)) * math.sin(-turns * (1 - x - math.asin(1 / a) / turns))
    into = {
        "sine": lambda x: 1 - math.cos(x * math.pi / 2),
        "quad": lambda x: x ** 2,
        "cubic": lambda x: x ** 3,
        "quart": lambda x: x ** 4,
        "quint": lambda x: x ** 5,
        "expo": lambda x: (2 ** (10 * (x - 1)) - 2 ** -10) / (1 - 2 ** -10),
        "circ": lambda x: 1 - math.sqrt(1 - x * x),
        "back": lambda x: x * x * ((s + 1) * x - s),
        "elastic": lambda x: (wave(x) - wave(0)) / (wave(1) - wave(0)),
    }[name]
    if way == "in":
        return into
    if way == "out":
        return lambda x: 1 - into(1 - x)
    return lambda x: into(2 * x) / 2 if x < 0.5 else 1 - into(2 - 2 * x) / 2


def steps(count, jump):
    jumps = count + {"jump-both": 1, "jump-none": -1}.get(jump, 0)
    first = 1 if jump in ("jump-start", "jump-both") else 0
    return lambda x: min(math.floor(x * count + 1e-9) + first, jumps) / max(1, jumps)


def stops(points):
    def ease(x):
        i = max([0] + [i for i, p in enumerate(points) if p["x"] <= x])
        a, b = (points[i], points[i + 1]) if i + 1 < len(points) else (points[i], points[i - 1])
        if i + 1 == len(points) and x == a["x"]:
            return a["y"]
        return a["y"] if a["x"] == b["x"] else a["y"] + (b["y"] - a["y"]) * (x - a["x"]) / (b["x"] - a["x"])
    return ease


def bounce(r, count):
    fall = 1 / (1 + 2 * sum(r ** j for j in range(1, count + 1)))
    contacts = [fall]
    for j in range(1, count + 1):
        contacts.append(contacts[-1] + 2 * fall * r ** j)

    def ease(x):
        if x < fall:
            return (x / fall) ** 2
        j = next((j for j in range(1, count + 1) if x < contacts[j]), count)
        u = (x - contacts[j - 1]) / (contacts[j] - contacts[j - 1])
        return 1 - r ** (2 * j) * 4 * u * (1 - u)
    return ease


def distance(shape, offset, velocity):
    """How far a spring is from its target after some seconds."""
    omega = math.sqrt(shape["stiffness"] / shape["mass"])
    zeta = shape["damping"] / (2 * math.sqrt(shape["stiffness"] * shape["mass"]))
    if abs(zeta - 1) < 1e-9:
        return lambda s: math.exp(-omega * s) * (offset + (velocity + omega * offset) * s)
    if zeta < 1:
        damped = omega * math.sqrt(1 - zeta * zeta)
        b = (velocity + zeta * omega * offset) / damped
        return lambda s: math.exp(-zeta * omega * s) * (offset * math.cos(damped * s) + b * math.sin(damped * s))
    root = math.sqrt(zeta * zeta - 1)
    slow, fast = -omega / (zeta + root), -omega * (zeta + root)
    b = (velocity - slow * offset) / (fast - slow)
    return lambda s: (offset - b) * math.exp(slow * s) + b * math.exp(fast * s)


def settled(shape, change):
    """Seconds until a spring stays within a thousandth of its way, to a whole tick; 60 at most."""
    velocity = shape["velocity"]
    travel = abs(change) or abs(velocity) / math.sqrt(shape["stiffness"] / shape["mass"]) or 1
    left, last = distance(shape, -change, velocity), 0
    fine = 20000
    for i in range(60 * fine // 100, -1, -1):
        if abs(left(i * 100 / fine)) > 0.001 * travel:
            last = i * 100 / fine
            break
    # The last crossing lies within the step after it.
    for i in range(100, -1, -1):
        if abs(left(last + i / fine)) > 0.001 * travel:
            low, high = last + i / fine, last + (i + 1) / fine
            for _ in range(40):
                middle = (low + high) / 2
                low, high = (middle, high) if abs(left(middle)) > 0.001 * travel else (low, middle)
            return min(60, math.ceil(high * 72000 - 0.02) / 72000)
    return last


def spring(shape, v0, v1, seconds):
    left = distance(shape, v0 - v1, shape["velocity"])
    if shape["time"] == "fitted":
        seconds = settled(shape, v1 - v0) or seconds
    return lambda x: v1 + left(x * seconds) - left(seconds) * x


def spans(curve, times, values, quantum, shapes):
    """What each span shows over its progress."""
    count = len(times) - 1
    codes = [curve["spans"]] * count if isinstance(curve["spans"], int) else list(curve["spans"])
    third = 2 ** 20 / 3

    def span(i):
        v0, v1, code = values[i], values[i + 1], codes.pop(0)
        if code == 0:
            return lambda x: v0
        if code == 1:
            return lambda x: v0 + (v1 - v0) * x
        if code < 4:
            out, into = (third, third) if code == 2 else (codes.pop(0), codes.pop(0))
            rise, fall = codes.pop(0) * quantum, codes.pop(0) * quantum
            ease = bezier(out / 2 ** 20, rise, 1 - into / 2 ** 20, v1 - v0 + fall)
            return lambda x: v0 + ease(x, v1 - v0)
        shape = shapes[code - 4]
        kind = shape["kind"]
        if kind == "spring":
            return spring(shape, v0, v1, (times[i + 1] - times[i]) / 72000)
        ease = {
            "eased": lambda: bezier(shape["start"], 0, 1 - shape["finish"], 1),
            "bezier": lambda: bezier(shape["x1"], shape["y1"], shape["x2"], shape["y2"]),
            "fall": lambda: lambda x: x * x,
            "rise": lambda: lambda x: 1 - (1 - x) ** 2,
            "family": lambda: family(shape),
            "steps": lambda: steps(shape["count"], shape["jump"]),
            "stops": lambda: stops(shape["stops"]),
            "bounce": lambda: bounce(shape["restitution"], shape["count"]),
        }[kind]()
        return lambda x: v0 + (v1 - v0) * ease(x)
    return [span(i) for i in range(count)]


def numbers(curve, t, shapes, values=None):
    """The value of a curve at a time in ticks."""
    times, quantum = added(curve["times"]), curve["quantum"]
    own = added(curve["values"], quantum) if values is None else values
    first, last = times[0], times[-1]
    if t < first or t > last:
        end = curve.get("before" if t < first else "after", "hold")
        at = 0 if t < first else -1
        if end == "hold" or first == last:
            return own[at]
        if end == "straight":
            return own[at] + (t - times[at]) * curve["slopes"][at]
        rounds = math.floor((t - first) / (last - first))
        local = t - rounds * (last - first)
        if end == "alternate" and rounds % 2:
            local = first + last - local
        more = rounds * (own[-1] - own[0]) if end == "accumulate" else 0
        return numbers(curve, min(last, max(first, local)), shapes, values) + more
    if t == last:
        return own[-1]
    i = max(i for i in range(len(times) - 1) if times[i] <= t)
    unit = 2 ** -20 if values is not None else quantum
    x = (t - times[i]) / (times[i + 1] - times[i])
    return spans(curve, times, own, unit, shapes)[i](x)
