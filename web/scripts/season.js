// The year's yearline: campaigns are dragged, by their ends too, and moved by keys.
import htmx from 'htmx.org'

export function season() {
  const show = () => {
    const yearline = document.querySelector('[data-yearline]')
    const today = yearline?.querySelector('[data-today]')
    const chosen = yearline?.querySelector('.bar.chosen rect')
    const at = chosen ? Number(chosen.getAttribute('x')) : today ? Number(today.dataset.today) : 0
    if (yearline && !yearline.dataset.shown) {
      yearline.scrollLeft = kept ?? at - 320
      yearline.dataset.shown = '1'
      glance(yearline)
    }
  }
  // The frame on the year at a glance follows what is scrolled to, and is moved by a press.
  function glance(yearline) {
    const box = document.querySelector('[data-glance]')
    if (!box) return
    const frame = box.querySelector('i')
    const follow = () => {
      frame.style.left = `${(100 * yearline.scrollLeft) / yearline.scrollWidth}%`
      frame.style.width = `${(100 * yearline.clientWidth) / yearline.scrollWidth}%`
    }
    const go = (e) => {
      const at = (e.clientX - box.getBoundingClientRect().left) / box.clientWidth
      yearline.scrollLeft = at * yearline.scrollWidth - yearline.clientWidth / 2
    }
    yearline.addEventListener('scroll', follow)
    new ResizeObserver(follow).observe(yearline)
    box.addEventListener('pointerdown', (e) => {
      go(e)
      box.setPointerCapture(e.pointerId)
      box.addEventListener('pointermove', go)
      box.addEventListener('pointerup', () => box.removeEventListener('pointermove', go), { once: true })
    })
  }
  let kept = null
  let focus = null
  const shift = (id, from, to) => {
    kept = document.querySelector('[data-yearline]').scrollLeft
    focus = id
    const year = document.querySelector('.yearline').dataset.year
    htmx.ajax('POST', `/season/campaigns/${id}/shift?year=${year}`, { target: '#season-body', values: { from, to } })
  }
  document.body.addEventListener('htmx:afterSwap', () => {
    show()
    if (focus) document.querySelector(`[data-campaign="${focus}"]`)?.focus()
    focus = null
  })
  show()

  let drag = null
  document.addEventListener('pointerdown', (e) => {
    const bar = e.target.closest('[data-campaign]')
    if (!bar) return
    drag = { bar, edge: e.target.dataset.edge, from: e.clientX, days: 0, day: Number(bar.closest('.yearline').dataset.day) }
    bar.setPointerCapture?.(e.pointerId)
    e.preventDefault()
    bar.focus()
  })
  document.addEventListener('pointermove', (e) => {
    if (!drag) return
    drag.days = Math.round((e.clientX - drag.from) / drag.day)
    const x = drag.days * drag.day
    const rect = drag.bar.querySelector('rect')
    const width = Number(drag.bar.dataset.width)
    if (!drag.edge) drag.bar.setAttribute('transform', `translate(${x} 0)`)
    else if (drag.edge === 'to') rect.setAttribute('width', Math.max(drag.day, width + x))
    else {
      drag.bar.dataset.x ??= rect.getAttribute('x')
      rect.setAttribute('x', Number(drag.bar.dataset.x) + Math.min(x, width - drag.day))
      rect.setAttribute('width', Math.max(drag.day, width - x))
    }
  })
  document.addEventListener('pointerup', () => {
    if (!drag) return
    const { bar, edge, days } = drag
    drag = null
    if (days === 0) return open(bar)
    shift(bar.dataset.campaign, edge === 'to' ? 0 : days, edge === 'from' ? 0 : days)
  })
  document.addEventListener('pointercancel', () => {
    drag?.bar.removeAttribute('transform')
    drag = null
  })
  const open = (bar) => location.assign(`/season?year=${bar.closest('.yearline').dataset.year}&campaign=${bar.dataset.campaign}`)
  document.addEventListener('keydown', (e) => {
    const bar = e.target.closest?.('[data-campaign]')
    if (!bar) return
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key]
    if (by) {
      e.preventDefault()
      shift(bar.dataset.campaign, e.shiftKey ? 0 : by, by)
    }
    if (e.key === 'Enter') open(bar)
  })
}
