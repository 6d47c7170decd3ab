#!/usr/bin/env python3
"""Makes data/demo/ afresh: the jobs of the Saltmarsh Kite Library, drawn here from geometry.

Run it from the project's root after a build; the stitch-only designs are stitched by `rapt stitch`
from shapes and then kept as bare stitch lists.
"""
import json
import math
import pathlib
import struct
import subprocess
import tempfile
import zipfile
import zlib

ROOT = pathlib.Path(__file__).resolve().parent.parent
RAPT = ROOT / "build" / "bin" / "rapt"

THREADS = {
    "Deep tide": "#1f4e79", "Sky": "#3f7fb5", "Ember": "#d9603b", "Rust": "#a8322b",
    "Reed": "#2f6d3a", "Marigold": "#e3a72f", "Sand": "#7a6a52", "Chalk": "#f2efe6",
    "Samphire": "#7f9a3c", "Kelp": "#4d4a22", "Buoy": "#e0442e", "Rope": "#b89b6c",
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


def kite(width, height, waist, dark, light, edge, length=3.0, spacing=0.4):
    top, right, bottom, left = diamond(width, height, waist)
    middle = (0, 0)
    return [
        fill(dark, [top, middle, left], 25, length=length, spacing=spacing),
        fill(light, [top, right, middle], -25, length=length, spacing=spacing),
        fill(light, [left, middle, bottom], -35, length=length, spacing=spacing),
        fill(dark, [middle, right, bottom], 35, length=length, spacing=spacing),
        satin(edge, short_of(left, middle, 5, 2.2), 2.0, spacing),
        satin(edge, short_of(right, middle, 5, 2.2), 2.0, spacing),
        satin(edge, short_of(top, bottom, 5, 5), 2.0, spacing),
        satin(edge, short_of(top, right, 2.4, 2.4), 2.4, spacing),
        satin(edge, short_of(right, bottom, 2.4, 2.4), 2.4, spacing),
        satin(edge, short_of(bottom, left, 2.4, 2.4), 2.4, spacing),
        satin(edge, short_of(left, top, 2.4, 2.4), 2.4, spacing),
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


def tags():
    """Twelve felt tags: one small kite with its cutting line, repeated."""
    small = shape(kite(24, 30, 0.4, "Reed", "Marigold", "Chalk", length=2.5, spacing=0.48))
    by_thread = {}
    for part in small["parts"]:
        by_thread.setdefault(part["thread"]["name"], []).append(part)
    pieces = [piece(f"tag-{name.lower()}", f"Tag kite, {name}", {"shape": {"parts": parts}},
                    -111, -58) for name, parts in by_thread.items()]
    for p in pieces:
        p["group"] = "Tag kite"
    tag = pieces[0]
    tag["outline"] = {"form": "rectangle", "purpose": "cut", "width_mm": 62, "height_mm": 36,
                      "corner_mm": 6, "stitch_length_mm": 2, "thread": thread("Sand")}
    job = {
        "rapt_job": 1, "name": "Felt tags",
        "brief": {"item": "Twelve tags for the lending kites", "fabric": "felt",
                  "hoops": ["field-300x200", "field-180x130"], "machine": "six-needle",
                  "quantity": 1},
        "cloth": {"width_mm": 320, "height_mm": 180, "color": "#cdd6d0", "thick_zones": []},
        "pieces": pieces,
        "repeats": [{"id": "r1", "kind": "grid", "pieces": [p["id"] for p in pieces],
                     "columns": 4, "rows": 3,
                     "step": "gap", "across_mm": 8, "down_mm": 8,
                     "exceptions": [{"copy": 12, "left_out": True}]}],
    }
    write("felt-tags", job)


def words(text, face, cap, name, line=None, **more):
    return {"lettering": {"text": text, "face": face, "cap_height_mm": cap, "thread": thread(name),
                          "line": line or {"kind": "straight"}, **more}}


def title():
    """The words of the banner: a title on an arc, a line in joined script."""
    small = shape(kite(34, 42, 0.4, "Rust", "Ember", "Chalk", length=2.5))
    job = {
        "rapt_job": 1, "name": "Library title",
        "brief": {"item": "Title of the reading-room banner", "fabric": "canvas",
                  "hoops": ["field-300x200", "field-240x150"], "machine": "six-needle",
                  "quantity": 1},
        "cloth": {"width_mm": 320, "height_mm": 200, "color": "#d9cfb8", "thick_zones": []},
        "pieces": [
            piece("title", "SALTMARSH", words("SALTMARSH", "garamond", 22, "Deep tide",
                  {"kind": "arc", "radius_mm": 190, "side": "outside", "even": True},
                  tracking_mm=1.5, pull_mm=0.2), 0, 158),
            piece("kite", "Small kite", {"shape": small}, 0, 12, 10),
            piece("script", "Kite Library", words("Kite Library", "dancing-script", 17, "Rust",
                  pull_mm=0.2), 0, 74),
        ],
    }
    write("library-title", job)


def collar():
    """A guide's knit collar: words below a neckline 180 mm wide and 90 mm deep."""
    radius, tops = 90.0, 12.0
    arc = [[round(radius * math.sin(math.radians(a)), 2), round(radius * math.cos(math.radians(a)) - radius, 2)]
           for a in range(-90, 91, 5)]
    job = {
        "rapt_job": 1, "name": "Guide's collar",
        "brief": {"item": "Collar of a guide's jersey", "fabric": "knit",
                  "hoops": ["field-240x150", "field-180x130"], "machine": "six-needle",
                  "quantity": 1},
        "cloth": {"width_mm": 300, "height_mm": 240, "color": "#31546b", "thick_zones": [],
                  "guides": [{"name": "neck edge", "points": arc},
                             {"name": "centre front", "points": [[0, 0], [0, 50]]}]},
        "pieces": [piece("words", "SALTMARSH GUIDE", words("SALTMARSH GUIDE", "lato-bold", 11, "Marigold",
                         {"kind": "arc", "radius_mm": radius + tops + 11, "side": "inside",
                          "even": True}, most_layers=2.6, pull_mm=0.35), 0, -radius)],
    }
    write("guides-collar", job)


def name_tags():
    """Twelve felt tags, each to carry a kite's name: one word with its cutting line, repeated."""
    name = piece("name", "Kestrel", words("Kestrel", "lato-bold", 9, "Reed", pull_mm=0.3), -70, -47)
    name["outline"] = {"form": "rectangle", "purpose": "cut", "width_mm": 56, "height_mm": 24,
                       "corner_mm": 6, "stitch_length_mm": 2, "thread": thread("Sand")}
    job = {
        "rapt_job": 1, "name": "Name tags",
        "brief": {"item": "Named tags for the lending kites", "fabric": "felt",
                  "hoops": ["field-300x200", "field-180x130"], "machine": "six-needle",
                  "quantity": 1},
        "cloth": {"width_mm": 280, "height_mm": 160, "color": "#cdd6d0", "thick_zones": []},
        "pieces": [name],
        "repeats": [{"id": "r1", "kind": "grid", "pieces": ["name"], "columns": 3, "rows": 4,
                     "step": "pitch", "across_mm": 70, "down_mm": 34}],
    }
    write("name-tags", job)


def leaf(length, width, steps=14):
    """A leaf from the origin towards +x."""
    upper = [(length * i / steps, -width / 2 * math.sin(math.pi * i / steps) ** 0.8)
             for i in range(steps + 1)]
    lower = [(x, -y) for x, y in upper]
    return upper, lower


def turned(points, degrees, x=0.0, y=0.0):
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return [(x + c * px - s * py, y + s * px + c * py) for px, py in points]


def samphire():
    """A sprig for the corners of the cotton square: a stem with leaves, a vein in each."""
    stem = [(0, 0), (18, 4), (34, 2), (50, 8)]
    stems, leaves, veins = [run("Kelp", stem, 2)], [], []
    stems[0]["smooth"] = True
    stems[0]["passes"] = 3
    for x, y, angle, size in ((10, 2.5, -58, 20), (20, 4, 52, 22), (30, 2.6, -48, 21),
                              (38, 3.2, 60, 18), (50, 8, 8, 24)):
        upper, lower = leaf(size, size * 0.38)
        outline = upper + lower[::-1][1:-1]
        part = fill("Samphire", turned(outline, angle, x, y), angle + 90, length=2.5)
        part["underlay"] = "light"
        part["pull_mm"] = 0.2
        leaves.append(part)
        veins.append(run("Kelp", turned([(1, 0), (size - 2, 0)], angle, x, y), 2))
    return {"parts": stems + leaves + veins}


def sketch_png(side=300):
    """A pencil sketch of the sprig, as a customer would hand it in."""
    lines = [p["lines"][0] + p["lines"][0][:1] for p in samphire()["parts"]]
    pixels = [[246] * side for _ in range(side)]
    scale, ox, oy = side / 84, 10, 40
    for line in lines:
        for (ax, ay), (bx, by) in zip(line, line[1:]):
            steps = max(2, int(math.dist((ax, ay), (bx, by)) * scale * 2))
            for k in range(steps):
                px = int((ax + (bx - ax) * k / steps + ox) * scale)
                py = int((ay + (by - ay) * k / steps + oy) * scale)
                for dx in (0, 1):
                    for dy in (0, 1):
                        if 0 <= px + dx < side and 0 <= py + dy < side:
                            pixels[py + dy][px + dx] = 96
    raw = b"".join(b"\0" + bytes(row) for row in pixels)

    def chunk(kind, data):
        body = kind + data
        return struct.pack(">I", len(data)) + body + struct.pack(">I", zlib.crc32(body))

    return (b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", struct.pack(">IIBBBBB", side, side, 8, 0, 0, 0, 0))
            + chunk(b"IDAT", zlib.compress(raw, 9)) + chunk(b"IEND", b""))


def cotton():
    small = shape(kite(26, 32, 0.4, "Ember", "Marigold", "Chalk", length=2.5, spacing=0.5))
    job = {
        "rapt_job": 1, "name": "Cotton square",
        "brief": {"item": "Printed cotton square for the tea table", "fabric": "cotton",
                  "hoops": ["field-240x240", "field-180x130"], "machine": "one-needle",
                  "quantity": 4},
        "cloth": {"width_mm": 260, "height_mm": 260, "color": "#ece6da", "thick_zones": []},
        "pieces": [
            piece("sprig", "Sprig", {"shape": samphire()}, -104, -92),
            piece("kite", "Ring kite", {"shape": small}, 0, -48),
        ],
        "repeats": [
            {"id": "r1", "kind": "mirror", "pieces": ["sprig"], "left_right": True, "near_far": True},
            {"id": "r2", "kind": "circle", "pieces": ["kite"], "count": 6, "x": 0, "y": 0,
             "sweep_deg": 360, "turned": True},
        ],
        "artwork": {"member": "art/picture.png", "x": -72, "y": -90, "width_mm": 84,
                    "opacity": 0.35},
    }
    write("cotton-square", job)
    target = ROOT / "data" / "demo" / "cotton-square" / "art"
    target.mkdir(parents=True, exist_ok=True)
    (target / "picture.png").write_bytes(sketch_png())


def buoy():
    ring = [(18 * math.cos(a / 24 * math.pi), 18 * math.sin(a / 24 * math.pi)) for a in range(48)]
    hole = [(x * 0.5, y * 0.5) for x, y in ring]
    parts = [fill("Chalk", ring, 20, [hole])]
    for k in range(4):
        a = [(r * math.cos(t), r * math.sin(t)) for r in (18.2,)
             for t in [math.pi / 2 * k - 0.3 + 0.06 * i for i in range(11)]]
        b = [(r * math.cos(t), r * math.sin(t)) for r in (8.8,)
             for t in [math.pi / 2 * k - 0.3 + 0.06 * i for i in range(11)]]
        parts.append({"kind": "satin", "thread": thread("Buoy"),
                      "lines": [rounded(a), rounded(b)], "spacing_mm": 0.4, "underlay": "full"})
    return {"parts": parts}


def rope_line():
    parts = []
    for k in range(9):
        x = -36 + 9 * k
        parts.append(satin("Rope", [(x - 5, 2.2), (x, 0), (x + 5, -2.2)], 3.2))
    return {"parts": parts}


def star():
    points = [(r * math.sin(math.pi * k / 5), -r * math.cos(math.pi * k / 5))
              for k in range(10) for r in ([15] if k % 2 == 0 else [6.4])]
    return {"parts": [fill("Marigold", points, 90, length=2.5)]}


SVG_HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="{w}mm" height="{h}mm" viewBox="0 0 {w} {h}">\n'

DRAWINGS = {
    "tern": (90, 46, """  <title>Tern</title>
  <path fill="#f2efe6" d="M4 26 C 20 8 36 10 45 22 C 54 10 70 8 86 26 C 70 18 58 22 50 32 L 45 40 L 40 32 C 32 22 20 18 4 26 Z"/>
  <path fill="#15202b" d="M42 20 C 43 16 47 16 48 20 L 47.6 24 L 42.4 24 Z"/>
  <path fill="none" stroke="#d9603b" stroke-width="1.2" stroke-linecap="round" d="M45 40 L 43 45 M45 40 L 47 45"/>
"""),
    "waves": (160, 24, """  <title>Waves</title>
  <path fill="none" stroke="#0f6e78" stroke-width="2.4" d="M4 8 C 14 -2 24 -2 34 8 S 54 18 64 8 S 84 -2 94 8 S 114 18 124 8 S 144 -2 156 8"/>
  <path fill="none" stroke="#3f7fb5" stroke-width="1.6" d="M4 16 C 14 6 24 6 34 16 S 54 26 64 16 S 84 6 94 16 S 114 26 124 16 S 144 6 156 16"/>
"""),
    "pennant": (70, 40, """  <title>Pennant</title>
  <polygon points="6,4 64,20 6,36" fill="#e0442e"/>
  <rect x="2" y="2" width="3" height="36" fill="#7a6a52"/>
"""),
    "plain-kite": (60, 72, """  <title>Plain kite</title>
  <polygon points="30,2 58,28 30,70 2,28" fill="#1f4e79"/>
  <path d="M2 28 H58 M30 2 V70" fill="none" stroke="#f2efe6" stroke-width="1.6"/>
"""),
}


def designs():
    """What lies on the shelf: bare stitch lists with tags, and drawings."""
    folder = ROOT / "data" / "designs"
    lists = {
        "kites/delta-kite": ("Delta kite", "kite,sky", shape(kite(80, 94, 0.40, "Deep tide", "Sky", "Chalk"))),
        "kites/ember-kite": ("Ember kite", "kite,sky", shape(kite(60, 72, 0.42, "Rust", "Ember", "Chalk"))),
        "kites/box-kite": ("Box kite", "kite,sky", box_kite()),
        "kites/tail-of-bows": ("Tail of bows", "kite,tail", shape(tail("Rust", "Ember", 104, 10, 1.4, 4))),
        "shore/lifebuoy": ("Lifebuoy", "sea,rope", buoy()),
        "shore/samphire": ("Samphire sprig", "plant,corner", samphire()),
        "shore/rope": ("Rope", "sea,border", rope_line()),
        "shore/star": ("Star", "sky", star()),
    }
    for path, (name, tags_, content) in lists.items():
        target = folder / (path + ".stitch.csv")
        target.parent.mkdir(parents=True, exist_ok=True)
        text = stitched(name, content).split("\n", 1)
        target.write_text(text[0] + f"\n# tags,{tags_}\n" + text[1], encoding="utf-8")
    for name, (w, h, body) in DRAWINGS.items():
        (folder / "drawings").mkdir(parents=True, exist_ok=True)
        (folder / "drawings" / (name + ".svg")).write_text(
            SVG_HEAD.format(w=w, h=h) + body + "</svg>\n", encoding="utf-8")


def mending():
    """A borrowed kite's patch that goes wrong in every way that Weigh knows: a kite shrunk with its
    stitches kept, a lifebuoy and a star piled on another, a seam, a thick pocket and a button."""
    folder = ROOT / "data" / "demo" / "mending-patch"
    (folder / "designs").mkdir(parents=True, exist_ok=True)
    sources = {"delta-kite": "kites", "ember-kite": "kites", "lifebuoy": "shore", "star": "shore"}
    for name, sort in sources.items():
        text = (ROOT / "data" / "designs" / sort / f"{name}.stitch.csv").read_text(encoding="utf-8")
        (folder / "designs" / f"{name}.stitch.csv").write_text(text, encoding="utf-8")
    member = "designs/{}.stitch.csv".format
    job = {
        "rapt_job": 1, "name": "Mending patch",
        "brief": {"item": "patch for a borrowed kite bag", "fabric": "cotton",
                  "hoops": ["field-180x130"], "machine": "six-needle", "quantity": 1},
        "cloth": {"width_mm": 240, "height_mm": 160, "color": "#c9d6d8",
                  "thick_zones": [{"x": 84, "y": 44, "radius_mm": 16, "limit_factor": 0.7}],
                  "forbidden_zones": [{"x": -93, "y": 55, "radius_mm": 6, "name": "the button"}],
                  "guides": [{"name": "pocket seam", "seam": True,
                              "points": [[-118, 44], [-40, 48], [20, 70]]}]},
        "pieces": [
            {"id": "small", "name": "Small delta kite", "design": member("delta-kite"),
             "pose": {"x": -66, "y": -22, "rotation_deg": -8, "scale": [0.5, 0.5]},
             "keep": "stitches"},
            {"id": "ember", "name": "Ember kite", "design": member("ember-kite"),
             "pose": {"x": 30, "y": -4, "rotation_deg": 12}},
            {"id": "buoy", "name": "Lifebuoy", "design": member("lifebuoy"),
             "pose": {"x": 52, "y": 8}},
            {"id": "star", "name": "Star", "design": member("star"),
             "pose": {"x": -10, "y": -50, "rotation_deg": 10, "scale": [1.5, 1.5]}},
            {"id": "badge", "name": "Star on the pocket", "design": member("star"),
             "pose": {"x": -84, "y": 48, "scale": [0.8, 0.8]}},
        ]}
    (folder / "job.json").write_text(compact(job) + "\n", encoding="utf-8")


if __name__ == "__main__":
    banner()
    windsock()
    tags()
    title()
    collar()
    name_tags()
    cotton()
    designs()
    mending()
