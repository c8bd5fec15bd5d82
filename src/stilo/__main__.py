"""The command line as a process of its own."""

import os
import signal
import sys
from collections.abc import Callable

# Run as a module, the current folder stands before all others: what lies there is none of our packages.
if __name__ == "__main__" and sys.path and os.path.abspath(sys.path[0]) == os.getcwd():
    del sys.path[0]


def main() -> None:
    """Run the command line. An interrupt before it has begun, or once all is done, just ends the process."""
    is_usual = signal.getsignal(signal.SIGINT) is signal.default_int_handler
    if is_usual:
        signal.signal(signal.SIGINT, signal.SIG_DFL)
    run = _command()
    if is_usual:
        signal.signal(signal.SIGINT, signal.default_int_handler)
    try:
        run()
    finally:
        if is_usual:
            signal.signal(signal.SIGINT, signal.SIG_DFL)


def _command() -> Callable[[], None]:
    """What runs the command line; for a server, which an editor waits for, no more than what it needs."""
    if sys.argv[1:] == ["serve"]:
        from stilo.serve.start import serve

        return serve
    from stilo.cli.main import run

    return run


if __name__ == "__main__":
    main()
