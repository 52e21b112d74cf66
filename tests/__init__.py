"""Mirrors kagero/; laws (properties), oracles (slow reference versions), published (checks against named sources),
browser."""
