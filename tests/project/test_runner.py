"""The runner tells what a test failed with, whatever it holds."""

import pickle
import sys
import urllib.error
from io import BytesIO
from unittest import TestCase

from tests.runner import sendable


class Sent(TestCase):
    def test_what_cannot_be_sent_to_another_process_is_sent_as_its_words(self):
        class Held(Exception):
            """What only its own process knows."""

        for problem, name in (
            (urllib.error.HTTPError("http://here", 503, "busy", {}, BytesIO()), "HTTP Error 503"),
            (Held("lost"), "lost"),
        ):
            try:
                raise problem
            except Exception:
                sent = pickle.loads(pickle.dumps(sendable(sys.exc_info())))
            self.assertIn(name, str(sent[1]))
        self.assertIs(sendable((ValueError, ValueError("plain"), None))[0], ValueError)
