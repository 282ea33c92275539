// The look of a band, a piece or the page: chosen, typed, nudged by keys or
// drawn by the pointer; copied, put on others, cleared.
import htmx from 'htmx.org'

const KEPT = 'chrysagon-look'

export function looks(sheet, send, say) {
  const of = (el) => el.closest('[data-look]')
  const set = (el, value) => {
    const panel = of(el)
    const worn = { ...JSON.parse(panel.dataset.worn), [el.dataset.lookSet]: value }
    if (value === '') delete worn[el.dataset.lookSet]
    panel.dataset.worn = JSON.stringify(worn)
    panel.querySelector('[data-look-clear]').hidden = Object.keys(worn).length === 0
    // Nudging one number on and on is one step of undo.
    return send({
      joins: el.type === 'number',
      command: { op: 'dress', looks: [{ id: panel.dataset.look, set: { [el.dataset.lookSet]: value === '' ? null : value } }] },
    }).then((told) => told && el.type !== 'number' && refresh(panel))
  }
  // Swatches and the list of buttons follow what was set; a number being
  // nudged stays under the hand.
  function refresh(panel) {
    const wide = panel.querySelector('[data-look-wide]')
    const more = panel.querySelector('.look-rest')?.open ? '1' : ''
    if (wide) htmx.ajax('GET', `${wide.getAttribute('hx-get')}?wide=${wide.value}&more=${more}`, { target: panel, swap: 'outerHTML' })
  }

  sheet.addEventListener('change', (e) => {
    const el = e.target
    if (el.dataset.lookSet === undefined) return
    e.stopPropagation()
    if (el.type === 'number' && el.value !== '') el.value = Math.min(Math.max(Math.round(el.value), el.min), el.max)
    set(el, el.value)
  })
  sheet.addEventListener('picked', (e) => e.target.dataset.lookSet && set(e.target, e.detail))
  // An empty number begins where the house stands.
  sheet.addEventListener('keydown', (e) => {
    const el = e.target
    if (el.dataset?.lookSet === undefined || el.type !== 'number' || !/^Arrow(Up|Down)$/.test(e.key)) return
    e.preventDefault()
    const by = (e.key === 'ArrowUp' ? 1 : -1) * el.step * (e.shiftKey ? 5 : 1)
    put(el, Number(el.value === '' ? el.dataset.from : el.value) + by)
  })
  function put(el, value) {
    el.value = Math.min(Math.max(Math.round(value), el.min), el.max)
    el.dispatchEvent(new Event('change', { bubbles: true }))
  }
  // Its name is drawn to the left or right.
  sheet.addEventListener('pointerdown', (e) => {
    if (!e.target.classList.contains('scrub')) return
    const el = e.target.nextElementSibling
    const from = Number(el.value === '' ? el.dataset.from : el.value)
    const x = e.clientX
    let last = from
    e.target.setPointerCapture(e.pointerId)
    const moved = (m) => {
      const value = from + Math.round((m.clientX - x) / 4) * Number(el.step)
      if (value !== last) put(el, (last = value))
    }
    e.target.addEventListener('pointermove', moved)
    e.target.addEventListener('pointerup', () => e.target.removeEventListener('pointermove', moved), { once: true })
  })

  sheet.addEventListener('click', (e) => {
    const el = e.target.closest('button')
    const panel = el && of(el)
    if (!panel) return
    const own = JSON.parse(panel.dataset.worn) ?? {}
    if (el.dataset.lookSet !== undefined) set(el, el.dataset.value)
    else if (el.dataset.lookCopy !== undefined) {
      sessionStorage.setItem(KEPT, panel.dataset.worn)
      offer(sheet)
      say('The look is copied. Open another slip to put it on.')
    } else if (el.dataset.lookPut !== undefined) wear(panel, JSON.parse(sessionStorage.getItem(KEPT)) ?? {}, false)
    else if (el.dataset.lookAlike !== undefined) wear(panel, own, true)
    else if (el.dataset.lookClear !== undefined) wear(panel, {}, false)
  })
  const wear = (panel, look, alike) => send({ dressing: { id: panel.dataset.look, look, alike } }).then(() => refresh(panel))

  function offer(root) {
    if (sessionStorage.getItem(KEPT)) for (const b of root.querySelectorAll('[data-look-put]')) b.hidden = false
  }
  document.body.addEventListener('htmx:afterSettle', (e) => e.target.isConnected && offer(e.target.parentElement ?? e.target))
}
