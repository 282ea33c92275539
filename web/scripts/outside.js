// On a page outside: says that it was seen, and what was pressed, and carries the
// visitor's pass on to every link back into the shop. Without a pass it does nothing.
;(() => {
  const me = document.currentScript
  const base = new URL(me.src).origin
  const step = me.dataset.step
  let walk = new URLSearchParams(location.search).get('walk')
  try {
    if (walk) sessionStorage.setItem(`walk-${step}`, walk)
    else walk = sessionStorage.getItem(`walk-${step}`)
  } catch {
    // kept nowhere: the address has it
  }
  if (!walk) return
  const tell = (name) => navigator.sendBeacon(`${base}/outside/${step}/seen`, name ? `${walk}\n${name}` : walk)
  tell()
  document.addEventListener(
    'click',
    (e) => {
      const named = e.target.closest('[data-outcome]')
      if (named) tell(named.dataset.outcome)
      const link = e.target.closest('a[href]')
      if (!link || link.origin !== base) return
      const to = new URL(link.href)
      to.searchParams.set('walk', walk)
      link.href = to
    },
    true,
  )
})()
