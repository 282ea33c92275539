// @ts-check
// What commands come to: the sheet, the tellings, the proofs and the gauges follow.
import htmx from 'htmx.org'
import { all, maybe, named, one } from './dom.js'
import { persist } from './queue.js'

/**
 * @typedef {object} Told what the server answers to a command
 * @property {number} revision
 * @property {string} [sheet] the whole sheet, where it changed
 * @property {{ id: string, tag: string, html: string }[]} telling
 * @property {unknown} proof
 * @property {string} [gauges]
 * @property {string} [live]
 * @property {string} [added]
 * @property {unknown} [taken] what a field came to
 * @property {boolean} [merged]
 * @property {string} [said] what became of what was pasted
 * @property {boolean} [plain] what was pasted is copy, and nothing was changed
 * @property {string} detail why it was refused
 */

/**
 * @param {object} on
 * @param {string} on.page its ID
 * @param {HTMLElement} on.sheet
 * @param {HTMLElement} on.gauges
 * @param {any} on.shown the proofs
 * @param {(words: string) => void} on.say
 * @param {ReturnType<typeof import('./queue.js').queue>} on.line
 * @param {ReturnType<typeof import('./typing.js').typing>} on.typing
 * @param {ReturnType<typeof import('./merging.js').merging>} on.merging
 * @param {(slip: HTMLElement) => void} on.openSlip
 */
export function answers({ page, sheet, gauges, shown, say, line, typing, merging, openSlip }) {
  let away = false // the server does not answer
  /** @type {Map<string, string>} the tag of what each line was last told */
  const lines = new Map()

  const revision = () => Number(one(sheet, '.sheet').dataset.revision)
  const unsent = () => away || typing.unsent()
  /** @param {string} words */
  function saved(words) {
    const says = maybe(gauges, '[data-saved]')
    if (says) says.textContent = words
  }

  /**
   * @param {import('./queue.js').Body} body
   * @param {unknown} of
   * @returns {Promise<Told | null>}
   */
  async function post(body, of) {
    const el = of instanceof HTMLElement ? of : null
    const [answer, told] = await persist(
      async () => {
        const reply = await fetch(`/pages/${page}/commands?as_of=${shown.asOf()}`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json', 'X-Csrf-Token': document.body.dataset.csrf ?? '' },
          body: JSON.stringify({ ...body, revision: revision(), has: [...shown.has(), ...lines.values()] }),
        })
        return /** @type {[Response, Told]} */ ([reply, await reply.json()])
      },
      () => {
        away = true // keep what was typed
        saved('Not saved yet; trying again')
      },
    )
    if (el) line.came(el)
    if (answer.status === 401) {
      away = true
      saved('Not saved: you are signed out')
      say(told.detail)
      return null
    }
    if (!answer.ok) {
      say(told.detail)
      if (el?.matches('.ed, [data-of-page], [data-band-field]')) refuse(el, body, told.detail)
      else await renewed()
      return null
    }
    away = false
    if (told.plain) return told
    if (el) accept(el)
    take(told)
    if (told.said) say(told.said)
    if (el?.isContentEditable && typeof told.taken === 'string' && !typing.busy(el)) {
      // Copy has a space more at its end while somebody writes on.
      if (told.merged || el.dataset.type !== 'rich') merging.adopt(el, told.taken)
      else typing.was.set(el, (el.dataset.value = told.taken))
    }
    return told
  }

  /**
   * What was refused stays where it was typed, until it is typed otherwise.
   * @param {HTMLElement} el
   * @param {import('./queue.js').Body} body
   * @param {string} why
   */
  function refuse(el, body, why) {
    typing.was.set(el, String(body.command?.was ?? ''))
    accept(el)
    el.classList.add('refused')
    el.setAttribute('aria-invalid', 'true')
    const said = document.createElement('p')
    said.className = 'bad refusal'
    said.setAttribute('role', 'alert')
    said.textContent = why
    el.after(said)
  }
  /** @param {HTMLElement} el */
  function accept(el) {
    if (!el.classList.contains('refused')) return
    el.classList.remove('refused')
    el.removeAttribute('aria-invalid')
    maybe(el.parentElement, ':scope > .refusal')?.remove()
  }

  // The sheet as it stands, with what others made of it.
  async function renewed() {
    const answer = await fetch(`/pages/${page}/sheet.json?as_of=${shown.asOf()}`).catch(() => null)
    if (!answer?.ok) return
    take(await answer.json())
    const slip = maybe(sheet, '.telling[aria-expanded="true"]')
    if (slip && !slip.nextElementSibling?.contains(document.activeElement)) openSlip(slip)
  }

  /** @param {Told} told */
  function take(told) {
    if (told.revision < revision()) return
    if (told.sheet) {
      merging.renew(told.sheet)
      lines.clear()
    } else {
      one(sheet, '.sheet').dataset.revision = String(told.revision)
      for (const t of told.telling) {
        const button = maybe(named(sheet, 'piece', t.id), ':scope > .telling')
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
  /** @type {ReturnType<typeof setTimeout> | undefined} */
  let resting
  async function measure() {
    const answer = await fetch(`/pages/${page}/gauges?as_of=${shown.asOf()}`).catch(() => null)
    if (answer?.ok) measured(await answer.json())
  }
  /** @param {{ gauges?: string, live?: string }} told */
  function measured(told) {
    delete gauges.dataset.behind
    const words = maybe(gauges, '[data-saved]')?.textContent
    const open = maybe(gauges, 'details[open] summary')?.firstChild?.textContent
    gauges.innerHTML = told.gauges ?? ''
    for (const head of open ? all(gauges, 'details > summary') : [])
      head.parentElement?.toggleAttribute('open', head.firstChild?.textContent === open)
    if (words && (line.waits() || unsent())) saved(words)
    const live = one(document, '#live')
    if (told.live !== undefined && live.dataset.told !== told.live) {
      live.innerHTML = live.dataset.told = told.live
      htmx.process(live)
    }
    const count = maybe(gauges, '[data-count-words]')
    if (count) one(sheet, '[data-words]').textContent = count.dataset.reads ?? ''
  }

  // Somebody changed this page, or something that it shows.
  /** @param {() => boolean} need */
  const later = (need) => line.later(() => need() && renewed())
  document.body.addEventListener('page-told', (e) => {
    const { id, revision: to } = /** @type {CustomEvent} */ (e).detail
    if (id === page) later(() => to > revision())
  })
  /** @type {ReturnType<typeof setTimeout> | undefined} */
  let telling
  document.body.addEventListener('facts-told', () => {
    clearTimeout(telling)
    telling = setTimeout(() => later(() => true), 400)
  })
  // A deadline that was moved changes every telling and the proofs.
  document.body.addEventListener('deadline-moved', () => location.reload())

  return { later, post, renewed, saved, unsent }
}
