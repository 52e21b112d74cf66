"""Everything the OpenAPI offers, asked in every way that fits it and in many that do not; documents and files changed
at random.

Seeds and counts are fixed. `make test` runs a share of them, `make soak` twenty times as many, `make fuzz` 10,000
requests, 5,000 documents and 1,000 files.
"""

from __future__ import annotations

import contextlib
import copy
import json
import os
import random
import resource
import tempfile
import time
from pathlib import Path

import hypothesis
import schemathesis
from django.conf import settings
from django.test import Client, LiveServerTestCase, TestCase, override_settings
from schemathesis.checks import (
    content_type_conformance,
    not_a_server_error,
    response_schema_conformance,
    status_code_conformance,
)

from demo.parts import PROPS
from kagero.core.document import Effect as Document
from kagero.core.errors import KageroError
from kagero.core.formats.importing import import_file
from kagero.server.api.routes import api
from kagero.server.library import files
from tests.soak import SOAK, share

FUZZ = bool(os.environ.get("KAGERO_FUZZ"))
TIMES = 84 if FUZZ else 20 if SOAK else 1
FILES = 1_000 if FUZZ else 200 * TIMES
MOST_SECONDS, MOST_BYTES = 10.0, 4 << 30  # of one processor, before a document is answered or refused; of the process
FOLDER = tempfile.TemporaryDirectory()
SLOW = {"/api/props/files": 1}  # reads in a process of its own
HOSTILE = [
    None,
    True,
    False,
    0,
    -1,
    1e308,
    -1e308,
    1e-320,
    2**63,
    2**31,
    "",
    "\0",
    "x" * 5000,
    "../../etc/passwd",
    [],
    {},
    [[]],
    [None] * 50,
    {"base": {"base": {}}},
    "１２",
    "\ud800".encode("utf-8", "surrogatepass").decode("utf-8", "replace"),
    -0.0,
    0.1 + 0.2,
    [1e999],
    "NaN",
]


@override_settings(DATA_DIR=Path(FOLDER.name), PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])
class OpenApi(LiveServerTestCase):
    def test_every_route_answers_what_it_says_it_does_and_never_with_a_fault_of_its_own(self):
        described = json.loads(json.dumps(api.get_openapi_schema(), default=str))
        schema = schemathesis.openapi.from_dict(without_tuples(described))
        asked = 0
        for result in schema.get_all_operations() if FUZZ else share(schema.get_all_operations(), 2):
            operation = result.ok()
            count = SLOW.get(operation.path, 2) * TIMES if SOAK or FUZZ else 1
            for mode in (schemathesis.GenerationMode.POSITIVE, schemathesis.GenerationMode.NEGATIVE):
                try:
                    strategy = operation.as_strategy(generation_mode=mode)
                except Exception:  # nothing about it can be made wrong
                    continue
                asked += self.ask(strategy, count)
        self.assertGreater(asked, 10_000 if FUZZ else 150 * TIMES if SOAK else 45)

    def ask(self, strategy, count: int) -> int:
        """Send so many requests; return how many were sent."""
        seen = []

        @hypothesis.seed(7)
        @hypothesis.settings(
            max_examples=count,
            database=None,
            deadline=None,
            suppress_health_check=list(hypothesis.HealthCheck),
            phases=[hypothesis.Phase.generate],
            derandomize=False,
        )
        @hypothesis.given(strategy)
        def one(case):
            response = case.call(base_url=self.live_server_url)
            seen.append(response.status_code)
            case.validate_response(
                response,
                checks=[
                    not_a_server_error,
                    status_code_conformance,
                    content_type_conformance,
                    response_schema_conformance,
                ],
            )
            if response.status_code in (400, 422):
                findings = response.json()["findings"]
                assert findings and all(each["message"] and each["remedy"] for each in findings), findings

        with contextlib.suppress(hypothesis.errors.Unsatisfiable):
            one()
        return len(seen)


def without_tuples(schema):
    """Return a schema in which tuples are lists of their length: the library rewrites tuples in place, those of answers
    too."""
    if isinstance(schema, list):
        return [without_tuples(each) for each in schema]
    if not isinstance(schema, dict):
        return schema
    result = {key: without_tuples(value) for key, value in schema.items()}
    if isinstance(result.get("prefixItems"), list):
        each = result.pop("prefixItems")
        result |= {
            "items": each[0] if all(one == each[0] for one in each) else {"anyOf": each},
            "minItems": len(each),
            "maxItems": len(each),
        }
    return result


def places(thing, direction=()):
    """Yield the way to every value of a document."""
    yield direction
    for key, value in thing.items() if isinstance(thing, dict) else enumerate(thing) if isinstance(thing, list) else ():
        yield from places(value, (*direction, key))


def changed(document: dict, chance: random.Random) -> dict:
    """Return a document with one to three of its values replaced, doubled, moved or taken away."""
    result = copy.deepcopy(document)
    for _ in range(chance.randint(1, 3)):
        direction = chance.choice([direction for direction in places(result) if direction])
        target = result
        for step in direction[:-1]:
            target = target[step]
        what, here = chance.random(), target[direction[-1]]
        if what < 0.6 and isinstance(here, float):
            target[direction[-1]] = chance.choice([0.0, -here, here * 10, here + 1, 1e-9, 1e6, -1e6])
        elif (
            what < 0.6
            and isinstance(here, str)
            and len(direction) > 2
            and direction[-1] in ("uid", "prop", "draw", "mask", "kind", "text", "name")
        ):
            target[direction[-1]] = chance.choice(["gone", "", "x" * 61, "1 / 0", "age"])
        elif what < 0.6:
            target[direction[-1]] = copy.deepcopy(chance.choice(HOSTILE))
        elif what < 0.75 and isinstance(target, list):
            target.append(copy.deepcopy(target[direction[-1]]))
        elif what < 0.9:
            del target[direction[-1]]
        else:
            other = result
            for step in chance.choice([w for w in places(result) if w]):
                other = other[step]
            target[direction[-1]] = copy.deepcopy(other) if other is not result else 0
    return result


@override_settings(DATA_DIR=Path(FOLDER.name))
class Documents(TestCase):
    def send(self, path: str, body) -> tuple[int, dict | None]:
        try:
            data = json.dumps(body, allow_nan=True)
        except (ValueError, RecursionError):
            return 0, None
        response = Client(raise_request_exception=False).post(f"/api/{path}", data, content_type="application/json")
        status = response.status_code
        self.assertLess(status, 500, (path, data[:2000]))
        if status >= 400:
            findings = json.loads(response.content)["findings"]
            self.assertTrue(findings and all(each["message"] for each in findings))
            return status, None
        if response.streaming:
            b"".join(response.streaming_content)
            return status, None
        return status, json.loads(response.content) if response["Content-Type"].startswith("application/json") else None

    def test_documents_changed_at_random_are_kept_or_refused_in_words_and_none_hangs(self):
        chance = random.Random(20)
        whole = [
            json.loads(path.read_text()) for path in sorted((settings.BASE_DIR / "demo" / "effects").glob("*.json"))
        ]
        statuses = []
        for _ in range(60 * TIMES):
            body, started = changed(chance.choice(whole), chance), time.process_time()
            status, result = self.send("effects", {"document": body})
            statuses.append(status)
            if result is None:
                continue
            Document.model_validate(result["document"])  # what was kept is a document
            repeated, _ = self.send("effects/import", result["document"])
            self.assertEqual(repeated, 201, "what was kept comes back")
            clip = result["document"]["clip"]
            if clip["last_frame"] - clip["first_frame"] < 400:
                self.send(
                    "play",
                    {"window": "w", "document": result["document"], "now": clip["first_frame"] + 1, "whole": False},
                )
                self.send(
                    "pictures/render",
                    {"document": result["document"], "frame": clip["first_frame"] + 1, "width": 64, "height": 48},
                )
            took, held = time.process_time() - started, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024
            self.assertLess(took, MOST_SECONDS, json.dumps(body)[:4000])
            self.assertLess(held, MOST_BYTES, json.dumps(body)[:4000])
        self.assertGreater(statuses.count(201), 5 * TIMES)
        self.assertGreater(statuses.count(422), 5 * TIMES)

    def test_files_changed_at_random_are_read_or_refused_in_words(self):
        chance = random.Random(21)
        sources = [path for path in sorted(PROPS.iterdir()) if path.stat().st_size < 200_000]
        outcomes = []
        for _ in range(FILES):
            path = chance.choice(sources)
            data = bytearray(path.read_bytes())
            for _ in range(chance.randint(1, 4)):
                what, at = chance.random(), chance.randrange(len(data))
                if what < 0.85:
                    data[at] = chance.randrange(256)
                elif what < 0.9:
                    del data[at : at + chance.randint(1, 200)]
                elif what < 0.95:
                    data[at:at] = data[chance.randrange(len(data)) :][: chance.randint(1, 64)]
                else:
                    data[at : at + 8] = chance.choice([b"\xff" * 8, bytes(8), b"NaN     ", b"1e999   "])
                if not data:
                    break
            try:
                arrays, facts = import_file(path.name, bytes(data))
            except KageroError as problem:
                self.assertTrue(all(f.message and f.remedy for f in problem.findings))
                outcomes.append(0)
                continue
            json.dumps(facts, allow_nan=False)
            files.from_arrays(arrays)
            outcomes.append(1)
        self.assertGreater(min(outcomes.count(0), outcomes.count(1)), FILES * 15 // 200)
