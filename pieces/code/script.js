// Copying is offered only where it works.
for (const button of document.querySelectorAll('[data-copy]')) {
  if (!navigator.clipboard) continue
  button.hidden = false
  button.addEventListener('click', async () => {
    await navigator.clipboard.writeText(button.parentElement.querySelector('[data-code]').textContent)
    button.lastChild.textContent = ' Copied'
  })
}
