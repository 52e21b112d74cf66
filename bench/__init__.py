"""The benchmark suite: ratios within one run, medians of at least five. `make bench`."""
