"""What can go wrong, said so that the reader knows the mend."""

from typing import Any


class CordwainerError(Exception):
    """Base of every error the program raises on purpose; its text is fit for a machinist."""

    def __reduce__(self) -> tuple[Any, ...]:
        """Sent to another process whole, however it is made."""
        return _again, (type(self), str(self)), self.__dict__


class InputError(CordwainerError, ValueError):
    """A value that cannot be used.

    `field` is the path to it (``holes[0].depth``), `problem` names the value and the mend.
    """

    def __init__(self, field: str, problem: str) -> None:
        self.field = field
        self.problem = problem
        super().__init__(f"{field}: {problem}" if field else problem)

    def inside(self, prefix: str) -> "InputError":
        """The same error seen from one level further out."""
        if not self.field:
            return InputError(prefix, self.problem)
        joint = "" if self.field.startswith("[") else "."
        return InputError(f"{prefix}{joint}{self.field}", self.problem)


class OutOfRangeError(CordwainerError):
    """A formula or table asked for a value outside the range its source covers."""


class BeyondTravelError(CordwainerError):
    """A depth the machine's scale cannot reach; `missing_mm` is how far it falls short."""

    def __init__(self, message: str, missing_mm: float) -> None:
        self.missing_mm = missing_mm
        super().__init__(message)


class StoppedError(CordwainerError):
    """Work that nobody waits for any more ended early."""


def _again(kind: type[CordwainerError], words: str) -> CordwainerError:
    return kind.__new__(kind, words)
