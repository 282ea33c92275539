// The desk's keys.

/**
 * @param {object} on
 * @param {(what: 'undo' | 'redo') => void} on.step
 * @param {(el: Element, by: number) => void} on.move
 * @param {(button: Element) => void} on.closeSlip
 */
export function keys({ step, move, closeSlip }) {
  document.addEventListener('keydown', (e) => {
    const command = e.ctrlKey || e.metaKey
    if (e.defaultPrevented) return // written copy takes its own steps back first
    if (command && e.key.toLowerCase() === 'z') {
      if (/^(input|textarea)$/i.test(e.target.tagName)) return
      e.preventDefault()
      step(e.shiftKey ? 'redo' : 'undo')
    } else if (command && e.key.toLowerCase() === 'y') {
      e.preventDefault()
      step('redo')
    } else if (e.altKey && (e.key === 'ArrowUp' || e.key === 'ArrowDown') && e.target.closest?.('[data-band]')) {
      e.preventDefault()
      move(e.target, e.key === 'ArrowUp' ? -1 : 1)
    } else if (e.key === 'Escape' && e.target.closest?.('.slip')) {
      const button = e.target.closest('.slip-slot').previousElementSibling
      closeSlip(button)
      button.focus()
    } else if (e.key === 'Enter' && e.target.isContentEditable && e.target.dataset.type !== 'prose' && e.target.dataset.type !== 'rich') {
      e.preventDefault()
    }
  })
}
