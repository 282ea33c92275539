// @ts-check
// Slips open under the line of a piece, looks at the head of a band or under the page's
// name.
import htmx from 'htmx.org'
import { all, around, maybe, named, one, pieceOf } from './dom.js'

/**
 * @param {HTMLElement} sheet
 * @param {string} id of the page
 */
export function slips(sheet, id) {
  /** @param {HTMLElement} button the line of the piece */
  function closeSlip(button) {
    button.setAttribute('aria-expanded', 'false')
    const slot = /** @type {HTMLElement} */ (button.nextElementSibling)
    slot.hidden = true
    slot.replaceChildren()
  }

  /**
   * @param {HTMLElement | null | undefined} button
   * @param {string} [focus] what takes the focus; '': the first choice; left out: nothing
   */
  async function openSlip(button, focus) {
    if (!button) return
    for (const other of all(sheet, '.telling[aria-expanded="true"]')) if (other !== button) closeSlip(other)
    button.setAttribute('aria-expanded', 'true')
    const slot = /** @type {HTMLElement} */ (button.nextElementSibling)
    slot.hidden = false
    await htmx.ajax('get', `/pages/${id}/slip/${pieceOf(button)}`, { target: slot, swap: 'innerHTML' })
    if (focus !== undefined) maybe(slot, focus || 'select')?.focus()
  }

  /**
   * @param {string | undefined} pieceID
   * @param {string} [focus] what takes the focus
   */
  function renewSlip(pieceID, focus) {
    const button = pieceID && maybe(named(sheet, 'piece', pieceID), ':scope > .telling[aria-expanded="true"]')
    if (button) openSlip(button, focus)
  }

  /** @param {HTMLElement} el the button of a band's look, or of the page's */
  async function dress(el) {
    const slot = el.dataset.dress ? one(around(el, '.band-row'), '[data-look-slot]') : one(sheet, '[data-look-slot=page]')
    el.closest('.band-menu')?.removeAttribute('open')
    slot.hidden = !slot.hidden && slot.childElementCount > 0
    if (slot.hidden) return slot.replaceChildren()
    await htmx.ajax('get', `/pages/${id}/look/${el.dataset.dress || 'page'}`, { target: slot, swap: 'innerHTML' })
    maybe(slot, 'select')?.focus()
  }

  return { openSlip, closeSlip, renewSlip, dress }
}
