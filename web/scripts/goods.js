// The Goods place: cells changed in place, many ticked, files dropped.
import { droppable, upload } from './pictures.js'

const token = () => document.body.dataset.csrf
const post = (path, body) => fetch(path, { method: 'POST', body, headers: { 'X-Csrf-Token': token(), Accept: 'application/json' } })

export function goods(root, say) {
  let before = ''
  document.addEventListener('focusin', (e) => e.target.matches('.cell') && (before = e.target.textContent))
  document.addEventListener('keydown', (e) => {
    if (!e.target.matches('.cell')) return
    if (e.key === 'Escape') e.target.textContent = before
    if (e.key === 'Enter' || e.key === 'Escape') {
      e.preventDefault()
      e.target.blur()
    }
    if ((e.key === 'ArrowDown' || e.key === 'ArrowUp') && e.target.closest('tr')) {
      const rows = [...e.target.closest('tbody').rows]
      const to = rows[rows.indexOf(e.target.closest('tr')) + (e.key === 'ArrowDown' ? 1 : -1)]
      to?.querySelector(`[data-column="${e.target.dataset.column}"]`)?.focus()
      e.preventDefault()
    }
  })
  document.addEventListener('focusout', async (e) => {
    const cell = e.target
    if (!cell.matches?.('.cell') || cell.textContent === before) return
    const was = before
    const id = cell.closest('[data-id]').dataset.id
    const answer = await post(
      `/goods/${encodeURIComponent(id)}/cell`,
      new URLSearchParams({ column: cell.dataset.column, value: cell.textContent.trim() }),
    )
    const told = await answer.json().catch(() => ({ detail: 'The studio did not answer. Try again.' }))
    if (told.detail) cell.textContent = was
    cell.classList.toggle('kept', !told.detail)
    say(told.detail ?? told.said)
  })
  document.addEventListener('change', (e) => {
    if (e.target.matches('[data-tick-all]')) for (const box of root.querySelectorAll('tbody input[name=id]')) box.checked = e.target.checked
    if (e.target.matches('input[name=id], [data-tick-all]')) document.querySelector('#bulk')?.requestSubmit()
  })
  droppable(root, async (files) => {
    const kept = await upload(files, root.querySelector('[data-uploads]'), { product: root.dataset.product })
    for (const one of kept) {
      const item = document.createElement('li')
      const img = document.createElement('img')
      img.src = `${one.path}?w=320`
      img.alt = one.file.name
      img.width = 120
      img.height = 90
      item.append(img)
      root.querySelector('[data-pictures]').append(item)
    }
    say(`${kept.length} of ${files.length} pictures kept.`)
  })
}

// Files of goods are chosen anywhere, and their dry run is shown.
document.addEventListener('change', async (e) => {
  if (!e.target.matches('[data-import]') || !e.target.files[0]) return
  const form = new FormData()
  form.append('file', e.target.files[0])
  const button = e.target.closest('label')
  button.setAttribute('aria-busy', 'true')
  const answer = await fetch('/goods/import', {
    method: 'POST',
    body: form,
    headers: { 'X-Csrf-Token': token(), 'HX-Request': 'true' },
  }).catch(() => null)
  button.removeAttribute('aria-busy')
  e.target.value = ''
  const to = answer?.headers.get('HX-Redirect')
  if (to) return location.assign(to)
  const told = await answer?.json().catch(() => null)
  const toast = document.getElementById('toast')
  toast.textContent = told?.detail ?? 'The file could not be handed in. Try again.'
})

// Undoing a change of many goods.
document.addEventListener('click', async (e) => {
  const button = e.target.closest('[data-undo-batch]')
  if (!button) return
  const answer = await post(`/goods/undo/${button.dataset.undoBatch}`)
  const told = await answer.json().catch(() => ({ detail: 'The studio did not answer. Try again.' }))
  const word = document.createElement('span')
  word.className = told.detail ? 'bad' : 'good'
  word.setAttribute('role', 'status')
  word.textContent = told.detail ?? told.said
  button.replaceWith(word)
  document.body.dispatchEvent(new Event('goods-changed'))
})
