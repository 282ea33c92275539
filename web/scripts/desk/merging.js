// @ts-check
// The sheet takes over what changed and leaves the rest in place: an open menu, a slip,
// the caret, and what was typed but has not come back.
import { Idiomorph } from 'idiomorph'
import { retype } from './caret.js'

/**
 * @param {object} on
 * @param {HTMLElement} on.sheet
 * @param {ReturnType<typeof import('./typing.js').typing>} on.typing
 * @param {() => void} on.ready the sheet was drawn anew
 */
export function merging({ sheet, typing: { busy, copy, timers, was, words }, ready }) {
  /** @param {string} html */
  function renew(html) {
    const at = document.activeElement
    Idiomorph.morph(sheet, html, {
      morphStyle: 'innerHTML',
      restoreFocus: false,
      callbacks: {
        beforeNodeRemoved: (n) => !(n instanceof Element && n.matches('.refusal')),
        beforeNodeMorphed: stale,
        beforeAttributeUpdated: ours,
      },
    })
    ready()
    if (at instanceof HTMLElement && at !== document.activeElement && sheet.contains(at)) at.focus() // a moved element lets it go
  }

  /**
   * Tells whether a node is to be renewed.
   * @param {Node} old
   * @param {Node} fresh
   */
  function stale(old, fresh) {
    if (!(old instanceof HTMLElement) || !(fresh instanceof HTMLElement)) return true
    if (old.matches('[data-line], .slip-slot')) return false
    if (old.matches('[data-list]') && (busy(old) || [...timers.keys()].some((el) => old.contains(el)))) return false
    if (old.matches('input[data-of-page], textarea[data-of-page]')) return ofPageAnew(/** @type {HTMLInputElement} */ (old), fresh)
    if (old.matches('.chooser[open] > .float')) return false
    const naming = '.naming, summary, summary *, .name-form, .name-form *, .sharing, .sharing *'
    if (old.closest('.naming[open]') && !old.matches(naming)) return false
    if (!old.isContentEditable || !old.matches('[contenteditable], .written')) return true
    if (busy(old)) return false
    if (copy.written(old)) {
      if (fresh.dataset.value !== old.dataset.value) adopt(old, fresh.dataset.value ?? '')
      return false
    }
    if (old !== document.activeElement || old.dataset.type === 'rich' || !same(old, fresh)) return true
    adopt(old, fresh.textContent ?? '')
    return false
  }

  /**
   * @param {HTMLElement} a
   * @param {HTMLElement} b
   */
  const same = (a, b) =>
    a.dataset.field === b.dataset.field && a.dataset.sub === b.dataset.sub && a.dataset.bandField === b.dataset.bandField

  /**
   * A field takes what it came to, and its caret stays by the words it stood at.
   * @param {HTMLElement} el
   * @param {string} text
   */
  function adopt(el, text) {
    if (busy(el)) return
    was.set(el, text)
    if (el.dataset.type === 'rich') el.dataset.value = text
    if (copy.written(el)) copy.set(el, text)
    else if (el.dataset.type !== 'rich' && words(el) !== text) retype(el, text)
  }

  /**
   * @param {HTMLInputElement} old
   * @param {HTMLElement} fresh
   */
  function ofPageAnew(old, fresh) {
    if (busy(old)) return false
    const text = fresh.getAttribute('value') ?? fresh.textContent ?? ''
    was.set(old, text)
    if (old.value === text) return true
    const at = old.selectionStart
    old.value = text
    if (old === document.activeElement) old.setSelectionRange(at, at)
    return false
  }

  /**
   * What is open stays open.
   * @param {string} name
   * @param {Element} el
   */
  const ours = (name, el) => !((name === 'open' && el.matches('details')) || (name === 'aria-expanded' && el.matches('.telling')))

  return { renew, adopt }
}
