// A chooser in a plain form: what is picked goes into a hidden field beside it.
document.addEventListener('click', (e) => {
  const picked = e.target.closest('[data-pick]')
  const box = picked?.closest('[data-into]')
  if (!box) return
  box.closest('form').elements[box.dataset.into].value = picked.dataset.pick
  box.querySelector('summary span').textContent = picked.title || picked.textContent.trim()
  box.querySelector('summary img')?.setAttribute('src', picked.querySelector('img')?.src ?? '')
  box.open = false
  box.querySelector('summary').focus()
})
