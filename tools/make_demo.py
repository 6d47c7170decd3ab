#!/usr/bin/env python3
"""Makes data/demo/ afresh: the jobs of the Saltmarsh Kite Library, drawn here from geometry.

Run it from the project's root after a build; the stitch-only designs are stitched by `rapt stitch`
from shapes and then kept as bare stitch lists.
"""
import json
import math
import pathlib
import subprocess
import tempfile
import zipfile

ROOT = pathlib.Path(__file__).resolve().parent.parent
RAPT = ROOT / "build" / "bin" / "rapt"

THREADS = {
    "Deep tide": "#1f4e79", "Sky": "#3f7fb5", "Ember": "#d9603b", "Rust": "#a8322b",
    "Reed": "#2f6d3a", "Marigold": "#e3a72f", "Sand": "#7a6a52", "Chalk": "#f2efe6",
}


def thread(name, weight=40):
    return {"color": THREADS[name], "weight": weight, "name": name}


def rounded(points):
    return [[round(x, 3), round(y, 3)] for x, y in points]


def fill(name, outline, angle, holes=(), spacing=0.4, length=3.0):
    return {"kind": "fill", "thread": thread(name), "lines": [rounded(l) for l in (outline, *holes)],
            "spacing_mm": spacing, "stitch_length_mm": length, "angle_deg": angle}


def satin(name, line, width, spacing=0.4):
    """A column of even width along a line."""
    left, right = [], []
    for i, (x, y) in enumerate(line):
        ax, ay = line[max(0, i - 1)]
        bx, by = line[min(len(line) - 1, i + 1)]
        size = math.hypot(bx - ax, by - ay)
        nx, ny = -(by - ay) / size, (bx - ax) / size
        left.append((x + nx * width / 2, y + ny * width / 2))
        right.append((x - nx * width / 2, y - ny * width / 2))
    return {"kind": "satin", "thread": thread(name), "lines": [rounded(left), rounded(right)],
            "spacing_mm": spacing}


def run(name, line, length=2.5):
    return {"kind": "run", "thread": thread(name), "lines": [rounded(line)],
            "stitch_length_mm": length}


def between(a, b, t):
    return (a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t)


def diamond(width, height, waist):
    """Corners of a kite round the origin: top, right, bottom, left; the spars cross at `waist`."""
    top = (0, -height * waist)
    bottom = (0, height * (1 - waist))
    return top, (width / 2, 0), bottom, (-width / 2, 0)


def short_of(a, b, gap_a, gap_b):
    """The line from a to b without its ends, so that columns meet but do not pile up."""
    size = math.dist(a, b)
    return [between(a, b, gap_a / size), between(a, b, 1 - gap_b / size)]


def kite(width, height, waist, dark, light, edge, length=3.0):
    top, right, bottom, left = diamond(width, height, waist)
    middle = (0, 0)
    return [
        fill(dark, [top, middle, left], 25, length=length),
        fill(light, [top, right, middle], -25, length=length),
        fill(light, [left, middle, bottom], -35, length=length),
        fill(dark, [middle, right, bottom], 35, length=length),
        satin(edge, short_of(left, middle, 5, 2.2), 2.0),
        satin(edge, short_of(right, middle, 5, 2.2), 2.0),
        satin(edge, short_of(top, bottom, 5, 5), 2.0),
        satin(edge, short_of(top, right, 2.4, 2.4), 2.4),
        satin(edge, short_of(right, bottom, 2.4, 2.4), 2.4),
        satin(edge, short_of(bottom, left, 2.4, 2.4), 2.4),
        satin(edge, short_of(left, top, 2.4, 2.4), 2.4),
    ]


def wave(length, swing, turns, steps=48):
    """A tail hanging down from the origin."""
    points = []
    for i in range(steps + 1):
        t = i / steps
        points.append((swing * math.sin(2 * math.pi * turns * t) * (0.35 + 0.65 * t), length * t))
    return points


def tail(line_thread, bow_thread, length, swing, turns, bows):
    line = wave(length, swing, turns)
    parts = [run(line_thread, line), run(line_thread, line[::-1])]
    for k in range(bows):
        i = round((k + 1) * (len(line) - 1) / (bows + 0.4))
        x, y = line[min(i, len(line) - 2)]
        for side in (-1, 1):
            parts.append(fill(bow_thread, [(x, y), (x + side * 8, y - 4.2), (x + side * 8, y + 4.2)],
                              90, length=2.5))
    return parts


def shape(*parts):
    flat = []
    for p in parts:
        flat.extend(p if isinstance(p, list) else [p])
    return {"parts": flat}


def piece(pid, name, content, x, y, rotation=0, scale=(1, 1), keep="spacing", mirror=False):
    return {"id": pid, "name": name, **content, "keep": keep,
            "pose": {"x": x, "y": y, "rotation_deg": rotation, "mirror": mirror,
                     "scale": list(scale)}}


def box_kite():
    """The design that is kept as stitches only: many short stitches, four threads."""
    parts = []
    w, h = 84, 104
    for row, (name, other) in enumerate((("Reed", "Marigold"), ("Marigold", "Reed"))):
        y0 = -h / 2 + row * (h / 2 + 2)
        y1 = y0 + h / 2 - 2
        slant = 9
        for side, colour in ((-1, name), (1, other)):
            parts.append(fill(colour, [(0, y0), (side * w / 2, y0 + slant),
                                       (side * w / 2, y1), (0, y1 - slant)],
                              side * 12, length=2.0))
        for side in (-1, 1):
            far = side * w / 2
            parts.append(satin("Deep tide", short_of((0, y0), (far, y0 + slant), 2.4, 2.4), 2.2, 0.48))
            parts.append(satin("Deep tide", short_of((0, y1 - slant), (far, y1), 2.4, 2.4), 2.2, 0.48))
        for x, lift, drop in ((-w / 2, slant, 0), (0, 0, slant), (w / 2, slant, 0)):
            parts.append(satin("Deep tide", [(x, y0 + lift), (x, y1 - drop)], 2.4, 0.48))
    parts.append(run("Chalk", [(-w / 2, h / 2), (0, h / 2 + 12), (w / 2, h / 2)]))
    return {"parts": parts}


def write(folder, job, designs=None):
    target = ROOT / "data" / "demo" / folder
    target.mkdir(parents=True, exist_ok=True)
    (target / "job.json").write_text(compact(job) + "\n", encoding="utf-8")
    for name, text in (designs or {}).items():
        (target / name).parent.mkdir(parents=True, exist_ok=True)
        (target / name).write_text(text, encoding="utf-8")


def compact(value, depth=0):
    """JSON with one line for each leaf list, so that changes can be read."""
    if isinstance(value, dict) and depth < 5:
        pad = " " * (depth + 1)
        body = ",\n".join(f"{pad}{json.dumps(k)}: {compact(v, depth + 1)}" for k, v in value.items())
        return "{\n" + body + "\n" + " " * depth + "}"
    if isinstance(value, list) and value and isinstance(value[0], dict) and depth < 5:
        pad = " " * (depth + 1)
        body = ",\n".join(pad + compact(v, depth + 1) for v in value)
        return "[\n" + body + "\n" + " " * depth + "]"
    return json.dumps(value, ensure_ascii=False)


def stitched(name, content):
    """A shape as a bare stitch list, by the rapt command."""
    with tempfile.TemporaryDirectory() as folder:
        job = {"rapt_job": 1, "name": name, "pieces": [piece("p1", name, {"shape": content}, 0, 0)]}
        source, target = pathlib.Path(folder, "a.rapt"), pathlib.Path(folder, "a.stitch.csv")
        with zipfile.ZipFile(source, "w") as archive:
            archive.writestr("job.json", json.dumps(job))
        subprocess.run([RAPT, "stitch", source, "-o", target], check=True, stdout=subprocess.DEVNULL)
        return target.read_text(encoding="utf-8")


def banner():
    blue = shape(kite(104, 122, 0.40, "Deep tide", "Sky", "Chalk"))
    red = shape(kite(70, 84, 0.40, "Rust", "Ember", "Chalk"))
    job = {
        "rapt_job": 1, "name": "Reading-room banner",
        "brief": {"item": "Banner for the reading room, Saltmarsh Kite Library", "fabric": "canvas",
                  "hoops": ["field-180x130", "field-240x150", "field-300x200"],
                  "machine": "six-needle", "quantity": 1},
        "cloth": {"width_mm": 620, "height_mm": 240, "color": "#d9cfb8", "thick_zones": []},
        "pieces": [
            piece("blue-tail", "Blue tail", {"shape": shape(tail("Deep tide", "Sky", 92, 9, 1.2, 4))},
                  -196, 8, 14),
            piece("blue", "Blue kite", {"shape": blue}, -214, -48, -18),
            piece("red", "Red kite", {"shape": red}, 0, -62, 14),
            piece("red-tail", "Red tail", {"shape": shape(tail("Rust", "Ember", 104, 10, 1.4, 4))},
                  -12, -12, 8),
            piece("green", "Green box kite", {"design": "designs/box-kite.stitch.csv"},
                  206, -46, 16, (0.72, 0.72), "stitches"),
            piece("green-tail", "Green tail",
                  {"shape": shape(tail("Reed", "Marigold", 108, 9, 1.3, 4))}, 198, -18, -6),
        ],
    }
    write("reading-room-banner", job,
          {"designs/box-kite.stitch.csv": stitched("Green box kite", box_kite())})


def windsock():
    pieces = []
    colours = (("Deep tide", "Sky"), ("Rust", "Ember"), ("Reed", "Marigold"))
    for k in range(13):
        dark, light = colours[k % 3]
        top, right, bottom, left = diamond(26, 36, 0.4)
        content = shape(fill(dark, [top, (0, 0), left], 30), fill(light, [top, right, (0, 0)], -30),
                        fill(light, [left, (0, 0), bottom], -30),
                        fill(dark, [(0, 0), right, bottom], 30),
                        run("Sand", [left, (0, 0), right]), run("Sand", [top, (0, 0), bottom]))
        pieces.append(piece(f"k{k + 1}", f"Small kite {k + 1}", {"shape": content},
                            -456 + 76 * k, -3, 12 if k % 2 else -12))
    job = {
        "rapt_job": 1, "name": "Windsock border",
        "brief": {"item": "Border of the harbour windsock", "fabric": "sailcloth",
                  "hoops": ["field-180x130", "field-300x200", "two-sided-360x200"],
                  "machine": "six-needle", "quantity": 1},
        "cloth": {"width_mm": 1000, "height_mm": 60, "color": "#e6e2da", "thick_zones": []},
        "pieces": pieces,
    }
    write("windsock-border", job)


if __name__ == "__main__":
    banner()
    windsock()
