"""The search for a short strip in a process of its own, which can be ended at any moment.

Reads one line of JSON: ``{"high", "seconds", "seed", "items": [[points, count, angles]]}``; writes a line
``{"width", "placed": [[item, x, y, degrees]]}`` for everything it finds; whoever reads it sees whether that
is true.  The search is a compiled library's that knows no cancelling and cannot outlive its interpreter: so
it is ended with its process.
"""

from __future__ import annotations

import json
import sys
import threading

import spyrrow

LOOK_S = 0.05
WORKERS = 2


def main() -> int:
    """Search for as long as was asked."""
    asked = json.loads(sys.stdin.readline())
    items = [
        spyrrow.Item(str(n), [tuple(p) for p in points], count, angles)
        for n, (points, count, angles) in enumerate(asked["items"])
    ]
    queue = spyrrow.ProgressQueue()
    config = spyrrow.StripPackingConfig(
        total_computation_time=max(round(asked["seconds"]), 1), num_workers=WORKERS, seed=asked["seed"]
    )
    instance = spyrrow.StripPackingInstance("sheet", asked["high"], items)
    last: list[spyrrow.StripPackingSolution] = []
    run = threading.Thread(target=lambda: last.append(instance.solve(config, queue)))
    run.start()
    whole = (spyrrow.ReportType.ExplFeas, spyrrow.ReportType.CmprFeas, spyrrow.ReportType.Final)
    while True:
        run.join(LOOK_S)
        found = [s for kind, s in queue.drain() if kind in whole]
        for one in [*found, *last]:
            placed = [[int(i.id), *i.translation, i.rotation] for i in one.placed_items]
            print(json.dumps({"width": one.width, "placed": placed}), flush=True)
        if not run.is_alive():
            return 0


if __name__ == "__main__":
    sys.exit(main())
