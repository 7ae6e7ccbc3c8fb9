"""Processes at work for somebody who looks on: how far each is, and an end to it when they ask."""

import os
import subprocess
from collections.abc import Sequence
from dataclasses import dataclass, field
from threading import Lock, Thread


@dataclass(eq=False)
class _Job:
    process: "subprocess.Popen[bytes]"
    share: float = 0.0
    ended: bool = False


class Ended(Exception):
    """Somebody put an end to it."""


@dataclass(eq=False)
class Working:
    """By a token, which whoever asks has made up; one that begins puts an end to another of the same token."""

    _jobs: dict[str, _Job] = field(default_factory=dict)
    _lock: Lock = field(default_factory=Lock)

    def share(self, token: str) -> float | None:
        """How much is done, 0 to 1; None where nothing is at work."""
        with self._lock:
            job = self._jobs.get(token)
            return job.share if job else None

    def end(self, token: str) -> None:
        """Put an end to it, if it is at work."""
        with self._lock:
            job = self._jobs.get(token)
        if job:
            job.ended = True
            job.process.kill()

    def run(
        self, command: Sequence[str], data: bytes, seconds: float, env: dict[str, str], token: str = ""
    ) -> "subprocess.CompletedProcess[bytes]":
        """A process, given data; it says how far it is on the descriptor that its last argument names, a share on each
        line. Raises Ended, and TimeoutExpired after it was ended.
        """
        job = self._begun(command, env)
        if token:
            self.end(token)
            with self._lock:
                self._jobs[token] = job
        try:
            out, errors = job.process.communicate(data, seconds)
        except subprocess.TimeoutExpired:
            job.process.kill()
            job.process.communicate()
            raise
        finally:
            with self._lock:
                if self._jobs.get(token) is job:
                    del self._jobs[token]
        if job.ended:
            raise Ended
        return subprocess.CompletedProcess(command, job.process.returncode, out, errors)

    @staticmethod
    def _begun(command: Sequence[str], env: dict[str, str]) -> _Job:
        ours, theirs = os.pipe()
        try:
            process = subprocess.Popen(
                [*command, str(theirs)], stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE,
                pass_fds=(theirs,), env=env,
            )  # fmt: skip
        except BaseException:
            os.close(ours)
            raise
        finally:
            os.close(theirs)
        job = _Job(process)
        Thread(target=_listen, args=(ours, job), daemon=True).start()
        return job


def _listen(ours: int, job: _Job) -> None:
    with os.fdopen(ours) as lines:
        for line in lines:
            try:
                job.share = min(max(float(line), job.share), 1.0)
            except ValueError:
                continue
