// @ts-check
// The desk's keys.
import { about, around } from './dom.js'

/**
 * @param {object} on
 * @param {(what: 'undo' | 'redo') => void} on.step
 * @param {(el: Element, by: number) => void} on.move
 * @param {(el: Element, by: number) => void} on.turn
 * @param {(button: HTMLElement) => void} on.closeSlip
 */
export function keys({ step, move, turn, closeSlip }) {
  document.addEventListener('keydown', (e) => {
    const command = e.ctrlKey || e.metaKey
    const el = about(e)
    if (e.defaultPrevented) return // written copy takes its own steps back first
    if (command && e.key.toLowerCase() === 'z') {
      if (/^(input|textarea)$/i.test(el.tagName)) return
      e.preventDefault()
      step(e.shiftKey ? 'redo' : 'undo')
    } else if (command && e.key.toLowerCase() === 'y') {
      e.preventDefault()
      step('redo')
    } else if (e.altKey && (e.key === 'ArrowUp' || e.key === 'ArrowDown') && el.closest?.('[data-band]')) {
      e.preventDefault()
      move(el, e.key === 'ArrowUp' ? -1 : 1)
    } else if (e.key === 'F8' && el.closest?.('[data-band]')) {
      e.preventDefault()
      turn(el, e.shiftKey ? -1 : 1)
    } else if (e.key === 'Escape' && el.closest?.('.slip')) {
      const button = /** @type {HTMLElement} */ (around(el, '.slip-slot').previousElementSibling)
      closeSlip(button)
      button.focus()
    } else if (e.key === 'Enter' && el.isContentEditable && el.dataset.type !== 'prose' && el.dataset.type !== 'rich') {
      e.preventDefault()
    }
  })
}
