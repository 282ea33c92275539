// Slips open under the line of a piece, looks at the head of a band or under the page's
// name.
import htmx from 'htmx.org'

/**
 * @param {HTMLElement} sheet
 * @param {string} id of the page
 */
export function slips(sheet, id) {
  /** @param {Element} button the line of the piece */
  function closeSlip(button) {
    button.setAttribute('aria-expanded', 'false')
    const slot = button.nextElementSibling
    slot.hidden = true
    slot.replaceChildren()
  }

  /**
   * @param {Element | null | undefined} button
   * @param {string} [focus] what takes the focus; '': the first choice; left out: nothing
   */
  async function openSlip(button, focus) {
    if (!button) return
    for (const other of sheet.querySelectorAll('.telling[aria-expanded="true"]')) if (other !== button) closeSlip(other)
    button.setAttribute('aria-expanded', 'true')
    const slot = button.nextElementSibling
    slot.hidden = false
    await htmx.ajax('GET', `/pages/${id}/slip/${button.closest('[data-piece]').dataset.piece}`, { target: slot, swap: 'innerHTML' })
    if (focus !== undefined) slot.querySelector(focus || 'select')?.focus()
  }

  /** @param {string | undefined} pieceID */
  function renewSlip(pieceID) {
    const button = pieceID && sheet.querySelector(`[data-piece="${CSS.escape(pieceID)}"] > .telling[aria-expanded="true"]`)
    if (button) openSlip(button)
  }

  /** @param {HTMLElement} el the button of a band's look, or of the page's */
  async function dress(el) {
    const slot = el.dataset.dress ? el.closest('.band-row').querySelector('[data-look-slot]') : sheet.querySelector('[data-look-slot=page]')
    el.closest('.band-menu')?.removeAttribute('open')
    slot.hidden = !slot.hidden && slot.childElementCount > 0
    if (slot.hidden) return slot.replaceChildren()
    await htmx.ajax('GET', `/pages/${id}/look/${el.dataset.dress || 'page'}`, { target: slot, swap: 'innerHTML' })
    slot.querySelector('select')?.focus()
  }

  return { openSlip, closeSlip, renewSlip, dress }
}
