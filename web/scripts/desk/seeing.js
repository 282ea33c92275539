// @ts-check
// The proofs, given the whole width: both, or one of them at its own size. F9 goes from one
// to the next, Shift+F9 back, Escape ends it; what was looked at stays in sight.
import { all, maybe } from './dom.js'

const ways = ['', 'both', 'desktop', 'phone']

/**
 * @param {HTMLElement} root the desk
 * @param {{ show(piece: string): void }} shown the proofs
 * @param {(words: string) => void} say
 */
export function seeing(root, shown, say) {
  let at = '' // the piece in which one writes
  root.addEventListener('focusin', (e) => {
    const piece = /** @type {HTMLElement | null} */ (/** @type {Element} */ (e.target).closest('[data-piece]'))
    if (piece?.dataset.piece) at = piece.dataset.piece
  })

  /** @param {string} way */
  function see(way) {
    root.dataset.seen = way
    for (const button of /** @type {HTMLElement[]} */ (all(root, '[data-see]'))) button.ariaPressed = String(button.dataset.see === way)
    say(
      {
        '': 'The sheet is back.',
        both: 'Both proofs, in the whole width. F9 goes on, Esc brings back the sheet.',
        desktop: 'The wide screen, at its own size. F9 goes on, Esc brings back the sheet.',
        phone: 'The phone, at its own size. F9 goes on, Esc brings back the sheet.',
      }[way] ?? '',
    )
    requestAnimationFrame(() => requestAnimationFrame(() => at && shown.show(at)))
  }
  const now = () => root.dataset.seen ?? ''

  document.addEventListener('keydown', (e) => {
    if (e.key === 'F9') {
      e.preventDefault()
      see(ways[(ways.indexOf(now()) + (e.shiftKey ? ways.length - 1 : 1)) % ways.length])
    } else if (e.key === 'Escape' && now() && !maybe(document.body, 'dialog[open]')) see('')
  })
  for (const button of /** @type {HTMLElement[]} */ (all(root, '[data-see]')))
    button.addEventListener('click', () => see(now() === button.dataset.see ? '' : (button.dataset.see ?? '')))
}
