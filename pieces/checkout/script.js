// The checkout with script: the till's card field in its own frame, totals from
// the server at every change, and errors beside their fields.
const text = (el, words) => el && (el.textContent = words ?? '')

for (const form of document.querySelectorAll('[data-checkout]')) start(form)

function start(form) {
  const till = form.dataset.till
  if (!till) return
  const part = (name) => form.querySelector(`[data-${name}]`)
  const frame = document.createElement('iframe')
  frame.title = 'Card details, served by the till'
  frame.src = `${till}/field?shop=${encodeURIComponent(location.origin)}`
  part('card')?.replaceChildren(frame)
  let paying = false
  const pay = () => form.querySelector('.act:not([data-next])')
  let waiting = null
  let isReady
  const ready = new Promise((resolve) => (isReady = resolve))

  window.addEventListener('message', (e) => {
    if (e.origin !== till || e.source !== frame.contentWindow) return
    isReady()
    if (e.data?.height) frame.style.height = `${e.data.height}px`
    if (waiting && e.data?.answer) waiting(e.data)
  })

  // token asks the till's frame for a token; the card number stays there. A
  // frame that is still loading is asked once it listens; one that never
  // answers does not keep the buyer waiting for ever.
  const token = () =>
    new Promise((resolve) => {
      const late = setTimeout(
        () => resolve({ error: 'The till did not answer. Check your connection and press the button again.' }),
        15_000,
      )
      waiting = (answer) => {
        clearTimeout(late)
        resolve(answer)
      }
      ready.then(() => frame.contentWindow.postMessage({ ask: 'token' }, till))
    })

  const data = () => new URLSearchParams(new FormData(form))
  const show = (news, sent = []) => {
    if (news.totals) for (const el of [part('totals'), ...document.querySelectorAll('[data-summary]')]) el.innerHTML = news.totals
    if (news.total) for (const el of document.querySelectorAll('[data-button-total]')) text(el, news.total)
    for (const [number, cost] of Object.entries(news.costs ?? {})) {
      const el = form.querySelector(`[data-cost="${CSS.escape(number)}"]`)
      if (el) el.innerHTML = cost
    }
    if (news.bumps !== undefined) redraw(part('bumps'), news.bumps)
    if (news.where) redraw(part('where'), news.where)
    // An address is asked only while something in the cart travels.
    if (news.sent !== undefined && news.sent !== Boolean(form.dataset.sent)) {
      form.dataset.sent = news.sent ? '1' : ''
      if (part('where')) requote(true) // it says otherwise now what the address is for
    }
    if (news.count !== undefined) carry(news.count)
    stand(news.stands ?? {}, news.stands ? sent : [])
    if (news.seen) form.elements.seen.value = news.seen
    if (news.code !== undefined) text(part('code-say'), news.code)
    if (news.notice !== undefined) {
      text(part('notice'), news.notice)
      part('notice').hidden = !news.notice
    }
    if (news.again && !form.elements.again) {
      const label = document.createElement('label')
      label.className = 'bump again'
      label.innerHTML = '<input type="checkbox" name="again"> <span>Yes, I want to order once more.</span>'
      label.firstChild.value = news.again
      const order = document.createElement('p')
      order.className = 'again'
      order.innerHTML = '<a>See your order</a>'
      order.firstChild.href = `/orders/${encodeURIComponent(news.again)}`
      part('notice').after(order, label)
    }
    if (news.meant !== undefined) suggest(news.meant)
    if (news.part) turnTo(news.part, !news.errors)
    if (news.errors) {
      for (const el of form.querySelectorAll('[data-error]')) {
        const words = news.errors[el.dataset.error]
        text(el, words)
        const field = form.elements[el.dataset.error]
        if (words) field?.setAttribute('aria-invalid', 'true')
        else field?.removeAttribute('aria-invalid')
      }
      const first = [...form.querySelectorAll('[aria-invalid]')].find((el) => el.offsetParent !== null)
      if (first) first.focus()
      else if (news.notice) part('notice').scrollIntoView({ block: 'center' })
    }
  }

  // An address that looks mistyped is asked about, and never corrected. What was asked
  // about is taken as it stands afterwards.
  function suggest(meant) {
    const field = form.elements.email
    let slot = part('meant')
    if (!slot && meant) {
      slot = document.createElement('span')
      slot.className = 'meant'
      slot.dataset.meant = ''
      slot.setAttribute('role', 'status')
      slot.innerHTML = '<span></span> <button type="button" class="use" name="use">Yes, use it</button><input type="hidden" name="sure">'
      field.closest('.field').append(slot)
    }
    if (!slot) return
    slot.hidden = !meant
    text(slot.querySelector('span'), `Did you mean ${meant}?`)
    form.elements.use.value = meant
    form.elements.sure.value = meant ? field.value.trim() : ''
  }
  form.addEventListener('click', (e) => {
    if (e.target.name !== 'use') return
    e.preventDefault()
    form.elements.email.value = e.target.value
    form.elements.email.focus()
    suggest('')
    text(form.querySelector('[data-error=email]'), '')
    form.elements.email.removeAttribute('aria-invalid')
  })

  // What is drawn anew keeps what was typed since it was asked for, and the focus where
  // it was.
  function redraw(el, html) {
    if (!el) return
    const fields = [...el.querySelectorAll('[name]')]
    const typed = new Map(fields.map((f) => [f.name, f.type === 'checkbox' ? f.checked : f.value]))
    const held = fields.find((f) => f === document.activeElement)
    const caret = held?.matches('input:not([type=checkbox]), textarea') ? held.selectionStart : null
    const made = document.createElement('template')
    made.innerHTML = html
    refill(el, made.content)
    for (const f of el.querySelectorAll('[name]')) {
      if (!typed.has(f.name)) continue
      if (f.type === 'checkbox') f.checked = typed.get(f.name)
      else if (!f.matches('select') || [...f.options].some((o) => o.value === typed.get(f.name))) f.value = typed.get(f.name)
      if (f.name === held?.name) {
        f.focus()
        if (caret !== null) f.setSelectionRange?.(caret, caret)
      }
    }
    open()
  }
  // The country itself stays as it is: somebody may be looking for it by its letters.
  function refill(old, fresh) {
    const stays = [...old.children].find((el) => el.querySelector(':scope > [data-redraws]'))
    const apart = old.querySelector(':scope > [data-apart]')
    for (const el of [...old.children]) if (el !== stays && el !== apart) el.remove()
    let before = stays
    for (const el of [...fresh.children])
      if (stays && el.querySelector(':scope > [data-redraws]')) before = apart
      else if (apart && el.matches('[data-apart]')) refill(apart, el)
      else old.insertBefore(el, before ?? apart)
  }
  // The payer's fields stand open only where somebody else pays.
  function open() {
    const tick = form.querySelector('[data-opens]')
    if (tick) part('apart').hidden = !tick.checked
  }
  open()

  async function ask(path, more = {}) {
    const body = data()
    for (const [name, value] of Object.entries(more)) body.set(name, value)
    const answer = await fetch(path, { method: 'POST', body, headers: { Accept: 'application/json' } })
    if (!answer.headers.get('content-type')?.includes('json')) throw new Error('no answer')
    return answer.json()
  }
  // Changes can come faster than answers: only the answer to the last one is
  // shown, and an order waits for it.
  let asked = 0
  let pending = Promise.resolve()
  const shop = form.getAttribute('action').split('/checkout')[0]
  const requote = (elsewhere) => {
    const turn = ++asked
    const sent = [...data()]
    pending = ask(`${shop}/quote`, elsewhere ? { redraw: '1' } : {}).then(
      (news) => {
        if (turn !== asked) return
        show({ notice: told ? '' : undefined, ...news }, sent)
        told = Boolean(news.notice)
      },
      () => {},
    )
    return pending
  }
  let told = false // what is no longer to be had

  // What is put in from lists is summed up at the foot of the window while the order
  // itself is out of sight.
  const bar = document.querySelector('[data-carry]')
  let inSight = false
  function carry(count) {
    if (!bar) return
    bar.dataset.carry = count
    text(bar.querySelector('span'), count === 1 ? 'One piece in your order' : `${count} pieces in your order`)
    bar.hidden = inSight || !count
  }
  if (bar)
    new IntersectionObserver(
      ([seen]) => {
        inSight = seen.isIntersecting
        carry(Number(bar.dataset.carry))
      },
      { threshold: 0.3 },
    ).observe(form.querySelector('.side'))

  const chooses = /^(option|quantity|put:.+)$/
  const reckons = /^(bump\d?|option|quantity|way|put:.+|code|email|country|payer_country)$/
  // What was asked for and is not to be had stands as the shop takes it.
  function stand(stands, sent) {
    for (const [name, value] of sent) {
      const field = form.elements[name]
      if (!chooses.test(name) || !field || field.value !== value) continue
      const now = stands[name] ?? (name.startsWith('put:') ? '0' : value)
      if (Number(now) !== Number(value)) field.value = now
    }
  }
  // Fields of the page's lists belong to the form and stand outside it.
  document.addEventListener('change', (e) => {
    if (e.target.form !== form) return
    if ('opens' in e.target.dataset) open()
    if (reckons.test(e.target.name)) requote('redraws' in e.target.dataset || e.target.name === 'way')
  })
  for (const el of form.querySelectorAll('[name=requote]'))
    el.addEventListener('click', (e) => {
      e.preventDefault()
      requote()
    })
  // A field that was mended is no longer called wrong.
  form.addEventListener('input', (e) => {
    e.target.removeAttribute('aria-invalid')
    text(form.querySelector(`[data-error="${CSS.escape(e.target.name)}"]`), '')
  })
  // The price or the stock changed while the page was open.
  form.addEventListener('fresh', () => {
    requote()
  })

  // A checkout in parts: Next is checked and kept by the shop, Back only turns. The
  // browser's own back and forward turn too.
  const several = Number(form.dataset.parts ?? 0)
  function turnTo(number, pushed) {
    if (!several || String(number) === form.dataset.at) return
    form.dataset.at = number
    form.elements.part.value = number
    for (const el of form.querySelectorAll('[data-part]')) el.hidden = el.dataset.part !== String(number)
    for (const el of form.querySelectorAll('[data-step]'))
      if (el.dataset.step === String(number)) el.setAttribute('aria-current', 'step')
      else el.removeAttribute('aria-current')
    if (pushed) history.pushState({ checkout: number }, '', `${location.pathname}?part=${number}#checkout`)
    form.scrollIntoView({ block: 'start' })
    form.querySelector(`[data-part="${number}"]`).focus({ preventScroll: true })
  }
  async function turn(button, back) {
    if (paying) return
    paying = true
    button.setAttribute('aria-busy', 'true')
    const sure = form.elements.sure?.value ?? ''
    try {
      await pending
      show(await ask(`${shop}/checkout/next`, back ? { back: '1', sure } : { next: '1', sure }))
    } catch {
      show({ errors: {}, notice: 'The shop did not answer. Nothing you typed is lost: check your connection and press the button again.' })
    }
    button.removeAttribute('aria-busy')
    paying = false
  }
  for (const button of form.querySelectorAll('[data-next], [data-back]'))
    button.addEventListener('click', (e) => {
      e.preventDefault()
      turn(button, 'back' in button.dataset)
    })
  if (several) {
    history.replaceState({ ...history.state, checkout: Number(form.dataset.at) }, '')
    window.addEventListener('popstate', (e) => e.state?.checkout && turnTo(e.state.checkout, false))
  }

  // Other pages of a list are presses of this form that leave the page. Enter in a field
  // names the first of them too, and means the order.
  let pressed = null
  document.addEventListener('click', (e) => (pressed = e.detail > 0 || e.target === document.activeElement ? e.target : null), true)
  form.addEventListener('submit', async (e) => {
    if (e.submitter?.matches('[name=requote][formaction]') && e.submitter.contains(pressed)) return
    e.preventDefault()
    // Enter goes on where there is something to go on to.
    const next = form.querySelector('[data-part]:not([hidden]) [data-next]')
    if (next) return turn(next, false)
    if (paying) return
    paying = true
    form.setAttribute('aria-busy', 'true')
    part('paying').hidden = false
    pay().disabled = true
    let news
    let sent
    const sure = form.elements.sure?.value ?? '' // of what they have seen
    try {
      await pending
      sent = [...data()]
      const checked = await ask(`${shop}/checkout/fields`, { sure })
      const byCard = (data().get('way') ?? 'card') === 'card'
      const card = checked.notice || !byCard ? { token: '' } : await token()
      if (checked.notice) news = checked
      else if (Object.keys(checked.errors).length || card.error) {
        news = {
          errors: { ...checked.errors, ...(card.error ? { card: card.error } : {}) },
          notice: '',
          part: Object.keys(checked.errors).length ? checked.part : 0,
          meant: checked.meant,
        }
      } else {
        form.elements.token.value = card.token
        news = await ask(form.getAttribute('action').split('#')[0])
      }
    } catch {
      news = {
        errors: {},
        notice:
          'The shop did not answer. Nothing you typed is lost: check your connection and press the button again. You are never charged twice.',
      }
    }
    if (news.go) {
      location.assign(news.go)
      return
    }
    paying = false
    form.removeAttribute('aria-busy')
    part('paying').hidden = true
    pay().disabled = false
    show(news, sent)
  })

  // Coming back by the back button: the form works again, and says so.
  window.addEventListener('pageshow', (e) => {
    if (!e.persisted) return
    paying = false
    form.removeAttribute('aria-busy')
    part('paying').hidden = true
    pay().disabled = false
    requote()
  })
}
