// Timers tick by the server's clock. At zero the page asks the server what
// holds now; the server, not this script, decides what that is.
import { clock, moment, refresh } from '../../web/scripts/page.js'

// Timers, and bands to which something happens at a moment.
const timers = () => [...document.querySelectorAll('[data-timer], [data-zero]')]

function draw() {
  const now = moment()
  if (now === null) return
  for (const el of timers()) {
    const left = Math.max(0, Math.floor((Number(el.dataset.timer ?? el.dataset.zero) - now) / 1000))
    const parts = [Math.floor(left / 86400), Math.floor(left / 3600) % 24, Math.floor(left / 60) % 60, left % 60]
    el.querySelectorAll('b').forEach((b, i) => (b.textContent = i ? String(parts[i]).padStart(2, '0') : parts[i]))
    if (Number(el.dataset.timer ?? el.dataset.zero) <= now && !el.dataset.done) {
      el.dataset.done = '1'
      // a moment later, and not all visitors in the same instant
      setTimeout(refresh, 200 + Math.random() * 1500)
    }
  }
}

if (timers().length) {
  sync()
  setInterval(draw, 1000)
  // A page that slept in a tab or pocket asks for the time anew.
  document.addEventListener('visibilitychange', () => document.visibilityState === 'visible' && sync())
}

function sync() {
  clock().then(draw)
}
