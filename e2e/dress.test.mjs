// Dressing: the house style, local looks, copying them, drift, and what the
// launch check says of words that cannot be read.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { accessible, saved, signIn, start } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

const style = (frame, selector, property) =>
  frame
    .locator(selector)
    .first()
    .evaluate((el, p) => getComputedStyle(el)[p], property)
// worn opens the shop's page until its heads are set in a family: what the shop keeps of its
// pages is dropped when the database tells of a change, which is a moment later.
const worn = async (visitor, family) => {
  let seen
  for (let i = 0; i < 40; i++) {
    await visitor.goto(program.shop('/night-flight'))
    seen = await style(visitor, 'h1', 'fontFamily')
    if (seen.includes(family)) return
  }
  assert.fail(`${family} is not worn, ${seen} is`)
}
const open = async (page, kind, n = 0) => {
  const button = page.locator(`[data-kind=${kind}] > .telling`).nth(n)
  await button.focus()
  await button.click()
  await page.locator('.look-more').waitFor()
  if (!(await page.locator('.look-more').evaluate((el) => el.open))) await page.click('.look-more > summary')
}

test('the house style is tried, put on every page at once, and taken back', async () => {
  const page = await signIn(program)
  const visitor = await program.browser.newPage()
  await page.goto(program.studio('/house'))
  const proof = page.frameLocator('iframe[title="Phone proof"]')
  await page.locator('.chooser[data-house=logo] summary').click()
  await page.locator('.chooser[open] input').fill('quiver')
  const tried = page.waitForResponse((r) => new URL(r.url()).pathname === '/house' && r.request().headers()['hx-request'] === 'true')
  await page.click('.chooser[open] [data-pick=bag]')
  await tried // the place is drawn anew before more of it is chosen
  await page.waitForLoadState('networkidle')
  await page.waitForFunction(() => document.querySelector('[name=logo]').value === 'bag')
  await page.selectOption('[name=pair]', 'works')
  await page.waitForFunction(() => document.querySelector('[name=heads]:checked').value === 'bitter')
  await proof.locator('h1').waitFor()
  await page.waitForFunction(() => {
    const h1 = document.querySelector('iframe[title="Phone proof"]').contentDocument?.querySelector('h1')
    return h1 && getComputedStyle(h1).fontFamily.includes('Bitter')
  })
  await visitor.goto(program.shop('/night-flight'))
  assert.match(await style(visitor, 'h1', 'fontFamily'), /Fraunces/, 'trying changes nothing for visitors')

  await page.locator('[name=c-urgent]').fill('#e08a70')
  await page.locator('text=1 too faint').waitFor()
  await page.click('text=Use #')
  await page.locator('text=too faint').waitFor({ state: 'detached' })
  await accessible(page)
  await page.click('text=Put it on every page')
  await page.locator('text=Every page looks like this now').waitFor()
  await worn(visitor, 'Bitter')
  await page.click('text=Bring back the one before')
  await page.locator('text=is back on every page').waitFor()
  await worn(visitor, 'Fraunces')
  await visitor.close()
  await page.close()
})

test('a look is nudged by keys, copied, made alike, and cleared; drift is settled', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  const proof = page.frameLocator('iframe[title="Desktop proof"]')
  const before = await style(proof, 'h2', 'fontSize')
  await open(page, 'heading', 1)
  const size = page.locator('[data-look-set=size]')
  await size.focus()
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowUp')
  assert.equal(await size.inputValue(), '120', 'from 100, by fives')
  await saved(page)
  assert.equal(parseFloat(await style(proof, 'h2', 'fontSize')).toFixed(1), (parseFloat(before) * 1.2).toFixed(1))
  await page.locator('.drifts').waitFor()
  await accessible(page)
  await page.click('text=/Make all \\d alike/')
  await page.locator('.drifts').waitFor({ state: 'detached' })
  await page.click('[data-look-clear]')
  await page.locator('.drifts summary').click()
  await page.click('.drifts >> text=All like the house')
  await page.locator('.drifts').waitFor({ state: 'detached' })
  assert.equal(await style(proof, 'h2', 'fontSize'), before)

  await page.locator('[data-look-set=colour][data-value=urgent]').click()
  await page.locator('[data-look-set=colour][data-value=urgent][aria-pressed=true]').waitFor()
  await page.click('[data-look-copy]')
  await open(page, 'heading', 2)
  await page.click('[data-look-put]')
  await saved(page)
  const colours = await proof.locator('h2').evaluateAll((all) => all.map((el) => getComputedStyle(el).color))
  assert.equal(colours.filter((c) => c === 'rgb(169, 58, 34)').length, 2)
  await page.close()
})

test('words over a picture are judged by its pixels and mended at one press', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  await page.locator('.band-menu summary').first().click()
  await page.locator('[data-dress]:visible').first().click()
  await page.locator('.chooser[data-look-set=picture] summary').click()
  await page.click('.chooser[open] [data-pick=dunes]')
  const findings = page.locator('.gauge.findings')
  await findings.locator('summary').click()
  await findings.locator('text=cannot be read over its picture').waitFor()
  await findings.locator('text=Mend it').first().click()
  await page.locator('text=cannot be read over its picture').waitFor({ state: 'detached' })
  const ground = await style(page.frameLocator('iframe[title="Phone proof"]'), '.band', 'backgroundImage')
  assert.match(ground, /linear-gradient\(rgba\(11, 20, 18, 0\.\d+\)/)
  await page.close()
})
