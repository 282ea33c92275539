// The sheet takes over what changed, in a document without a browser.
import assert from 'node:assert/strict'
import { beforeEach, test } from 'node:test'
import { JSDOM } from 'jsdom'

const dom = new JSDOM('<!doctype html><main id="sheet"></main>', { pretendToBeVisual: true })
for (const name of [
  'document',
  'HTMLElement',
  'Element',
  'Text',
  'Node',
  'DOMParser',
  'CSS',
  'HTMLInputElement',
  'Document',
  'HTMLTextAreaElement',
])
  globalThis[name] = dom.window[name]
globalThis.window = dom.window
globalThis.getSelection = () => dom.window.getSelection()
// What the document without a browser does not know of itself.
Object.defineProperty(dom.window.HTMLElement.prototype, 'isContentEditable', {
  get() {
    return this.closest('[contenteditable]') !== null
  },
})
const { merging } = await import('../scripts/desk/merging.js')

const line = (words, field = 'title') => `<p id="${field}" class="ed" contenteditable data-field="${field}">${words}</p>`
const sheet = document.getElementById('sheet')
let busy, was, drawn, merge
beforeEach(() => {
  busy = new Set()
  was = new Map()
  drawn = 0
  const typing = {
    busy: (el) => busy.has(el),
    copy: { written: () => false },
    timers: new Map(),
    was,
    words: (el) => el.textContent,
  }
  merge = merging({ sheet, typing, ready: () => drawn++ })
  sheet.innerHTML = `${line('Night flight')}${line('Seven kites', 'lead')}<details id="menu"><summary>More</summary></details>`
})

test('what somebody else wrote comes in', () => {
  merge.renew(`${line('Night flight')}${line('Eight kites', 'lead')}<details id="menu"><summary>More</summary></details>`)
  assert.equal(document.getElementById('lead').textContent, 'Eight kites')
  assert.equal(drawn, 1)
})

test('what was typed and has not come back stays', () => {
  const el = document.getElementById('title')
  el.textContent = 'Night flights'
  busy.add(el)
  merge.renew(line('Night flight') + line('Eight kites', 'lead'))
  assert.equal(document.getElementById('title').textContent, 'Night flights')
  assert.equal(document.getElementById('lead').textContent, 'Eight kites')
})

test('what is open stays open', () => {
  document.getElementById('menu').open = true
  merge.renew(`${line('Night')}${line('Seven kites', 'lead')}<details id="menu"><summary>More</summary></details>`)
  assert.equal(document.getElementById('menu').open, true)
})

test('a field takes what it came to, and its caret stays by its words', () => {
  const el = document.getElementById('title')
  el.setAttribute('tabindex', '0')
  el.focus()
  getSelection().collapse(el.firstChild, 5)
  merge.adopt(el, 'A night flight'.replace('A n', 'A N'))
  assert.equal(el.textContent, 'A Night flight')
  assert.equal(getSelection().anchorOffset, 7)
  assert.equal(was.get(el), 'A Night flight', 'and the server is known to know it')
})

test('a field that is awaited takes nothing', () => {
  const el = document.getElementById('title')
  busy.add(el)
  merge.adopt(el, 'Otherwise')
  assert.equal(el.textContent, 'Night flight')
  assert.equal(was.has(el), false)
})

test('a refusal stays under its field', () => {
  document.getElementById('title').insertAdjacentHTML('afterend', '<p class="bad refusal" role="alert">Too long.</p>')
  merge.renew(line('Night flight') + line('Seven kites', 'lead'))
  assert.match(sheet.textContent, /Too long\./)
})
