"""Arrays in, arrays out (NumPy, Numba). Never documents, files or logging."""
