"""Fog (`parts.finish.fog`): light from d metres away is multiplied by exp(-density (d - begins)) (Beer-Lambert law)."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from .columns import with_columns
from .layers import Layer
from .viewpoint import Viewpoint


@dataclass(frozen=True)
class Air:
    """density: 1/m. begins: metres from the camera. colour: linear light that distant things fade to."""

    density: float
    begins: float
    colour: tuple[float, float, float]

    def transmittance(self, away: np.ndarray) -> np.ndarray:
        """Return the share of light that remains from a distance, metres."""
        return np.exp(-self.density * np.maximum(away - self.begins, 0)).astype(np.float32)

    def before(self, picture: np.ndarray, nearest: np.ndarray, dark: np.ndarray | None = None) -> None:
        """Apply fog to a picture, premultiplied, at pixels with known distances, metres. dark: distance of things that
        only occlude; before them the fog gives no light."""
        here = np.isfinite(nearest)
        left = self.transmittance(nearest[here])[:, None]
        covers = picture[here][:, 3:]
        covers = covers if dark is None else np.where((dark == nearest)[here][:, None], 0, covers)
        picture[here, :3] = picture[here][:, :3] * left + covers * (1 - left) * np.asarray(self.colour, np.float32)

    def _before_haze(self, layer: Layer, viewpoint: Viewpoint, back: np.ndarray) -> Layer:
        """Return haze with fog in front of it, at each grid point."""
        volume = layer.shown.volume
        assert volume is not None
        sides = [
            volume.low[k] + np.arange(n) * volume.cell - viewpoint.position[k]
            for k, n in enumerate(volume.grid.shape[:3])
        ]
        away = -(sides[0][:, None, None] * back[0] + sides[1][:, None] * back[1] + sides[2] * back[2])
        left = self.transmittance(away)[..., None]
        grid = volume.grid.copy()
        shown = 0.0 if volume.adding or not layer.shines else grid[..., 3:]
        grid[..., :3] = grid[..., :3] * left + shown * (1 - left) * np.asarray(self.colour, np.float32)
        return replace(layer, shown=replace(layer.shown, volume=replace(volume, grid=grid)))

    def dim_layer(self, layer: Layer, viewpoint: Viewpoint) -> Layer:
        """Return particles with fog in front of them: colour c with coverage k becomes c t + k (1 - t) times the fog's
        colour, with transmittance t."""
        back = viewpoint.axes()[2]
        if layer.shown.volume is not None:
            return self._before_haze(layer, viewpoint, back)
        if layer.shown.surface is not None:
            return layer
        away = -((layer.positions().astype(np.float64) - np.asarray(viewpoint.position)) @ back)
        left = self.transmittance(away)[:, None]
        shown = 1.0 if layer.shown.look.drawing["blend"] in ("screen", "multiply") else layer.column("cover")
        added = np.asarray(self.colour, np.float32) * (1 - left) * np.reshape(shown, (-1, 1)) * layer.shines
        light, multiplies = layer.column("colour"), layer.shown.look.drawing["blend"] == "multiply"
        colour = 1 - (1 - light) * left if multiplies else light * left + added
        return with_columns(layer, {"colour": colour.astype(np.float32)})
