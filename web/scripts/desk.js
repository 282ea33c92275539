// The manuscript's desk: the sheet is typed in, every change goes to the server
// as a command, and the proofs are redrawn from the answer.
import htmx from 'htmx.org'
import { Idiomorph } from 'idiomorph'
import Sortable from 'sortablejs'
import { looks } from './look.js'
import { proofs } from './proofs.js'
import { rich } from './rich.js'

export function desk(root, say) {
  const id = root.dataset.page
  const sheet = document.getElementById('sheet')
  const gauges = document.getElementById('gauges')
  const csrf = document.body.dataset.csrf
  const shown = proofs(root, id, (piece, sign) => reveal(piece, true, sign))
  const revision = () => Number(sheet.querySelector('.sheet').dataset.revision)

  // Commands go out one after the other, in the order they were made.
  let line = Promise.resolve()
  let waiting = 0
  let owed = false // something typed has not reached the server
  const saved = (words) => gauges.querySelector('[data-saved]') && (gauges.querySelector('[data-saved]').textContent = words)

  // What a command was made from is said when its turn comes (settle), and what
  // the server made of it is noted before the sheet is renewed (noted).
  function send(body, settle, noted) {
    waiting++
    saved('Saving…')
    line = line.then(() => post(settle ? settle(body) : body, noted)).finally(() => {
      if (--waiting === 0 && !owed) saved('Saved')
    })
    return line
  }

  async function post(body, noted) {
    for (let wait = 1000; ; wait = Math.min(wait * 2, 15000)) {
      try {
        const answer = await fetch(`/pages/${id}/commands?as_of=${shown.asOf()}`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json', 'X-Csrf-Token': csrf },
          body: JSON.stringify({ ...body, revision: revision() }),
        })
        const told = await answer.json()
        if (!answer.ok) {
          say(told.error)
          if (answer.status === 409 || answer.status === 404 || answer.status === 422) await reload()
          return null
        }
        owed = false
        noted?.(told)
        take(told)
        return told
      } catch {
        // The server is away: keep what was typed and try again.
        owed = true
        saved('Not saved yet; trying again')
        await new Promise((again) => setTimeout(again, wait))
      }
    }
  }

  async function reload() {
    const fresh = await fetch(location.href)
    const page = new DOMParser().parseFromString(await fresh.text(), 'text/html')
    renew(page.getElementById('sheet').innerHTML)
  }

  function take(told) {
    if (told.sheet) {
      renew(told.sheet)
    } else {
      sheet.querySelector('.sheet').dataset.revision = told.revision
      for (const t of told.telling) {
        const button = sheet.querySelector(`[data-piece="${CSS.escape(t.piece)}"] > .telling`)
        if (button && button.innerHTML !== t.html) button.innerHTML = t.html
      }
    }
    gauges.innerHTML = told.gauges
    const live = document.getElementById('live')
    live.innerHTML = told.live
    htmx.process(live)
    const words = gauges.querySelector('[data-count-words]')
    if (words) sheet.querySelector('[data-words]').textContent = words.dataset.reads
    shown.draw(told.proof)
  }

  // The sheet takes over what changed and leaves the rest in place: an open
  // menu, a slip, the caret, and what was typed but not sent.
  function renew(html) {
    const at = document.activeElement
    Idiomorph.morph(sheet, html, { morphStyle: 'innerHTML', restoreFocus: false, callbacks: { beforeNodeRemoved: (n) => n !== copy.bar, beforeNodeMorphed: stale, afterNodeMorphed: known, beforeAttributeUpdated: ours } })
    ready()
    if (at !== document.activeElement && sheet.contains(at)) at.focus() // a moved element lets it go
  }
  function stale(old, fresh) {
    if (!(old instanceof Element)) return true
    if (old.matches('[data-line]')) return false
    if (copy.written(old)) {
      if (!timers.has(old) && waiting <= 1 && fresh.dataset.value !== was.get(old)) {
        was.set(old, fresh.dataset.value)
        copy.set(old, fresh.innerHTML)
      }
      old.dataset.value = fresh.dataset.value
      return false
    }
    if (old.matches('.slip-slot') || (old.matches('.naming') && old.open) || timers.has(old)) return false
    return !(old.isContentEditable && old.dataset.type !== 'rich' && typed(old) === fresh.textContent && same(old, fresh))
  }
  const same = (a, b) => a.dataset.field === b.dataset?.field && a.dataset.sub === b.dataset?.sub && a.dataset.bandField === b.dataset?.bandField
  function known(old) {
    if (old !== document.activeElement || !old.isContentEditable || old.dataset.type === 'rich') return
    was.set(old, line1(old))
    getSelection().selectAllChildren(old)
    getSelection().collapseToEnd()
  }
  const ours = (name, el) => !((name === 'open' && el.matches('details')) || (name === 'aria-expanded' && el.matches('.telling')))

  looks(sheet, send, say)

  // ---- typing
  const timers = new Map()
  const was = new Map() // what the server last knew of a field
  const typed = (el) => el.innerText.replace(/\u00a0/g, ' ').replace(/\n+$/, '')
  const line1 = (el) => (el.dataset.type === 'rich' ? copy.value(el) : el.dataset.type === 'prose' ? typed(el) : typed(el).replace(/\s*\n\s*/g, ' '))

  const copy = rich({ sheet, page: id, typed: (el) => soon(el), left: (el) => timers.has(el) && flush(el) })
  sheet.addEventListener('focusin', (e) => {
    const el = e.target
    if (el.isContentEditable) was.set(el, el.dataset.value ?? line1(el)) // of copy, as it is kept
    const piece = el.closest('[data-piece]')
    if (piece) shown.show(piece.dataset.piece)
  })
  sheet.addEventListener('input', (e) => {
    if (e.target.isContentEditable) soon(e.target)
  })
  function soon(el) {
    saved('Saving…')
    owed = true
    clearTimeout(timers.get(el))
    timers.set(el, setTimeout(() => flush(el), 30))
  }
  sheet.addEventListener('focusout', (e) => timers.has(e.target) && flush(e.target))

  function flush(el) {
    clearTimeout(timers.get(el))
    timers.delete(el)
    owed = false
    const value = line1(el)
    if (value === '' && !copy.written(el)) el.replaceChildren() // so that its hint shows
    if (el.dataset.bandField) {
      send({ command: { op: 'set_band', id: band(el), field: 'name', value } })
      return
    }
    if (el.dataset.sub) {
      const at = item(el)
      setItems(el, (items) => (items[at][el.dataset.sub] = value), true, (told) => was.set(el, told.taken?.[at]?.[el.dataset.sub] ?? ''))
      return
    }
    const before = was.get(el) ?? ''
    if (before === value) return
    if (el.dataset.type === 'rich') {
      const command = { op: 'set', piece: piece(el), field: el.dataset.field, value, guard: true }
      send({ joins: true, command }, (body) => ({ ...body, command: { ...command, was: was.get(el) ?? '' } }), (told) => {
        was.set(el, told.taken ?? '')
        el.dataset.value = told.taken ?? ''
      })
      return
    }
    was.set(el, value)
    send({ joins: true, command: { op: 'set', piece: piece(el), field: el.dataset.field, value, was: before, guard: true } })
  }
  const flushAll = () => [...timers.keys()].forEach(flush)
  addEventListener('pagehide', flushAll)

  const piece = (el) => el.closest('[data-piece]').dataset.piece
  const band = (el) => el.closest('[data-band]').dataset.band
  const item = (el) => Number(el.closest('[data-item]').dataset.item)

  function setItems(el, change, joins, noted) {
    const list = el.closest('[data-list]')
    const items = JSON.parse(list.dataset.value)
    change(items)
    list.dataset.value = JSON.stringify(items)
    send({ joins, command: { op: 'set', piece: piece(list), field: list.dataset.list, value: items } }, null, noted)
  }

  // ---- choosing
  sheet.addEventListener('change', (e) => {
    const el = e.target
    if (el.dataset.widths !== undefined) send({ command: { op: 'arrange', id: band(el), widths: el.value.match(/\d+/g).map(Number) } })
    else if (el.dataset.set) send({ command: { op: 'set', piece: piece(el), field: el.dataset.set, value: el.value } }).then(() => renewSlip(piece0(el)))
    else if (el.dataset.bandField) send({ command: { op: 'set_band', id: band(el), field: el.dataset.bandField, value: el.value } })
    else if (el.dataset.sub) setItems(el, (items) => (items[item(el)][el.dataset.sub] = el.value))
  })
  const piece0 = (el) => el.closest('[data-piece]')?.dataset.piece
  function renewSlip(pieceID) {
    const button = pieceID && sheet.querySelector(`[data-piece="${CSS.escape(pieceID)}"] > .telling[aria-expanded="true"]`)
    if (button) openSlip(button)
  }

  sheet.addEventListener('click', (e) => {
    const el = e.target.closest('button')
    if (!el) return
    if (el.dataset.slip !== undefined) el.getAttribute('aria-expanded') === 'true' ? closeSlip(el) : openSlip(el, '')
    else if (el.dataset.add) {
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
      setItems(el, (items) => items.push({ icon: 'check', title: '', text: '' }))
    } else if (el.dataset.itemRemove !== undefined) setItems(el, (items) => items.splice(item(el), 1))
  })

  // ---- slips
  function closeSlip(button) {
    button.setAttribute('aria-expanded', 'false')
    const slot = button.nextElementSibling
    slot.hidden = true
    slot.replaceChildren()
  }
  async function openSlip(button, focus) {
    if (!button) return
    for (const other of sheet.querySelectorAll('.telling[aria-expanded="true"]')) if (other !== button) closeSlip(other)
    button.setAttribute('aria-expanded', 'true')
    const slot = button.nextElementSibling
    slot.hidden = false
    await htmx.ajax('GET', `/pages/${id}/slip/${button.closest('[data-piece]').dataset.piece}`, { target: slot, swap: 'innerHTML' })
    if (focus !== undefined) slot.querySelector(focus || 'select')?.focus()
  }

  // The look of a band stands at its head, that of the page under its name.
  async function dress(el) {
    const slot = el.dataset.dress ? el.closest('.band-row').querySelector('[data-look-slot]') : sheet.querySelector('[data-look-slot=page]')
    el.closest('.band-menu')?.removeAttribute('open')
    slot.hidden = !slot.hidden && slot.childElementCount > 0
    if (slot.hidden) return slot.replaceChildren()
    await htmx.ajax('GET', `/pages/${id}/look/${el.dataset.dress || 'page'}`, { target: slot, swap: 'innerHTML' })
    slot.querySelector('select')?.focus()
  }

  // ---- moving
  function move(el, by) {
    const row = el.closest('[data-band]')
    const to = Number(row.dataset.index) + by
    if (to < 0 || to >= sheet.querySelectorAll('.band-row').length) return
    flushAll()
    send({ command: { op: 'move_band', id: row.dataset.band, index: to } }).then(() => {
      sheet.querySelector(`[data-band="${CSS.escape(row.dataset.band)}"]`)?.scrollIntoView({ block: 'nearest' })
    })
  }

  // A piece moves within its column, or on to the next one.
  function reseat(el) {
    const to = { column: Number(el.dataset.column), index: Number(el.dataset.index) }
    if (el.dataset.seat === 'up') to.index--
    if (el.dataset.seat === 'down') to.index++
    if (el.dataset.seat === 'over') Object.assign(to, { column: (to.column + 1) % Number(el.dataset.columns), index: 1000 })
    if (to.index < 0) return
    send({ command: { op: 'move_piece', piece: piece(el), id: band(el), ...to } })
  }

  // Enter at the end of the plan makes the line a band.
  sheet.addEventListener('keydown', (e) => {
    const el = e.target
    if (el.dataset.line === undefined || e.key !== 'Enter' || !el.value.trim()) return
    e.preventDefault()
    const line = el.value
    el.value = ''
    send({ line, command: { op: 'add_band', index: 100000 } }).then(() => sheet.querySelector('[data-line]').focus())
  })

  document.addEventListener('keydown', (e) => {
    const command = e.ctrlKey || e.metaKey
    if (e.defaultPrevented) return // written copy takes its own steps back first
    if (command && e.key.toLowerCase() === 'z') {
      if (/^(input|textarea)$/i.test(e.target.tagName)) return
      e.preventDefault()
      step(e.shiftKey ? 'redo' : 'undo')
    } else if (command && e.key.toLowerCase() === 'y') {
      e.preventDefault()
      step('redo')
    } else if (e.altKey && (e.key === 'ArrowUp' || e.key === 'ArrowDown') && e.target.closest?.('[data-band]')) {
      e.preventDefault()
      move(e.target, e.key === 'ArrowUp' ? -1 : 1)
    } else if (e.key === 'Escape' && e.target.closest?.('.slip')) {
      const button = e.target.closest('.slip-slot').previousElementSibling
      closeSlip(button)
      button.focus()
    } else if (e.key === 'Enter' && e.target.isContentEditable && e.target.dataset.type !== 'prose' && e.target.dataset.type !== 'rich') {
      e.preventDefault()
    }
  })
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
    const bands = sheet.querySelector('.bands')
    if (Sortable.get(bands)) return
    Sortable.create(bands, {
      handle: '.handle',
      draggable: '.band-row',
      animation: matchMedia('(prefers-reduced-motion: reduce)').matches ? 0 : 120,
      onEnd: (e) => {
        if (e.oldDraggableIndex !== e.newDraggableIndex)
          send({ command: { op: 'move_band', id: e.item.dataset.band, index: e.newDraggableIndex } })
      },
    })
  }
  ready()
}
