"""Large arrays whose memory is used again."""

import gc
import random
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from kagero.core.memory import ArrayPool
from tests.soak import examples


class LentRooms(unittest.TestCase):
    @settings(max_examples=examples(60), deadline=None)
    @given(
        st.lists(st.tuples(st.integers(1, 6), st.integers(1, 90_000), st.booleans()), min_size=2, max_size=40),
        st.integers(0, 2**32 - 1),
    )
    def test_no_two_arrays_that_are_held_ever_share_a_byte(self, asked, seed):
        """Views keep a room as well as the array itself; what is given back is lent again, and never more is kept than
        was said."""
        rooms, chance = ArrayPool(3_000_000), random.Random(seed)
        held: list[tuple[int, np.ndarray]] = []
        for number, (rows, columns, view) in enumerate(asked):
            array = rooms.array((rows, columns), np.float32)
            array.fill(number)
            held.append((number, array[rows // 2 :, ::2] if view else array))
            del array
            for wanted, kept in held:
                self.assertTrue((kept == wanted).all())
            if held and chance.random() < 0.5:
                held.pop(chance.randrange(len(held)))
            self.assertLessEqual(rooms.kept, rooms.most)

    def test_what_nobody_holds_is_lent_again(self):
        rooms = ArrayPool(10_000_000)
        first = rooms.array((100_000,), np.float64)
        where = first.ctypes.data
        del first
        gc.collect()
        repeated = rooms.array((8, 25_000), np.float32)  # of the same size, in another shape
        self.assertEqual((repeated.ctypes.data, repeated.shape, repeated.dtype), (where, (8, 25_000), np.float32))
        self.assertNotEqual(rooms.array((100_000,), np.float64).ctypes.data, where)
        repeated += 1  # it can be written


if __name__ == "__main__":
    unittest.main()
