"""Connections to clients: how long a client is waited for, which client is given up first, and whether one is still
there."""

from .disconnect import listener
from .slow_clients import HELD, TimedSocket, streams

__all__ = ["HELD", "TimedSocket", "listener", "streams"]
