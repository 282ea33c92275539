// A row: the buttons move the track by all that are seen. Without
// script it scrolls by hand.
function start(slides) {
  const track = slides.querySelector('.track')
  const [back, on] = slides.querySelectorAll('[data-by]')
  const step = () => {
    const [first, second] = track.querySelectorAll('.card')
    if (!second) return track.clientWidth
    const one = second.offsetLeft - first.offsetLeft
    return one * Math.max(1, Math.floor(track.clientWidth / one))
  }
  const mark = () => {
    back.disabled = track.scrollLeft < 2
    on.disabled = track.scrollLeft > track.scrollWidth - track.clientWidth - 2
  }
  const still = matchMedia('(prefers-reduced-motion: reduce)').matches
  for (const button of [back, on])
    button.addEventListener('click', () => track.scrollBy({ left: button.dataset.by * step(), behavior: still ? 'auto' : 'smooth' }))
  track.addEventListener('scroll', mark, { passive: true })
  new ResizeObserver(mark).observe(track)
  slides.dataset.started = ''
}
// One more and one fewer: the field says it to the order as if it had been typed.
document.addEventListener('click', (e) => {
  const by = Number(e.target.closest?.('[data-put]')?.dataset.put)
  if (!by) return
  const field = e.target.parentElement.querySelector('input')
  const now = Math.min(Math.max((Number(field.value) || 0) + by, 0), Number(field.max))
  if (now === Number(field.value)) return
  field.value = now
  field.dispatchEvent(new Event('change', { bubbles: true }))
})
document.addEventListener('change', (e) => {
  const put = e.target.closest?.('.put')
  if (put) put.classList.toggle('some', Number(e.target.value) > 0)
})
const all = () => document.querySelectorAll('[data-slides]:not([data-started])').forEach(start)
all()
document.addEventListener('refreshed', all)
