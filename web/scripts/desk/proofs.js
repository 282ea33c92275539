// The proofs: two frames drawn by the server, patched band by band, scrolled
// with the sheet, and set to a moment by the as-of slider.

// fitted scales the frames in a root to their windows, and keeps them so.
export function fitted(root) {
  const frames = [...root.querySelectorAll('.proof iframe, .fit iframe')]
  function fit() {
    for (const frame of frames) {
      const wide = Number(frame.dataset.width)
      // At its own size a proof is as wide as its window, and no wider than it is for.
      const own = root.dataset.seen && root.dataset.seen !== 'both'
      const scale = own ? 1 : frame.parentElement.clientWidth / wide
      frame.style.width = own ? '100%' : `${wide}px`
      frame.style.height = `${frame.parentElement.clientHeight / scale}px`
      frame.style.transform = `scale(${scale})`
      const says = frame.closest('figure')?.querySelector('[data-scale]')
      if (says) says.textContent = own ? `at its own size, ${frame.parentElement.clientWidth} wide` : `drawn at ${Math.round(scale * 100)}%`
    }
  }
  const watch = new ResizeObserver(fit)
  for (const el of [root, ...frames.map((frame) => frame.parentElement)]) watch.observe(el)
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

// edge is the edge of a band under the pointer, which can be drawn to give the
// band more room there, or less.
const reach = 9 // pixels of the proof's own screen
function edge(e) {
  const band = e.target.closest?.('main > .band')
  if (!band) return null
  const box = band.getBoundingClientRect()
  const side = e.clientY - box.top < reach ? 'Top' : box.bottom - e.clientY < reach ? 'Bottom' : null
  return side && { band, side }
}
const most = 240 // pixels of room; what a look may have

// room lets the edges of bands in a proof be drawn with the pointer. The proof
// shows it at once; what it came to is told when the pointer lets go.
function room(frame, given) {
  const doc = frame.contentDocument
  let hold = null
  doc.addEventListener('pointermove', (e) => {
    if (hold) {
      const by = e.clientY - hold.from
      hold.room = Math.min(Math.max(Math.round((hold.was + by) / 4) * 4, 0), most)
      hold.band.style[`padding${hold.side}`] = `${hold.room}px`
      return
    }
    doc.documentElement.style.cursor = edge(e) ? 'ns-resize' : ''
  })
  doc.addEventListener('pointerdown', (e) => {
    const at = edge(e)
    if (!at) return
    e.preventDefault()
    const was = parseFloat(frame.contentWindow.getComputedStyle(at.band)[`padding${at.side}`])
    hold = { ...at, from: e.clientY, was, room: was }
    doc.documentElement.setPointerCapture?.(e.pointerId)
  })
  const end = () => {
    const done = hold
    hold = null
    if (!done || done.room === done.was) return
    const wide = Number(frame.dataset.width) >= 768 ? 'wide.' : ''
    given(done.band.dataset.band, wide + (done.side === 'Top' ? 'above' : 'below'), String(done.room))
  }
  doc.addEventListener('pointerup', end)
  doc.addEventListener('pointercancel', end)
}

// walk turns a form in a proof to its next part, or back: nothing is sent from a proof.
function walk(pressed) {
  const form = pressed.closest?.('[data-parts]')
  const by = pressed.closest('[data-next]') ? 1 : pressed.closest('[data-back]') ? -1 : 0
  if (!form || !by) return
  const at = Number(form.dataset.at) + by
  form.dataset.at = at
  for (const el of form.querySelectorAll('[data-part]')) el.hidden = Number(el.dataset.part) !== at
  for (const el of form.querySelectorAll('[data-step]'))
    if (Number(el.dataset.step) === at) el.setAttribute('aria-current', 'step')
    else el.removeAttribute('aria-current')
}

export function proofs(root, id, picked, given) {
  const frames = [...root.querySelectorAll('.proof iframe, .fit iframe')]
  const slider = root.querySelector('#asof')
  const marks = JSON.parse(root.querySelector('.asof').dataset.marks) ?? []
  let moved = false // the slider stands somewhere else than now

  fitted(root)

  const listen = (frame) => {
    frame.contentDocument.addEventListener('click', (e) => {
      e.preventDefault()
      walk(e.target)
      const piece = e.target.closest('[data-piece]')
      if (piece && !edge(e)) picked(piece.dataset.piece, sign(frame.contentDocument, e))
    })
    room(frame, given)
  }
  for (const frame of frames) {
    if (frame.contentDocument?.readyState === 'complete' && frame.contentDocument.querySelector('main')) listen(frame)
    frame.addEventListener('load', () => listen(frame))
  }
  // In a window of its own a proof follows along as those beside the sheet do, on another
  // screen if there is one.
  root.querySelector('[data-apart]')?.addEventListener('click', () => {
    const own = window.open(`/pages/${id}/proof?as_of=${asOf()}`, `proof-${id}`, 'popup,width=1280,height=900')
    if (!own) return
    const frame = {
      dataset: { width: '1280' },
      get contentDocument() {
        return own.closed ? null : own.document
      },
      get contentWindow() {
        return own.closed ? null : own
      },
    }
    own.addEventListener('load', () => {
      listen(frame)
      if (!frames.includes(frame)) frames.push(frame)
    })
  })

  // Only bands that differ are replaced, so that nothing flickers and little is
  // laid out anew.
  let drawn = new Map() // what each band was drawn from; empty at first
  // What came is kept by its tag; the server leaves out what it is told is there.
  const tags = new Map()
  const kept = ({ tag, html }) => {
    if (html !== undefined) tags.set(tag, html)
    return tags.get(tag)
  }
  function draw(parts) {
    const fresh = new Map(parts.bands.map((b) => [b.id, kept(b)]))
    const css = kept(parts.css)
    const order = parts.bands.map((b) => b.id).join()
    for (const frame of frames) {
      const doc = frame.contentDocument
      const main = doc?.querySelector('main')
      if (!main) continue
      const made = doc.createElement('template') // of the proof, whose policy allows the styles that letters have in place
      const style = doc.querySelector('style')
      if (style.textContent !== css) style.textContent = css
      const old = new Map([...main.children].map((el) => [el.dataset.band, el]))
      for (const [id, html] of fresh) {
        const here = old.get(id)
        here?.removeAttribute('style') // one that was drawn larger by hand takes what its look says
        if (here && drawn.get(id) === html) continue
        made.innerHTML = html
        const next = doc.importNode(made.content.firstElementChild, true)
        if (here) here.replaceWith(next)
        else main.append(next)
        old.set(id, next)
      }
      for (const [id, el] of old) if (!fresh.has(id)) el.remove()
      if ([...main.children].map((el) => el.dataset.band).join() !== order) main.append(...[...fresh.keys()].map((id) => old.get(id)))
    }
    drawn = fresh
    for (const tag of tags.keys()) if (tag !== parts.css.tag && !parts.bands.some((b) => b.tag === tag)) tags.delete(tag)
    root.querySelector('[data-when]').textContent = parts.when
    root.querySelector('[data-says]').textContent = parts.says
  }

  function show(piece) {
    for (const frame of frames)
      frame.contentDocument
        ?.querySelector(`[data-piece="${CSS.escape(piece)}"]`)
        ?.closest('.band')
        ?.scrollIntoView({ block: 'nearest' })
  }

  // ---- as of
  const visitor = root.querySelector('[data-as]')
  const asOf = () => (moved ? slider.value : '') + (visitor?.value ? `&as=${encodeURIComponent(visitor.value)}` : '')
  let asked = 0
  let drawing = false
  async function redraw() {
    asked++
    if (drawing) return
    drawing = true
    for (let done = -1; done !== asked;) {
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
  visitor?.addEventListener('change', () => redraw())
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
        if (band) f.contentWindow?.scrollTo(0, half.scrollTop < 8 ? 0 : band.offsetTop - 40)
      }
    })
  })
  return { draw, show, asOf, has: () => [...tags.keys()] }
}
