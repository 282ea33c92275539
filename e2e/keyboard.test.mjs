// A page is made, written, dressed and published without a pointer.
import assert from 'node:assert/strict'
import { readFile } from 'node:fs/promises'
import { after, before, test } from 'node:test'
import { desktop, owner, saved, start } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

// to presses Tab until what has the focus is the one that is meant, and says
// when that cannot be seen to have it (WCAG 2.2, 2.4.7).
async function to(page, selector, { back = false, most = 120 } = {}) {
  for (let i = 0; i < most; i++) {
    await page.keyboard.press(back ? 'Shift+Tab' : 'Tab')
    const at = await page.evaluate((selector) => {
      const el = document.activeElement
      if (!el.matches(selector)) return null
      const seen = (e) => getComputedStyle(e).outlineStyle !== 'none' || getComputedStyle(e).boxShadow !== 'none'
      const box = el.getBoundingClientRect()
      return {
        seen: seen(el) || [...(el.labels ?? [])].some(seen) || (el.parentElement && seen(el.parentElement)),
        inView: box.bottom > 0 && box.top < innerHeight,
      }
    }, selector)
    if (!at) continue
    assert.ok(at.seen, `${selector} shows that it has the focus`)
    assert.ok(at.inView, `${selector} is in view when it has the focus`)
    return
  }
  throw new Error(`no ${selector} by ${most} presses of Tab`)
}

test('a page is made, written, dressed and published by keys alone', async () => {
  const page = await program.open({ viewport: desktop })
  await page.goto(program.studio('/sign-in'))
  await to(page, '[name=email]')
  await page.keyboard.type(owner.email)
  await to(page, '[name=password]')
  await page.keyboard.type(owner.password)
  await page.keyboard.press('Enter')
  await page.waitForURL('**/pages')

  // Anything is found by a word, however fast it is typed.
  await page.keyboard.press('Control+k')
  await page.keyboard.type('new page')
  await page.keyboard.press('Enter')
  await page.waitForURL('**/pages/new')
  await to(page, '[name=name]')
  await page.keyboard.type('By hand')
  await page.keyboard.press('Enter')
  await page.waitForSelector('#sheet .naming')

  // The plan: each line of plain words a band.
  await to(page, '[data-line]')
  for (const [i, line] of ['hero', 'three benefits', 'newsletter'].entries()) {
    await page.keyboard.type(line)
    await page.keyboard.press('Enter')
    await page.waitForFunction((n) => document.querySelectorAll('.band-row').length === n, i + 1)
    assert.ok(await page.evaluate(() => document.activeElement.matches('[data-line]')), 'the next line can be written at once')
  }
  await saved(page)

  await to(page, '.band-row .ed-h1', { back: true })
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Made without a mouse')
  await saved(page)
  await page.frameLocator('iframe[title="Phone proof"]').locator('h1', { hasText: 'Made without a mouse' }).waitFor()

  const bands = () => page.$$eval('.band-row', (all) => all.map((row) => row.querySelector('.band-name').textContent))
  const before = await bands()
  await to(page, '.band-row:nth-of-type(n+2) .handle, .band-row ~ .band-row .handle')
  await page.keyboard.press('Alt+ArrowDown')
  await page.waitForFunction(
    (first) => [...document.querySelectorAll('.band-row .band-name')].map((n) => n.textContent).join() !== first,
    before.join(),
  )
  await saved(page)
  await page.keyboard.press('Control+z')
  await page.waitForFunction(
    (first) => [...document.querySelectorAll('.band-row .band-name')].map((n) => n.textContent).join() === first,
    before.join(),
  )
  await saved(page)

  // A slip opens, is filled, and closes to where it was opened.
  await to(page, '.telling')
  await page.keyboard.press('Enter')
  await page.waitForSelector('.telling[aria-expanded=true]')
  await to(page, '.slip-slot input, .slip-slot select, .slip-slot summary, .slip-slot button', { most: 4 })
  await page.keyboard.press('Escape')

  await to(page, '[hx-get="/publish"]', { back: true, most: 200 })
  await page.keyboard.press('Enter')
  await page.waitForSelector('#panel[open] h2')
  await to(page, '#panel [hx-post="/publish"]')
  await page.keyboard.press('Enter')
  await page.waitForSelector('text=/Edition 3 is live/')
  await page.keyboard.press('Escape')
  await page.waitForFunction(() => !document.querySelector('#panel').open)
  const visitor = await program.open()
  await visitor.goto(program.shop('/by-hand'))
  assert.equal(await visitor.textContent('h1'), 'Made without a mouse')
  assert.deepEqual(page.troubles, [])
})

test('pages are searched, taken away as a package, brought in, set aside and brought back', async () => {
  const page = await program.open({ viewport: desktop })
  await page.goto(program.studio('/sign-in'))
  await page.fill('[name=email]', owner.email)
  await page.fill('[name=password]', owner.password)
  await page.keyboard.press('Enter')
  await page.waitForURL('**/pages')

  // Words are found everywhere, seen before they are changed, and changed.
  await page.click('.words > summary')
  await page.fill('#words [name=find]', 'quiver bag')
  await page.fill('#words [name=with]', 'kite bag')
  await page.click('#words >> text=Look')
  await page.locator('.hits ins', { hasText: 'kite bag' }).first().waitFor()
  const hits = await page.locator('.hits li').count()
  await page.click('#words-found button')
  await page.locator('#words-found', { hasText: 'Replaced.' }).waitFor()
  assert.ok(hits > 0)
  await page.goto(program.studio('/pages/quiver-bag'))
  assert.match(await page.locator('#sheet').innerText(), /kite bag/)

  // A page goes out as a package and comes in as another page.
  await page.click('.naming > summary')
  const [packed] = await Promise.all([page.waitForEvent('download'), page.click('text=Take it away as a package')])
  assert.equal(packed.suggestedFilename(), 'quiver-bag.zip')
  await page.goto(program.studio('/pages/new'))
  await page.locator('summary', { hasText: 'From a page package' }).click()
  await page.setInputFiles(
    'form[hx-post="/packages"] input[type=file]',
    await packed.path().then(async (path) => ({ name: 'quiver-bag.zip', mimeType: 'application/zip', buffer: await readFile(path) })),
  )
  await page.locator('form[hx-post="/packages"] button').click()
  await page.waitForURL(/\/pages\/(?!new)[a-z0-9]+$/)
  assert.match(await page.locator('#sheet').innerText(), /kite bag/, 'its words came along')
  const made = page.url()

  // It is set aside, stands in the list of those, and comes back from there.
  await page.click('.naming > summary')
  await page.locator('summary', { hasText: 'Set this page aside' }).click()
  await page.click('text=Set it aside')
  await page.waitForURL('**/pages')
  await page.locator('.set-aside button').click()
  await page.waitForFunction(() => !document.querySelector('.set-aside'))
  await page.goto(made)
  assert.equal(await page.locator('.aside-note').count(), 0)
  assert.deepEqual(page.troubles, [])
})
