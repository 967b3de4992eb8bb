"""The ``urial`` command: what is asked is read here and done by :mod:`urial.commands`."""

from __future__ import annotations

import os
import sys

from urial.arguments import BAD, Refused, a_path, parser
from urial.commands import COMMANDS, window

TYPE_CHECKING = False
if TYPE_CHECKING:
    from collections.abc import Sequence


def _run(argv: Sequence[str]) -> int:
    if not argv or (argv[0] not in COMMANDS and not argv[0].startswith("-")):
        if len(argv) > 1:
            raise Refused(f"“{argv[0]}” is not a command; the commands are {', '.join(COMMANDS)}.")
        if argv and not argv[0].endswith(".urial") and not os.path.exists(argv[0]):
            raise Refused(
                f"“{argv[0]}” is neither a command nor a job file; the commands are {', '.join(COMMANDS)}."
            )
        return window(a_path(argv[0]) if argv else None)
    args = parser().parse_args(argv)
    if args.version:
        from urial import __version__

        print(f"urial {__version__}")
        return 0
    return COMMANDS[args.command](args) if args.command else window(None)


def main(argv: Sequence[str] | None = None) -> int:
    """Run a command; every failure is one sentence on stderr and an entry in the log."""
    try:
        code = _run(list(sys.argv[1:] if argv is None else argv))
        sys.stdout.flush()
        return code
    except Refused as error:
        print(str(error), file=sys.stderr)
        return BAD
    except BrokenPipeError:
        sys.stderr.close()
        return 0
    except KeyboardInterrupt:
        return 130
    except Exception:
        from urial.journal import start_log, state_dir

        start_log().exception("unexpected")
        print(
            "Something went wrong inside Urial; nothing was changed. The details are in "
            f"{state_dir() / 'urial.log'}.",
            file=sys.stderr,
        )
        return BAD


if __name__ == "__main__":
    sys.exit(main())
