// What every visitor page shares: it knows the server's clock, and fetches
// anew those parts that change when a price, a deadline or the stock does.
document.documentElement.classList.add('js')

let ahead = null // milliseconds by which the server's clock is ahead of ours

export async function clock() {
  const sent = performance.now()
  const before = Date.now()
  try {
    const answer = await fetch('/clock', { cache: 'no-store' })
    const at = Number(await answer.text())
    ahead = at - (before + (performance.now() - sent) / 2)
  } catch {
    /* offline: the written moment stays */
  }
  return ahead
}

// The moment by the server's clock, or null until it is known.
export const moment = () => (ahead === null ? null : Date.now() + ahead)

// refresh replaces the live parts of the page by what the server says now.
// The checkout's form is kept: only what it would show is handed on, so that
// nothing typed is lost.
export async function refresh() {
  const answer = await fetch(location.pathname + location.search, { cache: 'no-store' })
  if (!answer.ok) return
  // The page leads elsewhere since the deadline.
  if (answer.redirected) {
    location.replace(answer.url)
    return
  }
  const fresh = new DOMParser().parseFromString(await answer.text(), 'text/html')
  const gone = (el) => !fresh.getElementById(el.id)
  for (const band of document.querySelectorAll('main > .band')) if (gone(band)) band.hidden = true
  // A band that appears at a deadline takes its place after its neighbour.
  let before = null
  for (const band of fresh.querySelectorAll('main > .band')) {
    const here = document.getElementById(band.id)
    if (here) here.hidden = false
    else if (before) before.after(document.adoptNode(band))
    else document.querySelector('main').prepend(document.adoptNode(band))
    before = document.getElementById(band.id)
  }
  for (const part of document.querySelectorAll('[data-live]')) {
    const now = fresh.getElementById(part.id)
    if (!now) {
      part.hidden = true
      continue
    }
    const form = part.querySelector('[data-checkout]')
    if (form && now.querySelector('[data-checkout]')) form.dispatchEvent(new CustomEvent('fresh', { detail: now }))
    else renew(part, now)
  }
  document.dispatchEvent(new Event('refreshed'))
}

// renew draws a part anew; what was typed in it for a form elsewhere stays, and the focus.
function renew(part, now) {
  const fields = () => [...part.querySelectorAll('[form][name]:not(button)')]
  const typed = new Map(fields().map((f) => [f.name, f.value]))
  const held = part.contains(document.activeElement) ? document.activeElement.name : ''
  part.replaceChildren(...now.childNodes)
  for (const f of fields()) {
    if (typed.has(f.name)) f.value = typed.get(f.name)
    if (held && f.name === held) f.focus()
  }
}

// Deadlines at midnight in the visitor's zone need to know it.
const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
if (document.documentElement.dataset.personal !== undefined && zone && !document.cookie.includes('zone=')) {
  document.cookie = `zone=${encodeURIComponent(zone)}; path=/; max-age=31536000; samesite=lax`
  refresh()
}

// A page that lay open overnight, or was cut off, may show what no longer holds.
const asleep = 30 * 60 * 1000 // ms out of sight
let left = 0
document.addEventListener('visibilitychange', () => {
  if (document.hidden) left = Date.now()
  else if (left && Date.now() - left > asleep) refresh()
})
addEventListener('online', refresh)

// A form that must be sent once is sent once, however often it is pressed.
for (const form of document.querySelectorAll('form[data-once]'))
  form.addEventListener('submit', (e) => {
    if (form.dataset.sent) e.preventDefault()
    form.dataset.sent = '1'
  })
window.addEventListener('pageshow', (e) => {
  if (e.persisted) for (const form of document.querySelectorAll('form[data-once]')) delete form.dataset.sent
})

// A press to call, to write or to open a map leaves the page open, so that only the
// script can say that it happened.
const presses = [
  ['a[href^="tel:"]', 'call'],
  ['a[href^="sms:"], a[href^="mailto:"]', 'write'],
  ['[data-press=map]', 'map'],
]
document.addEventListener('click', (e) => {
  const name = presses.find(([which]) => e.target.closest?.(which))?.[1]
  if (name && location.pathname.lastIndexOf('/') === 0) navigator.sendBeacon(`${location.pathname}/pressed/${name}`)
})
