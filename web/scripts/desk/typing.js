// @ts-check
// What is typed on the sheet becomes commands: a line, copy, a list, what is said of the
// page as a whole.
import { about, around, bandOf, field, itemOf, pieceOf } from './dom.js'
import { isMore, pasted, rich, tidy } from './rich.js'

/** @typedef {import('./queue.js').Body} Body */

/**
 * @param {object} on
 * @param {HTMLElement} on.sheet
 * @param {string} on.page its ID
 * @param {(body: Body, of?: unknown, key?: unknown) => Promise<any>} on.send
 * @param {(of: unknown) => boolean} on.awaits a command is on its way for it
 * @param {() => void} on.begun something was typed that is not sent yet
 * @param {() => void} on.settled what was typed came to what it was
 * @param {(piece: string) => void} on.entered somebody writes in a piece
 */
export function typing({ sheet, page, send, awaits, begun, settled, entered }) {
  /** @type {Map<HTMLElement, ReturnType<typeof setTimeout>>} what is about to be sent */
  const timers = new Map()
  /** @type {Set<HTMLElement>} what is said of the page and is sent once the hand rests */
  const held = new Set()
  /** @type {Map<HTMLElement, string>} what the server last knew of a field */
  const was = new Map()

  const copy = rich({
    sheet,
    page,
    typed: (/** @type {HTMLElement} */ el) => soon(el),
    left: (/** @type {HTMLElement} */ el) => timers.has(el) && flush(el),
    letter: (/** @type {HTMLElement} */ el, /** @type {string} */ text) => letter(text, pieceOf(el)),
  })

  /**
   * What is pasted whole becomes what it is: the studio reads it.
   * @param {string} text HTML or plain
   * @param {string} [piece] in which it was pasted; none: at the end of the page
   * @returns {Promise<boolean>} it was taken; no: it is no more than copy
   */
  const letter = (text, piece = '') =>
    send({ letter: { text: text.trimStart().startsWith('<') ? tidy(text) : text, piece } }).then((told) => !!told && !told.plain)
  // In the line of the plan there is no room for a letter: it becomes the page.
  sheet.addEventListener('paste', (e) => {
    const el = about(e)
    const { plain, text } = pasted(e)
    if (el.dataset.line === undefined || !(isMore(text, plain) || plain.trim().includes('\n'))) return
    e.preventDefault()
    letter(text)
  })

  /** @param {HTMLElement} el */
  const busy = (el) => timers.has(el) || held.has(el) || awaits(el) || el.classList.contains('refused')

  /** @param {HTMLElement} el */
  const plain = (el) => el.innerText.replace(/\u00a0/g, ' ').replace(/\n+$/, '')
  /**
   * The words of a field.
   * @param {HTMLElement} el
   * @returns {string}
   */
  function words(el) {
    if (el.dataset.type === 'rich') return copy.value(el)
    return el.dataset.type === 'prose' ? plain(el) : plain(el).replace(/\s*\n\s*/g, ' ')
  }

  sheet.addEventListener('focusin', (e) => {
    const el = about(e)
    if (el.isContentEditable && !busy(el)) was.set(el, el.dataset.value ?? words(el)) // of copy, as it is kept
    const piece = el.closest('[data-piece]')
    if (piece instanceof HTMLElement && piece.dataset.piece) entered(piece.dataset.piece)
  })
  sheet.addEventListener('input', (e) => {
    if (about(e).isContentEditable) soon(about(e))
  })
  sheet.addEventListener('focusout', (e) => {
    if (timers.has(about(e))) flush(about(e))
  })
  addEventListener('pagehide', () => flushAll())

  // The search result and the shared card follow what is typed beside them.
  sheet.addEventListener('input', (e) => {
    const el = field(e)
    for (const shows of sheet.querySelectorAll(`[data-mirror="${el.dataset.ofPage}"]`)) {
      const signs = [...el.value]
      const most = Number(shows instanceof HTMLElement && shows.dataset.cut)
      shows.textContent = signs.length > most ? signs.slice(0, most).join('').trimEnd() + ' …' : el.value
    }
  })

  /**
   * Sends what was typed: at once, unless an answer is still awaited; then the next few
   * keys go together.
   * @param {HTMLElement} el
   */
  function soon(el) {
    begun()
    clearTimeout(timers.get(el))
    timers.set(
      el,
      setTimeout(() => flush(el), awaits(el) ? 12 : 0),
    )
  }

  /** @param {HTMLElement} el */
  function flush(el) {
    clearTimeout(timers.get(el))
    timers.delete(el)
    const value = words(el)
    if (value === '' && !copy.written(el)) el.replaceChildren() // so that its hint shows
    const sub = el.dataset.sub
    if (sub) {
      const at = itemOf(el)
      setItems(el, (items) => (items[at][sub] = value), true)
      return
    }
    const before = was.get(el) ?? ''
    if (before === value) return
    was.set(el, value)
    const place = el.dataset.bandField
      ? { op: 'set_band', id: bandOf(el), field: 'name' }
      : { op: 'set', piece: pieceOf(el), field: el.dataset.field }
    send({ joins: true, command: { ...place, value, was: before, guard: true } }, el, el)
  }

  function flushAll() {
    for (const el of [...timers.keys()]) flush(el)
    for (const el of [...held]) ofPage(el)
  }

  /**
   * A list goes whole, with what it was when it was changed.
   * @param {HTMLElement} el in the list
   * @param {(items: any[]) => unknown} change
   * @param {boolean} [joins] it goes with the change before it
   */
  function setItems(el, change, joins) {
    const list = around(el, '[data-list]')
    const before = JSON.parse(list.dataset.value ?? '[]')
    const items = structuredClone(before)
    change(items)
    list.dataset.value = JSON.stringify(items)
    return send(
      { joins, command: { op: 'set', piece: pieceOf(list), field: list.dataset.list, value: items, was: before, guard: true } },
      list,
      joins ? el : undefined,
    )
  }

  // What is said of the page as a whole is sent once the hand rests; an address and a
  // name once they are whole.
  /** @type {ReturnType<typeof setTimeout> | undefined} */
  let pause
  sheet.addEventListener('input', (e) => {
    const el = field(e)
    if (!el.dataset.ofPage) return
    held.add(el)
    begun()
    clearTimeout(pause)
    if (!/name|address/.test(el.dataset.ofPage)) pause = setTimeout(() => ofPage(el), 300)
  })
  /** @param {HTMLElement} el */
  function ofPage(el) {
    clearTimeout(pause)
    held.delete(el)
    const { value, defaultValue } = /** @type {HTMLInputElement} */ (el)
    const before = was.get(el) ?? defaultValue ?? ''
    if (before === value) return settled()
    was.set(el, value)
    send({ joins: true, command: { op: 'set_page', field: el.dataset.ofPage, value, was: before, guard: true } }, el, el)
  }

  return { busy, copy, flushAll, ofPage, setItems, timers, unsent: () => timers.size > 0 || held.size > 0, was, words }
}
