"""When an emitter's particles are shown: a curve from shown to simulated time."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from ..rows.example import Example, Suggestion
from ..rows.model import VALUE, Model, Part


class TimeKey(Model):
    """At a shown time a simulated one is seen, clip seconds each; and how it goes on from there to the next key."""

    at: float = Field(ge=-100_000, le=100_000, description="Shown time, clip seconds.")
    shows: float = Field(ge=-100_000, le=100_000, description="Simulated time that is seen then, clip seconds.")
    shape: Literal["linear", "smooth", "hold"] = "smooth"


class Retiming(Part):
    """Stored frames shown at other times: slower, faster, held, backwards. Before the first key and after the last it
    stands still, as curves do."""

    label = "Retiming"
    help = (
        "The same simulation at other times: slower, faster, held or backwards, by a curve from shown to simulated "
        "time."
    )
    help_of_all = "Particles, props, cameras and lights at other times: slower, faster, held or backwards."
    band, stage = "shaping", "emitter"
    example = Example(
        fields={
            "keys": [
                {"at": at, "shows": shows, "shape": "smooth"}
                for at, shows in ((0.0, 0.0), (0.8, 1.2), (1.3, 0.7), (2.0, 1.6))
            ]
        }
    )

    muted: Annotated[bool, VALUE] = False
    keys: Annotated[list[TimeKey], VALUE] = Field(
        default=[TimeKey(at=0.0, shows=0.0), TimeKey(at=1.0, shows=1.0)],
        min_length=1,
        max_length=64,
        description="In order of shown time.",
    )

    @model_validator(mode="after")
    def _in_order(self) -> Retiming:
        if any(b.at - a.at < 1e-6 for a, b in pairwise(self.keys)):
            raise ValueError("keys must be in order of shown time, each at least 0.000001 s after the one before")
        return self

    @classmethod
    def rows_key(cls) -> str:
        return "retiming"

    @classmethod
    def suggestions(cls, clip: Any) -> tuple[Suggestion, Suggestion]:
        seconds = max(clip.seconds(clip.last_frame), 0.04)
        slow, back = (
            {"keys": [{"at": at * seconds, "shows": shows * seconds, "shape": shape} for at, shows in keys]}
            for shape, keys in (
                ("linear", ((0, 0), (0.33, 0.33), (0.67, 0.5))),
                ("smooth", ((0, 0), (0.4, 0.6), (0.65, 0.35), (1, 0.8))),
            )
        )
        return Suggestion("slow in the middle", slow), Suggestion("back and forth", back)

    @classmethod
    def adapted_to(cls, data: dict[str, Any], effect: Any, thing: Any) -> dict[str, Any]:
        """A new one plays the middle third of the clip at half speed, so that it is seen what it does."""
        if "keys" in data and len(data["keys"]) != 2:
            return data
        clip = effect.clip
        third = round(clip.seconds(clip.first_frame + max(3, clip.last_frame - clip.first_frame) // 3), 6)
        end = clip.seconds(clip.last_frame)
        ways = (
            (0.0, 0.0),
            (third, third),
            (2 * third, 1.5 * third),
            (max(end, 2 * third + 1e-3), max(end, 2 * third + 1e-3) - third / 2),
        )
        return {**data, "keys": [{"at": at, "shows": shows, "shape": "linear"} for at, shows in ways]}

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        clip = effect.clip
        first, last = clip.seconds(clip.first_frame - clip.run_up), clip.seconds(clip.last_frame)
        shown = [key.shows for key in self.keys if 0 <= key.at <= last]
        if any(not first - 1e-6 <= time <= last + 1e-6 for time in shown):
            return (
                "keys",
                "asks for times that are not in the clip: it stands still at its edge",
                "Lengthen the clip or its run-up, or move its keys.",
            )
        return None
