"""Dials, as documents have them."""

from __future__ import annotations


def dial(uid="h", name="Height", value=1.0, low=0.0, high=2.0, **more):
    return {"uid": uid, "name": name, "value": value, "low": low, "high": high, "default": value, **more}
