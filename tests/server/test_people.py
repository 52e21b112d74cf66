"""Nobody gets in on a network without signing in; on this machine alone nothing is asked, and nobody else is
answered."""

from __future__ import annotations

import json
import os
import re
import sqlite3
import subprocess
import sys
import tempfile
import time
import zipfile
from contextlib import closing
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.core.management.base import CommandError
from django.test import Client, SimpleTestCase, TestCase, override_settings

from kagero.server.api.middleware import PUBLIC_PATHS
from kagero.server.api.routes import api
from kagero.server.connections import logs
from kagero.server.people import rules, sign_in_limits
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
        sign_in_limits.patience = sign_in_limits.SignInLimits()

    def call(self, client: Client, method: str, path: str, body=None, status: int = 200, **more):
        response = client.generic(
            method.upper(),
            f"/api/{path}",
            b"" if body is None else json.dumps(body),
            content_type="application/json",
            **more,
        )
        self.assertEqual(response.status_code, status, response.content[:300])
        return json.loads(response.content) if response.content else None

    def somebody(self, name: str = "Aiko") -> Client:
        client = Client()
        self.call(client, "post", "session/welcome", {"secret": rules.invite(), "name": name, "password": PASSWORD})
        return client

    def test_every_route_answers_strangers_with_401(self):
        routes = every_route()
        self.assertGreater(len(routes), 45)
        self.assertEqual(
            len(routes),
            sum(len(ops) for ops in api.get_openapi_schema()["paths"].values()),
            "every route stands in the OpenAPI",
        )
        for method, path in [*routes, ("GET", "/api/openapi.json"), ("GET", "/api/nothing"), ("GET", "/api")]:
            response = Client(raise_request_exception=False).generic(
                method, path, b"{}", content_type="application/json"
            )
            if (method, path) in PUBLIC_PATHS:
                self.assertIn(response.status_code, (200, 422), (method, path))
            else:
                self.assertEqual(
                    (response.status_code, response.json()["findings"][0]["code"]), (401, "sign_in"), (method, path)
                )

    def test_the_first_account_comes_by_a_link_that_works_once(self):
        secret = rules.first_link().partition("#")[2]
        self.assertEqual(Client().get("/welcome").status_code, 200)
        newer = rules.first_link().partition("#")[2]
        stranger = Client()
        self.call(
            stranger, "post", "session/welcome", {"secret": secret, "name": "Eve", "password": PASSWORD}, 401
        )  # the newer start's alone
        weak = self.call(
            stranger, "post", "session/welcome", {"secret": newer, "name": "Aiko", "password": "1234567"}, 422
        )
        self.assertEqual({finding["where"] for finding in weak["findings"]}, {"password"})
        result = self.call(stranger, "post", "session/welcome", {"secret": newer, "name": "Aiko", "password": PASSWORD})
        self.assertEqual(result, {"needed": True, "name": "Aiko"})
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
            ren,
            "post",
            "session/welcome",
            {"secret": path.partition("#")[2], "name": "aiko", "password": PASSWORD},
            422,
        )  # taken, also in small letters
        self.call(
            ren, "post", "session/welcome", {"secret": path.partition("#")[2], "name": "Ren", "password": PASSWORD}
        )
        result = self.call(ren, "post", "effects", {"document": document()}, 201)
        self.assertEqual(self.call(aiko, "get", f"effects/{result['id']}")["document"], result["document"])
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
        self.call(aiko, "get", f"effects/{result['id']}")
        last = self.call(aiko, "get", "people")[0]["id"]
        self.call(aiko, "delete", f"people/{last}", status=422)

    def sign_in(self, name: str, password: str, address: str):
        body = json.dumps({"name": name, "password": password})
        return Client().post(
            "/api/session", body, content_type="application/json", headers={"X-Forwarded-For": address}
        )

    def test_wrong_passwords_make_their_address_wait_longer_each_time_and_nobody_elsewhere(self):
        self.somebody()
        with self.assertLogs("kagero.people", "WARNING") as logged:
            for k in range(sign_in_limits.TRIES):
                self.assertEqual(self.sign_in("AIKO", f"guess {k}", "10.0.0.7").status_code, 401)
            refused = self.sign_in("Aiko", PASSWORD, "10.0.0.7")
        self.assertEqual((refused.status_code, refused.json()["findings"][0]["code"]), (429, "too_often"))
        message = [record.getMessage() for record in logged.records[-2:]]
        self.assertEqual(message, ["A sign-in failed.", "A sign-in was refused: it has to wait."])
        self.assertEqual((logged.records[-1].name_given, logged.records[-1].address), ("aiko", "10.0.0.7"))
        self.assertEqual(self.sign_in("Aiko", PASSWORD, "10.0.0.8").status_code, 200)  # the right one, from elsewhere
        waits, now = [int(self.sign_in("Aiko", "guess", "10.0.0.7")["Retry-After"])], time.monotonic()
        for _ in range(8):
            now += waits[-1] + 1
            with mock.patch.object(sign_in_limits.time, "monotonic", lambda now=now: now):
                self.assertEqual(self.sign_in("Aiko", "guess", "10.0.0.7").status_code, 401)
                waits.append(int(self.sign_in("Aiko", "guess", "10.0.0.7")["Retry-After"]))
        self.assertEqual(waits, [30, 60, 120, 240, 480, 960, 1920, 3600, 3600])
        with mock.patch.object(sign_in_limits.time, "monotonic", lambda: now + sign_in_limits.FORGET_AFTER + 1):
            self.assertEqual(self.sign_in("Aiko", "guess", "10.0.0.7").status_code, 401)
            self.assertEqual(self.sign_in("Aiko", PASSWORD, "10.0.0.7").status_code, 200)

    def test_many_names_from_one_address_wait_too_and_a_signed_in_person_ends_a_wait(self):
        aiko = self.somebody()
        for k in range(sign_in_limits.TRIES_OF_AN_ADDRESS):
            self.sign_in("Aiko" if k < sign_in_limits.TRIES else f"name {k}", "guess", "10.0.0.7")
        self.assertEqual(self.sign_in("Ren", "guess", "10.0.0.7").status_code, 429)
        person = self.call(aiko, "get", "people")[0]
        self.assertGreater(person["waits"], 0)
        self.call(aiko, "delete", f"people/{person['id']}/wait", status=204)
        self.call(aiko, "delete", "people/999/wait", status=404)
        self.assertEqual(self.call(aiko, "get", "people")[0]["waits"], 0)
        self.assertEqual(self.sign_in("Aiko", PASSWORD, "10.0.0.7").status_code, 200)

    def test_names_that_look_like_another_are_refused_and_others_are_not(self):
        self.somebody("Aiko Mori")

        def welcome(name: str) -> int:
            body = json.dumps({"secret": rules.invite(), "name": name, "password": PASSWORD})
            return Client().post("/api/session/welcome", body, content_type="application/json").status_code

        for name in (
            "Aiko\u200bMori",
            "\u200b",
            "Aiko\u00a0Mori",
            "\uff21iko Mori",
            "aiko  mori",
            "Aik\u043e Mori",
            "Aiko\u202eMori",
            "\u3164",
        ):
            self.assertEqual(welcome(name), 422, ascii(name))
        for name in ("\u9752\u5b50", "\u041e\u043b\u044c\u0433\u0430", "Zo\u00eb", "Jos\u00e9 2"):
            self.assertEqual(welcome(name), 200, name)

    def test_lines_of_the_log_say_when_how_bad_which_request_and_who(self):
        aiko = self.somebody()
        find = mock.patch("kagero.server.api.routes.drafts.find", side_effect=ZeroDivisionError("by nought"))
        with find, self.assertLogs("kagero", "ERROR") as logged:
            answer = aiko.get("/api/effects/1", headers={"X-Request-ID": "night-7"})
            line = json.loads(logs.Lines().format(logged.records[0]))
        self.assertEqual((answer.status_code, answer["X-Request-ID"]), (500, "night-7"))
        self.assertEqual(
            (line["level"], line["request"], line["person"], line["path"]),
            ("error", "night-7", "Aiko", "/api/effects/1"),
        )
        self.assertIn("by nought", line["trace"])
        self.assertRegex(line["time"], r"^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z$")
        self.assertRegex(aiko.get("/api/effects", headers={"X-Request-ID": 'x" y'})["X-Request-ID"], r"^[0-9a-f]{12}$")

    def test_addresses_and_methods_that_there_are_not_are_answered_in_words(self):
        aiko = self.somebody()
        for method, path, status in (
            ("get", "nothing/here", 404),
            ("put", "effects", 405),
            ("delete", "effects", 405),
            ("get", "play", 405),
        ):
            self.assertTrue(self.call(aiko, method, path, status=status)["findings"][0]["remedy"], path)

    def test_cookies_are_closed_and_other_sites_may_change_nothing(self):
        aiko = self.somebody()
        cookie = aiko.cookies["sessionid"]
        self.assertEqual((cookie["httponly"], cookie["samesite"]), (True, "Strict"))
        self.call(
            aiko, "post", "effects", {"document": document()}, 403, headers={"Origin": "https://elsewhere.example"}
        )


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
        assets = (
            next((settings.CLIENT_DIR / "assets").glob("*.js")).name
            if (settings.CLIENT_DIR / "assets").is_dir()
            else None
        )
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
        ran = subprocess.run(
            [sys.executable, "-W", "ignore", "-c", begin + code],
            capture_output=True,
            text=True,
            cwd=settings.BASE_DIR,
            env=around,
        )
        self.assertEqual(ran.returncode, 0, ran.stderr)
        return ran.stdout

    def test_django_finds_nothing_to_warn_of_and_the_secret_outlives_a_start(self):
        code = """
call_command("check", deploy=True, fail_level="WARNING")
from django.conf import settings as s
print(s.SECRET_KEY, s.SESSION_COOKIE_SECURE, s.SECURE_SSL_REDIRECT, s.NETWORK)
"""
        with tempfile.TemporaryDirectory() as folder:
            message = [
                self.run_python(code, KAGERO_DATA=folder, KAGERO_HOSTS=hosts).splitlines()[-1].split()
                for hosts in ("localhost", "kagero.example")
            ]
            self.assertEqual({words[0] for words in message}, {(Path(folder) / "secret").read_text()})
            self.assertEqual([words[1:] for words in message], [["False"] * 3, ["True"] * 3])
            self.assertEqual((Path(folder) / "secret").stat().st_mode & 0o777, 0o600)

    def test_a_backup_comes_back_elsewhere(self):
        """Effects, edits, files and accounts of one folder, taken while it is in use, restored into an empty one."""
        count = """
from kagero.server.library.models import Effect, File
from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.core.management.base import CommandError
print([(e.name, e.revision, e.edits.count()) for e in Effect.objects.all()], File.objects.count(), [u.username for u in get_user_model().objects.all()])
"""
        fill = """
from pathlib import Path
call_command("migrate", verbosity=0)
from kagero.core.document import read_effect
from kagero.server.library import drafts, files
from kagero.server.people import rules
files.import_file("lantern.glb", Path("demo/props/lantern.glb").read_bytes())
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
            before = self.run_python(
                fill.replace("ARCHIVE", repr(str(archive))) + count, KAGERO_DATA=str(one)
            ).splitlines()[-1]
            names = zipfile.ZipFile(archive).namelist()
            self.assertIn("kagero.sqlite3", names)
            self.assertTrue(any(n.startswith("props/") for n in names))
            self.assertFalse([n for n in names if n.endswith((".part", "-wal")) or n.startswith("cards")])
            after = self.run_python(
                restore.replace("ARCHIVE", repr(str(archive))) + count, KAGERO_DATA=str(other)
            ).splitlines()[-1]
            self.assertEqual(after, before)
            self.assertIn("('Paper crane unravels', 2, 2)", before)
            self.assertIn("['Aiko']", before)
            self.assertEqual({p.name for p in (one / "props").iterdir()}, {p.name for p in (other / "props").iterdir()})

    def test_a_damaged_backup_leaves_nothing_behind(self):
        with tempfile.TemporaryDirectory() as name:
            whole, folder = Path(name) / "whole.zip", Path(name) / "restored"
            base = Path(name) / "kagero.sqlite3"
            with closing(sqlite3.connect(base)) as opened:
                opened.executescript(
                    "CREATE TABLE t (x TEXT); CREATE INDEX i ON t (x); INSERT INTO t VALUES ('" + "y" * 20_000 + "');"
                )
            with zipfile.ZipFile(whole, "w") as archive:
                archive.write(base, "kagero.sqlite3")
                archive.writestr("files/one", b"z" * 5000)
            data = whole.read_bytes()
            damaged = bytearray(base.read_bytes())
            damaged[4096 : 4096 + 2000] = bytes(2000)
            with zipfile.ZipFile(Path(name) / "base.zip", "w") as archive:
                archive.writestr("kagero.sqlite3", bytes(damaged))
            for number, content in enumerate(
                (
                    data[: len(data) // 2],
                    data[:100] + b"?" + data[101:],
                    data.replace(b"zzzz", b"zz?z", 1),
                    (Path(name) / "base.zip").read_bytes(),
                    b"no zip",
                )
            ):
                source = Path(name) / f"{number}.zip"
                source.write_bytes(content)
                with override_settings(DATA_DIR=folder), self.assertRaises(CommandError, msg=str(number)):
                    call_command("restore", str(source))
                self.assertFalse(folder.exists() and list(folder.iterdir()), number)
                self.assertEqual([path.name for path in Path(name).iterdir() if path.name.startswith(".")], [], number)
