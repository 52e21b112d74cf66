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
        self.call(
            ren, "post", "session/welcome", {"secret": path.partition("#")[2], "name": "aiko", "password": PASSWORD}, 422
        )  # taken, also in small letters
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
        refused = guesser.post(
            "/api/session", json.dumps({"name": "Aiko", "password": PASSWORD}), content_type="application/json", REMOTE_ADDR="10.0.0.7"
        )
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
        # a proxy on this machine that lets others in, without anybody having named the address
        self.assertEqual(Client().get("/api/effects", headers={"X-Forwarded-For": "10.0.0.9"}).status_code, 403)
        self.assertEqual(Client().get("/api/effects", headers={"X-Forwarded-For": "127.0.0.1"}).status_code, 200)
        self.assertEqual(Client().post("/api/people/invitations").status_code, 422)


class Headers(SimpleTestCase):
    databases = {"default"}

    def test_every_answer_has_them(self):
        client = Client()
        assets = next((settings.CLIENT_DIR / "assets").glob("*.js")).name if (settings.CLIENT_DIR / "assets").is_dir() else None
        for path in (
            "/",
            "/index.html",
            *([f"/assets/{assets}"] if assets else []),
            "/api/catalog",
            "/api/nothing",
            "/nothing",
            "/api/effects/99999",
        ):
            response = client.get(path)
            self.assertEqual(response["X-Frame-Options"], "DENY", path)
            self.assertIn("frame-ancestors 'none'", response["Content-Security-Policy"], path)
            self.assertEqual(response["X-Content-Type-Options"], "nosniff", path)
            self.assertFalse(response.has_header("Access-Control-Allow-Origin"), path)
            if path.startswith("/api"):
                self.assertEqual(response["Cache-Control"], "no-store", path)


class Deployed(SimpleTestCase):
    def run_python(self, code: str, **environment: str) -> str:
        """Run code in a process of its own with Django set up, as it would be served; return what it printed."""
        around = {key: value for key, value in os.environ.items() if key != "DJANGO_ALLOW_ASYNC_UNSAFE"}
        around |= {"DJANGO_SETTINGS_MODULE": "kagero.server.settings", **environment}
        begin = "import django; django.setup()\nfrom django.core.management import call_command\n"
        ran = subprocess.run([sys.executable, "-W", "ignore", "-c", begin + code], capture_output=True, text=True, cwd=settings.BASE_DIR, env=around)
        self.assertEqual(ran.returncode, 0, ran.stderr)
        return ran.stdout

    def test_django_finds_nothing_to_warn_of_and_the_secret_outlives_a_start(self):
        code = """
call_command("check", deploy=True, fail_level="WARNING")
from django.conf import settings as s
print(s.SECRET_KEY, s.SESSION_COOKIE_SECURE, s.SECURE_SSL_REDIRECT, s.NETWORK)
"""
        with tempfile.TemporaryDirectory() as folder:
            said = [
                self.run_python(code, KAGERO_DATA=folder, KAGERO_HOSTS=hosts).splitlines()[-1].split() for hosts in ("localhost", "kagero.example")
            ]
            self.assertEqual({words[0] for words in said}, {(Path(folder) / "secret").read_text()})
            self.assertEqual([words[1:] for words in said], [["False"] * 3, ["True"] * 3])
            self.assertEqual((Path(folder) / "secret").stat().st_mode & 0o777, 0o600)

    def test_a_backup_comes_back_elsewhere(self):
        """Effects, edits, files and accounts of one folder, taken while it is in use, restored into an empty one."""
        count = """
from kagero.server.library.models import Effect, File
from django.contrib.auth import get_user_model
print([(e.name, e.revision, e.edits.count()) for e in Effect.objects.all()], File.objects.count(), [u.username for u in get_user_model().objects.all()])
"""
        fill = """
from pathlib import Path
call_command("migrate", verbosity=0)
from kagero.core.document import read_effect
from kagero.server.library import drafts, files
from kagero.server.people import rules
files.bring("lantern.glb", Path("demo/props/lantern.glb").read_bytes())
effect = drafts.create(read_effect(Path("demo/effects/paper-crane-unravels.json").read_bytes()))
drafts.save(effect.pk, effect.revision, read_effect({**effect.document, "note": "kept"}), "Note")
rules.accept(rules.invite(), "Aiko", "paper lantern ferry", "")
call_command("backup", ARCHIVE)
"""
        restore = """
from django.core.management.base import CommandError
call_command("restore", ARCHIVE)
try:
    call_command("restore", ARCHIVE)
except CommandError as problem:
    assert "is not empty" in str(problem)
else:
    raise SystemExit("it was overwritten")
"""
        with tempfile.TemporaryDirectory() as name:
            one, other, archive = Path(name) / "one", Path(name) / "other", Path(name) / "backup.zip"
            before = self.run_python(fill.replace("ARCHIVE", repr(str(archive))) + count, KAGERO_DATA=str(one)).splitlines()[-1]
            names = zipfile.ZipFile(archive).namelist()
            self.assertIn("kagero.sqlite3", names)
            self.assertTrue(any(n.startswith("props/") for n in names))
            self.assertFalse([n for n in names if n.endswith((".part", "-wal")) or n.startswith("cards")])
            after = self.run_python(restore.replace("ARCHIVE", repr(str(archive))) + count, KAGERO_DATA=str(other)).splitlines()[-1]
            self.assertEqual(after, before)
            self.assertIn("('Paper crane unravels', 2, 2)", before)
            self.assertIn("['Aiko']", before)
            self.assertEqual({p.name for p in (one / "props").iterdir()}, {p.name for p in (other / "props").iterdir()})
