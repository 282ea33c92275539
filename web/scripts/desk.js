// The manuscript's desk: the sheet is typed in, every change goes to the server
// as a command, and the proofs are redrawn from the answer.
import htmx from 'htmx.org'
import { Idiomorph } from 'idiomorph'
import { keys } from './keys.js'
import { looks } from './look.js'
import { moving } from './moving.js'
import { upload } from './pictures.js'
import { proofs } from './proofs.js'
import { persist, queue } from './queue.js'
import { rich } from './rich.js'
import { slips } from './slips.js'

export function desk(root, say) {
  const id = root.dataset.page
  const sheet = document.getElementById('sheet')
  const gauges = document.getElementById('gauges')
  const csrf = document.body.dataset.csrf
  const shown = proofs(root, id, (piece, sign) => reveal(piece, true, sign), (bandID, name, value) =>
    send({ command: { op: 'dress', looks: [{ id: bandID, set: { [name]: value } }] } }),
  )
  const revision = () => Number(sheet.querySelector('.sheet').dataset.revision)

  let away = false // the server does not answer
  const held = new Set() // what is said of the page and is sent once the hand rests
  const unsent = () => away || timers.size > 0 || held.size > 0
  const saved = (words) => gauges.querySelector('[data-saved]') && (gauges.querySelector('[data-saved]').textContent = words)

  const line = queue({
    post,
    busy: () => saved('Saving…'),
    idle: () => unsent() || saved(sheet.querySelector('.refused') ? 'Not saved: see what is marked' : 'Saved'),
  })
  const send = line.send

  async function post(body, of) {
    const [answer, told] = await persist(
      async () => {
        const answer = await fetch(`/pages/${id}/commands?as_of=${shown.asOf()}`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json', 'X-Csrf-Token': csrf },
          body: JSON.stringify({ ...body, revision: revision(), has: [...shown.has(), ...lines.values()] }),
        })
        return [answer, await answer.json()]
      },
      () => {
        away = true // keep what was typed
        saved('Not saved yet; trying again')
      },
    )
    if (of) line.came(of)
    if (answer.status === 401) {
      away = true
      saved('Not saved: you are signed out')
      say(told.detail)
      return null
    }
    if (!answer.ok) {
      say(told.detail)
      if (of?.matches('.ed, [data-of-page], [data-band-field]')) refuse(of, body, told.detail)
      else await renewed()
      return null
    }
    away = false
    if (of) accept(of)
    take(told)
    if (of?.isContentEditable && typeof told.taken === 'string' && !busy(of)) {
      // Copy has a space more at its end while somebody writes on.
      if (told.merged || of.dataset.type !== 'rich') adopt(of, told.taken)
      else was.set(of, (of.dataset.value = told.taken))
    }
    return told
  }

  // What was refused stays where it was typed, until it is typed otherwise.
  function refuse(el, body, why) {
    was.set(el, body.command.was ?? '')
    accept(el)
    el.classList.add('refused')
    el.setAttribute('aria-invalid', 'true')
    const said = document.createElement('p')
    said.className = 'bad refusal'
    said.setAttribute('role', 'alert')
    said.textContent = why
    el.after(said)
  }
  function accept(el) {
    if (!el.classList.contains('refused')) return
    el.classList.remove('refused')
    el.removeAttribute('aria-invalid')
    el.parentElement.querySelector(':scope > .refusal')?.remove()
  }

  // The sheet as it stands, with what others made of it.
  async function renewed() {
    const answer = await fetch(`/pages/${id}/sheet.json?as_of=${shown.asOf()}`).catch(() => null)
    if (!answer?.ok) return
    take(await answer.json())
    const slip = sheet.querySelector('.telling[aria-expanded="true"]')
    if (slip && !slip.nextElementSibling.contains(document.activeElement)) openSlip(slip)
  }
  // Somebody changed this page, or something that it shows.
  const later = (need) => line.later(() => need() && renewed())
  document.body.addEventListener('page-told', (e) => e.detail.id === id && later(() => e.detail.revision > revision()))
  let telling = 0
  document.body.addEventListener('facts-told', () => {
    clearTimeout(telling)
    telling = setTimeout(() => later(() => true), 400)
  })

  const lines = new Map() // the tag of what each line was last told
  function take(told) {
    if (told.revision < revision()) return
    if (told.sheet) {
      renew(told.sheet)
      lines.clear()
    } else {
      sheet.querySelector('.sheet').dataset.revision = told.revision
      for (const t of told.telling) {
        const button = sheet.querySelector(`[data-piece="${CSS.escape(t.id)}"] > .telling`)
        if (!button) continue
        button.innerHTML = t.html
        lines.set(t.id, t.tag)
      }
    }
    shown.draw(told.proof) // first, because eyes are there
    if (told.gauges) measured(told)
    else {
      gauges.dataset.behind = '' // until they are measured
      clearTimeout(resting)
      resting = setTimeout(measure, 150)
    }
  }

  // The gauges follow once the hand rests.
  let resting = 0
  async function measure() {
    const answer = await fetch(`/pages/${id}/gauges?as_of=${shown.asOf()}`).catch(() => null)
    if (answer?.ok) measured(await answer.json())
  }
  function measured(told) {
    delete gauges.dataset.behind
    const say = gauges.querySelector('[data-saved]')?.textContent
    const open = gauges.querySelector('details[open] summary')?.firstChild.textContent
    gauges.innerHTML = told.gauges
    for (const one of open ? gauges.querySelectorAll('summary') : []) one.parentElement.open = one.firstChild.textContent === open
    if (line.waits() || unsent()) saved(say)
    const live = document.getElementById('live')
    if (live.dataset.told !== told.live) {
      live.innerHTML = live.dataset.told = told.live
      htmx.process(live)
    }
    const words = gauges.querySelector('[data-count-words]')
    if (words) sheet.querySelector('[data-words]').textContent = words.dataset.reads
  }

  // The sheet takes over what changed and leaves the rest in place: an open
  // menu, a slip, the caret, and what was typed but has not come back.
  function renew(html) {
    const at = document.activeElement
    Idiomorph.morph(sheet, html, { morphStyle: 'innerHTML', restoreFocus: false, callbacks: { beforeNodeRemoved: (n) => !n.matches?.('.refusal'), beforeNodeMorphed: stale, beforeAttributeUpdated: ours } })
    ready()
    if (at !== document.activeElement && sheet.contains(at)) at.focus() // a moved element lets it go
  }
  const busy = (el) => timers.has(el) || held.has(el) || line.awaits(el) || el.classList.contains('refused')
  function stale(old, fresh) {
    if (!(old instanceof Element)) return true
    if (old.matches('[data-line], .slip-slot')) return false
    if (old.matches('[data-list]') && (busy(old) || [...timers.keys()].some((el) => old.contains(el)))) return false
    if (old.matches('input[data-of-page], textarea[data-of-page]')) return ofPageAnew(old, fresh)
    if (old.matches('.chooser[open] > .float')) return false
    if (old.closest('.naming[open]') && !old.matches('.naming, summary, summary *, .name-form, .name-form *, .sharing, .sharing *')) return false
    if (!old.isContentEditable || !old.matches('[contenteditable], .written')) return true
    if (busy(old)) return false
    if (copy.written(old)) {
      if (fresh.dataset.value !== old.dataset.value) adopt(old, fresh.dataset.value)
      return false
    }
    if (old !== document.activeElement || old.dataset.type === 'rich' || !same(old, fresh)) return true
    adopt(old, fresh.textContent)
    return false
  }
  const same = (a, b) => a.dataset.field === b.dataset?.field && a.dataset.sub === b.dataset?.sub && a.dataset.bandField === b.dataset?.bandField

  // A field takes what it came to, and its caret stays by the words it stood at.
  function adopt(el, text) {
    if (busy(el)) return
    was.set(el, text)
    if (el.dataset.type === 'rich') el.dataset.value = text
    if (copy.written(el)) copy.set(el, text)
    else if (el.dataset.type !== 'rich' && line1(el) !== text) retype(el, text)
  }
  function ofPageAnew(old, fresh) {
    if (busy(old)) return false
    const text = fresh.getAttribute('value') ?? fresh.textContent
    was.set(old, text)
    if (old.value === text) return true
    const at = old.selectionStart
    old.value = text
    if (old === document.activeElement) old.setSelectionRange(at, at)
    return false
  }
  function retype(el, text) {
    const at = getSelection()
    const old = el.textContent
    const caret = el === document.activeElement && el.contains(at.anchorNode) ? offset(el, at) : null
    el.textContent = text
    if (caret === null) return
    let head = 0
    while (head < caret && old[head] === text[head]) head++
    const to = head === caret ? caret : Math.max(text.length - (old.length - caret), 0)
    at.collapse(el.firstChild ?? el, Math.min(to, el.firstChild?.length ?? 0))
  }
  function offset(el, at) {
    const before = document.createRange()
    before.selectNodeContents(el)
    before.setEnd(at.anchorNode, at.anchorOffset)
    return before.toString().length
  }
  const ours = (name, el) => !((name === 'open' && el.matches('details')) || (name === 'aria-expanded' && el.matches('.telling')))

  const { openSlip, closeSlip, renewSlip, dress } = slips(sheet, id)
  const { move, reseat, dragged } = moving(sheet, send, () => flushAll())
  looks(sheet, send, say)

  // ---- typing
  const timers = new Map()
  const was = new Map() // what the server last knew of a field
  const typed = (el) => el.innerText.replace(/\u00a0/g, ' ').replace(/\n+$/, '')
  const line1 = (el) => (el.dataset.type === 'rich' ? copy.value(el) : el.dataset.type === 'prose' ? typed(el) : typed(el).replace(/\s*\n\s*/g, ' '))

  const copy = rich({ sheet, page: id, typed: (el) => soon(el), left: (el) => timers.has(el) && flush(el) })
  sheet.addEventListener('focusin', (e) => {
    const el = e.target
    if (el.isContentEditable && !busy(el)) was.set(el, el.dataset.value ?? line1(el)) // of copy, as it is kept
    const piece = el.closest('[data-piece]')
    if (piece) shown.show(piece.dataset.piece)
  })
  sheet.addEventListener('input', (e) => {
    if (e.target.isContentEditable) soon(e.target)
  })
  // The search result and the shared card follow what is typed beside them.
  sheet.addEventListener('input', (e) => {
    for (const shows of sheet.querySelectorAll(`[data-mirror="${e.target.dataset.ofPage}"]`)) {
      const signs = [...e.target.value]
      const most = Number(shows.dataset.cut)
      shows.textContent = signs.length > most ? signs.slice(0, most).join('').trimEnd() + ' …' : e.target.value
    }
  })
  function soon(el) {
    saved('Saving…')
    clearTimeout(timers.get(el))
    // At once, unless an answer is still awaited: then the next few keys go together.
    timers.set(el, setTimeout(() => flush(el), line.awaits(el) ? 12 : 0))
  }
  sheet.addEventListener('focusout', (e) => timers.has(e.target) && flush(e.target))

  function flush(el) {
    clearTimeout(timers.get(el))
    timers.delete(el)
    const value = line1(el)
    if (value === '' && !copy.written(el)) el.replaceChildren() // so that its hint shows
    if (el.dataset.sub) {
      const at = item(el)
      return setItems(el, (items) => (items[at][el.dataset.sub] = value), true)
    }
    const before = was.get(el) ?? ''
    if (before === value) return
    was.set(el, value)
    const place = el.dataset.bandField ? { op: 'set_band', id: band(el), field: 'name' } : { op: 'set', piece: piece(el), field: el.dataset.field }
    send({ joins: true, command: { ...place, value, was: before, guard: true } }, el, el)
  }
  const flushAll = () => {
    ;[...timers.keys()].forEach(flush)
    ;[...held].forEach(ofPage)
  }
  addEventListener('pagehide', flushAll)

  const piece = (el) => el.closest('[data-piece]').dataset.piece
  const band = (el) => el.closest('[data-band]').dataset.band
  const item = (el) => Number(el.closest('[data-item]').dataset.item)

  // A list goes whole, with what it was when it was changed.
  function setItems(el, change, joins) {
    const list = el.closest('[data-list]')
    const before = JSON.parse(list.dataset.value)
    const items = structuredClone(before)
    change(items)
    list.dataset.value = JSON.stringify(items)
    return send({ joins, command: { op: 'set', piece: piece(list), field: list.dataset.list, value: items, was: before, guard: true } }, list, joins ? el : undefined)
  }

  // ---- choosing
  sheet.addEventListener('change', (e) => {
    const el = e.target
    if (el.dataset.widths !== undefined) send({ command: { op: 'arrange', id: band(el), widths: el.value.match(/\d+/g).map(Number) } })
    else if (el.dataset.ofPage) ofPage(el)
    else if (el.dataset.set) send({ command: { op: 'set', piece: piece(el), field: el.dataset.set, value: el.value } }).then(() => renewSlip(piece0(el)))
    else if (el.dataset.bandField) send({ command: { op: 'set_band', id: band(el), field: el.dataset.bandField, value: el.value } })
    else if (el.dataset.sub) setItems(el, (items) => (items[item(el)][el.dataset.sub] = el.value))
  })
  // What is said of the page as a whole is sent once the hand rests; an address
  // and a name once they are whole.
  let pause = 0
  sheet.addEventListener('input', (e) => {
    const el = e.target
    if (!el.dataset.ofPage) return
    held.add(el)
    saved('Saving…')
    clearTimeout(pause)
    if (!/name|address/.test(el.dataset.ofPage)) pause = setTimeout(() => ofPage(el), 300)
  })
  function ofPage(el) {
    clearTimeout(pause)
    held.delete(el)
    const before = was.get(el) ?? el.defaultValue ?? ''
    if (before === el.value) return line.waits() || unsent() || saved('Saved')
    was.set(el, el.value)
    send({ joins: true, command: { op: 'set_page', field: el.dataset.ofPage, value: el.value, was: before, guard: true } }, el, el)
  }
  // A file chosen in a slip goes to the shelf, and from there into its field.
  sheet.addEventListener('change', async (e) => {
    const el = e.target
    if (el.dataset.fileFor && el.files.length) {
      const way = { video: { to: '/videos', field: 'video' }, link: { to: '/files', field: 'file' } }[el.dataset.fileType]
      const [kept] = await upload([...el.files].slice(0, 1), el.closest('.slip').querySelector('[data-slip-uploads]'), way)
      if (kept) send({ command: { op: 'set', piece: piece(el), field: el.dataset.fileFor, value: el.dataset.fileType === 'link' ? `file:${kept.id}` : kept.id } }).then(() => renewSlip(piece0(el)))
    } else if (el.dataset.lookUpload && el.files.length) {
      const look = el.closest('[data-look]')
      const list = look.appendChild(Object.assign(document.createElement('ol'), { className: 'uploads', ariaLive: 'polite' }))
      const [kept] = await upload([...el.files].slice(0, 1), list)
      if (kept) send({ command: { op: 'dress', looks: [{ id: look.dataset.look, set: { [el.dataset.lookUpload]: kept.id } }] } })
    } else if (el.dataset.feed && el.files.length) {
      const form = new FormData()
      form.append('feed', el.files[0])
      const answer = await fetch(`/pages/${id}/feed/${piece(el)}/${el.dataset.feed}`, { method: 'POST', headers: { 'X-Csrf-Token': csrf, Accept: 'application/json' }, body: form })
      const told = await answer.json().catch(() => ({ detail: 'The studio did not answer. Try again.' }))
      say(told.detail ?? told.said)
      if (!told.detail) later(() => true)
    }
  })
  const piece0 = (el) => el.closest('[data-piece]')?.dataset.piece

  sheet.addEventListener('click', (e) => {
    const el = e.target.closest('button')
    if (!el) return
    if (el.dataset.slip !== undefined) el.getAttribute('aria-expanded') === 'true' ? closeSlip(el) : openSlip(el, '')
    else if (el.dataset.pick !== undefined) {
      const box = el.closest('.chooser')
      box.open = false
      box.dispatchEvent(new CustomEvent('picked', { bubbles: true, detail: el.dataset.pick }))
    } else if (el.dataset.add) {
      el.closest('details').open = false
      send({ arrangement: el.dataset.add, command: { op: 'add_band', index: Number(el.dataset.at) } }).then((told) => {
        const row = told?.added && sheet.querySelector(`[data-band="${CSS.escape(told.added)}"]`)
        row?.scrollIntoView({ block: 'center' })
        row?.querySelector('.ed')?.focus()
      })
    } else if (el.dataset.remove !== undefined) {
      send({ command: { op: 'remove_band', id: band(el) } }).then(() => say('The band is gone. Undo brings it back.'))
    } else if (el.dataset.new) {
      el.closest('details').open = false
      send({ piece: el.dataset.new, command: { op: 'add_piece', id: band(el), column: Number(el.dataset.column), index: 1000 } }).then((told) => told?.added && reveal(told.added, true))
    } else if (el.dataset.drop !== undefined) {
      send({ command: { op: 'remove_piece', piece: piece(el) } }).then(() => say('It is gone. Undo brings it back.'))
    } else if (el.dataset.seat) reseat(el)
    else if (el.dataset.dress !== undefined) dress(el)
    else if (el.dataset.depth !== undefined) {
      const plan = sheet.classList.toggle('as-plan')
      el.setAttribute('aria-pressed', plan)
      if (plan) sheet.querySelector('[data-line]').focus()
    } else if (el.dataset.move) move(el, Number(el.dataset.move))
    else if (el.dataset.itemAdd !== undefined) {
      const list = el.closest('[data-list]')
      setItems(el, (items) => items.push(JSON.parse(list.dataset.blank))).then(() => [...list.querySelectorAll('li[data-item]')].at(-1)?.querySelector('.ed, select')?.focus())
    } else if (el.dataset.itemRemove !== undefined) setItems(el, (items) => items.splice(item(el), 1))
  })

  // What is picked in a chooser goes where its field is; looks take theirs.
  sheet.addEventListener('picked', (e) => {
    const box = e.target
    if (box.dataset.set) send({ command: { op: 'set', piece: piece(box), field: box.dataset.set, value: e.detail } }).then(() => renewSlip(piece0(box)))
    else if (box.dataset.sub) setItems(box, (items) => (items[item(box)][box.dataset.sub] = e.detail))
    else if (box.dataset.ofPage) send({ command: { op: 'set_page', field: box.dataset.ofPage, value: e.detail } }).then(() => renewed())
  })

  // Enter at the end of the plan makes the line a band.
  sheet.addEventListener('keydown', (e) => {
    const el = e.target
    if (el.dataset.line === undefined || e.key !== 'Enter' || !el.value.trim()) return
    e.preventDefault()
    const line = el.value
    el.value = ''
    send({ line, command: { op: 'add_band', index: 100000 } }).then(() => sheet.querySelector('[data-line]').focus())
  })

  keys({ step, move, closeSlip })
  function step(what) {
    flushAll()
    send({ [what]: true })
  }
  gauges.addEventListener('click', (e) => {
    const settle = e.target.closest('[data-settle]')
    if (settle) send({ command: JSON.parse(settle.dataset.settle) }).then(() => say('Settled. Undo brings it back.'))
    if (e.target.closest('[data-undo]')) step('undo')
    if (e.target.closest('[data-redo]')) step('redo')
    const to = e.target.closest('[data-goto]')
    if (to) reveal(to.dataset.goto, true)
    if (e.target.closest('[data-goto-naming]')) {
      sheet.querySelector('.naming').open = true
      sheet.querySelector('[data-of-page=description]').focus()
    }
  })

  function reveal(pieceID, focus, sign) {
    const el = sheet.querySelector(`[data-piece="${CSS.escape(pieceID)}"]`)
    if (!el) return
    el.scrollIntoView({ block: 'center' })
    if (sign && write(el, sign)) return
    if (focus) (el.querySelector('.ed') ?? el.querySelector('.telling'))?.focus()
  }

  // A click on words in a proof puts the caret before the same sign in the sheet.
  function write(el, { words, offset }) {
    const field = [...el.querySelectorAll('.ed')].find((ed) => words && ed.textContent.includes(words))
    if (!field) return false
    const at = field.textContent.indexOf(words) + offset
    if (field.dataset.type === 'rich') copy.caret(field, at)
    else {
      field.focus()
      getSelection().collapse(field.firstChild ?? field, Math.min(at, field.firstChild?.length ?? 0))
    }
    return true
  }

  // A deadline that was moved changes every telling and the proofs.
  document.body.addEventListener('deadline-moved', () => location.reload())

  function ready() {
    htmx.process(sheet)
    dragged()
  }
  ready()
  // A finding leads to its piece.
  if (location.hash.startsWith('#piece-')) reveal(decodeURIComponent(location.hash.slice(7)), true)
}
