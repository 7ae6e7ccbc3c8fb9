"""A file from outside, read in a process of its own under limits of time and memory.

Reads the file on standard input; its kind, the unit of its numbers, whether what lies
under is kept, and as JSON how pictures are traced, are arguments.
Says how far it is, a share on each line, on the descriptor of its last argument.
Writes one line of JSON: what was found, or `{"refused": reason}`. Past its time it is ended by the system with SIGPROF,
which reaches it in the midst of a library's computation too.
"""

import json
import resource
import signal
import sys
from dataclasses import asdict

SECONDS, PICTURE = 3.0, 8.0  # of computing; a picture of as many pixels as are taken needs more
MEMORY = 512 << 20  # bytes of data


def main(kind: str, unit: str, under: str, asked: str, tell: str) -> None:
    """Read the art on standard input."""
    from jigger.core.art.found import AsTraced, found_art  # what it needs is not of the person's file
    from jigger.core.art.painted import ArtRefused
    from jigger.core.errors import JiggerError
    from jigger.core.progress import telling

    traced = AsTraced(**json.loads(asked))
    signal.signal(signal.SIGPROF, signal.SIG_DFL)
    signal.setitimer(signal.ITIMER_PROF, PICTURE if kind == "picture" else SECONDS)
    resource.setrlimit(resource.RLIMIT_DATA, (MEMORY, MEMORY))
    try:
        with open(int(tell), "w") as to, telling(lambda share: print(f"{share:.3f}", file=to, flush=True)):
            found = found_art(sys.stdin.buffer.read(), kind, unit, under == "under", traced)
        answer: dict[str, object] = asdict(found)
    except ArtRefused as error:
        answer = {"refused": str(error)}
    except MemoryError:
        answer = {"refused": "it needs more memory than Jigger gives to one file"}
    except (JiggerError, RecursionError):
        answer = {"refused": "it is too large or too deeply nested to be worked out"}
    signal.setitimer(signal.ITIMER_PROF, 0)
    sys.stdout.write(json.dumps(answer) + "\n")


if __name__ == "__main__":
    main(*sys.argv[1:6])
