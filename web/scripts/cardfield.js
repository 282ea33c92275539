// The till's card field, framed by the shop's checkout. The shop asks for a
// token; the number goes to the till and nowhere else.
const shop = document.body.dataset.shop
const form = document.querySelector('form')

const tall = () => parent.postMessage({ height: document.documentElement.offsetHeight }, shop)
new ResizeObserver(tall).observe(document.documentElement)

window.addEventListener('message', async (e) => {
  if (e.origin !== shop || e.source !== parent || e.data?.ask !== 'token') return
  let answer
  try {
    const reply = await fetch('/tokens', { method: 'POST', body: new URLSearchParams(new FormData(form)) })
    if (reply.status === 429) answer = { error: 'Too many tries. Wait a minute, then try again.' }
    else answer = await reply.json()
  } catch {
    answer = { error: 'The till did not answer. Check your connection and try again.' }
  }
  parent.postMessage({ answer: true, ...answer }, shop)
})
form.addEventListener('submit', (e) => e.preventDefault())
parent.postMessage({ ready: true }, shop)

// The number is grouped as it is typed; the slash of the date comes by itself.
form.elements.number.addEventListener('input', (e) => {
  const at = e.target.selectionStart === e.target.value.length
  const digits = e.target.value.replace(/\D/g, '').slice(0, 19)
  if (at) e.target.value = digits.replace(/(\d{4})(?=\d)/g, '$1 ')
})
form.elements.expiry.addEventListener('input', (e) => {
  if (/^\d{3}/.test(e.target.value)) e.target.value = `${e.target.value.slice(0, 2)}/${e.target.value.slice(2)}`
})
