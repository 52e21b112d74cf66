"""Files in and out, one module a format, and the packets of the interface: bytes and streams. Never stepping."""

from .packet import pack, unpack

__all__ = ["pack", "unpack"]
