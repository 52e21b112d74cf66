"""Kagero: where an effects artist designs how particles live. A pure core, a Django server around it."""
