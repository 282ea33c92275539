// The Orders place: all ticked at once, and lists that are printed.
document.addEventListener('change', (e) => {
  const all = e.target.closest?.('[data-all]')
  if (!all) return
  for (const box of document.querySelectorAll(`input[name="${all.dataset.all}"]`)) box.checked = all.checked
})
document.addEventListener('click', (e) => {
  if (e.target.closest('[data-print]')) window.print()
  // The packing list of what is ticked is a page of its own, not a part of this one.
  const plain = e.target.closest('[data-plain]')
  if (!plain) return
  e.preventDefault()
  const ids = [...document.querySelectorAll('input[name="ids"]:checked')].map((box) => `ids=${encodeURIComponent(box.value)}`)
  location.assign(`${plain.formAction}?${ids.join('&')}`)
})
