"""python3 read_clips.py FILE CLIP SECONDS ...: what a clip of a Hillock clip file shows, a JSON object a time. See clip.md."""
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

def bezier(x1, y1, x2, y2, end=1):
    """Progress over progress, or values up to `end`."""
    def ease(x):
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
    power = {"quad": 2, "cubic": 3, "quart": 4, "quint": 5}.get(name)
    into = (lambda x: x ** power) if power else {
        "sine": lambda x: 1 - math.cos(x * math.pi / 2),
        "expo": lambda x: (2 ** (10 * (x - 1)) - 2 ** -10) / (1 - 2 ** -10),
        "circ": lambda x: 1 - math.sqrt(1 - x * x),
        "back": lambda x: x * x * ((s + 1) * x - s),
        "elastic": lambda x: (wave(x) - wave(0)) / (wave(1) - wave(0)),
    }[name]
    if way != "in-out":
        return into if way == "in" else lambda x: 1 - into(1 - x)
    return lambda x: into(2 * x) / 2 if x < 0.5 else 1 - into(2 - 2 * x) / 2

def steps(count, jump):
    jumps = count + {"jump-both": 1, "jump-none": -1}.get(jump, 0)
    first = 1 if jump in ("jump-start", "jump-both") else 0
    return lambda x: min(math.floor(x * count + 1e-9) + first, jumps) / max(1, jumps)

def stops(points):
    """Straight between stops, and on beyond the outermost; the last of several at one place counts."""
    def ease(x):
        i = min(max([0] + [i for i, p in enumerate(points) if p["x"] <= x]), len(points) - 2)
        if x == points[-1]["x"]:
            return points[-1]["y"]
        a, b = points[i], points[i + 1]
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
    if zeta < 1:  # It rings.
        damped = omega * math.sqrt(1 - zeta * zeta)
        b = (velocity + zeta * omega * offset) / damped
        return lambda s: math.exp(-zeta * omega * s) * (offset * math.cos(damped * s) + b * math.sin(damped * s))
    root = math.sqrt(zeta * zeta - 1)
    slow, fast = -omega / (zeta + root), -omega * (zeta + root)
    b = (velocity - slow * offset) / (fast - slow)
    return lambda s: (offset - b) * math.exp(slow * s) + b * math.exp(fast * s)

def spring(shape, v0, v1, seconds):
    seconds, left = shape.get("seconds", seconds), distance(shape, v0 - v1, shape["velocity"])
    return lambda x: v1 + left(x * seconds) - left(seconds) * x

def spans(curve, times, values, unit, shapes):
    """What each span shows over its progress."""
    count = len(times) - 1
    codes = [curve["spans"]] * count if isinstance(curve["spans"], int) else list(curve["spans"])
    reach = 2 ** 20
    def span(i):
        v0, v1, code = values[i], values[i + 1], codes.pop(0)
        if code == 0:
            return lambda x: v0
        if code in (2, 3):
            out, into = (reach / 3, reach / 3) if code == 2 else (codes.pop(0), codes.pop(0))
            rise, fall = codes.pop(0) * unit, codes.pop(0) * unit
            return lambda x: v0 + bezier(out / reach, rise, 1 - into / reach, v1 - v0 + fall, v1 - v0)(x)
        shape = {"kind": "linear"} if code == 1 else shapes[code - 4]
        if shape["kind"] == "spring":
            return spring(shape, v0, v1, (times[i + 1] - times[i]) / 72000)
        ease = {
            "linear": lambda: lambda x: x,
            "eased": lambda: bezier(shape["start"], 0, 1 - shape["finish"], 1),
            "bezier": lambda: bezier(shape["x1"], shape["y1"], shape["x2"], shape["y2"]),
            "fall": lambda: lambda x: x * x,
            "rise": lambda: lambda x: 1 - (1 - x) ** 2,
            "family": lambda: family(shape),
            "steps": lambda: steps(shape["count"], shape["jump"]),
            "stops": lambda: stops(shape["stops"]),
            "bounce": lambda: bounce(shape["restitution"], shape["count"]),
        }[shape["kind"]]()
        return lambda x: v0 + (v1 - v0) * ease(x)
    return [span(i) for i in range(count)]

def number(curve, t, shapes, values=None):
    """The value of a curve at a time in ticks; of a vector, with its steps as values, how far it is along its keys."""
    times = added(curve["times"])
    own = values or added(curve["values"], curve["quantum"])
    first, last = times[0], times[-1]
    if t < first or t > last:
        end, at = (curve.get("before", "hold"), 0) if t < first else (curve.get("after", "hold"), -1)
        if end == "hold" or first == last:
            return own[at]
        if end == "straight":
            return own[at] + (t - times[at]) * curve["slopes"][at]
        rounds, within = divmod(t - first, last - first)
        local = last - within if end == "alternate" and rounds % 2 else first + within
        more = rounds * (own[-1] - own[0]) if end == "accumulate" else 0
        return number(curve, min(last, max(first, local)), shapes, values) + more
    if t == last:
        return own[-1]
    i = max(i for i in range(len(times) - 1) if times[i] <= t)
    unit = 2 ** -20 if values else curve["quantum"]
    return spans(curve, times, own, unit, shapes)[i]((t - times[i]) / (times[i + 1] - times[i]))

def vector(curve, t, shapes):
    """A colour or a unit quaternion at a time in ticks; cubic splines are left to whoever needs them."""
    flat = added(curve["rows"], curve["quantum"], 4)
    rows = [flat[i:i + 4] for i in range(0, len(flat), 4)]
    along = number(curve, t, shapes, [float(i) for i in range(len(rows))])
    # A shape that overshoots goes on beyond the span that it is in: the key before the time counts.
    i = max([0] + [k for k, at in enumerate(added(curve["times"])[:-1]) if at <= t])
    a, b, x = rows[i], rows[min(i + 1, len(rows) - 1)], along - i
    if curve["mix"] != "turn":
        return colour(a, b, x, curve["mix"])
    dot = sum(p * q for p, q in zip(a, b))
    sign, angle = (-1 if dot < 0 else 1), math.acos(min(1, abs(dot)))
    p, q = (1 - x, x) if angle < 1e-6 else (math.sin(angle * k) / math.sin(angle) for k in (1 - x, x))
    return [p * m + sign * q * n for m, n in zip(a, b)]

def colour(a, b, x, space):
    """sRGB and alpha; OKLab is left to whoever needs it, and mixed in linear light here."""
    light = (lambda v: v) if space == "srgb" else lambda v: v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4
    back = (lambda v: v) if space == "srgb" else lambda v: 12.92 * v if v <= 0.0031308 else 1.055 * v ** (1 / 2.4) - 0.055
    mixed = [back(max(0, light(m) + (light(n) - light(m)) * x)) for m, n in zip(a[:3], b[:3])]
    return [min(1, max(0, v)) for v in mixed + [a[3] + (b[3] - a[3]) * x]]

def local(clip, ticks):
    """The time within a round, and which round it is."""
    loop, length = clip.get("loop", {"mode": "once"}), clip["length"]
    if loop["mode"] == "once" or length <= 0:
        return min(ticks, length), 0
    period, count = length + loop.get("pause", 0), loop.get("count", math.inf)
    rounds, within = divmod(ticks, period)
    if rounds >= count or (rounds == count - 1 and within >= length):
        rounds, within = count - 1, length
    within = min(within, length)
    backwards = loop["mode"] == "alternate" and rounds % 2 == 1
    return (length - within if backwards else within), (rounds if loop["mode"] == "repeat" else 0)

def shown(file, clip, seconds):
    """What a clip moves, seconds after its start: its rotations as angles in degrees."""
    t, rounds = local(clip, seconds * 72000)
    names, shapes = [part["name"] for part in file["parts"]], file["shapes"]
    called = lambda curve: f'{names[curve["part"]]}/{curve["path"]}'
    return {
        **{called(own): number(own, t, shapes) + rounds * own.get("gain", 0) for own in clip["curves"]},
        **{called(own): vector(own, t, shapes) for own in clip.get("vectors", [])},
    }

if __name__ == "__main__":
    read = json.load(open(sys.argv[1], encoding="utf-8"))
    if read.get("format") != "hillock-clips" or read.get("version", 0) > 1:
        sys.exit("this is no clip file, or a newer one")
    wanted = next(clip for clip in read["clips"] if clip["name"] == sys.argv[2])
    for at in sys.argv[3:]:
        print(json.dumps(shown(read, wanted, float(at))))
