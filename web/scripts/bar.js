// The price bar of a phone: in sight once the page's first button has left the screen,
// and away wherever it could cover what is filled in or what says who sells.
const bar = document.getElementById('bar')
const first = document.querySelector('main .act[href]')
if (bar && first) {
  const seen = new Set()
  let left = false
  const show = () => {
    const field = /^(input|select|textarea)$/i.test(document.activeElement?.tagName ?? '')
    document.getElementById('bar').hidden = !left || seen.size > 0 || field
  }
  const watch = new IntersectionObserver((entries) => {
    for (const e of entries) {
      if (e.target === first) left = !e.isIntersecting && e.boundingClientRect.top < 0
      else if (e.isIntersecting) seen.add(e.target)
      else seen.delete(e.target)
    }
    show()
  })
  for (const el of [first, ...document.querySelectorAll('form, footer')]) watch.observe(el)
  document.addEventListener('focusin', show)
  document.addEventListener('focusout', () => setTimeout(show))
}
