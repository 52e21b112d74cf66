"""Requests and packets of the API."""

from __future__ import annotations

import json

from django.test import Client, TestCase

from kagero.core.formats import unpack
from tests.making import document, with_


def post(path: str, body: dict):
    return Client().post(f"/api/{path}", json.dumps(body), content_type="application/json")


def packets(data: bytes) -> list:
    result = []
    while data:
        length = int.from_bytes(data[4:8], "little")
        result.append(unpack(data[:length]))
        data = data[length:]
    return result


class ApiCase(TestCase):
    def call(self, method: str, path: str, body=None, status: int = 200):
        data = body if isinstance(body, (bytes, str)) else json.dumps(body)
        more = {} if body is None else {"data": data, "content_type": "application/json"}
        response = getattr(Client(), method)(f"/api/{path}", **more)
        self.assertEqual(response.status_code, status, response.content[:500])
        return response.json() if response.content and response["Content-Type"].startswith("application/json") else None

    def make(self, **changes) -> dict:
        return self.call("post", "effects", {"document": with_(document(), **changes)}, 201)

    def save(self, opened: dict, status: int = 200, label: str = "Change", **changes):
        body = {"revision": opened["revision"], "document": with_(opened["document"], **changes), "label": label}
        return self.call("put", f"effects/{opened['id']}/draft", body, status)
