"""Ten fingers in every view: whatever is typed stands, and no sign of it is taken for a shortcut."""

import re
import string

from tests.support.browser import Person
from tests.support.views import VIEWS_OF_OFFICE, Views
from tracebench.demo import cast

TYPED = string.ascii_lowercase + "ATLPNR" + string.digits + string.punctuation + " ."
FIELDS = ", ".join(
    f"{kind}:not([inputmode=decimal]):not([inputmode=numeric])"
    for kind in ("input:not([type])", "input[type=text]", "input[type=search]", "input[type=password]", "textarea")
)
"""What takes text. Numbers, files, ticks and sliders are other controls."""

TYPE_INTO_ALL = """([fields, text]) => [...document.querySelectorAll(fields)]
  .filter(f => f.checkVisibility({ visibilityProperty: true }) && !f.disabled && !f.readOnly)
  .map(field => {
    const before = field.value
    const put = (words) => words ? document.execCommand('insertText', false, words) : document.execCommand('delete')
    field.focus()
    field.select()
    put('')
    for (const key of text) {
      const press = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true })
      if (field.dispatchEvent(press)) document.execCommand('insertText', false, key)
    }
    const name = field.getAttribute('aria-label') ?? field.labels?.[0]?.textContent ?? field.name
    const found = [name, field.value, field.maxLength < 0 ? text.length : field.maxLength]
    field.select()
    put(before)
    return found
  })"""
"""Keys as fields get them, without the long way through the browser's own keyboard; what was is put back."""


class Typing(Views):
    def by_hand(self, person: Person, where: str) -> None:
        """The browser's own keys into the first field in view."""
        fields = [f for f in person.page.locator(FIELDS).all() if f.is_visible() and f.is_editable()]
        for field in fields[:1]:
            before = field.input_value()
            field.fill("")
            field.focus()
            person.page.keyboard.type(TYPED)
            longest = int(field.get_attribute("maxlength") or len(TYPED))
            self.assertEqual(field.input_value(), TYPED[:longest], where)
            field.fill(before)

    def typed(self, person: Person, where: str) -> int:
        """Type every sign into each field in view and look whether it is there; how many."""
        found = person.page.evaluate(TYPE_INTO_ALL, [FIELDS, TYPED])
        for name, value, longest in found:
            with self.subTest(where, field=name):
                self.assertEqual(value, TYPED[:longest])
        return len(found)

    def test_whatever_is_typed_stands(self):
        person, count = self.as_(cast.INSTRUCTOR[0]), 0
        views = self.views_of_instructor(person)
        sheets = [path for path in views if re.fullmatch(r"/shelf/\d+", path)]
        for path in [v for v in views if v not in sheets[1:]]:
            person.open(path)
            self.settled(person)
            self.by_hand(person, path)
            count += self.typed(person, path)
            # What lies behind tabs and folds of the same view.
            for tab in person.page.get_by_role("tab").all():
                tab.click()
                count += self.typed(person, f"{path} {tab.inner_text()}")
        learner = self.as_(cast.LEARNERS[0].sign_in, width=1024, height=768)
        for path in self.views_of_learner(learner):
            learner.open(path)
            self.settled(learner)
            self.by_hand(learner, path)
            for step in learner.page.get_by_role("navigation", name="Steps").get_by_role("button").all():
                step.click()
                count += self.typed(learner, f"{path} {step.inner_text()}")
            count += self.typed(learner, path)
        office = self.as_(cast.ADMINISTRATOR[0])
        for path in VIEWS_OF_OFFICE:
            office.open(path)
            self.settled(office)
            count += self.typed(office, path)
        self.assertGreater(count, 30)
