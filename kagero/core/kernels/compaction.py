"""Survivors of a step, copied once into the columns of the next frame."""

from __future__ import annotations

import numpy as np

from .compiled import kernel


@kernel()
def ages(birth_time, lifespan, until, cuts, age, young):
    """Write particles' ages at clip time `until` (s), and count in each span the particles younger than their lifespan.

    birth_time: (n,) float64. lifespan, age: (n,) float32. cuts: (spans + 1,) int64, first particle of each span. young:
    (spans,) int64.
    """
    for k in range(young.size):
        count = 0
        for i in range(np.uint64(cuts[k]), np.uint64(cuts[k + 1])):
            age[i] = np.float32(until - birth_time[i])
            count += age[i] < lifespan[i]
        young[k] = count


@kernel()
def copy_survivors(
    start, stop, at, key, birth_time, old, age, outputs, shift, rows, alive, new_key, new_birth_time, new
):
    """Copy the surviving particles of start..stop - 1, in order, to `at` and on; return their number.

    key, birth_time, old (k, n): columns before the step; age (n,): ages after it. outputs (m, ...): results of the
    step, with particle i in column i - shift. rows (k,): the output that replaces each column, -1 for none. alive: the
    output that says who lives on (above one half), or -1 for all that are younger than their lifespan. new_key,
    new_birth_time: empty where nobody moves to another place. new (k, n'): columns to write.
    """
    begins, counts = np.empty((stop - start) // 2 + 1, np.int64), np.empty((stop - start) // 2 + 1, np.int64)
    runs = total = 0
    lifespan, lives = old[1], outputs[max(alive, 0)]
    i = start
    while i < stop:
        while i < stop and not (age[i] < lifespan[i] and (alive < 0 or lives[i - shift] > np.float32(0.5))):
            i += 1
        begin = i
        while i < stop and age[i] < lifespan[i] and (alive < 0 or lives[i - shift] > np.float32(0.5)):
            i += 1
        if i > begin:
            begins[runs], counts[runs] = begin, i - begin
            runs += 1
            total += i - begin
    begins, counts = begins[:runs], counts[:runs]
    if new_key.size > 0:
        _copy(key, new_key, begins, counts, at)
        _copy(birth_time, new_birth_time, begins, counts, at)
    _copy(age, new[0], begins, counts, at)
    for c in range(1, rows.size):
        if rows[c] < 0:
            _copy(old[c], new[c], begins, counts, at)
    begins -= shift
    for c in range(1, rows.size):
        if rows[c] >= 0:
            _copy(outputs[rows[c]], new[c], begins, counts, at)
    return total


@kernel()
def _copy(source, target, begins, counts, at):
    """Copy runs of a column one behind the other. Unsigned indices let LLVM vectorise these loops."""
    to = np.uint64(at)
    for k in range(begins.size):
        begin, count = np.uint64(begins[k]), np.uint64(counts[k])
        for j in range(count):
            target[to + j] = source[begin + j]
        to += count
