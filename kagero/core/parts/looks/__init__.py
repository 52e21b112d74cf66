"""Looks: what particles are drawn as. One module a kind."""

from .base import LOOKS, Column, Formed, LookPart, Pictured
from .strand import StrandLook

LOOKS.load(__name__, "soft_disc", "picture", "piece", "blob", "haze", "streak", "trail", "ribbon")

__all__ = ["LOOKS", "Column", "Formed", "LookPart", "Pictured", "StrandLook"]
