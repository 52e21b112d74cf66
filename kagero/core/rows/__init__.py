"""Settings that can be driven: units, facts about fields, responses, curves, gradients, and the readers through which
parts write operations.

It knows programs and formulas, never which kinds of parts exist.
"""
