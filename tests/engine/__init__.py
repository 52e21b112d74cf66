"""The native engine against the reference engine, which defines every operation."""
