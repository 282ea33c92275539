// A person at work, counted by the keystroke-level model.
import assert from 'node:assert/strict'

// Operator times in seconds, from Card, Moran and Newell, “The keystroke-level
// model for user performance time with interactive systems” (1980), written
// from memory: K for an average typist of other than secretarial work, P to
// point with a mouse, B to press or release its button, H from keyboard to
// mouse or back, M to prepare. Every act is given its M and its way there,
// which is more than the model's rules for leaving out an M would give.
const operators = { K: 0.28, P: 1.1, B: 0.1, H: 0.4, M: 1.35 }

export function person(page) {
  let seconds = 0
  const spend = (acts) => (seconds += [...acts].reduce((sum, act) => sum + operators[act], 0))
  return {
    get seconds() {
      return seconds
    },
    click: async (target) => (spend('MHPBB'), await target.click()),
    type: async (target, text) => (spend('MHPBBH' + 'K'.repeat(text.length)), await target.fill(text)),
    // Into the field that has the focus already.
    typeHere: async (target, text) => {
      spend('MH' + 'K'.repeat(text.length))
      assert.ok(await target.evaluate((el) => el === document.activeElement), 'the field has the focus')
      await page.keyboard.type(text)
    },
    // A closed list is opened, pointed into and chosen from.
    choose: async (target, value) => (spend('MHPBBPBB'), await target.selectOption(value)),
    // A chooser is opened, and one of what it shows is pressed.
    pick: async (box, words) => {
      spend('MHPBBMPBB')
      await box.locator('summary').click()
      await box.locator('[data-pick]', { hasText: words }).first().click()
    },
    look: () => spend('M'),
  }
}
