#!/usr/bin/env python3
"""Writes the demo workshop's open files from a seeded model. Run by hand; its output is committed.

The model, all of it invented: each pack has a mean health (normal, by kind), its units scatter around it; resistance
grows with lost health and scatters log-normally; self-discharge is log-normal with three in a hundred leaking far more;
a few units are dead. Logs are a constant-current charge with a tail, a rest and a constant-current discharge over a
simple OCV curve minus current times resistance. Nothing here is anybody's data.
"""
import datetime
import math
import os
import random

HERE = os.path.dirname(os.path.abspath(__file__))
RND = random.Random(20261114)
ALPHABET = "0123456789ABCDEFGHJKMNPRSTVWXYZ"


def code(roll, number):
    body = f"{roll}{number:04d}"
    total = sum(ALPHABET.index(c) * (i + 2) for i, c in enumerate(body))
    return f"{roll}-{number:04d}-{ALPHABET[(31 - total % 31) % 31]}"


MODELS = {  # rated Ah, new DC ohm, chemistry, cells
    "H26": (2.60, 0.042, "nmc", 1), "H30": (3.00, 0.046, "nmc", 1), "T20P": (2.00, 0.024, "nmc", 1),
    "F32": (3.20, 0.018, "lfp", 1), "G65M": (6.50, 0.016, "nimh", 6), "D40": (4.00, 0.007, "nicd", 1)}
STORE_V = {"nmc": 3.640, "lfp": 3.285, "nimh": 1.290, "nicd": 1.280}
LEAK_MONTH = {"nmc": 0.010, "lfp": 0.012, "nimh": 0.16, "nicd": 0.12}
ROLL = {"nmc": "K4", "lfp": "F2", "nimh": "G3", "nicd": "D5"}

KINDS = {  # lot, source, chemistry, S, P, cells per unit, format, claimed Ah, claimed V, mean health
    "MOW": ("municipal robot mowers", "nmc", 7, 4, 1, "18650", 10.4, 25.9, 0.83),
    "REP": ("hill radio repeaters", "lfp", 4, 6, 1, "26650", 19.2, 12.8, 0.86),
    "LAN": ("trail lanterns", "nmc", 1, 4, 1, "18650", 12.0, 3.7, 0.80),
    "EXS": ("exit-light sticks", "nicd", 3, 1, 1, "D", 4.0, 3.6, 0.78),
    "BUO": ("weather-buoy modules", "nimh", 14, 1, 6, "", 6.5, 100.8, 0.82)}

lots, packs, units, readings, builds = [], [], [], [], []
counter = {roll: 0 for roll in ROLL.values()}
tray_fill = {}
unit_data = {}


def home(chemistry):
    prefix = {"nmc": "S", "lfp": "F", "nimh": "M", "nicd": "C"}[chemistry]
    wells = 14 if chemistry == "nimh" else 40
    n = tray_fill.get(prefix, 0)
    tray_fill[prefix] = n + 1
    return f"{prefix}{n // wells + 1}", n % wells + 1


def add_reading(**kw):
    row = dict(unit="", pack="", group="", quantity="", value="", uom="", condition="rest", instrument="", taken="", temperature="", days="")
    row.update(kw)
    readings.append(row)


def open_units(kind, label, model, groups, per_group):
    rated, fresh, chemistry, cells = MODELS[model]
    pack_health = min(0.97, RND.gauss(KINDS[kind][8], 0.045))
    for g in range(1, groups + 1):
        for place in range(1, per_group + 1):
            roll = ROLL[chemistry]
            counter[roll] += 1
            c = code(roll, counter[roll])
            tray, well = home(chemistry)
            dead = RND.random() < 0.02
            health = max(0.30, min(1.01, RND.gauss(pack_health, 0.045)))
            if RND.random() < 0.05:
                health -= 0.18
            capacity = rated * health
            ohm = fresh * (1.05 + 1.7 * (1 - health)) * math.exp(RND.gauss(0, 0.08))
            leak = LEAK_MONTH[chemistry] * rated / 30 * math.exp(RND.gauss(0, 0.35))
            if RND.random() < 0.03:
                leak *= RND.uniform(8, 22)
            volts = (STORE_V[chemistry] + RND.gauss(0, 0.006)) * cells
            if dead:
                volts = RND.uniform(0.3, 2.3) * cells if chemistry != "nimh" else RND.uniform(0.5, 5.4)
            finding = ""
            x = RND.random()
            if x < 0.008:
                finding = "leaking"
            elif x < 0.03:
                finding = RND.choice(["rusted", "dented", "torn-sleeve"])
            units.append((c, label, g, place, model, tray, well, finding))
            unit_data[c] = dict(model=model, capacity=capacity, ohm=ohm, leak=leak, volts=volts, dead=dead, finding=finding)
            day = f"2026-11-{RND.randint(2, 11):02d}T{RND.randint(8, 16):02d}:{RND.randint(0, 59):02d}:00Z"
            add_reading(unit=c, quantity="voltage", value=f"{volts:.3f}", uom="V", instrument="bench meter", taken=day, temperature="19.5")
            if dead:
                continue
            if RND.random() < 0.88:
                unit_data[c]["has_ohm"] = True
                add_reading(unit=c, quantity="dc-resistance", value=f"{ohm * 1000:.1f}", uom="mOhm", instrument="bench tester", taken=day, temperature="20")
            unit_data[c]["tested"] = RND.random() < 0.86
            if unit_data[c]["tested"] and RND.random() < 0.72:
                add_reading(unit=c, quantity="self-discharge", value=f"{leak * 1000:.3f}", uom="mAh/day", condition="stored", instrument="bench meter", taken=day, days="14")


def add_pack(lot, n, kind, stage, claimed_ah=None, model=None, findings="", shelf=""):
    source, chemistry, s, p, cells, fmt, ah, v, _ = KINDS[kind]
    label = f"{lot} · pack {n}"
    packs.append((lot, label, chemistry, s, p, cells, fmt, model or "", claimed_ah or ah, v, stage, findings, shelf))
    return label


def group_round(label, kind, volts, terminal_off=0.0, condition="rest", skip=()):
    day = "2026-11-13T13:55:00Z"
    for g, v in enumerate(volts, 1):
        if g not in skip:
            add_reading(pack=label, group=g, quantity="voltage", value=f"{v:.3f}", uom="V", condition=condition, instrument="bench meter", taken=day)
    if not skip:
        add_reading(pack=label, group=0, quantity="voltage", value=f"{sum(volts) + terminal_off:.2f}", uom="V", condition=condition, instrument="bench meter", taken=day)


def lot(label, kind, received, note="", cost=""):
    lots.append((label, KINDS[kind][0], received, note, cost))


lot("MOW-05", "MOW", "2026-10-05", "depot clear-out", cost=70)
for n in range(1, 6):
    open_units("MOW", add_pack("MOW-05", n, "MOW", "opened", model="H26"), "H26", 7, 4)
lot("MOW-06", "MOW", "2026-10-21", "depot clear-out, second half", cost=70)
for n in range(1, 4):
    open_units("MOW", add_pack("MOW-06", n, "MOW", "opened", model="H26"), "H26", 7, 4)
for n in range(4, 6):
    open_units("MOW", add_pack("MOW-06", n, "MOW", "opened", model="T20P"), "T20P", 7, 4)
lot("REP-02", "REP", "2026-10-26", "taken down from the ridge", cost=24)
for n in range(1, 4):
    open_units("REP", add_pack("REP-02", n, "REP", "opened", model="F32"), "F32", 4, 6)
lot("LAN-03", "LAN", "2026-10-28", "lanterns from the lower path", cost=10)
for n in range(1, 11):
    open_units("LAN", add_pack("LAN-03", n, "LAN", "opened", model="H30"), "H30", 1, 4)
lot("EXS-01", "EXS", "2026-10-30", "sticks from three huts")
for n in range(1, 11):
    open_units("EXS", add_pack("EXS-01", n, "EXS", "opened", model="D40"), "D40", 3, 1)
lot("BUO-01", "BUO", "2026-11-02", "buoy two, lifted for the winter", cost=90)
for n in range(1, 3):
    open_units("BUO", add_pack("BUO-01", n, "BUO", "opened", model="G65M"), "G65M", 14, 1)

lot("MOW-07", "MOW", "2026-11-12", "three dead mowers, one runs for ten minutes")
group_round(add_pack("MOW-07", 1, "MOW", "triage", shelf="Q1"), "MOW", [3.852, 3.849, 3.855, 3.851, 3.853, 3.848, 3.850], 0.01)
group_round(add_pack("MOW-07", 2, "MOW", "triage", shelf="Q1"), "MOW", [3.702, 3.699, 3.705, 3.701, 3.512, 3.700, 3.698], -0.01)
label = add_pack("MOW-07", 3, "MOW", "triage", shelf="Q2")
group_round(label, "MOW", [3.842, 3.846, 1.838, 3.841, 3.858, 3.845, 3.843], -0.003)
group_round(label, "MOW", [4.188, 4.191, 3.131, 4.187, 4.203, 4.190, 4.189], 0, "end-of-charge")
add_pack("MOW-07", 4, "MOW", "open", model="H26", shelf="Q2")
lot("REP-03", "REP", "2026-11-13", "one repeater, works then dies")
group_round(add_pack("REP-03", 1, "REP", "triage", shelf="Q3"), "REP", [3.291, 3.288, 3.290, 3.252], 0.0)
lot("LAN-04", "LAN", "2026-11-13", "label claims look wrong")
add_pack("LAN-04", 1, "LAN", "receive", claimed_ah=39.6)
add_pack("LAN-04", 2, "LAN", "receive", findings="swollen", shelf="box 1")
lot("BUO-02", "BUO", "2026-11-14", "buoy three")
add_pack("BUO-02", 1, "BUO", "receive")

# Capacities: most typed, 24 from logs, three logs left to be brought in by hand.
tested = [c for c, d in unit_data.items() if d.get("tested")]
by_model = {}
for c in tested:
    by_model.setdefault(unit_data[c]["model"], []).append(c)
logged = by_model["H26"][:12] + by_model["F32"][:4] + by_model["H30"][:3] + by_model["G65M"][:3] + by_model["D40"][:2]
by_hand = [c for c, d in unit_data.items() if d["model"] == "H26" and not d.get("tested") and not d["dead"]][:3]
for c in tested:
    if c not in logged:
        d = unit_data[c]
        add_reading(unit=c, quantity="capacity", value=f"{d['capacity']:.3f}", uom="Ah", instrument="bench tester", taken="2026-11-10T17:00:00Z", temperature="20")


def curve(name):
    with open(os.path.join(HERE, "..", "data", "ocv", name + ".csv"), encoding="utf-8") as f:
        return [tuple(map(float, line.split(","))) for line in f.read().split("\n")[1:] if line]


CURVES = {"nmc": curve("nmc"), "lfp": curve("lfp"), "nimh": curve("nimh"), "nicd": curve("nicd")}
CUTOFF = {"nmc": 3.0, "lfp": 2.5, "nimh": 1.0, "nicd": 1.0}
TOP = {"nmc": 4.2, "lfp": 3.65, "nimh": 1.48, "nicd": 1.47}


def ocv(chemistry, soc):
    points = CURVES[chemistry]
    if soc <= 0:  # below empty the voltage falls away
        return points[0][1] + soc * 8
    for (x0, y0), (x1, y1) in zip(points, points[1:]):
        if soc * 100 <= x1:
            return y0 + (y1 - y0) * (soc * 100 - x0) / (x1 - x0)
    return points[-1][1] + (soc - 1) * 4


def make_log(c, style):
    d = unit_data[c]
    rated, _, chemistry, cells = MODELS[d["model"]]
    amps_in, amps_out = 0.4 * rated, 0.25 * rated
    t, soc, step = 0.0, 0.03, 60.0
    ohm = d["ohm"] / cells * 1.6
    rows = []

    def note(i):
        v = (ocv(chemistry, soc) + i * ohm) * cells + RND.gauss(0, 0.0008)
        rows.append((t, v, i + (RND.gauss(0, 0.0006) if i else RND.gauss(0, 0.0008)), 20 + 3 * abs(i) / rated + RND.gauss(0, 0.1)))

    while ocv(chemistry, soc) + amps_in * ohm < TOP[chemistry] and soc < 1.0:
        note(amps_in)
        t, soc = t + step, soc + amps_in * step / 3600 / d["capacity"] * 0.995
    i = amps_in
    while i > 0.06 * rated and soc < 1.0 and chemistry in ("nmc", "lfp"):
        note(i)
        soc += i * step / 3600 / d["capacity"] * 0.995
        t += step
        i *= 0.93
    soc = 1.0
    for _ in range(30):
        note(0.0)
        t += step
    while ocv(chemistry, soc) - amps_out * ohm > CUTOFF[chemistry]:
        note(-amps_out)
        t, soc = t + step, soc - amps_out * step / 3600 / d["capacity"]
    note(-amps_out)
    for _ in range(10):
        t += step
        soc += 0.0
        note(0.0)
    out = []
    if style == 1:
        out.append("Test Time / s;Voltage / V;Current / A;Temperature / degC")
        out += [";".join(f"{x:.{n}f}".replace(".", ",") for x, n in zip(r, (0, 4, 4, 1))) for r in rows]
        return "\ufeff" + "\r\n".join(out) + "\r\n"
    if style == 2:
        out.append("Time (s),Cycle,Voltage (mV),Current (mA)")
        out += [f"{r[0]:.0f},1,{r[1] * 1000:.1f},{r[2] * 1000:.1f}" for r in rows]
        return "\n".join(out) + "\n"
    out.append("Test Time / s,Voltage / V,Current / A,Temperature / degC")
    out += [f"{r[0]:.0f},{r[1]:.4f},{r[2]:.4f},{r[3]:.1f}" for r in rows]
    return "\n".join(out) + "\n"


# One build in progress: 4S4P of H26, dealt out, six units taken.
stock = [c for c in by_model["H26"] if c not in logged and not unit_data[c]["finding"] and unit_data[c]["capacity"] > 0.8 * 2.6 and unit_data[c]["ohm"] < 0.066
         and unit_data[c].get("has_ohm") and unit_data[c]["leak"] < 0.0025]
chosen = sorted(stock, key=lambda c: -unit_data[c]["capacity"])[20:36]
for i, c in enumerate(chosen):
    lap, at = divmod(i, 4)
    builds.append(("B-014", c, (at if lap % 2 == 0 else 3 - at) + 1, "yes" if i < 6 else ""))


# A tray at rest: read again five times with a finer meter; a cool weekend in between; the leakiest of the model are among them.
REST = random.Random(26)
resting = [c for c in by_model["H26"] if c not in logged and c not in chosen and not unit_data[c]["finding"] and not unit_data[c]["dead"]]
resting = resting[-22:] + sorted(resting[:-22], key=lambda c: -unit_data[c]["leak"])[:2]
for day, room in ((13, 0.0), (16, -0.3), (19, 0.1), (23, -0.2), (26, 0.05)):
    for n, c in enumerate(resting):
        first = next(r for r in readings if r["unit"] == c and r["quantity"] == "voltage")
        began = datetime.datetime.fromisoformat(first["taken"].replace("Z", "+00:00"))
        at = datetime.datetime(2026, 11, day, 9, n, tzinfo=datetime.timezone.utc)
        days = (at - began).total_seconds() / 86400
        d = unit_data[c]
        fall = d["leak"] / d["capacity"] * 500 * days  # mV: 5 mV for 1 % of charge near 3.64 V
        add_reading(unit=c, quantity="voltage", value=f"{d['volts'] + (room - fall + REST.gauss(0, 0.08)) / 1000:.4f}", uom="V",
                    instrument="shelf meter", taken=at.strftime("%Y-%m-%dT%H:%M:%SZ"))


def write(name, header, rows):
    def cell(x):
        x = str(x)
        return '"' + x + '"' if "," in x else x
    with open(os.path.join(HERE, name), "w", encoding="utf-8", newline="") as f:
        f.write(header + "\n")
        for row in rows:
            f.write(",".join(cell(x) for x in row) + "\n")


write("instruments.csv", "Name,Kind,Channels", [("Bench charger", "charger", 4)])
write("lots.csv", "Lot,Source,Received,Note,Cost", lots)
write("packs.csv", "Lot,Pack,Chemistry,Series,Parallel,Cells per Unit,Format,Model,Claimed Capacity / Ah,Claimed Voltage / V,Stage,Findings,Shelf,Gate Passed",
      [p + (("2026-10-06" if 100.8 in p and p[10] == "opened" else ""),) for p in packs])
write("units.csv", "Unit ID,Pack,Group,Place,Model,Tray,Well,Findings", units)
write("readings.csv", "Unit ID,Pack,Group,Quantity,Value,Unit,Condition,Instrument,Taken,Temperature / degC,Days since Charge",
      [(r["unit"], r["pack"], r["group"], r["quantity"], r["value"], r["uom"], r["condition"], r["instrument"], r["taken"], r["temperature"], r["days"]) for r in readings])
write("builds.csv", "Build,Unit ID,Group,Taken", sorted(builds, key=lambda b: b[2]))
# A repeater that ran on twelve nickel cells; its welder stops at 0.15 mm.
write("designs.csv", "Build,Figure,Value", [("B-014", figure, value) for figure, value in (
    ("off-v", 12.0), ("nominal-v", 14.4), ("bears-v", 18.0), ("continuous-a", 12), ("peak-a", 16), ("load-w", 60), ("run-s", 5400),
    ("charger-v", 18.6), ("charger-kind", "minus-dv"), ("old-chemistry", "nimh"), ("old-series", 12), ("case-width-m", 0.104), ("case-height-m", 0.086),
    ("strip-width-m", 0.008), ("strip-thickness-m", 0.00015), ("strip-material", "nickel"), ("link-layers", 1), ("end-layers", 1),
    ("welder-thickest-m", 0.00015), ("board", "4S, 20 A, balances at 60 mA, wakes on a charger"), ("new-charger-v", 16.8), ("board-kind", "board"), ("joining", "weld"), ("fuse-a", 20), ("wire-mm2", 2.5), ("moves-over", "10 k sensor, 20 A fuse, plug"),
    ("charger-a", 2), ("balance-a", 0.06), ("standby-a", 0.00007))]
      + [(build, "purpose", purpose) for build, purpose in (("B-015", "mower pack"), ("B-016", "hill repeater"), ("B-017", "trail lantern"), ("B-018", "mower pack"))])
# What is wanted of the stock next, first come first; the last is short.
write("wanted.csv", "Build,Series,Parallel,Chemistry,Priority,Duty,Usable Capacity / Ah,Model", [
    ("B-015", 7, 4, "nmc", 1, "drive", 9.0, "H26"), ("B-016", 4, 6, "nmc", 2, "store", 12.6, ""),
    ("B-017", 1, 4, "nmc", 3, "light", 6.8, ""), ("B-018", 7, 4, "nmc", 4, "store", 9.3, "H26")])
# A log is taken before its unit rests for the leak: 15 days before the voltage that was read after it.
read_at = {r["unit"]: r["taken"] for r in readings if r["quantity"] == "voltage" and r["unit"]}
write("logs.csv", "File,Taken", [(c + ".csv", (datetime.datetime.fromisoformat(read_at[c].replace("Z", "+00:00"))
      - datetime.timedelta(days=15)).strftime("%Y-%m-%dT%H:%M:%SZ")) for c in logged])
for folder, codes in (("logs", logged), ("logs-to-import", by_hand)):
    os.makedirs(os.path.join(HERE, folder), exist_ok=True)
    for old in os.listdir(os.path.join(HERE, folder)):
        os.remove(os.path.join(HERE, folder, old))
    for n, c in enumerate(codes):
        with open(os.path.join(HERE, folder, c + ".csv"), "w", encoding="utf-8", newline="") as f:
            f.write(make_log(c, n % 3))
print(len(packs), "packs", len(units), "units", len(readings), "readings", len(logged), "logs")
