// @ts-check
// Finding what stands where on the sheet.

/**
 * What is there, always.
 * @param {ParentNode} root
 * @param {string} selector
 * @returns {HTMLElement}
 */
export function one(root, selector) {
  const el = maybe(root, selector)
  if (!el) throw new Error(`nothing is ${selector}`)
  return el
}

/**
 * @param {ParentNode | null | undefined} root
 * @param {string} selector
 * @returns {HTMLElement | null}
 */
export const maybe = (root, selector) => root?.querySelector(selector) ?? null

/**
 * @param {ParentNode} root
 * @param {string} selector
 * @returns {HTMLElement[]}
 */
export const all = (root, selector) => [...root.querySelectorAll(selector)].filter((el) => el instanceof HTMLElement)

/**
 * What an element stands in, always.
 * @param {Element} el
 * @param {string} selector
 * @returns {HTMLElement}
 */
export function around(el, selector) {
  const found = el.closest(selector)
  if (!(found instanceof HTMLElement)) throw new Error(`it does not stand in ${selector}`)
  return found
}

/**
 * What an event is about.
 * @param {Event} e
 * @returns {HTMLElement}
 */
export const about = (e) => /** @type {HTMLElement} */ (e.target)

/**
 * @typedef {HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement} Field a form's field
 */

/**
 * The form's field that an event is about.
 * @param {Event} e
 * @returns {Field}
 */
export const field = (e) => /** @type {Field} */ (e.target)

/** @param {Element} el */
export const pieceOf = (el) => around(el, '[data-piece]').dataset.piece
/** @param {Element} el */
export const bandOf = (el) => around(el, '[data-band]').dataset.band
/** @param {Element} el */
export const itemOf = (el) => Number(around(el, '[data-item]').dataset.item)

/**
 * What stands on the sheet under a name.
 * @param {ParentNode} sheet
 * @param {'piece' | 'band'} what
 * @param {string} id
 */
export const named = (sheet, what, id) => maybe(sheet, `[data-${what}="${CSS.escape(id)}"]`)
