// @ts-check
// The manuscript's desk: the sheet is typed in, every change goes to the server as a
// command, and the proofs are redrawn from the answer.
import htmx from 'htmx.org'
import { answers } from './answers.js'
import { put } from './caret.js'
import { choosing } from './choosing.js'
import { about, all, maybe, named, one } from './dom.js'
import { keys } from './keys.js'
import { looks } from './look.js'
import { merging } from './merging.js'
import { moving } from './moving.js'
import { proofs } from './proofs.js'
import { manners } from './manners.js'
import { queue } from './queue.js'
import { seeing } from './seeing.js'
import { slips } from './slips.js'
import { typing } from './typing.js'

/**
 * @param {HTMLElement} root
 * @param {(words: string) => void} say
 */
export function desk(root, say) {
  const page = root.dataset.page ?? ''
  const sheet = one(document, '#sheet')
  const gauges = one(document, '#gauges')

  const shown = proofs(
    root,
    page,
    (/** @type {string} */ piece, /** @type {Sign} */ sign) => reveal(piece, true, sign),
    (/** @type {string} */ band, /** @type {string} */ name, /** @type {unknown} */ value) =>
      send({ command: { op: 'dress', looks: [{ id: band, set: { [name]: value } }] } }),
  )
  const line = queue({
    post: (body, of) => told.post(body, of),
    busy: () => told.saved('Saving…'),
    idle: () => told.unsent() || told.saved(maybe(sheet, '.refused') ? 'Not saved: see what is marked' : 'Saved'),
  })
  const send = line.send
  const typed = typing({
    sheet,
    page,
    send,
    awaits: line.awaits,
    begun: () => told.saved('Saving…'),
    settled: () => line.waits() || told.unsent() || told.saved('Saved'),
    entered: (piece) => shown.show(piece),
  })
  const merged = merging({ sheet, typing: typed, ready })
  const open = slips(sheet, page)
  seeing(root, shown, say)
  const composed = manners(sheet, send, say)
  const moved = moving(sheet, send, typed.flushAll)
  const told = answers({ page, sheet, gauges, shown, say, line, typing: typed, merging: merged, openSlip: open.openSlip })
  choosing({
    page,
    sheet,
    send,
    say,
    typing: typed,
    slips: open,
    moving: moved,
    composed,
    reveal,
    renewed: told.renewed,
    afresh: () => told.later(() => true),
  })
  looks(sheet, send, say)
  keys({ step, move: moved.move, turn: composed.turn, closeSlip: open.closeSlip })

  /** @param {'undo' | 'redo'} what */
  function step(what) {
    typed.flushAll()
    send({ [what]: true })
  }
  gauges.addEventListener('click', (e) => {
    const pressed = (/** @type {string} */ what) => /** @type {HTMLElement | null} */ (about(e).closest(`[data-${what}]`))
    const settle = pressed('settle')?.dataset.settle
    if (settle) send({ command: JSON.parse(settle) }).then(() => say('Settled. Undo brings it back.'))
    if (pressed('undo')) step('undo')
    if (pressed('redo')) step('redo')
    const to = pressed('goto')?.dataset.goto
    if (to) reveal(to, true)
    if (pressed('goto-naming')) {
      one(sheet, '.naming').setAttribute('open', '')
      one(sheet, '[data-of-page=description]').focus()
    }
  })

  /** @typedef {{ words: string, offset: number }} Sign words of a proof, and before which of their signs somebody clicked */

  /**
   * Brings a piece into sight.
   * @param {string} piece
   * @param {boolean} focus
   * @param {Sign} [sign]
   */
  function reveal(piece, focus, sign) {
    const el = named(sheet, 'piece', piece)
    if (!el) return
    el.scrollIntoView({ block: 'center' })
    if (sign && write(el, sign)) return
    if (focus) (maybe(el, '.ed') ?? maybe(el, '.telling'))?.focus()
  }

  /**
   * Puts the caret before the same sign in the sheet.
   * @param {HTMLElement} el the piece
   * @param {Sign} sign
   */
  function write(el, { words, offset }) {
    const ed = all(el, '.ed').find((one) => words && one.textContent?.includes(words))
    if (!ed) return false
    const at = (ed.textContent ?? '').indexOf(words) + offset
    if (ed.dataset.type === 'rich') typed.copy.caret(ed, at)
    else {
      ed.focus()
      const selection = getSelection()
      if (selection) put(ed, selection, at)
    }
    return true
  }

  function ready() {
    htmx.process(sheet)
    moved.dragged()
  }
  ready()
  // A finding leads to its piece.
  if (location.hash.startsWith('#piece-')) reveal(decodeURIComponent(location.hash.slice(7)), true)
}
