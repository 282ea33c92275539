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
  const fresh = new DOMParser().parseFromString(await answer.text(), 'text/html')
  const gone = (el) => !fresh.getElementById(el.id)
  for (const band of document.querySelectorAll('main > .band')) if (gone(band)) band.hidden = true
  for (const part of document.querySelectorAll('[data-live]')) {
    const now = fresh.getElementById(part.id)
    if (!now) {
      part.hidden = true
      continue
    }
    const form = part.querySelector('[data-checkout]')
    if (form && now.querySelector('[data-checkout]')) form.dispatchEvent(new CustomEvent('fresh', { detail: now }))
    else part.replaceChildren(...now.childNodes)
  }
  document.dispatchEvent(new Event('refreshed'))
}

// A form that must be sent once is sent once, however often it is pressed.
for (const form of document.querySelectorAll('form[data-once]'))
  form.addEventListener('submit', (e) => {
    if (form.dataset.sent) e.preventDefault()
    form.dataset.sent = '1'
  })
window.addEventListener('pageshow', (e) => {
  if (e.persisted) for (const form of document.querySelectorAll('form[data-once]')) delete form.dataset.sent
})
