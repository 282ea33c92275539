// The studio's script: dialogs, news from the server, and the manuscript.
import Combobox from '@github/combobox-nav'
import htmx from 'htmx.org'
import { desk } from './desk/desk.js'
import { describing } from './describing.js'
import { goods } from './goods.js'
import { house } from './house.js'
import { pictures } from './pictures.js'
import { fitted } from './desk/proofs.js'
import './chosen.js'
import './orders.js'
import { routes } from './routes.js'
import { season } from './season.js'

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
  if (e.target.closest('[data-panel]')) document.getElementById('panel')?.showModal()
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

// A chooser that opens is searched at once; arrows walk through what it shows.
document.addEventListener('toggle', (e) => e.target.matches('.chooser[open]') && e.target.querySelector('input').focus(), true)
document.addEventListener('keydown', (e) => {
  const box = e.target.closest?.('.chooser[open]')
  if (!box || !/^Arrow(Up|Down|Left|Right)$/.test(e.key) || (e.target.matches('input') && !/Up|Down/.test(e.key))) return
  e.preventDefault()
  const all = [...box.querySelectorAll('.candidate')]
  const to = all.indexOf(e.target) + (/Down|Right/.test(e.key) ? 1 : -1)
  ;(all[to] ?? box.querySelector('input')).focus()
})

// Ctrl+K: one line that finds everything. Arrows choose, Enter goes there; what is chosen
// is told to who hears the screen.
const finder = document.getElementById('finder')
function find() {
  finder.showModal()
  const field = finder.querySelector('input')
  field.select()
  htmx.trigger(field, 'opened')
}
document.addEventListener('keydown', (e) => {
  if (finder && !e.defaultPrevented && (e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'k') {
    e.preventDefault()
    find()
  }
})
// What is listed may have been found by other words: then Enter waits for the answer.
let hurried = false
const answered = () => finder.querySelector('[data-asked]')?.dataset.asked === finder.querySelector('input').value.trim()
if (finder) {
  const line = new Combobox(finder.querySelector('input'), finder.querySelector('#finder-list'), {
    firstOptionSelectionMode: 'selected',
    tabInsertsSuggestions: false,
  })
  line.start()
  finder.addEventListener(
    'keydown',
    (e) => {
      hurried = e.key === 'Enter' && !answered()
      if (!hurried) return
      e.preventDefault()
      e.stopPropagation()
    },
    { capture: true },
  )
  finder.addEventListener('htmx:afterSwap', () => {
    line.resetSelection()
    if (!hurried || !answered()) return
    hurried = false
    finder.querySelector('[aria-selected="true"]')?.click()
  })
}
finder?.addEventListener('click', (e) => (e.target === finder || e.target.closest('a')) && finder.close())
document.querySelector('[data-find]')?.addEventListener('click', find)

// What can be done where one is, is done by the very button of it; elsewhere the
// link leads to where that is.
const does = {
  publish: () => document.querySelector('[data-panel]'),
  undo: () => document.querySelector('[data-undo]:not(:disabled)'),
  'sign-out': () => document.querySelector('form[action="/sign-out"] button'),
}
finder?.addEventListener('click', (e) => {
  const button = does[e.target.closest('[data-do]')?.dataset.do]?.()
  if (!button) return
  e.preventDefault()
  finder.close()
  button.click()
})

// What the server refused, in its own words. Forms show theirs beside the field.
document.body.addEventListener('htmx:responseError', (e) => {
  let words = 'The studio did not answer. Try again.'
  try {
    words = JSON.parse(e.detail.xhr.responseText).detail ?? words
  } catch {
    /* not ours */
  }
  say(words)
})
document.body.addEventListener('htmx:sendError', () => say('The studio cannot be reached. Check that it runs; nothing is lost.'))

// Forms whose fields follow a choice: what a kind does not have is hidden.
function follow(root) {
  for (const kind of root.querySelectorAll('select[data-kind]')) {
    const form = kind.form
    for (const el of form.querySelectorAll('[data-for]')) el.hidden = !el.dataset.for.split(' ').includes(kind.value)
    for (const el of form.querySelectorAll('[data-not]')) el.hidden = el.dataset.not.split(' ').includes(kind.value)
    const covers = form.querySelector('[data-covers]')
    if (covers)
      for (const el of form.querySelectorAll('[data-cover]'))
        if (!el.dataset.not?.split(' ').includes(kind.value)) el.hidden = el.dataset.cover !== covers.value
  }
}
// In a shelf's sentence each line shows what its own field needs.
const clauses = (root) => {
  for (const line of root.querySelectorAll('.clause')) {
    const field = line.querySelector('[data-clause]').value
    for (const el of line.querySelectorAll('[data-in]')) el.hidden = !el.dataset.in.split(' ').includes(field)
  }
}
follow(document)
clauses(document)
document.addEventListener('change', (e) => {
  if (e.target.matches('select[data-kind], [data-covers]')) follow(document)
  if (e.target.matches('[data-clause]')) clauses(document)
})
document.body.addEventListener('htmx:afterSwap', () => {
  follow(document)
  clauses(document)
})
// Long lists of choices are narrowed by typing.
document.addEventListener('input', (e) => {
  if (!e.target.matches('[data-narrow]')) return
  const want = e.target.value.trim().toLowerCase()
  for (const label of e.target.parentElement.querySelectorAll('label, .kind'))
    label.hidden = want !== '' && !label.textContent.toLowerCase().includes(want)
})

// News: a sale, or something pages show. One stream serves the whole page.
if (document.getElementById('live')) {
  const news = new EventSource('/changes')
  let begun = ''
  news.addEventListener('begun', (e) => {
    if (begun && begun !== e.data) location.reload()
    begun = e.data
  })
  news.addEventListener('sale', () => htmx.trigger(document.body, 'sale'))
  news.addEventListener('facts', () => htmx.trigger(document.body, 'facts-told'))
  news.addEventListener('page', (e) => {
    const [id, revision] = e.data.split(' ')
    htmx.trigger(document.body, 'page-told', { id, revision: Number(revision) })
  })
}
const renewLive = () => htmx.ajax('GET', '/live', { target: '#live', swap: 'innerHTML' })
document.body.addEventListener('edition', renewLive)

const page = document.querySelector('[data-page]')
if (page) desk(page, say)
const shelves = document.querySelector('[data-goods]')
if (shelves) goods(shelves, say)
const described = document.querySelector('[data-describes] .ed')
if (described) describing(described, say)
const shelf = document.querySelector('[data-shelf]')
if (shelf) pictures(shelf, say)
if (document.querySelector('[data-season]')) season()
if (document.querySelector('[data-routes]')) routes()
const dressed = document.getElementById('house')
if (dressed) house(dressed)

const wall = document.querySelector('.wall')
if (wall) fitted(wall)

// Two editions side by side scroll together.
const compared = document.getElementById('compare')
if (compared?.querySelector('iframe')) {
  fitted(compared)
  const both = [...compared.querySelectorAll('iframe')]
  for (const frame of both)
    frame.addEventListener('load', () =>
      frame.contentDocument.addEventListener('scroll', () => {
        const other = both.find((f) => f !== frame).contentWindow
        if (Math.abs(other.scrollY - frame.contentWindow.scrollY) > 1) other.scrollTo(0, frame.contentWindow.scrollY)
      }),
    )
}
document.body.addEventListener(
  'htmx:afterRequest',
  (e) => e.detail.successful && e.detail.elt.dataset?.said && say(e.detail.elt.dataset.said),
)
