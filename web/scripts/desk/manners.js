// @ts-check
// How bands are composed: by their little pictures, or by one key.
import { all, maybe, named } from './dom.js'

/**
 * @param {HTMLElement} sheet
 * @param {(body: import('./queue.js').Body) => Promise<any>} send
 * @param {(words: string) => void} say
 */
export function manners(sheet, send, say) {
  const choices = (/** @type {Element} */ band) => /** @type {HTMLElement[]} */ (all(band, '[data-manner]'))

  /**
   * Sets a band in the manner of a little picture.
   * @param {HTMLElement} button
   */
  function choose(button) {
    const row = /** @type {HTMLElement} */ (button.closest('[data-band]'))
    const id = row.dataset.band ?? ''
    const open = maybe(row, '.band-menu')?.hasAttribute('open')
    const at = choices(row).indexOf(button) + 1
    return send({ command: { op: 'set_band', id, field: 'manner', value: button.dataset.manner } }).then(() => {
      say(`Composed: ${button.ariaLabel} (${at} of ${choices(row).length}). Undo brings back what was.`)
      const now = named(sheet, 'band', id)
      if (!open || !now) return
      maybe(now, '.band-menu')?.setAttribute('open', '') // where one chooses among them, they stay
      maybe(now, `[data-manner="${button.dataset.manner}"]`)?.focus()
    })
  }

  /**
   * Sets the band in which something stands in the next of its manners, or the one before.
   * @param {Element} el
   * @param {number} by
   */
  function turn(el, by) {
    const row = el.closest('[data-band]')
    if (!row) return
    const list = choices(row)
    const at = list.findIndex((one) => one.ariaPressed === 'true')
    choose(list[(at + by + list.length) % list.length])
  }
  return { choose, turn }
}
