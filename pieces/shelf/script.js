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
const all = () => document.querySelectorAll('[data-slides]:not([data-started])').forEach(start)
all()
document.addEventListener('refreshed', all)
