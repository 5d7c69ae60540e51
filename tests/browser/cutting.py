"""The Cut stage as a maker handles it, for tests."""

from playwright.sync_api import expect

from tests.browser.bench import Bench


class Cutting(Bench):
    """The Cut stage of a design."""

    @property
    def copies(self):
        return self.page.locator("[data-copy]")

    def point(self, about, state=None):
        with_state = f"[data-state={state}]" if state else ""
        return self.page.locator(f"[data-point={about}]{with_state}")

    @property
    def strip(self):
        return self.page.get_by_role("region", name="The cut")

    def button(self, name, exact=False):
        return self.page.get_by_role("button", name=name, exact=exact)

    def type(self, label, text):
        field = self.page.get_by_role("textbox", name=label, exact=True)
        field.fill(text)
        field.press("Enter")
        return field

    def is_(self, state):
        expect(self.page.locator(f"[data-job={state}]")).to_be_visible(timeout=30_000)
        return self

    def film(self, colour):
        return self.page.locator(f"[data-film-card='{colour}']")

    def open_film(self, colour):
        self.film(colour).get_by_role("button").first.click()

    def saved_as(self, button):
        with self.page.expect_download(timeout=60_000) as caught:
            button.click()
        return caught.value.suggested_filename, caught.value.path()

    def place(self, n=0):
        """Where a copy lies, as the drawing says it."""
        return self.copies.nth(n).get_attribute("transform")
