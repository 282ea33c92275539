// Offers take turns: the next one comes after so many seconds, unless somebody
// points at them, is in them with the keyboard, has moved or stopped them, or has
// asked for less motion.
const still = () => matchMedia('(prefers-reduced-motion: reduce)').matches

function start(box) {
  const track = box.querySelector('.turns')
  const cards = [...track.children]
  const stop = box.querySelector('[data-still]')
  const every = Number(box.dataset.rotate)
  let stopped = still()
  const place = (card) => card.offsetLeft - cards[0].offsetLeft
  const now = () =>
    cards.reduce(
      (best, card, i) => (Math.abs(place(card) - track.scrollLeft) < Math.abs(place(cards[best]) - track.scrollLeft) ? i : best),
      0,
    )
  // Past the last comes the first. What is seen to its end counts as the last.
  const turn = (by) => {
    const end = track.scrollLeft > track.scrollWidth - track.clientWidth - 2
    const to = by > 0 && end ? 0 : (now() + by + cards.length) % cards.length
    track.scrollTo({ left: place(cards[to]), behavior: still() ? 'auto' : 'smooth' })
  }
  const keep = (yes) => {
    stopped = yes
    if (!stop) return
    stop.setAttribute('aria-label', yes ? 'Let them take turns' : 'Stop the turns')
    stop.firstElementChild.hidden = yes
    stop.lastElementChild.hidden = !yes
  }
  keep(stopped)
  for (const button of box.querySelectorAll('[data-by]'))
    button.addEventListener('click', () => (keep(true), turn(Number(button.dataset.by))))
  stop?.addEventListener('click', () => keep(!stopped))
  track.addEventListener('pointerdown', () => keep(true))
  if (every) setInterval(() => stopped || document.hidden || track.matches(':hover, :focus-within') || turn(1), every * 1000)
  new ResizeObserver(() => box.classList.toggle('whole', track.scrollWidth <= track.clientWidth + 2)).observe(track)
  box.dataset.started = ''
}
const all = () => document.querySelectorAll('[data-rotate]:not([data-started])').forEach(start)
all()
document.addEventListener('refreshed', all)
