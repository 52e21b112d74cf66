"""On a network: the first account, a session that ends in the middle of work."""

from __future__ import annotations

import re

from django.contrib.sessions.models import Session
from django.test import override_settings
from playwright.sync_api import Route

from kagero.server.people import rules, sign_in_limits

from .stage import BrowserCase


@override_settings(NETWORK=True)
class Network(BrowserCase):
    def setUp(self) -> None:
        sign_in_limits.patience = sign_in_limits.SignInLimits()  # others in this process may have tried many passwords
        super().setUp()

    def enter(self, button: str, password: str = "paper lantern ferry") -> None:
        form = self.page.locator("[data-part=sign-in]")
        form.get_by_label("Name").fill("Aiko")
        form.get_by_label("Password").fill(password)
        form.get_by_role("button", name=button).click()

    def test_the_first_account_and_a_session_that_ends_in_the_middle_of_work(self):
        self.expected = ["401", "422"]
        page = self.page
        page.goto(self.live_server_url)
        page.get_by_text("everybody has an account").wait_for()
        self.assertEqual(page.get_by_label("Open Petal rain").count(), 0)
        page.goto(f"{self.live_server_url}{rules.first_link()}")
        page.reload()
        self.enter("Make the account", "12345")
        page.get_by_role("alert").filter(has_text="too short").wait_for()
        self.enter("Make the account")
        page.get_by_label("Open Petal rain").click()
        self.saved()
        # the edit is on its way when the session ends: earlier, whatever the page asks for first would bring the
        # sign-in panel before
        held: list[Route] = []
        page.route("**/draft", lambda route: held.append(route))
        page.get_by_role("button", name=re.compile("^Size: ")).first.click()
        page.keyboard.press("Control+a")
        page.keyboard.type("0.21")
        page.keyboard.press("Enter")
        while not held:
            page.wait_for_timeout(10)
        Session.objects.all().delete()
        held[0].continue_()
        page.unroute("**/draft")
        page.get_by_text("Sign in again").wait_for()
        page.locator("[data-part=save-state]", has_text="not saved: Sign in first").wait_for()
        self.enter("Sign in")
        page.locator("[data-part=sign-in]").wait_for(state="detached")
        self.saved()
        page.reload()
        page.get_by_role("button", name="Size: 0.21 m").first.wait_for()
        page.goto(self.live_server_url)
        page.get_by_role("button", name="Sign out").click()
        page.get_by_text("everybody has an account").wait_for()
