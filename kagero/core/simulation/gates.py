"""Gates: whether an emitter's births are open, by cues of the whole emitter. Evaluated at the end of a frame, for the
births after it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..engine import prepare_reference
from ..plan import EmitterPlan, Plan


class Gates:
    """The gates of one emitter."""

    def __init__(self, plan: Plan, emitter: EmitterPlan):
        self.plan, self.emitter, self.gates = plan, emitter, emitter.gates
        self._program = prepare_reference(emitter.gate_values, np.float64) if emitter.gate_values is not None else None

    def held(
        self, before: np.ndarray, number: int, alive: int, cue_count: Callable[[tuple[str, str]], int]
    ) -> np.ndarray:
        """Return which gates' conditions are true, or have been where that lasts, (G,) bool, at the end of a frame.
        before: the same at the end of the previous frame."""
        if self._program is None:
            return np.zeros(0, bool)
        values = self._program.run(self.emitter.values, {"time": np.array([self.plan.seconds(number)])}, 1)
        open_gates = np.zeros(len(self.gates), bool)
        for k, gate in enumerate(self.gates):
            value = float(np.ravel(values[gate.uid])[0])
            count = {"alive": float(alive), "frame": float(number)}.get(gate.by)
            if count is None:
                count = float(cue_count(gate.watches)) if gate.watches is not None else -1.0
            true = count >= value if gate.above else count <= value
            open_gates[k] = true or (gate.lasting and bool(before[k]))
        return open_gates

    def open(self, held: np.ndarray) -> bool:
        """Return whether births are open."""
        return all(bool(on) == (gate.births == "begin") for gate, on in zip(self.gates, held, strict=True))
