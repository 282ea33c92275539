// Draws each template, and each arrangement in each of its manners, on screens of four
// widths, with few goods and many, short words and long, light pictures and dark, in each
// house, and measures what is drawn: each template in each house on each screen, the rest by
// turns; of arrangements a sample in which every two values meet. LOOKS=all takes everything
// with everything, which are days of drawing.
import { spawn } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { chromium } from 'playwright-core'
import { bounds, measure } from './measure.mjs'

export const widths = [390, 768, 1280, 1920]

/** Starts what draws, and says where. */
export async function serve() {
  const child = spawn('go', ['run', './bench/looks'], { env: { ...process.env, PORT: '0' }, detached: true })
  const at = await new Promise((resolve, reject) => {
    child.stdout.on('data', (text) => resolve(String(text).trim()))
    child.stderr.on('data', (text) => process.stderr.write(text))
    child.on('exit', () => reject(new Error('what draws the pages ended')))
  })
  return { at, stop: () => process.kill(-child.pid) }
}

/**
 * Every combination of the values, or a sample in which every two of different kinds meet.
 * @param {Record<string, unknown[]>} kinds
 * @param {boolean} pairs
 */
export function combinations(kinds, pairs) {
  const names = Object.keys(kinds)
  let all = [{}]
  for (const name of names) all = all.flatMap((one) => kinds[name].map((value) => ({ ...one, [name]: value })))
  if (!pairs) return all
  const met = new Set()
  const pairsOf = (one) => names.flatMap((a, i) => names.slice(i + 1).map((b) => `${a}=${one[a]} ${b}=${one[b]}`))
  const out = []
  const open = new Set(all.flatMap(pairsOf))
  while (open.size) {
    // The one with which most pairs meet that have not met yet, of a spread of all.
    let best = null
    let most = 0
    const step = Math.max(1, Math.floor(all.length / 400))
    for (let i = out.length % step; i < all.length; i += step) {
      const n = pairsOf(all[i]).filter((p) => open.has(p)).length
      if (n > most) [best, most] = [all[i], n]
    }
    best ??= all.find((one) => pairsOf(one).some((p) => open.has(p)))
    out.push(best)
    for (const p of pairsOf(best)) {
      met.add(p)
      open.delete(p)
    }
  }
  return out
}

/**
 * Every combination of some kinds, and with each the next values of the others, by turns of
 * unlike lengths, so that each of theirs meets many of these.
 * @param {Record<string, unknown[]>} whole
 * @param {Record<string, unknown[]>} turns
 */
export function crossed(whole, turns) {
  return combinations(whole, false).map((one, i) => ({
    ...one,
    ...Object.fromEntries(
      Object.entries(turns).map(([name, values], k) => [name, values[(i + Math.floor(i / (7 + 4 * k))) % values.length]]),
    ),
  }))
}

const axe = readFileSync(new URL('../../node_modules/axe-core/axe.min.js', import.meta.url), 'utf8')

/** @param {import('playwright-core').Page} page what on it is too faint, by axe's own rule */
export async function faint(page) {
  await page.evaluate(axe)
  const found = await page.evaluate(() => globalThis.axe.run(document, { runOnly: ['color-contrast'] }))
  return found.violations.flatMap((v) => v.nodes.map((n) => `too faint: ${n.target.join(' ')} ${n.any[0]?.message ?? ''}`))
}

/** @param {import('playwright-core').Page} page all of whose pictures and letters are there then */
const settled = (page) =>
  page.evaluate(async () => {
    for (const i of document.images) i.loading = 'eager'
    await document.fonts.ready
    await Promise.all([...document.images].map((i) => i.decode().catch(() => {})))
  })

/** @param {import('playwright-core').Page} page by how much it has moved while it was drawn (CLS) */
const moved = (page) =>
  page.evaluate(
    () =>
      new Promise((resolve) => {
        let sum = 0
        new PerformanceObserver((list) => {
          for (const e of list.getEntries()) sum += e.value
        }).observe({ type: 'layout-shift', buffered: true })
        requestAnimationFrame(() => requestAnimationFrame(() => resolve(sum)))
      }),
  )

/**
 * Draws one and measures it.
 * @param {import('playwright-core').Page} page
 * @param {string} at
 * @param {Record<string, unknown>} what
 */
export async function look(page, at, { width, ...what }) {
  await page.setViewportSize({ width: Number(width), height: 800 })
  const answer = await page.goto(`${at}/?${new URLSearchParams(what)}`)
  await settled(page)
  const faults = await page.evaluate(([source, within]) => new Function(`return (${source})`)()(within), [measure.toString(), bounds])
  // A font that comes late on a busy machine moves a page once; what moves by itself does so
  // each time.
  if ((await moved(page)) > bounds.shift) {
    await page.reload()
    await settled(page)
    const again = await moved(page)
    if (again > bounds.shift) faults.push(`moves while it is drawn: ${again.toFixed(4)}`)
  }
  const weight = Number(answer.headers()['x-weight'])
  if (what.template && weight > bounds.weight) faults.push(`weighs ${weight} bytes`)
  return faults
}

async function main() {
  const { at, stop } = await serve()
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] })
  let seen = 0
  let bad = 0
  try {
    const can = await (await fetch(`${at}/pages`)).json()
    const page = await (await browser.newContext({ reducedMotion: 'reduce' })).newPage()
    const manners = Object.entries(can.arrangements).flatMap(([name, list]) => list.map((m) => `${name}.${m}`))
    const state = { width: widths, goods: [1, 2, 3, 5, 9], words: ['short', 'long'], pictures: ['light', 'dark'], house: can.houses }
    const rest = { goods: state.goods, words: state.words, pictures: state.pictures }
    const pairs = process.env.LOOKS !== 'all'
    for (const one of [
      ...(pairs
        ? crossed({ template: can.templates, house: can.houses, width: widths }, rest)
        : combinations({ template: can.templates, ...state }, false)),
      ...combinations({ set: manners, tone: ['card', 'night'], ...state }, pairs),
    ]) {
      const { set, ...what } = one
      if (set) [what.arrangement, what.manner] = set.split('.')
      const faults = await look(page, at, what)
      seen++
      if (faults.length) bad++
      for (const f of faults) console.log(`${new URLSearchParams(what)}\n  ${f}`)
    }
  } finally {
    await browser.close()
    stop()
  }
  console.log(`${seen} pages looked at, ${bad} with faults`)
  process.exitCode = bad ? 1 : 0
}

if (import.meta.url === `file://${process.argv[1]}`) await main()
