// What is composed is measured where it is drawn: nothing runs over the screen, lines keep
// their measure, bands are filled and stand on their axis, nothing moves, and the first
// view fits a server's first answer. A sample of what `make looks` goes through.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { chromium } from 'playwright-core'
import { combinations, faint, look, serve, widths } from '../bench/looks/looks.mjs'

let drawn, browser, can
before(async () => {
  drawn = await serve()
  browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] })
  can = await (await fetch(`${drawn.at}/pages`)).json()
})
after(async () => {
  await browser?.close()
  drawn?.stop()
})

async function faultsOf(list) {
  const page = await (await browser.newContext({ reducedMotion: 'reduce' })).newPage()
  const faults = []
  for (const what of list) for (const f of await look(page, drawn.at, what)) faults.push(`${new URLSearchParams(what)}: ${f}`)
  await page.context().close()
  return faults
}

test('every template keeps its bounds: a sample in which every two conditions meet', async () => {
  const state = { width: widths, goods: [1, 2, 3, 5, 9], words: ['short', 'long'], pictures: ['light', 'dark'], house: can.houses }
  const list = combinations({ template: can.templates, ...state }, true)
  for (const [name, values] of Object.entries(state))
    for (const v of values)
      for (const template of can.templates)
        assert(
          list.some((one) => one[name] === v && one.template === template),
          `${template} never met ${name} ${v}`,
        )
  assert.deepEqual(await faultsOf(list), [])
})

test('every arrangement keeps its bounds in each of its manners, on a phone and on a wide screen', async () => {
  const list = Object.entries(can.arrangements).flatMap(([arrangement, manners], i) =>
    manners.flatMap((manner, k) =>
      [390, 1280].map((width) => ({
        arrangement,
        manner,
        width,
        goods: [3, 4, 9][(i + k) % 3],
        words: ['short', 'long'][(i + k) % 2],
        pictures: ['light', 'dark'][(i + width) % 2],
        tone: ['card', 'night'][k % 2],
        house: can.houses[(i + k) % can.houses.length],
      })),
    ),
  )
  assert.deepEqual(await faultsOf(list), [])
})

// Night and card, in houses that differ most: what lies on a sheet, on a scene or on a plate is read there.
test('every arrangement is read in each of its manners, on a light ground and on a dark one', async () => {
  const page = await (await browser.newContext({ reducedMotion: 'reduce', viewport: { width: 1280, height: 800 } })).newPage()
  const faults = []
  let n = 0
  for (const [arrangement, manners] of Object.entries(can.arrangements))
    for (const manner of manners)
      for (const tone of ['card', 'night']) {
        const what = new URLSearchParams({ arrangement, manner, tone, goods: '3', house: can.houses[n++ % can.houses.length] })
        await page.goto(`${drawn.at}/?${what}`)
        for (const f of await faint(page)) faults.push(`${what}: ${f}`)
      }
  assert.deepEqual(faults, [])
})

// A check that cannot fail is none.
test('what breaks a bound is found', async () => {
  const page = await (await browser.newContext({ reducedMotion: 'reduce' })).newPage()
  await page.route(`${drawn.at}/?**`, async (route) => {
    const answer = await route.fetch()
    const html = (await answer.text()).replace(
      '</style>',
      '.f-story .rich p{max-width:none;width:70rem}.f-story.f-story>.in{margin:0;max-width:none}.f-story.f-story>.in>div{display:block}</style>',
    )
    await route.fulfill({ response: answer, body: html })
  })
  const faults = await look(page, drawn.at, { arrangement: 'copy', manner: 'column', width: 1280, words: 'long' })
  assert(
    faults.some((f) => f.includes('signs on a line')),
    faults.join('; '),
  )
})

test('in reach on a phone: the price, once the first button has left, and never over a field', async () => {
  const page = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage()
  await page.goto(`${drawn.at}/?template=sales&goods=3`)
  const bar = page.locator('#bar')
  await page.waitForFunction(() => document.documentElement.classList.contains('js'))
  assert(await bar.isHidden(), 'the first button is in sight')
  await page.locator('.f-reasons').scrollIntoViewIfNeeded()
  await bar.waitFor({ state: 'visible' })
  assert.match(await bar.innerText(), /€51\.00[\s\S]*Send me mine/)
  const box = await bar.boundingBox()
  assert.equal(Math.round(box.y + box.height), 844)
  await page.locator('#order input[type=email]').scrollIntoViewIfNeeded()
  await bar.waitFor({ state: 'hidden' })
  await page.locator('footer').scrollIntoViewIfNeeded()
  assert(await bar.isHidden(), 'what says who sells is not covered')
  await page.setViewportSize({ width: 1280, height: 800 })
  await page.locator('.f-reasons').scrollIntoViewIfNeeded()
  assert(await bar.isHidden(), 'a wide screen has room enough')
})
