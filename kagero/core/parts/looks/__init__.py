"""Looks: what particles are drawn as. One module a kind."""

from .base import LOOKS, Column, LookPart, Pictured
from .strand import StrandLook

LOOKS.load(__name__, "soft_disc", "picture", "streak", "trail", "ribbon")

__all__ = ["LOOKS", "Column", "LookPart", "Pictured", "StrandLook"]
