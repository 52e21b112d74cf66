"""Air that dims what is far (`parts.finish.fog`): of light from d metres away exp(-density (d - begins)) is left (Beer and Lambert)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .columns import with_columns
from .layers import Layer
from .viewpoint import Viewpoint


@dataclass(frozen=True)
class Air:
    """density: 1/m; begins: metres from the camera; colour: linear light, what far things turn into."""

    density: float
    begins: float
    colour: tuple[float, float, float]

    def left(self, away: np.ndarray) -> np.ndarray:
        """Return how much of the light from so far away, metres, is left."""
        return np.exp(-self.density * np.maximum(away - self.begins, 0)).astype(np.float32)

    def before(self, picture: np.ndarray, nearest: np.ndarray) -> None:
        """Put the air before what stands in a picture, premultiplied, where its distances, metres, are known."""
        here = np.isfinite(nearest)
        left = self.left(nearest[here])[:, None]
        covers = picture[here][:, 3:]
        picture[here, :3] = picture[here][:, :3] * left + covers * (1 - left) * np.asarray(self.colour, np.float32)

    def dimmed(self, layer: Layer, viewpoint: Viewpoint) -> Layer:
        """Return particles with the air before them: of colour c with cover k, c x left + k x the air's colour x (1 - left)."""
        if layer.shown.surface is not None or layer.shown.volume is not None:
            return layer
        back = viewpoint.axes()[2]
        away = -((layer.positions().astype(np.float64) - np.asarray(viewpoint.position)) @ back)
        left = self.left(away)[:, None]
        shown = 1.0 if layer.shown.look.drawing["blend"] in ("screen", "multiply") else layer.column("cover")
        added = np.asarray(self.colour, np.float32) * (1 - left) * np.reshape(shown, (-1, 1))
        light, multiplies = layer.column("colour"), layer.shown.look.drawing["blend"] == "multiply"
        colour = 1 - (1 - light) * left if multiplies else light * left + added
        return with_columns(layer, {"colour": colour.astype(np.float32)})
