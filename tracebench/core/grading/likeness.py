"""What two sittings have in common, in words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True, slots=True)
class Likeness:
    """`text` says what of two captures, or of two learners' answers, is one."""

    kind: Literal["same", "cropped", "scaled", "answers"]
    text: str

    def as_json(self) -> dict[str, str]:
        return {"kind": self.kind, "text": self.text}
