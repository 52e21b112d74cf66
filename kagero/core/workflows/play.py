"""An effect ready to play: its plan, a run an emitter, and a look each, over a shared store of frames."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..effect import Effect
from ..engine import chosen
from ..formats import FrameParticles
from ..picture import Viewpoint
from ..plan import compile_effect
from ..simulation import EmitterRun, Frame, FrameStore, Look, Shown
from .asking import StageAnswers
from .stage import Content, nothing


def never() -> None:
    """Nobody asks for a stop."""


class Playing:
    """Raises EffectError or CircleProblem when the effect cannot be compiled. content: gives what files of props hold."""

    def __init__(self, effect: Effect, store: FrameStore | None = None, content: Content = nothing):
        self.effect, self.content = effect, content
        self.plan = compile_effect(effect)
        self.store = store if store is not None else FrameStore()
        self.engine = chosen()
        self.ahead = 0  # how many frames after the one asked for will be asked for next
        self.stage = StageAnswers(effect, self.plan, content)
        for values in (*(each.values for each in self.plan.emitters), *(each.values for each in self.plan.props)):
            values.stage = self.stage
        made: dict[str, EmitterRun] = {}
        while len(made) < len(self.plan.emitters):  # each after the one it is born from
            for each in self.plan.emitters:
                if each.uid not in made and (each.parent is None or each.parent in made):
                    made[each.uid] = EmitterRun(self.plan, each, self.store, self.engine, made.get(each.parent or ""))
        for each, run in ((each, made[each.uid]) for each in self.plan.emitters):
            lacking = [asked.prop for asked in each.values.props if self.stage.lacks(asked.prop)]
            if lacking:  # frames without a prop's file are not those with it
                run.address += f" without {sorted(lacking)}"
        self.runs = [made[each.uid] for each in self.plan.emitters]
        self.looks = [Look(emitter, self.engine) for emitter in self.plan.emitters]

    @property
    def viewpoint(self) -> Viewpoint:
        camera = self.effect.camera
        return Viewpoint(camera.position, camera.target, camera.field_of_view)

    def frames(self, number: int, stopped: Callable[[], None] = never) -> list[Frame]:
        """Return the stored frame of every emitter."""
        return [run.frame(number, stopped, self.ahead) for run in self.runs]

    def show(self, number: int, stopped: Callable[[], None] = never) -> list[Shown]:
        """Return every emitter's particles with their look at a frame."""
        seconds = self.plan.seconds(number)
        frames = self.frames(number, stopped)
        return [look.show(frame.population, seconds) for look, frame in zip(self.looks, frames, strict=True)]

    def visible(self, shown: list[Shown]) -> list[Shown]:
        """Return those of emitters that are not hidden."""
        return [part for part, emitter in zip(shown, self.effect.emitters, strict=True) if emitter.visible]

    def particles(self, number: int, stopped: Callable[[], None] = never) -> FrameParticles:
        """Return all particles of all emitters at a frame, as caches hold them."""
        shown = self.show(number, stopped)
        arrays = {
            "key": np.concatenate([part.population.key for part in shown]),
            "position": np.concatenate([part.positions() for part in shown]),
            "velocity": np.concatenate([part.velocities() for part in shown]),
            "age": np.concatenate([part.population.age for part in shown]),
            "lifespan": np.concatenate([part.population.lifespan for part in shown]),
            "size": np.concatenate([part.size for part in shown]),
            "color": np.concatenate([part.colour for part in shown]),
            "opacity": np.concatenate([part.opacity for part in shown]),
            "rotation": np.concatenate([part.population.carried["rotation"] for part in shown]),
            "emitter": np.concatenate([np.full(len(part), i, np.int32) for i, part in enumerate(shown)]),
        }
        return FrameParticles(number, self.plan.seconds(number), arrays)
