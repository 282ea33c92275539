// What the hand moves: a button under the pointer, colours and type of one's own, a piece
// that laps over the edge of its band, and all of it taken back by one press.
import assert from 'node:assert/strict'
import { readFileSync } from 'node:fs'
import { after, before, test } from 'node:test'
import { accessible, command, saved, signIn, start } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

const font = readFileSync(new URL('../node_modules/@fontsource-variable/bitter/files/bitter-latin-wght-normal.woff2', import.meta.url))

test('a colour and a type of one’s own are added, chosen by sight, and taken back', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/house'))
  await page.click('text=A colour of your own')
  await page.locator('[name=brand-1-name]').waitFor()
  await page.fill('[name=brand-1-name]', 'Sail violet')
  await page.setInputFiles('.own-types [name=file]', { name: 'Mast.woff2', mimeType: 'font/woff2', buffer: font })
  await page.click('.own-types button:has-text("Add it")')
  await page.locator('.said', { hasText: 'is here' }).waitFor()
  assert.equal(await page.inputValue('[name=brand-1-name]'), 'Sail violet', 'what was tried is not lost')
  await page.click('text=Put it on every page')
  await page.locator('.said', { hasText: 'Every page looks like this now' }).waitFor()
  await accessible(page)

  await page.goto(program.studio('/pages/night-flight'))
  const button = page.locator('[data-kind=button]').first()
  const id = await button.getAttribute('data-piece')
  await button.locator('[data-slip]').first().click()
  await page.locator('.look-more > summary').click()
  await page.locator('[data-look-set=ground][data-value=brand-1-deep]').click()
  const act = page.frameLocator('iframe[title="Desktop proof"]').locator(`#p-${id} .act`).first()
  const ground = () => act.evaluate((el) => getComputedStyle(el).backgroundColor)
  await page.locator('[data-look-set=ground][data-value=brand-1-deep][aria-pressed=true]').waitFor()
  await saved(page)
  const violet = await ground()
  assert.notEqual(violet, 'rgb(200, 149, 26)')
  await page.locator('.look-rest > summary').click()
  await page.locator('.types-by-sight summary').click()
  const own = page.locator('.types-by-sight [data-value^=type-]')
  assert.match(await own.textContent(), /Bitter/)
  await own.click()
  await page.locator('.types-by-sight [data-value^=type-][aria-pressed=true]').waitFor({ state: 'attached' })
  await saved(page)
  const family = () => act.evaluate((el) => getComputedStyle(el).fontFamily)
  assert.match(await family(), /Bitter/)
  assert.equal(
    (await page.request.get(program.studio(`/types/${await own.getAttribute('data-value')}`))).headers()['content-type'],
    'font/woff2',
  )
  await accessible(page)
  await page.locator('.look [aria-label="ground: back to the house’s"]').click()
  await page.locator('[data-look-set=ground][data-value=brand-1-deep][aria-pressed=false]').waitFor()
  await saved(page)
  assert.equal(await ground(), 'rgb(200, 149, 26)', 'one press takes it back')
})

test('a button turns as its own look says under the pointer', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  const id = await page.locator('[data-kind=button]').first().getAttribute('data-piece')
  for (const [hover, is] of Object.entries({ darken: (s) => s.background, lift: (s) => s.transform })) {
    await command(page, 'night-flight', { command: { op: 'dress', looks: [{ id, set: { hover } }] } })
    const proof = await page.context().newPage()
    await proof.goto(program.studio('/pages/night-flight/proof'))
    const act = proof.locator(`#p-${id} .act`).first()
    const seen = () =>
      act.evaluate((el) => ({ background: getComputedStyle(el).backgroundColor, transform: getComputedStyle(el).transform }))
    const before = is(await seen())
    await act.hover()
    assert.notEqual(is(await seen()), before, hover)
    await proof.close()
  }
})

test('a piece laps over the edge of its band, in full, whatever edge the next one has', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  const bands = await page.$$eval('#sheet [data-band]', (all) => all.map((el) => el.dataset.band))
  const id = await page.locator(`[data-band="${bands[1]}"] [data-kind=picture]`).getAttribute('data-piece')
  for (const rim of ['straight', 'torn', 'wave']) {
    await command(page, 'night-flight', {
      command: {
        op: 'dress',
        looks: [
          { id, set: { sink: '200' } },
          { id: bands[2], set: { rim } },
        ],
      },
    })
    const proof = await page.context().newPage()
    await proof.goto(program.studio('/pages/night-flight/proof'))
    const over = await proof.evaluate(
      ([piece, next]) => {
        const img = document.getElementById(`p-${piece}`).querySelector('img')
        scrollBy(0, img.getBoundingClientRect().bottom - innerHeight / 2)
        const p = img.getBoundingClientRect()
        const b = document.getElementById(`band-${next}`).getBoundingClientRect()
        const at = document.elementFromPoint(p.left + p.width / 2, p.bottom - 20)
        return { laps: p.bottom - b.top, seen: at?.tagName }
      },
      [id, bands[2]],
    )
    assert.ok(over.laps > 20, `${rim}: it laps by ${over.laps}`)
    assert.equal(over.seen, 'IMG', `${rim}: nothing covers it`)
    assert.equal(await proof.evaluate(() => document.documentElement.scrollWidth - innerWidth), 0)
    await proof.close()
  }
})
