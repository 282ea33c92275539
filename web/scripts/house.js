// The house style is tried: every change of the form draws the place anew.
import { fitted } from './desk/proofs.js'

export function house(root) {
  const ready = () => fitted(root)
  document.body.addEventListener('htmx:afterSettle', (e) => e.target === root && ready())
  root.addEventListener(
    'change',
    (e) => {
      if (e.target.matches('.chooser input')) return e.stopPropagation() // a word to find by is no part of the house
      // Two families chosen by hand are a pair of one's own.
      if (e.target.dataset.ownPair !== undefined) e.target.form.pair.value = ''
    },
    true,
  )
  root.addEventListener('click', (e) => {
    const picked = e.target.closest('[data-pick]')
    if (picked) {
      const field = root.querySelector(`[name=${picked.closest('[data-house]').dataset.house}]`)
      field.value = picked.dataset.pick
      field.dispatchEvent(new Event('change', { bubbles: true }))
    }
  })
  root.addEventListener('click', (e) => {
    const mend = e.target.closest('[data-mend-ink]')
    if (!mend) return
    const ink = root.querySelector(`[name="${mend.dataset.mendInk}"]`)
    ink.value = mend.dataset.to
    ink.dispatchEvent(new Event('change', { bubbles: true }))
  })
  ready()
}
