"""Every error the core raises for input that a person can mend.

TraceBenchError
├── BadCapture        samples or time stamps that cannot be measured
├── BadOption         an option, limit, phase or mapping that makes no sense
├── UnknownCircuit    no such circuit
├── BadAnswer         a sitting's answer that does not fit its step
├── BadCase           a case of a whole diagnosis that makes no sense
└── BadFile           a file that cannot be understood (has line and column)

A message says what is wrong, where, and what was expected.
"""

from __future__ import annotations


class TraceBenchError(Exception):
    """Base of all errors a person can mend; its text is fit to be shown."""


class BadCapture(TraceBenchError):
    """Samples or time stamps cannot be measured."""


class BadOption(TraceBenchError):
    """An option, limit, told phase or lane mapping makes no sense."""


class UnknownCircuit(TraceBenchError):
    """There is no circuit of that code."""


class BadAnswer(TraceBenchError):
    """An answer does not fit the step it was given to."""


class BadCase(TraceBenchError):
    """A case of a whole diagnosis holds an unknown key, id or place, or parts that cannot go together."""


class BadFile(TraceBenchError):
    """A file cannot be understood; `line` and `column` count from 1, None when not tied to a place.

    `message` is what is said without the place.
    """

    def __init__(self, message: str, line: int | None = None, column: int | None = None) -> None:
        self.message = message
        self.line = line
        self.column = column
        place = ""
        if line is not None:
            place = f"line {line}" + (f", column {column}" if column is not None else "") + ": "
        super().__init__(place + message)
