#!/usr/bin/python3
"""What one further kind of reading can tell at all: a classifier that learned thousands of packs of the very shop that
it is asked about, its mix of faults and its physics, where the explanation engine knows neither.

    apt install python3-sklearn
    for s in 0 1 2 3; do benchmark_triage_unlike table $s 16000 20000000 > train-$s.txt
                         benchmark_triage_unlike table $s 1000 900000 > test-$s.txt; done
    triage_ceiling.py DIR
"""

import sys

import numpy as np
from sklearn.ensemble import HistGradientBoostingClassifier

HEAD = 8  # series, parallel, cells per unit, resolution, terminals, kind of the further reading, days, pack's own state


def packs_in(path):
    out = []
    with open(path, encoding="ascii") as file:
        for line in file:
            values = [float(x) for x in line.split()]
            series = int(values[0])
            rest, further, truth = np.split(np.array(values[HEAD:]), [series, 2 * series])
            out.append((values[:HEAD], rest, further, truth.astype(int)))
    return out


def shifted(values, by):
    out = np.roll(values, by)
    if by > 0:
        out[:by] = np.nan
    else:
        out[by:] = np.nan
    return out


def features(pack):
    """One row a group: where it lies among the others, in both readings, and how the others lie."""
    head, rest, further, _ = pack
    series, parallel, cells, resolution, terminals, kind, days, _ = head
    middles = np.median(rest), np.median(further)
    at_rest, after = (rest - middles[0]) / cells, (further - middles[1]) / cells
    apart = max(0.012, 2.5 * resolution / cells)
    lowest, highest = np.sort(at_rest), np.sort(after)
    rows = []
    for g in range(int(series)):
        others, others_after = np.delete(at_rest, g), np.delete(after, g)
        inner = [np.std(np.sort(abs(o))[: max(2, len(o) * 2 // 3)]) for o in (others, others_after)]
        rows.append(
            [series, parallel, cells, resolution, kind, days, terminals - rest.sum(), middles[0] / cells,
             middles[1] / cells, (middles[0] - middles[1]) / cells, at_rest[g], after[g], rest[g] / cells,
             further[g] / cells, after[g] - at_rest[g], np.median(abs(at_rest)), np.median(abs(after)), *inner,
             shifted(at_rest, 1)[g], shifted(at_rest, -1)[g], shifted(after, 1)[g], shifted(after, -1)[g],
             (abs(others) > apart).sum(), (abs(others_after) > apart).sum(), (others > apart).sum(),
             (others < -apart).sum(), (others_after > apart).sum(), (others_after < -apart).sum(),
             (at_rest < at_rest[g]).sum(), (after < after[g]).sum(), lowest[0], lowest[1], lowest[-1], lowest[-2],
             highest[0], highest[1], highest[-1], highest[-2], (rest < 2 * cells).sum()])
    return np.array(rows, float)


def with_the_others(first, rows):
    """Beside its own row, what the first round thought of it and of the others."""
    chances = first.predict_proba(rows)
    others = [np.delete(chances, g, 0) for g in range(len(rows))]
    return np.hstack([rows, [np.concatenate([chances[g], o.max(0), o.sum(0)]) for g, o in enumerate(others)]])


def of_the_pack(rows):
    return np.concatenate([rows[0][:10], rows.min(0)[10:], rows.max(0)[10:]])


def learned(rows, truth):
    model = HistGradientBoostingClassifier(max_iter=250, learning_rate=0.08, max_leaf_nodes=31, early_stopping=True)
    return model.fit(rows, truth)


def right_share(train, test):
    rows, asked = [features(p) for p in train], [features(p) for p in test]
    half = len(train) // 2
    first = learned(np.vstack(rows[:half]), np.concatenate([p[3] for p in train[:half]]))
    second = learned(
        np.vstack([with_the_others(first, r) for r in rows[half:]]), np.concatenate([p[3] for p in train[half:]])
    )
    states = learned(np.array([of_the_pack(r) for r in rows]), np.array([int(p[0][-1]) for p in train]))
    said = states.predict(np.array([of_the_pack(r) for r in asked]))
    right = 0
    for state, pack, r in zip(said, test, asked):
        right += state == int(pack[0][-1]) and (
            state != 0 or (second.predict(with_the_others(first, r)) == pack[3]).all()
        )
    return right / len(test)


def main():
    for shop in range(4):
        train, test = (packs_in(f"{sys.argv[1]}/{name}-{shop}.txt") for name in ("train", "test"))
        print(f"shop {shop}: {100 * right_share(train, test):.1f} % of {len(test)}, learned from {len(train)}", flush=True)


if __name__ == "__main__":
    main()
