"""What every command does with a job file: open it, judge it, save it, print what it found.  It imports what
it uses when it is used, so that a command starts at once.
"""

from __future__ import annotations

import sys

from urial.arguments import Refused

TYPE_CHECKING = False
if TYPE_CHECKING:
    from pathlib import Path
    from typing import Any

    from urial.job.file import Document
    from urial.job.model import Job
    from urial.prove.verdict import Verdict


def print_json(value: Any) -> None:
    """A value as JSON, as it is."""
    import json

    print(json.dumps(value, indent=1, ensure_ascii=False, allow_nan=False))


def load(path: Path) -> Document:
    """A document; Refused in a sentence."""
    import urial.families  # noqa: F401  (families make their parameters known to the document)
    from urial.job import file

    try:
        return file.load(path)
    except file.FileError as error:
        raise Refused(str(error)) from None


def prove(job: Job) -> Verdict:
    """A verdict; Refused where there is no part."""
    from urial.assembly.model import BuildError
    from urial.job.speech import said
    from urial.prove import verdict

    try:
        return verdict.prove(job)
    except BuildError as error:
        raise Refused(said(job, str(error))) from None


def opened_part(path: Path) -> tuple[Document, Verdict]:
    """The document and its verdict; Refused where there is nothing to make."""
    document = load(path)
    if not document.job.has_part:
        raise Refused("This is a survey without a part: there is nothing to make yet.")
    return document, prove(document.job)


def put(path: Path, document: Document, over: bool) -> None:
    """Save a job.  What lies there already is kept beside it where it is a job, and else stays, unless
    ``over``; Refused in a sentence, or FileError.
    """
    import os

    from urial.job.file import FileError, os_words, save, to_bytes
    from urial.job.file import load as read

    if path.exists() and not over:
        try:
            before = read(path)
        except FileError:
            raise Refused(
                f"{path.name} is there already and is no job; give another name, or say --over."
            ) from None
        if before.job != document.job:
            aside = path.with_name(path.name + "~")
            to_bytes(document)  # what cannot be saved moves nothing
            try:
                os.replace(path, aside)
            except OSError as error:
                raise Refused(f"{path.name} cannot be kept as {aside.name}: {os_words(error)}.") from None
            print(f"The job that was in {path.name} is kept as {aside.name}.", file=sys.stderr)
    save(path, document)
