"""A window of the clip that is shown again and again, its end brought into its beginning."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from ..rows.example import Example, Suggestion
from ..rows.model import VALUE, Part

OVER = 0.5  # seconds, over which a new one brings its end into its beginning


class Loop(Part):
    """Stored frames of a window, shown again and again without a seam: who lives beyond its end goes on at its
    beginning, or all of it is blended."""

    label = "Loop"
    help = (
        "A window of the clip again and again: who lives beyond its end goes on at its beginning, or its end is "
        "blended into it."
    )
    help_of_all = "A window of the clip again and again, of all emitters that have no loop of their own."
    band, stage = "shaping", "emitter"
    example = Example(fields={"first": 6, "last": 17, "way": "blended", "over": 0.2})

    muted: Annotated[bool, VALUE] = False
    first: Annotated[int, VALUE] = Field(
        default=0, ge=-1_000_000, le=1_000_000, description="The first frame of the window."
    )
    last: Annotated[int, VALUE] = Field(
        default=24, ge=-1_000_000, le=1_000_000, description="Its last frame: the first one comes after it."
    )
    way: Annotated[Literal["matched", "blended"], VALUE] = Field(
        default="matched",
        description="How the end becomes the beginning: each life is carried on, or one fades out while the other "
        "fades in.",
    )
    over: Annotated[float, VALUE] = Field(
        default=OVER,
        ge=0,
        le=1000,
        description="Seconds at its end over which it is blended, or over which who lives all through it glides back.",
    )

    @model_validator(mode="after")
    def _has_frames(self) -> Loop:
        if self.last <= self.first:
            raise ValueError("a loop has two frames at least: its last frame must come after its first")
        return self

    @classmethod
    def rows_key(cls) -> str:
        return "loop"

    @classmethod
    def suggestions(cls, clip: Any) -> tuple[Suggestion, Suggestion]:
        last = max(clip.first_frame + 1, (clip.first_frame + clip.last_frame) // 2)
        return (
            Suggestion("carry each life on", {"way": "matched", "last": last}),
            Suggestion("blend the end into the beginning", {"way": "blended", "last": last}),
        )

    @classmethod
    def adapted_to(cls, data: dict[str, Any], effect: Any, thing: Any) -> dict[str, Any]:
        """A new one is of the whole clip."""
        clip = effect.clip
        last = max(clip.last_frame, clip.first_frame + 1)
        over = min(OVER, clip.seconds(last) / 4)
        return {**data, "first": clip.first_frame, "last": last, "over": round(over, 4)}

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        clip = effect.clip
        if self.first < clip.first_frame or self.last > clip.last_frame:
            return (
                "last" if self.last > clip.last_frame else "first",
                "has frames that are not in the clip: it is of those that are",
                "Lengthen the clip, or take the whole clip.",
            )
        return None


def loop_of(effect: Any, emitter: Any) -> Loop | None:
    """Return the loop that an emitter's particles go round in: its own, else that of the whole effect, else None."""
    for loop in (emitter.loop, effect.loop):
        if loop is not None and not loop.muted:
            return loop
    return None
