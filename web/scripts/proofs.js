// The proofs: two frames drawn by the server, patched band by band, scrolled
// with the sheet, and set to a moment by the as-of slider.

// fitted scales the frames in a root to their windows, and keeps them so.
export function fitted(root) {
  const frames = [...root.querySelectorAll('.proof iframe')]
  function fit() {
    for (const frame of frames) {
      const wide = Number(frame.dataset.width)
      const scale = frame.parentElement.clientWidth / wide
      frame.style.width = `${wide}px`
      frame.style.height = `${frame.parentElement.clientHeight / scale}px`
      frame.style.transform = `scale(${scale})`
      const says = frame.closest('figure').querySelector('[data-scale]')
      if (says) says.textContent = `drawn at ${Math.round(scale * 100)}%`
    }
  }
  new ResizeObserver(fit).observe(root)
  fit()
}

// sign is the run of words under a click, and before which of its signs.
function sign(doc, e) {
  const at = doc.caretPositionFromPoint?.(e.clientX, e.clientY)
  const node = at?.offsetNode ?? doc.caretRangeFromPoint?.(e.clientX, e.clientY)?.startContainer
  if (node?.nodeType !== Node.TEXT_NODE) return null
  const offset = at?.offset ?? doc.caretRangeFromPoint(e.clientX, e.clientY).startOffset
  const words = node.data.trim()
  return { words, offset: Math.min(Math.max(offset - node.data.indexOf(words), 0), words.length) }
}

export function proofs(root, id, picked) {
  const frames = [...root.querySelectorAll('.proof iframe')]
  const slider = root.querySelector('#asof')
  const marks = JSON.parse(root.querySelector('.asof').dataset.marks) ?? []
  let moved = false // the slider stands somewhere else than now

  fitted(root)

  for (const frame of frames) {
    const listen = () => {
      frame.contentDocument.addEventListener('click', (e) => {
        e.preventDefault()
        const piece = e.target.closest('[data-piece]')
        if (piece) picked(piece.dataset.piece, sign(frame.contentDocument, e))
      })
    }
    if (frame.contentDocument?.readyState === 'complete' && frame.contentDocument.querySelector('main')) listen()
    frame.addEventListener('load', listen)
  }

  // Only bands that differ are replaced, so that nothing flickers.
  function draw(parts) {
    for (const frame of frames) {
      const doc = frame.contentDocument
      const main = doc?.querySelector('main')
      if (!main) continue
      const style = doc.querySelector('style')
      if (style.textContent !== parts.css) style.textContent = parts.css
      const fresh = doc.createElement('main')
      fresh.innerHTML = parts.body
      const old = new Map([...main.children].map((band) => [band.id, band]))
      main.replaceChildren(
        ...[...fresh.children].map((band) => (old.get(band.id)?.outerHTML === band.outerHTML ? old.get(band.id) : band)),
      )
    }
    root.querySelector('[data-when]').textContent = parts.when
    root.querySelector('[data-says]').textContent = parts.says
  }

  function show(piece) {
    for (const frame of frames)
      frame.contentDocument?.querySelector(`[data-piece="${CSS.escape(piece)}"]`)?.closest('.band')?.scrollIntoView({ block: 'nearest' })
  }

  // ---- as of
  const asOf = () => (moved ? slider.value : '')
  let asked = 0
  let drawing = false
  async function redraw() {
    asked++
    if (drawing) return
    drawing = true
    for (let done = -1; done !== asked; ) {
      done = asked
      const answer = await fetch(`/pages/${id}/proof.json?as_of=${asOf()}`)
      if (answer.ok) draw(await answer.json())
    }
    drawing = false
  }
  const span = slider.max - slider.min
  function snap() {
    const near = marks.find((m) => Math.abs(m.at - slider.value) < span / 90)
    if (near) slider.value = near.at
  }
  slider.addEventListener('input', () => {
    moved = true
    redraw()
  })
  slider.addEventListener('change', () => {
    snap()
    redraw()
  })
  for (const button of root.querySelectorAll('[data-at]'))
    button.addEventListener('click', () => {
      moved = button.dataset.at !== 'now'
      // A step of the slider is a minute; the mark itself is what counts.
      slider.step = 1
      slider.value = moved ? button.dataset.at : slider.dataset.now
      redraw()
    })
  const ticks = root.querySelector('.ticks')
  // A slider's thumb keeps half its width from either end.
  const at = (mark) => `calc(8px + (100% - 16px) * ${(mark.at - slider.min) / span})`
  for (const m of marks) {
    const tick = document.createElement('i')
    tick.style.left = at(m)
    ticks.append(tick)
  }
  if (marks.length > 1) {
    const between = document.createElement('b')
    between.style.left = at(marks[0])
    between.style.right = `calc(100% - ${at(marks.at(-1))})`
    ticks.prepend(between)
  }
  // The page follows the sheet: the band in the middle of the sheet is shown.
  const half = root.querySelector('.paper-half')
  let frame = 0
  half.addEventListener('scroll', () => {
    cancelAnimationFrame(frame)
    frame = requestAnimationFrame(() => {
      const middle = half.getBoundingClientRect().top + half.clientHeight / 3
      const row = [...half.querySelectorAll('.band-row')].find((r) => r.getBoundingClientRect().bottom > middle)
      if (!row) return
      for (const f of frames) {
        const band = f.contentDocument?.getElementById(`band-${row.dataset.band}`)
        if (band) f.contentWindow.scrollTo(0, half.scrollTop < 8 ? 0 : band.offsetTop - 40)
      }
    })
  })
  return { draw, show, asOf }
}
