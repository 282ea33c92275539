// @ts-check
// What is chosen on the sheet, pressed there, or handed over as a file.
import { upload } from '../pictures.js'
import { about, all, around, bandOf, field, itemOf, maybe, named, one, pieceOf } from './dom.js'

/**
 * @param {object} on
 * @param {string} on.page its ID
 * @param {HTMLElement} on.sheet
 * @param {(body: import('./queue.js').Body) => Promise<any>} on.send
 * @param {(words: string) => void} on.say
 * @param {ReturnType<typeof import('./typing.js').typing>} on.typing
 * @param {ReturnType<typeof import('./slips.js').slips>} on.slips
 * @param {ReturnType<typeof import('./moving.js').moving>} on.moving
 * @param {ReturnType<typeof import('./manners.js').manners>} on.composed
 * @param {(piece: string, focus: boolean) => void} on.reveal
 * @param {() => Promise<void>} on.renewed
 * @param {() => void} on.afresh something that the sheet shows has changed
 */
export function choosing({ page, sheet, send, say, typing: { ofPage, setItems }, slips, moving, composed, reveal, renewed, afresh }) {
  /**
   * @param {HTMLElement} el in a slip
   * @param {string | undefined} name of the field
   * @param {unknown} value
   * @param {string} [focus] what takes the focus in the slip as it is drawn anew
   */
  const set = (el, name, value, focus = undefined) =>
    send({ command: { op: 'set', piece: pieceOf(el), field: name, value } }).then(() =>
      slips.renewSlip(/** @type {HTMLElement | null} */ (el.closest('[data-piece]'))?.dataset.piece, focus),
    )

  // A sketch is switched by pressing what stands in it.
  sheet.addEventListener('click', (e) => {
    const el = /** @type {HTMLElement | null} */ (about(e).closest('[data-set-field]'))
    if (!el) return
    const { setField, setTo } = el.dataset
    const by = el.hasAttribute('aria-pressed') ? `[data-set-field="${setField}"][data-set-to="${setTo}"]` : `[data-set-field="${setField}"]`
    set(el, setField, setTo, by)
  })

  sheet.addEventListener('change', (e) => {
    const el = field(e)
    const { sub } = el.dataset
    if (el.dataset.ofPage) ofPage(el)
    else if (el.dataset.set) set(el, el.dataset.set, el.value)
    else if (el.dataset.bandField) send({ command: { op: 'set_band', id: bandOf(el), field: el.dataset.bandField, value: el.value } })
    else if (sub) setItems(el, (items) => (items[itemOf(el)][sub] = el.value))
  })

  // What is picked in a chooser goes where its field is; looks take theirs.
  sheet.addEventListener('picked', (e) => {
    const box = about(e)
    const value = /** @type {CustomEvent} */ (e).detail
    const { sub } = box.dataset
    if (box.dataset.set) set(box, box.dataset.set, value)
    else if (sub) setItems(box, (items) => (items[itemOf(box)][sub] = value))
    else if (box.dataset.ofPage) send({ command: { op: 'set_page', field: box.dataset.ofPage, value } }).then(renewed)
  })

  // A file chosen in a slip goes to the shelf, and from there into its field.
  sheet.addEventListener('change', async (e) => {
    const el = /** @type {HTMLInputElement} */ (about(e))
    if (!el.files?.length) return
    if (el.dataset.fileFor) await fileFor(el, [...el.files].slice(0, 1))
    else if (el.dataset.lookUpload) await lookUpload(el, [...el.files].slice(0, 1))
    else if (el.dataset.feed) await feed(el, el.files[0])
  })

  /** @type {Record<string, { to: string, field: string }>} where files go that are no pictures */
  const ways = { video: { to: '/videos', field: 'video' }, link: { to: '/files', field: 'file' } }

  /**
   * @param {HTMLInputElement} el
   * @param {File[]} files
   */
  async function fileFor(el, files) {
    const way = ways[el.dataset.fileType ?? '']
    const list = maybe(around(el, '.slip'), '[data-slip-uploads]')
    const [kept] = await upload(files, list, way)
    const named = { link: 'file:', sign: 'picture:' }[el.dataset.fileType ?? ''] ?? ''
    if (kept) set(el, el.dataset.fileFor, named + kept.id)
  }

  /**
   * @param {HTMLInputElement} el
   * @param {File[]} files
   */
  async function lookUpload(el, files) {
    const look = around(el, '[data-look]')
    const list = look.appendChild(Object.assign(document.createElement('ol'), { className: 'uploads', ariaLive: 'polite' }))
    const [kept] = await upload(files, list)
    if (kept) send({ command: { op: 'dress', looks: [{ id: look.dataset.look, set: { [el.dataset.lookUpload ?? '']: kept.id } }] } })
  }

  /**
   * @param {HTMLInputElement} el
   * @param {File} file
   */
  async function feed(el, file) {
    const form = new FormData()
    form.append('feed', file)
    const answer = await fetch(`/pages/${page}/feed/${pieceOf(el)}/${el.dataset.feed}`, {
      method: 'POST',
      headers: { 'X-Csrf-Token': document.body.dataset.csrf ?? '', Accept: 'application/json' },
      body: form,
    })
    const told = await answer.json().catch(() => ({ detail: 'The studio did not answer. Try again.' }))
    say(told.detail ?? told.said)
    if (!told.detail) afresh()
  }

  /** @type {Record<string, (el: HTMLElement) => unknown>} what a button does, by what it says of itself */
  const does = {
    slip: (el) => (el.getAttribute('aria-expanded') === 'true' ? slips.closeSlip(el) : slips.openSlip(el, '')),
    pick(el) {
      const box = /** @type {HTMLDetailsElement} */ (around(el, '.chooser'))
      box.open = false
      box.dispatchEvent(new CustomEvent('picked', { bubbles: true, detail: el.dataset.pick }))
    },
    add(el) {
      around(el, 'details').removeAttribute('open')
      send({ arrangement: el.dataset.add, command: { op: 'add_band', index: Number(el.dataset.at) } }).then((told) => {
        const row = told?.added && named(sheet, 'band', told.added)
        row?.scrollIntoView({ block: 'center' })
        row?.querySelector('.ed')?.focus()
      })
    },
    remove: (el) => send({ command: { op: 'remove_band', id: bandOf(el) } }).then(() => say('The band is gone. Undo brings it back.')),
    new(el) {
      around(el, 'details').removeAttribute('open')
      const command = { op: 'add_piece', id: bandOf(el), column: Number(el.dataset.column), index: 1000 }
      send({ piece: el.dataset.new, command }).then((told) => told?.added && reveal(told.added, true))
    },
    widths: (el) => send({ command: { op: 'arrange', id: bandOf(el), widths: (el.dataset.widths?.match(/\d+/g) ?? []).map(Number) } }),
    tone: (el) => send({ command: { op: 'set_band', id: bandOf(el), field: 'tone', value: el.dataset.tone } }),
    drop: (el) => send({ command: { op: 'remove_piece', piece: pieceOf(el) } }).then(() => say('It is gone. Undo brings it back.')),
    seat: (el) => moving.reseat(el),
    dress: (el) => slips.dress(el),
    manner: (el) => composed.choose(el),
    depth(el) {
      const plan = sheet.classList.toggle('as-plan')
      el.setAttribute('aria-pressed', String(plan))
      if (plan) one(sheet, '[data-line]').focus()
    },
    move: (el) => moving.move(el, Number(el.dataset.move)),
    itemAdd(el) {
      const list = around(el, '[data-list]')
      setItems(el, (items) => items.push(JSON.parse(list.dataset.blank ?? '{}'))).then(() =>
        maybe(all(list, 'li[data-item]').at(-1), '.ed, select')?.focus(),
      )
    },
    itemRemove: (el) => setItems(el, (items) => items.splice(itemOf(el), 1)),
  }
  sheet.addEventListener('click', (e) => {
    const el = about(e).closest('button')
    const name = el && Object.keys(does).find((known) => el.dataset[known] !== undefined)
    if (el && name) does[name](el)
  })

  // Enter at the end of the plan makes the line a band.
  sheet.addEventListener('keydown', (e) => {
    const el = field(e)
    if (el.dataset.line === undefined || e.key !== 'Enter' || !el.value.trim()) return
    e.preventDefault()
    const line = el.value
    el.value = ''
    send({ line, command: { op: 'add_band', index: 100000 } }).then(() => one(sheet, '[data-line]').focus())
  })
}
