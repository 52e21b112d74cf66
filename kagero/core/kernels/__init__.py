"""Numerical kernels: arrays in, arrays out (NumPy, Numba). They know no documents, files or logging."""
