"""What a setting that can be driven is: units, words beside fields, responses, curves, gradients, and how parts read values.

Knows programs and formulas; never which parts there are.
"""
