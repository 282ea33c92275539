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
  part('card').replaceChildren(frame)
  let paying = false
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
  const show = (news) => {
    if (news.totals) for (const el of [part('totals'), ...document.querySelectorAll('[data-summary]')]) el.innerHTML = news.totals
    if (news.total) text(part('button-total'), news.total)
    // An address is asked only while something in the cart travels.
    if (news.sent !== undefined) form.dataset.sent = news.sent ? '1' : ''
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
    if (news.errors) {
      for (const el of form.querySelectorAll('[data-error]')) {
        const words = news.errors[el.dataset.error]
        text(el, words)
        const field = form.elements[el.dataset.error]
        if (words) field?.setAttribute('aria-invalid', 'true')
        else field?.removeAttribute('aria-invalid')
      }
      const first = form.querySelector('[aria-invalid]')
      if (first) first.focus()
      else if (news.notice) part('notice').scrollIntoView({ block: 'center' })
    }
  }

  async function ask(path) {
    const answer = await fetch(path, { method: 'POST', body: data(), headers: { Accept: 'application/json' } })
    if (!answer.headers.get('content-type')?.includes('json')) throw new Error('no answer')
    return answer.json()
  }
  // Changes can come faster than answers: only the answer to the last one is
  // shown, and an order waits for it.
  let asked = 0
  let pending = Promise.resolve()
  const requote = () => {
    const turn = ++asked
    pending = ask(`${form.getAttribute('action').split('/checkout')[0]}/quote`).then(
      (news) => turn === asked && show(news),
      () => {},
    )
    return pending
  }

  form.addEventListener('change', (e) => ['bump', 'country', 'code'].includes(e.target.name) && requote())
  form.querySelector('.use')?.addEventListener('click', (e) => {
    e.preventDefault()
    requote()
  })
  // A field that was mended is no longer called wrong.
  form.addEventListener('input', (e) => {
    e.target.removeAttribute('aria-invalid')
    text(form.querySelector(`[data-error="${CSS.escape(e.target.name)}"]`), '')
  })
  // The price or the stock changed while the page was open.
  form.addEventListener('fresh', (e) => {
    const bump = form.querySelector('[name=bump]')
    const now = e.detail.querySelector('[name=bump]')
    if (bump && now) bump.closest('label').querySelector('span').replaceWith(now.closest('label').querySelector('span'))
    requote()
  })

  form.addEventListener('submit', async (e) => {
    e.preventDefault()
    if (paying) return
    paying = true
    form.setAttribute('aria-busy', 'true')
    part('paying').hidden = false
    form.querySelector('.act').disabled = true
    let news
    try {
      await pending
      const checked = await ask(`${form.getAttribute('action').split('/checkout')[0]}/checkout/fields`)
      const card = checked.notice ? {} : await token()
      if (checked.notice) news = checked
      else if (Object.keys(checked.errors).length || card.error) {
        news = { errors: { ...checked.errors, ...(card.error ? { card: card.error } : {}) }, notice: '' }
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
    form.querySelector('.act').disabled = false
    show(news)
  })

  // Coming back by the back button: the form works again, and says so.
  window.addEventListener('pageshow', (e) => {
    if (!e.persisted) return
    paying = false
    form.removeAttribute('aria-busy')
    part('paying').hidden = true
    form.querySelector('.act').disabled = false
    requote()
  })
}
