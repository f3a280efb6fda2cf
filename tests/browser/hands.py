"""Two kinds of hands that do the same job: one that points, and one that has nothing but the keys."""

from __future__ import annotations

from playwright.sync_api import Locator, Page, expect

MOST_TABS = 400
"""Presses of Tab after which something is out of a keyboard's reach."""
WHERE = """(e) => { const at = document.activeElement;
  if (e === at) return 0;
  return at.compareDocumentPosition(e) & Node.DOCUMENT_POSITION_PRECEDING ? -1 : 1; }"""


class Pointing:
    """A hand with a mouse; what it types it types."""

    def __init__(self, page: Page) -> None:
        self.page = page

    def to(self, what: Locator) -> None:
        """Go to a field or a slider."""
        what.focus()

    def press(self, what: Locator) -> None:
        """Press a link, a button, what unfolds, a box to tick."""
        what.click()

    def fill(self, field: Locator, text: str) -> None:
        """Put a text in the place of what stands."""
        field.fill(text)

    def choose(self, field: Locator, value: str) -> None:
        """Choose of a list, by the option's value."""
        field.select_option(value)

    def pick(self, box: Locator, words: str) -> None:
        """Choose by a small drawing: its group unfolded, the drawing touched."""
        box.locator("summary").click()
        box.get_by_text(words, exact=True).click()

    def mark(self, box: Locator, words: str) -> None:
        """Touch one of a row of answers."""
        box.get_by_text(words, exact=True).click()


class Keys(Pointing):
    """A hand that presses Tab until it is there: nothing is focused or clicked for it."""

    def to(self, what: Locator) -> None:
        """Go there by Tab, or back by Shift and Tab, whichever way it lies."""
        expect(what).to_be_attached()
        for _ in range(MOST_TABS):
            way = what.evaluate(WHERE)
            if not way:
                return
            self.page.keyboard.press("Tab" if way > 0 else "Shift+Tab")
        raise AssertionError(f"no key reaches {what}")

    def press(self, what: Locator) -> None:
        """Go there and press Enter, or Space on what is ticked."""
        self.to(what)
        ticked = what.evaluate("e => e.type === 'checkbox'")
        self.page.keyboard.press("Space" if ticked else "Enter")

    def fill(self, field: Locator, text: str) -> None:
        """Go there, mark what stands, and type."""
        self.to(field)
        self.page.keyboard.press("Control+a")
        self.page.keyboard.type(text)

    def choose(self, field: Locator, value: str) -> None:
        """Go there and press the arrow until it stands there."""
        self.to(field)
        for _ in range(field.locator("option").count()):
            if field.input_value() == value:
                return
            self.page.keyboard.press("ArrowDown")
        raise AssertionError(f"the arrow never comes to {value}")

    def pick(self, box: Locator, words: str) -> None:
        """Unfold its group, then as of a row of answers."""
        self.press(box.locator("summary"))
        self.mark(box, words)

    def mark(self, box: Locator, words: str) -> None:
        """Go to the row, then press the arrow until the answer is marked."""
        wanted = box.locator("label", has=self.page.get_by_text(words, exact=True)).locator("input")
        rows = box.locator("input[type=radio]")
        marked = box.locator("input[type=radio]:checked")
        self.to(marked if marked.count() else rows.first)
        self.page.keyboard.press("Space")
        for _ in range(rows.count()):
            if wanted.is_checked():
                return
            self.page.keyboard.press("ArrowRight")
        raise AssertionError(f"the arrow never comes to “{words}”")
