"""Nobody gets in on a network without signing in; on this machine alone nothing is asked, and nobody else is answered."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import tempfile
import time
import zipfile
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.contrib.auth import get_user_model
from django.test import Client, SimpleTestCase, TestCase, override_settings

from kagero.server.api.middleware import OPEN
from kagero.server.api.routes import api
from kagero.server.people import rules
from kagero.server.people.models import Invitation
from tests.making import document

PASSWORD = "paper lantern ferry"


def every_route() -> list[tuple[str, str]]:
    """Return all routes there are, in the schema or not: method and path with 1 for each parameter."""
    return [
        (method, re.sub(r"{[^}]*}", "1", f"/api/{prefix}/{path}").replace("//", "/"))
        for prefix, router in api._routers
        for path, view in router.path_operations.items()
        for operation in view.operations
        for method in operation.methods
    ]


# a hash that takes no time; the served settings have Django's own
@override_settings(NETWORK=True, PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])
class Network(TestCase):
    def setUp(self):
        rules.patience = rules.Patience()

    def call(self, client: Client, method: str, path: str, body=None, status: int = 200, **more):
        response = client.generic(method.upper(), f"/api/{path}", b"" if body is None else json.dumps(body), content_type="application/json", **more)
        self.assertEqual(response.status_code, status, response.content[:300])
        return json.loads(response.content) if response.content else None

    def somebody(self, name: str = "Aiko") -> Client:
        client = Client()
        self.call(client, "post", "session/welcome", {"secret": rules.invite(), "name": name, "password": PASSWORD})
        return client

    def test_every_route_answers_strangers_with_401(self):
        routes = every_route()
        self.assertGreater(len(routes), 45)
        self.assertEqual(len(routes), sum(len(ops) for ops in api.get_openapi_schema()["paths"].values()), "every route stands in the OpenAPI")
        for method, path in [*routes, ("GET", "/api/openapi.json"), ("GET", "/api/nothing"), ("GET", "/api")]:
            response = Client(raise_request_exception=False).generic(method, path, b"{}", content_type="application/json")
            if (method, path) in OPEN:
                self.assertIn(response.status_code, (200, 422), (method, path))
            else:
                self.assertEqual((response.status_code, response.json()["findings"][0]["code"]), (401, "sign_in"), (method, path))

    def test_the_first_account_comes_by_a_link_that_works_once(self):
        secret = rules.first_link().partition("#")[2]
        self.assertEqual(Client().get("/welcome").status_code, 200)
        newer = rules.first_link().partition("#")[2]
        stranger = Client()
        self.call(stranger, "post", "session/welcome", {"secret": secret, "name": "Eve", "password": PASSWORD}, 401)  # the newer start's alone
        weak = self.call(stranger, "post", "session/welcome", {"secret": newer, "name": "Aiko", "password": "1234567"}, 422)
        self.assertEqual({finding["where"] for finding in weak["findings"]}, {"password"})
        made = self.call(stranger, "post", "session/welcome", {"secret": newer, "name": "Aiko", "password": PASSWORD})
        self.assertEqual(made, {"needed": True, "name": "Aiko"})
        self.call(Client(), "post", "session/welcome", {"secret": newer, "name": "Eve", "password": PASSWORD}, 401)
        self.assertEqual((rules.first_link(), Invitation.objects.count()), ("", 0))
        self.call(stranger, "get", "effects")
        user = get_user_model().objects.get()
        self.assertNotIn(PASSWORD, user.password)
        self.assertEqual(get_user_model().objects.count(), 1)

    def test_who_is_invited_works_and_leaves(self):
        aiko = self.somebody()
        path = self.call(aiko, "post", "people/invitations", status=201)["path"]
        ren = Client()
        self.call(ren, "post", "session/welcome", {"secret": path.partition("#")[2], "name": "aiko", "password": PASSWORD}, 422)  # taken, also in small letters
        self.call(ren, "post", "session/welcome", {"secret": path.partition("#")[2], "name": "Ren", "password": PASSWORD})
        made = self.call(ren, "post", "effects", {"document": document()}, 201)
        self.assertEqual(self.call(aiko, "get", f"effects/{made['id']}")["document"], made["document"])
        self.call(ren, "put", "session/password", {"old": "wrong", "new": PASSWORD + "!"}, 401)
        elsewhere = Client()
        self.call(elsewhere, "post", "session", {"name": "Ren", "password": PASSWORD})
        self.call(ren, "put", "session/password", {"old": PASSWORD, "new": PASSWORD + "!"}, 204)
        self.call(ren, "get", "effects")
        self.call(elsewhere, "get", "effects", status=401)
        self.call(ren, "delete", "session", status=204)
        self.call(ren, "get", "effects", status=401)
        self.call(ren, "post", "session", {"name": "Ren", "password": PASSWORD}, 401)
        self.call(ren, "post", "session", {"name": "Ren", "password": PASSWORD + "!"})
        person = next(p["id"] for p in self.call(aiko, "get", "people") if p["name"] == "Ren")
        self.call(aiko, "delete", f"people/{person}", status=204)
        self.call(ren, "get", "effects", status=401)
        self.call(aiko, "get", f"effects/{made['id']}")
        last = self.call(aiko, "get", "people")[0]["id"]
        self.call(aiko, "delete", f"people/{last}", status=422)

    def test_wrong_passwords_make_everybody_wait_and_a_right_one_does_not_help_then(self):
        self.somebody()
        guesser = Client()
        for _ in range(rules.TRIES):
            self.call(guesser, "post", "session", {"name": "AIKO", "password": "guess"}, 401)
        refused = guesser.post("/api/session", json.dumps({"name": "Aiko", "password": PASSWORD}), content_type="application/json", REMOTE_ADDR="10.0.0.7")
        self.assertEqual((refused.status_code, refused.json()["findings"][0]["code"]), (429, "too_often"))
        self.assertGreater(int(refused["Retry-After"]), 60)
        self.call(guesser, "post", "session", {"name": "Ren", "password": "guess"}, 429)  # the same address
        self.call(guesser, "post", "session", {"name": "Ren", "password": "guess"}, 401, headers={"X-Forwarded-For": "1.2.3.4, 10.0.0.9"})
        later = time.monotonic() + rules.WITHIN + 1
        with mock.patch.object(rules.time, "monotonic", lambda: later):
            self.call(guesser, "post", "session", {"name": "Aiko", "password": PASSWORD})

    def test_cookies_are_closed_and_other_sites_may_change_nothing(self):
        aiko = self.somebody()
        cookie = aiko.cookies["sessionid"]
        self.assertEqual((cookie["httponly"], cookie["samesite"]), (True, "Strict"))
        self.call(aiko, "post", "effects", {"document": document()}, 403, headers={"Origin": "https://elsewhere.example"})


class Alone(TestCase):
    def test_nothing_is_asked_here_and_nobody_from_elsewhere_is_answered(self):
        self.assertEqual(Client().get("/api/session").json(), {"needed": False, "name": None})
        for path in ("/", "/api/effects", "/api/session"):
            response = Client().get(path, REMOTE_ADDR="192.168.1.20")
            self.assertEqual((response.status_code, "KAGERO_HOSTS" in response.content.decode()), (403, True))
        self.assertEqual(Client().post("/api/people/invitations").status_code, 422)


class Headers(SimpleTestCase):
    databases = {"default"}

    def test_every_answer_has_them(self):
        client = Client()
        assets = next((settings.CLIENT_DIR / "assets").glob("*.js")).name if (settings.CLIENT_DIR / "assets").is_dir() else None
        for path in ("/", "/index.html", *([f"/assets/{assets}"] if assets else []), "/api/catalog", "/api/nothing", "/nothing", "/api/effects/99999"):
            response = client.get(path)
            self.assertEqual(response["X-Frame-Options"], "DENY", path)
            self.assertIn("frame-ancestors 'none'", response["Content-Security-Policy"], path)
            self.assertEqual(response["X-Content-Type-Options"], "nosniff", path)
            self.assertFalse(response.has_header("Access-Control-Allow-Origin"), path)
            if path.startswith("/api"):
                self.assertEqual(response["Cache-Control"], "no-store", path)


class Deployed(SimpleTestCase):
    def run_manage(self, *arguments: str, **environment: str) -> subprocess.CompletedProcess:
        return subprocess.run([sys.executable, "-W", "ignore", "manage.py", *arguments], capture_output=True, text=True, cwd=settings.BASE_DIR, env={**{k: v for k, v in os.environ.items() if k != "DJANGO_ALLOW_ASYNC_UNSAFE"}, **environment})

    def test_django_finds_nothing_to_warn_of(self):
        with tempfile.TemporaryDirectory() as folder:
            for more in ({}, {"KAGERO_HOSTS": "kagero.example"}):
                ran = self.run_manage("check", "--deploy", "--fail-level", "WARNING", KAGERO_DATA=folder, **more)
                self.assertEqual(ran.returncode, 0, ran.stderr)
            code = "from django.conf import settings as s; print(s.SECRET_KEY, s.SESSION_COOKIE_SECURE, s.SECURE_SSL_REDIRECT, s.NETWORK)"
            said = [self.run_manage("shell", "-v0", "-c", code, KAGERO_DATA=folder, **more).stdout.split() for more in ({}, {"KAGERO_HOSTS": "kagero.example"}, {"KAGERO_HOSTS": "localhost"})]
            self.assertEqual({words[0] for words in said}, {(Path(folder) / "secret").read_text()}, "the secret outlives a start")
            self.assertEqual([words[1:] for words in said], [["False"] * 3, ["True"] * 3, ["False"] * 3])
            self.assertEqual((Path(folder) / "secret").stat().st_mode & 0o777, 0o600)

    def test_a_backup_comes_back_elsewhere(self):
        """Effects, edits, files and accounts of one folder, taken while it is in use, restored into an empty one."""
        with tempfile.TemporaryDirectory() as name:
            one, other, archive = Path(name) / "one", Path(name) / "other", Path(name) / "backup.zip"
            fill = (
                "from kagero.server.library import drafts, files; from kagero.core.effect import read_effect; from pathlib import Path\n"
                "files.bring('lantern.glb', Path('demo/props/lantern.glb').read_bytes())\n"
                "e = drafts.create(read_effect(Path('demo/effects/paper-crane-unravels.json').read_bytes()))\n"
                "drafts.save(e.pk, e.revision, read_effect({**e.document, 'note': 'kept'}), 'Note')"
            )
            for command in (["migrate", "-v0"], ["shell", "-v0", "-c", fill]):
                ran = self.run_manage(*command, KAGERO_DATA=str(one))
                self.assertEqual(ran.returncode, 0, ran.stderr)
            made = self.run_manage("backup", str(archive), KAGERO_DATA=str(one))
            self.assertEqual(made.returncode, 0, made.stderr)
            names = zipfile.ZipFile(archive).namelist()
            self.assertIn("kagero.sqlite3", names)
            self.assertTrue(any(n.startswith("props/") for n in names))
            self.assertFalse([n for n in names if n.endswith((".part", "-wal")) or n.startswith("cards")])
            count = "from kagero.server.library.models import *; print([(e.name, e.revision, e.edits.count()) for e in Effect.objects.all()], File.objects.count())"
            before = self.run_manage("shell", "-v0", "-c", count, KAGERO_DATA=str(one)).stdout
            restored = self.run_manage("restore", str(archive), KAGERO_DATA=str(other))
            self.assertEqual(restored.returncode, 0, restored.stderr)
            self.assertEqual(self.run_manage("shell", "-v0", "-c", count, KAGERO_DATA=str(other)).stdout, before)
            self.assertIn("Paper crane", before)
            self.assertEqual({p.name for p in (one / "props").iterdir()}, {p.name for p in (other / "props").iterdir()})
            again = self.run_manage("restore", str(archive), KAGERO_DATA=str(other))
            self.assertEqual((again.returncode, "is not empty" in again.stderr), (1, True))

