// The map of Routes: lines' ends are pulled, steps are walked along and moved by
// keys, numbers follow the sales, and rehearsals can be watched.
import htmx from 'htmx.org'

// Changes go one after the other, each reckoned from what the one before it left:
// two presses of a key are two moves, and an undo takes back the move before it.
let queue = Promise.resolve()
const post = (path, values) =>
  (queue = queue.then(() => htmx.ajax('POST', path, { target: '#routes-body', values: { ...at(), ...values?.() } })).catch(() => {}))
const at = () => Object.fromEntries(new FormData(document.querySelector('#routes-at')))
const map = () => document.querySelector('svg.map[role=group]')
const svgNS = 'http://www.w3.org/2000/svg'

export function routes() {
  let focus = null
  let dragging = false
  let changes = 0 // how many were sent: news that was asked for before one is old
  document.body.addEventListener('htmx:beforeRequest', (e) => {
    if (e.detail.requestConfig.verb === 'post') changes++
    e.detail.xhr.asked = changes
  })
  const show = () => {
    if (focus) document.querySelector(`[data-step="${CSS.escape(focus)}"]`)?.focus()
    focus = null
    watch()
  }
  document.body.addEventListener('htmx:beforeSwap', (e) => {
    if (e.detail.requestConfig.verb === 'get' && e.detail.xhr.asked !== changes) e.detail.shouldSwap = false
    focus ??= document.activeElement?.dataset?.step ?? null
  })
  document.body.addEventListener('htmx:afterSwap', show)
  document.addEventListener('change', (e) => e.target.closest('[data-submit]')?.form.requestSubmit())

  // The numbers move as sales come in, unless somebody is at work on the map.
  setInterval(() => {
    const live = document.querySelector('[data-live]')
    const busy =
      document.activeElement?.matches('input, select, textarea') || document.querySelector('details.add-step[open], details.tries[open]')
    if (live && !dragging && !busy && document.visibilityState === 'visible')
      htmx.ajax('GET', live.dataset.live, { target: '#routes-body', source: '#routes-body' }) // a place of its own in htmx's queue
  }, 5000)

  document.addEventListener('pointerdown', (e) => {
    const end = e.target.closest('[data-end]')
    if (!end || e.button !== 0) return
    e.preventDefault()
    dragging = true
    const svg = map()
    const line = document.createElementNS(svgNS, 'path')
    line.setAttribute('class', 'pulled')
    svg.append(line)
    const point = (ev) => new DOMPoint(ev.clientX, ev.clientY).matrixTransform(svg.getScreenCTM().inverse())
    const from = [Number(end.getAttribute('cx')), Number(end.getAttribute('cy'))]
    let over = null
    const moved = (ev) => {
      const p = point(ev)
      line.setAttribute('d', `M${from[0]} ${from[1]}L${p.x} ${p.y}`)
      const step = document.elementFromPoint(ev.clientX, ev.clientY)?.closest('[data-step]') ?? null
      if (step !== over) over?.classList.remove('over')
      over = step
      over?.classList.add('over')
    }
    const up = () => {
      document.removeEventListener('pointermove', moved)
      line.remove()
      dragging = false
      over?.classList.remove('over')
      const { from: step, outcome, route, was } = end.dataset
      if (over && over.dataset.step !== was && over.dataset.step !== step)
        post('/routes/turn', () => ({ from: step, outcome, route, was, to: over.dataset.step }))
    }
    document.addEventListener('pointermove', moved)
    document.addEventListener('pointerup', up, { once: true })
  })

  document.addEventListener('keydown', (e) => {
    const step = e.target.closest?.('[data-step]')
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z' && map() && !e.target.matches('input, textarea')) {
      e.preventDefault()
      return post('/routes/undo', () => (e.shiftKey ? { again: '1' } : {}))
    }
    if (!step || !e.key.startsWith('Arrow')) return
    e.preventDefault()
    const [x, y] = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key]
    if (e.altKey) {
      const id = step.dataset.step
      focus = id
      return post('/routes/move', () => {
        const { dx, dy } = document.querySelector(`[data-step="${CSS.escape(id)}"]`).dataset
        return { step: id, dx: Number(dx) + 16 * x, dy: Number(dy) + 16 * y }
      })
    }
    next(step, x, y)?.focus()
  })
  show()
}

// next is the step to which an arrow leads: along a route, else the nearest that way.
function next(step, x, y) {
  const named = (id) => id && document.querySelector(`[data-step="${CSS.escape(id)}"]`)
  if (x > 0 && named(step.dataset.ahead)) return named(step.dataset.ahead)
  if (x < 0 && named(step.dataset.behind)) return named(step.dataset.behind)
  const middle = (el) => {
    const box = el.querySelector('.sheet').getBoundingClientRect()
    return [box.x + box.width / 2, box.y + box.height / 2]
  }
  const [sx, sy] = middle(step)
  const ahead = [...document.querySelectorAll('[data-step]')].filter((el) => {
    const [ex, ey] = middle(el)
    return el !== step && (x ? Math.sign(ex - sx) === x : Math.sign(ey - sy) === y)
  })
  const far = (el) => {
    const [ex, ey] = middle(el)
    return Math.abs(ex - sx) * (x ? 1 : 3) + Math.abs(ey - sy) * (y ? 1 : 3)
  }
  return ahead.sort((a, b) => far(a) - far(b))[0]
}

// watch lets the visitors of a rehearsal walk along the lines, unless less motion is
// asked for.
function watch() {
  const svg = document.querySelector('svg[data-watch]')
  if (!svg || svg.dataset.watched || matchMedia('(prefers-reduced-motion: reduce)').matches) return
  svg.dataset.watched = '1'
  const walks = new Map()
  for (const [visitor, from, , to] of JSON.parse(svg.dataset.watch) ?? [])
    if (from && to) walks.set(visitor, [...(walks.get(visitor) ?? []), `${from}|${to}`])
  let begun = null
  const dots = [...walks.values()].map((ways, i) => {
    const dot = document.createElementNS(svgNS, 'circle')
    dot.setAttribute('class', 'walker')
    dot.setAttribute('r', '5')
    svg.append(dot)
    return { dot, paths: ways.map((w) => svg.querySelector(`[data-way="${CSS.escape(w)}"]`)).filter(Boolean), starts: i * 220 }
  })
  const step = (now) => {
    begun ??= now
    let going = false
    for (const { dot, paths, starts } of dots) {
      const t = (now - begun - starts) / 900
      const path = paths[Math.floor(t)]
      dot.style.display = t < 0 || !path ? 'none' : ''
      if (t < paths.length) going = true
      if (t < 0 || !path) continue
      const p = path.getPointAtLength((t % 1) * path.getTotalLength())
      dot.setAttribute('cx', p.x)
      dot.setAttribute('cy', p.y)
    }
    if (going && svg.isConnected) requestAnimationFrame(step)
    else for (const { dot } of dots) dot.remove()
  }
  requestAnimationFrame(step)
}
