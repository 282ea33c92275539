// The description of a product: written in place, and kept while it is written.
import { rich } from './desk/rich.js'

const pause = 900 // ms without a key, after which what was written is kept

export function describing(words, say) {
  const to = words.parentElement
  let kept = words.dataset.value
  let due = 0
  const send = async (el) => {
    clearTimeout(due)
    const text = copy.value(el)
    if (text === kept) return
    const before = kept
    kept = text
    const answer = await fetch(to.dataset.describes, {
      method: 'POST',
      keepalive: text.length < 30_000, // more is not taken along by a page that is left
      body: new URLSearchParams({ text }),
      headers: { 'X-Csrf-Token': document.body.dataset.csrf, Accept: 'application/json' },
    }).catch(() => null)
    const told = (await answer?.json().catch(() => null)) ?? {
      detail: 'The studio did not answer. What you wrote still stands here: write on, and it is tried again.',
    }
    if (told.detail && kept === text) kept = before
    say(told.detail ?? told.said)
  }
  const copy = rich({
    sheet: to,
    page: '',
    typed: (el) => {
      clearTimeout(due)
      due = setTimeout(() => send(el), pause)
    },
    left: send,
  })
  addEventListener('pagehide', () => copy.written(words) && send(words))
}
