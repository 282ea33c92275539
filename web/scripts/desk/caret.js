// @ts-check
// Where the caret goes when words change around it.

/**
 * The place in the new words that is where the caret was in the old ones: as far from
 * the beginning where all before it stayed, or else as far from the end.
 *
 * @param {string} old
 * @param {string} text
 * @param {number} caret signs before it, of the old words
 * @returns {number} signs before it, of the new words
 */
export function follow(old, text, caret) {
  let head = 0
  while (head < caret && old[head] === text[head]) head++
  return head === caret ? caret : Math.max(text.length - (old.length - caret), 0)
}

/**
 * How many signs of an element's words stand before the selection.
 * @param {Element} el
 * @param {Selection} at
 */
export function offset(el, at) {
  const before = document.createRange()
  before.selectNodeContents(el)
  if (at.anchorNode) before.setEnd(at.anchorNode, at.anchorOffset)
  return before.toString().length
}

/**
 * Gives an element other words; the caret stays by the words it stood at.
 * @param {HTMLElement} el
 * @param {string} text
 */
export function retype(el, text) {
  const at = getSelection()
  const old = el.textContent ?? ''
  const caret = at && el === document.activeElement && el.contains(at.anchorNode) ? offset(el, at) : null
  el.textContent = text
  if (caret === null || !at) return
  put(el, at, follow(old, text, caret))
}

/**
 * @param {HTMLElement} el
 * @param {Selection} at
 * @param {number} caret
 */
export function put(el, at, caret) {
  const words = el.firstChild instanceof Text ? el.firstChild : null
  at.collapse(words ?? el, Math.min(caret, words?.length ?? 0))
}
