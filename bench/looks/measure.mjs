// What is measured of a drawn page, in the browser: what the eye would mind.

/**
 * The bounds that hold for every page: signs on a line, and how a band is filled that holds
 * more than a few signs. What stands in columns may lean further: a picture weighs more
 * than the words beside it. A font that comes late on a busy machine may move a line a little.
 */
export const bounds = { line: 80, filled: 0.35, centre: 0.12, beside: 0.17, shift: 0.005, few: 80, weight: 14 * 1024 }

/**
 * Runs in the page. How a band is filled, and where its centre of mass lies, is told from
 * the boxes of what is drawn of its pieces.
 * @param {{ line: number, filled: number, centre: number }} bounds
 */
export function measure(bounds) {
  const faults = []
  const root = document.documentElement
  if (root.scrollWidth > root.clientWidth) {
    const wide = [...document.querySelectorAll('main *')].filter(
      (el) => el.getBoundingClientRect().right > root.clientWidth + 1 && !el.closest('.track, .shelf, .turns, .compare, .vh, .r-goods'),
    )
    faults.push(
      `runs over the screen by ${root.scrollWidth - root.clientWidth} px: ${wide.slice(0, 3).map((el) => el.className || el.tagName)}`,
    )
  }
  const seen = (el) => el.checkVisibility({ visibilityProperty: true }) && !el.closest('.vh, [hidden]')
  /** @param {Element} el */
  function lines(el) {
    const range = document.createRange()
    range.selectNodeContents(el)
    const rows = []
    for (const r of range.getClientRects()) {
      if (r.width < 2 || r.height < 2) continue
      const row = rows.find((o) => Math.abs(o.top - r.top) < r.height / 2)
      if (!row) rows.push({ left: r.left, right: r.right, top: r.top, bottom: r.bottom })
      else Object.assign(row, { left: Math.min(row.left, r.left), right: Math.max(row.right, r.right) })
    }
    return rows
  }
  for (const el of document.querySelectorAll('main p, main li, main dd')) {
    if (!seen(el) || el.querySelector('p, li, div, table, input, select, img')) continue
    const n = lines(el).length
    const signs = el.textContent.trim().replace(/\s+/g, ' ').length
    if (n > 1 && signs / n > bounds.line) faults.push(`${Math.round(signs / n)} signs on a line: “${el.textContent.trim().slice(0, 40)}”`)
  }
  /**
   * The box of all that is drawn of a piece or a column: its words, what is looked at,
   * pressed or filled in, rules, and cards, which are seen by their ground or their edge.
   * @param {Element} block
   */
  function ink(block) {
    const boxes = []
    for (const el of block.querySelectorAll('*')) {
      if (!seen(el) || el.matches('.turns > :not(:first-child) *, .turns > :not(:first-child)')) continue // what is turned to later
      const has = getComputedStyle(el)
      const card =
        !/, 0\)$/.test(has.backgroundColor) ||
        [has.borderLeftWidth, has.borderTopWidth, has.borderBottomWidth].some((w) => parseFloat(w) > 0)
      if (card || /^(IMG|VIDEO|BUTTON|INPUT|SELECT|TEXTAREA|SUMMARY|svg)$/.test(el.tagName)) boxes.push(el.getBoundingClientRect())
      else if ([...el.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim())) boxes.push(...lines(el))
    }
    if (!boxes.length) return null
    const [left, top] = [Math.max(0, Math.min(...boxes.map((b) => b.left))), Math.min(...boxes.map((b) => b.top))]
    const [right, bottom] = [Math.min(innerWidth, Math.max(...boxes.map((b) => b.right))), Math.max(...boxes.map((b) => b.bottom))]
    return right > left && bottom > top ? { left, right, height: bottom - top } : null
  }
  const edges = (el) => ({ left: el.getBoundingClientRect().left, right: el.getBoundingClientRect().right })
  if (innerWidth < 1280) return faults
  for (const band of document.querySelectorAll('.band')) {
    const own = getComputedStyle(band)
    const room = {
      left: band.getBoundingClientRect().left + parseFloat(own.paddingLeft),
      right: band.getBoundingClientRect().right - parseFloat(own.paddingRight),
    }
    const inner = band.querySelector('.in').getBoundingClientRect()
    const blocks = band.matches('.pair, .sides') ? '.in > div' : '[data-piece]' // what stands beside each other is weighed as columns
    const drawn = [...band.querySelectorAll(blocks)].map(ink).filter((b) => b)
    if (!drawn.length) continue
    const sheet = band.querySelector('.in > div')
    if (band.matches('.alone') && !/, 0\)$/.test(getComputedStyle(sheet).backgroundColor))
      drawn.push({ ...edges(sheet), height: sheet.offsetHeight })
    // The subject of a scene is drawn at the right of its band: see render/scene.
    const whole = band.getBoundingClientRect()
    if (band.classList.contains('scened')) drawn.push({ left: innerWidth * 0.62, right: innerWidth * 0.84, height: whole.height * 0.36 })
    const spans = drawn.map((b) => [b.left, b.right]).sort((a, b) => a[0] - b[0])
    let filled = 0
    let end = 0
    for (const [l, r] of spans) {
      if (r > end) filled += r - Math.max(l, end)
      end = Math.max(end, r)
    }
    const share = filled / Math.min(inner.width, room.right - room.left)
    const mass = drawn.reduce((sum, b) => sum + (b.right - b.left) * b.height, 0)
    const centre = drawn.reduce((sum, b) => sum + ((b.left + b.right) / 2) * (b.right - b.left) * b.height, 0) / mass
    const off = (centre - innerWidth / 2) / innerWidth
    const name = `${band.id || band.tagName} (${band.className})`
    const words = band.textContent.replace(/\s+/g, ' ').trim()
    if (band.classList.contains('leans')) continue // its manner declares its asymmetry
    if (share < bounds.filled && words.length > bounds.few) faults.push(`${name} is filled to ${share.toFixed(2)}`)
    if (Math.abs(off) > (band.matches('.pair, .sides, .scened') ? bounds.beside : bounds.centre))
      faults.push(`${name} leans by ${off.toFixed(2)}`)
  }
  return faults
}
