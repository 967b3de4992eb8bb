"""Makes the demo jobs of the invented Tallow Creek workshop anew: python demo (with src on the path)."""

from __future__ import annotations

import hashlib
import json
from dataclasses import replace

from common import HERE
from further import more_parts
from tallow_creek import make, parts

from urial.job import edit, origin
from urial.job.file import Document, save
from urial.job.origin import Origin

GUESSED = (
    "vehicle.front_rating_kg",
    "vehicle.rear_rating_kg",
    "vehicle.gross_rating_kg",
    "vehicle.tongue_rating_kg",
    "duty.tongue_mass_kg",
    "duty.middle_height_mm",
)
"""What the first idea has not looked up yet."""


def measured(document: Document, guessed: tuple[str, ...] = ()) -> Document:
    """Everything measured by the workshop on a day in September, or typed off a plate."""
    job = edit.put(document.job, "survey.by", "Tallow Creek")
    for how, branches in (
        ("measured", ("vehicle", "survey", "weighings")),
        ("typed", ("duty", "duties", "deck", "running")),
    ):
        mine = [p for p in origin.facts(job) if p.split(".")[0] in branches and p not in guessed]
        job = origin.mark(job, mine, Origin(how=how, by="Tallow Creek", on="2026-09-18"))
    return replace(document, job=origin.mark(job, guessed, None))


def main() -> None:
    index = []
    made = make()
    surveys = {file: document for file, _, _, document in made}
    for file, title, about, document in (*made[:3], *parts(surveys), *more_parts(surveys), *made[3:]):
        edit.all_specs(document.job)
        ready = measured(document, GUESSED if file == "first-idea.urial" else ())
        own = hashlib.sha256(f"Tallow Creek: {file}".encode()).hexdigest()[:32]
        save(HERE / file, replace(ready, job=ready.job.model_copy(update={"id": own})))
        index.append({"file": file, "title": title, "about": about})
    (HERE / "index.json").write_text(json.dumps(index, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
