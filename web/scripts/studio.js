// The studio's script: dialogs, news from the server, and the manuscript.
import htmx from 'htmx.org'
import { desk } from './desk.js'

window.htmx = htmx

let fading
export function say(words) {
  const toast = document.getElementById('toast')
  if (!toast) return
  toast.textContent = words
  clearTimeout(fading)
  fading = setTimeout(() => (toast.textContent = ''), 6000)
}

document.addEventListener('click', (e) => {
  if (e.target.closest('[data-panel]')) document.getElementById('panel').showModal()
  if (e.target.closest('[data-keys]')) document.getElementById('keys').showModal()
  // A menu closes when the click goes elsewhere.
  for (const menu of document.querySelectorAll('details[open]')) {
    if (menu.querySelector('.float') && !menu.contains(e.target)) menu.open = false
  }
})
document.addEventListener('keydown', (e) => {
  const typing = e.target.isContentEditable || /^(input|textarea|select)$/i.test(e.target.tagName)
  if (e.key === '?' && !typing) document.getElementById('keys')?.showModal()
  if (e.key === 'Escape') for (const menu of document.querySelectorAll('details[open]')) if (menu.querySelector('.float')) menu.open = false
})

// What the server refused, in its own words. Forms show theirs beside the field.
document.body.addEventListener('htmx:responseError', (e) => {
  let words = 'The studio did not answer. Try again.'
  try {
    words = JSON.parse(e.detail.xhr.responseText).error
  } catch {
    /* not ours */
  }
  say(words)
})
document.body.addEventListener('htmx:sendError', () => say('The studio cannot be reached. Check that it runs; nothing is lost.'))

// News: a sale, or something pages show. One stream serves the whole page.
if (document.getElementById('live')) {
  const news = new EventSource('/changes')
  news.addEventListener('sale', () => htmx.trigger(document.body, 'sale'))
}
const renewLive = () => htmx.ajax('GET', '/live', { target: '#live', swap: 'innerHTML' })
document.body.addEventListener('edition', renewLive)
document.body.addEventListener('page-named', renewLive)

const page = document.querySelector('[data-page]')
if (page) desk(page, say)
