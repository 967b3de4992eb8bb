"""Messages to a person: one line, no control characters, no end in sight cut short."""

from __future__ import annotations

MOST = 700


def one_line(text: str, most: int = MOST) -> str:
    """The text on one line: control characters and line ends as spaces, halves of characters as question
    marks.
    """
    clean = "".join(
        "?"
        if 0xD800 <= ord(c) <= 0xDFFF
        else " "
        if ord(c) < 32 or 0x7F <= ord(c) <= 0x9F or c in "\u2028\u2029"
        else c
        for c in text[: 4 * most]
    )
    clean = " ".join(part for part in clean.split(" ") if part)
    return clean if len(clean) <= most else clean[: most - 1] + "…"


class Complaint(ValueError):
    """Base of every refusal that is shown to somebody: its message is one line, whatever was quoted in it."""

    def __init__(self, words: object = "") -> None:
        super().__init__(one_line(str(words)))
