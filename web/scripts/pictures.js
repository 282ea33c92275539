// Pictures on their way to the shelf, and the place where they lie on it: cut,
// looked at, replaced.
import htmx from 'htmx.org'

const csrf = () => document.body.dataset.csrf

// Sends files one after the other, so that each tells how it goes; answers with
// what was kept. Sending can be stopped.
export async function upload(files, list, { to = '/pictures', field = 'pictures', ...more } = {}) {
  const kept = []
  let stopped = false
  const stop = document.createElement('button')
  stop.type = 'button'
  stop.className = 'tiny'
  stop.textContent = 'Stop'
  let sending
  stop.addEventListener('click', () => {
    stopped = true
    sending?.abort()
  })
  for (const [i, file] of files.entries()) {
    if (stopped) break
    const line = document.createElement('li')
    const bar = document.createElement('progress')
    const words = document.createElement('span')
    bar.max = 100
    bar.setAttribute('aria-label', file.name)
    line.append(bar, words, stop)
    list.append(line)
    const told = await new Promise((done) => {
      const form = new FormData()
      for (const [name, value] of Object.entries(more)) form.append(name, value)
      form.append(field, file)
      sending = new XMLHttpRequest()
      sending.open('POST', to)
      sending.setRequestHeader('X-Csrf-Token', csrf())
      sending.setRequestHeader('Accept', 'application/json')
      words.textContent = ` ${file.name}, ${i + 1} of ${files.length}`
      sending.upload.addEventListener('progress', (e) => {
        bar.value = (100 * e.loaded) / e.total
        if (e.loaded === e.total) {
          bar.removeAttribute('value')
          words.textContent = ` ${file.name}: being made in the sizes pages need`
        }
      })
      sending.addEventListener('load', () => {
        try {
          const answer = JSON.parse(sending.responseText)
          done(Array.isArray(answer) ? answer[0] : answer)
        } catch {
          done({ error: `${file.name}: the studio did not take it. At most 20 MB fit for a picture, 100 MB for a video.` })
        }
      })
      sending.addEventListener('error', () => done({ error: `${file.name}: the studio did not answer. Try this one again.` }))
      sending.addEventListener('abort', () => done({ error: `${file.name}: stopped` }))
      sending.send(form)
    })
    bar.remove()
    words.textContent = told.error ?? [`${file.name}: kept.`, ...(told.judged ?? [])].join(' ')
    line.className = told.error ? 'bad' : 'good'
    if (!told.error) kept.push({ ...told, file })
  }
  stop.remove()
  return kept
}

// A place onto which files are dropped, or into which they are chosen.
export function droppable(root, taken) {
  root.addEventListener('change', (e) => e.target.matches('[data-pictures-input]') && taken([...e.target.files]))
  const drop = root.querySelector('[data-drop]')
  drop?.addEventListener('dragover', (e) => {
    e.preventDefault()
    drop.classList.add('over')
  })
  drop?.addEventListener('dragleave', () => drop.classList.remove('over'))
  drop?.addEventListener('drop', (e) => {
    e.preventDefault()
    drop.classList.remove('over')
    taken([...e.dataTransfer.files])
  })
}

export function pictures(root, say) {
  const uploads = root.querySelector('[data-uploads]')
  const renew = () =>
    htmx.ajax('GET', '/pictures', { target: '#pictures-list', swap: 'innerHTML', source: root.querySelector('form[hx-get="/pictures"]') })
  droppable(root, async (files) => {
    const kept = await upload(files, uploads)
    say(`${kept.length} of ${files.length} pictures kept. Say what each shows, for those who hear the page.`)
    renew()
  })
  root.addEventListener('change', async (e) => {
    const id = e.target.dataset.replace
    if (!id || !e.target.files.length) return
    const [kept] = await upload([...e.target.files].slice(0, 1), uploads)
    if (!kept) return say('It was not replaced; the line above says why.')
    if (kept.id === id) return say('That is the same picture.')
    await fetch(`/pictures/${id}/replace`, {
      method: 'POST',
      headers: { 'X-Csrf-Token': csrf() },
      body: new URLSearchParams({ other: kept.id }),
    })
    say('Replaced wherever it is shown.')
    renew()
  })
  root.addEventListener('htmx:afterRequest', (e) => e.detail.successful && e.target.matches('[data-renew]') && renew())
  root.addEventListener('click', (e) => {
    const button = e.target.closest('[data-cut]')
    if (button) cut(button)
  })
}

const svgns = 'http://www.w3.org/2000/svg'
const make = (name, attributes) => {
  const el = document.createElementNS(svgns, name)
  for (const [key, value] of Object.entries(attributes)) el.setAttribute(key, value)
  return el
}

// Cutting: a frame is drawn on the whole picture, its corners drag; the ring is
// what stays in view. Every value can be typed too.
async function cut(button) {
  const id = button.dataset.cut
  const card = button.closest('.picture-card')
  const form = card.querySelector('form')
  const whole = new Image()
  whole.src = `/pictures/whole/${id}`
  await whole.decode().catch(() => null)
  const wide = 800
  const high = Math.round((wide * (whole.naturalHeight || 3)) / (whole.naturalWidth || 4))
  let [x, y, w, h] = button.dataset.crop.split(' ').map(Number)
  let fx = Number(form.focus_x.value)
  let fy = Number(form.focus_y.value)
  const drawn = button.dataset.drawn !== undefined

  const dialog = document.createElement('dialog')
  dialog.className = 'panel cutting'
  dialog.setAttribute('aria-label', 'Cut and focus')
  dialog.innerHTML = `<h2>${drawn ? 'What stays in view' : 'Cut and focus'}</h2><div class="cut-stage"></div><p class="sentence">${drawn ? '' : `<label>From the left <input class="input is-small num" type="number" name="x" min="0" max="99" step="0.1"> %</label><label>from the top <input class="input is-small num" type="number" name="y" min="0" max="99" step="0.1"> %</label><label>wide <input class="input is-small num" type="number" name="w" min="1" max="100" step="0.1"> %</label><label>high <input class="input is-small num" type="number" name="h" min="1" max="100" step="0.1"> %</label>`}<label>looked at, across <input class="input is-small num" type="number" name="fx" min="0" max="100"> %</label><label>and down <input class="input is-small num" type="number" name="fy" min="0" max="100"> %</label></p><p class="row"><button type="button" class="button is-dark" data-keep>Keep it, everywhere</button>${drawn ? '' : '<button type="button" class="button" data-whole>The whole picture</button>'}<button type="button" class="button" data-leave>Leave it as it is</button></p>`
  const svg = make('svg', { viewBox: `0 0 ${wide} ${high}`, class: 'cut-svg' })
  const shade = make('path', { fill: '#0b1412', 'fill-opacity': '.6', 'fill-rule': 'evenodd' })
  const frame = make('rect', { fill: 'transparent', stroke: '#fff', 'stroke-width': 2, class: 'cut-frame' })
  const ring = make('g', { class: 'cut-ring' })
  ring.append(
    make('circle', { r: 16, fill: 'transparent', stroke: '#17332e', 'stroke-width': 6 }),
    make('circle', { r: 16, fill: 'transparent', stroke: '#e8b93a', 'stroke-width': 3 }),
    make('circle', { r: 3, fill: '#e8b93a' }),
  )
  const corners = ['nw', 'ne', 'sw', 'se'].map((name) =>
    make('rect', { width: 18, height: 18, fill: '#fff', stroke: '#17332e', 'data-corner': name, class: 'cut-corner' }),
  )
  svg.append(make('image', { href: whole.src, width: wide, height: high }), ...(drawn ? [] : [shade, frame, ...corners]), ring)
  dialog.querySelector('.cut-stage').append(svg)
  const field = (name) => dialog.querySelector(`[name=${name}]`)

  function draw() {
    const [left, top, right, bottom] = [(x * wide) / 1000, (y * high) / 1000, ((x + w) * wide) / 1000, ((y + h) * high) / 1000]
    shade.setAttribute('d', `M0 0H${wide}V${high}H0ZM${left} ${top}V${bottom}H${right}V${top}Z`)
    for (const [key, value] of Object.entries({ x: left, y: top, width: right - left, height: bottom - top }))
      frame.setAttribute(key, value)
    for (const c of corners) {
      c.setAttribute('x', (c.dataset.corner[1] === 'w' ? left : right) - 9)
      c.setAttribute('y', (c.dataset.corner[0] === 'n' ? top : bottom) - 9)
    }
    ring.setAttribute('transform', `translate(${left + ((right - left) * fx) / 100} ${top + ((bottom - top) * fy) / 100})`)
    for (const [name, value] of Object.entries({ x: x / 10, y: y / 10, w: w / 10, h: h / 10, fx, fy }))
      if (field(name) && document.activeElement !== field(name)) field(name).value = value
  }
  const clamp = (v, least, most) => Math.round(Math.min(Math.max(v, least), most))
  dialog.addEventListener('input', () => {
    if (!drawn) {
      x = clamp(field('x').value * 10, 0, 990)
      y = clamp(field('y').value * 10, 0, 990)
      w = clamp(field('w').value * 10, 10, 1000 - x)
      h = clamp(field('h').value * 10, 10, 1000 - y)
    }
    fx = clamp(field('fx').value, 0, 100)
    fy = clamp(field('fy').value, 0, 100)
    draw()
  })

  let hold = null
  const at = (e) => {
    const box = svg.getBoundingClientRect()
    return [((e.clientX - box.left) / box.width) * 1000, ((e.clientY - box.top) / box.height) * 1000]
  }
  svg.addEventListener('pointerdown', (e) => {
    const [px, py] = at(e)
    const corner = e.target.dataset?.corner
    hold = corner ? { corner } : e.target.closest('.cut-ring') || drawn ? { ring: true } : { px, py, x, y }
    svg.setPointerCapture(e.pointerId)
    e.preventDefault()
  })
  svg.addEventListener('pointermove', (e) => {
    if (!hold) return
    const [px, py] = at(e)
    if (hold.ring) {
      fx = clamp(((px - x) / w) * 100, 0, 100)
      fy = clamp(((py - y) / h) * 100, 0, 100)
    } else if (hold.corner) {
      const [right, bottom] = [x + w, y + h]
      if (hold.corner[1] === 'w') [x, w] = [clamp(px, 0, right - 10), right - clamp(px, 0, right - 10)]
      else w = clamp(px - x, 10, 1000 - x)
      if (hold.corner[0] === 'n') [y, h] = [clamp(py, 0, bottom - 10), bottom - clamp(py, 0, bottom - 10)]
      else h = clamp(py - y, 10, 1000 - y)
    } else {
      x = clamp(hold.x + px - hold.px, 0, 1000 - w)
      y = clamp(hold.y + py - hold.py, 0, 1000 - h)
    }
    draw()
  })
  svg.addEventListener('pointerup', () => (hold = null))

  dialog.addEventListener('click', async (e) => {
    const what = e.target.closest('button')?.dataset
    if (!what) return
    if (what.whole !== undefined) {
      ;[x, y, w, h] = [0, 0, 1000, 1000]
      return draw()
    }
    dialog.close()
    if (what.keep === undefined) return
    const swap = { target: `#picture-${id}`, swap: 'outerHTML' }
    const was = button.dataset.crop
    if (!drawn && [x, y, w, h].join(' ') !== was) await htmx.ajax('POST', `/pictures/${id}/crop`, { ...swap, values: { x, y, w, h } })
    await htmx.ajax('POST', `/pictures/${id}/describe`, {
      ...swap,
      values: { name: form.name.value, alt: form.alt.value, focus_x: fx, focus_y: fy },
    })
  })
  dialog.addEventListener('close', () => dialog.remove())
  document.body.append(dialog)
  draw()
  dialog.showModal()
}
