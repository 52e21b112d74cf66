"""What every question to the server has in common: nothing is taken that is not asked for, and no number that is
none."""

from __future__ import annotations

import inspect
import json
import typing
from collections.abc import Iterator
from typing import Any

from django.test import TestCase
from pydantic import BaseModel

from kagero.server.api.base_schemas import Strict
from kagero.server.api.routes import api
from tests.making import document


def models(annotation: Any) -> Iterator[type[BaseModel]]:
    """Yield the models of an annotation, and those of their fields."""
    for inner in typing.get_args(annotation):
        yield from models(inner)
    if inspect.isclass(annotation) and issubclass(annotation, BaseModel):
        yield annotation
        for field in annotation.model_fields.values():
            yield from models(field.annotation)


class Questions(TestCase):
    def test_each_is_of_models_that_take_nothing_else(self):
        asked = set()
        for _, router in api._routers:
            for path in router.path_operations.values():
                for operation in path.operations:
                    wanted = typing.get_type_hints(operation.view_func)
                    asked |= {
                        model
                        for name, each in wanted.items()
                        if name not in ("request", "return")
                        for model in models(each)
                    }
        self.assertGreater(len(asked), 30)
        self.assertEqual([model.__name__ for model in asked if not issubclass(model, Strict)], [])
        for model in asked:
            self.assertEqual(
                (model.model_config["extra"], model.model_config["allow_inf_nan"]), ("forbid", False), model.__name__
            )

    def test_numbers_of_rows_are_such_as_the_database_keeps(self):
        numbers = []
        for path, methods in api.get_openapi_schema()["paths"].items():
            for method, operation in methods.items():
                for each in operation.get("parameters", []):
                    if each["in"] == "path" and each["schema"].get("type") == "integer":
                        numbers.append(each["name"])
                        self.assertLess(each["schema"].get("maximum", 2**99), 2**63, (method, path, each["name"]))
        self.assertGreater(len(numbers), 20)
        for path, body in (("overlays/1/take-out", {"uids": []}), ("overlays", None), ("exports", None)):
            address = f"/api/effects/{2**70}/{path}"
            answer = (
                self.client.get(address)
                if body is None
                else self.client.post(address, json.dumps(body), content_type="application/json")
            )
            self.assertIn(answer.status_code, (404, 422), answer.content[:200])
            self.assertTrue(answer.json()["findings"][0]["remedy"])

    def test_a_picture_of_no_place_is_refused_in_words(self):
        eye = {"position": [0.0, 1.0, 5.0], "target": [0.0, 0.0, 0.0], "up": [0.0, 1.0, 0.0], "field_of_view": 0.8}
        for where, more in (
            ("region", {"region": [0.0, float("nan"), 1.0, 1.0]}),
            ("region", {"region": [0.0, 0.0, float("inf"), 1.0]}),
            ("eye.position", {"eye": {**eye, "position": [float("nan"), 0.0, 0.0]}}),
            ("eye.target", {"eye": {**eye, "target": [1e300, 0.0, 0.0]}}),
        ):
            body = {"document": document(), "frame": 0, "width": 32, "height": 18, **more}
            answer = self.client.post("/api/pictures/render", json.dumps(body), content_type="application/json")
            self.assertEqual(answer.status_code, 422, answer.content[:200])
            found = answer.json()["findings"][0]
            self.assertIn(where, found["where"])
            self.assertTrue(found["message"] and found["remedy"])
