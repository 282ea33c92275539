// How a band is composed is chosen by its little pictures, or turned by one key; scenes are
// laid under it; and the proofs can be looked at in their own size.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { accessible, desktop, phone, saved, signIn, start } from './program.mjs'

let program, page
before(async () => {
  program = await start()
  page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  await page.waitForSelector('#sheet .band-row')
})
after(() => program.stop())

const proof = (title) => page.frameLocator(`iframe[title="${title}"]`)
const classOf = (id) => proof('Desktop proof').locator(`#band-${id}`).getAttribute('class')

test('one key turns a band through all of its manners, without losing a word', async () => {
  const words = async () => (await proof('Desktop proof').locator('#band-why').innerText()).replace(/\s+/g, ' ')
  const said = await words()
  await page.locator('#band-why .ed').first().click()
  const seen = []
  for (let i = 0; i < 4; i++) {
    const before = await classOf('why')
    seen.push(before.match(/m-(\w+)/)[1])
    await page.keyboard.press('F8')
    await page.waitForFunction(
      (was) => document.querySelector('iframe[title="Desktop proof"]').contentDocument.querySelector('#band-why').className !== was,
      before,
    )
    await saved(page)
    assert.equal(await words(), said)
    await page.locator('#band-why .ed').first().click()
  }
  assert.deepEqual([...seen].sort(), ['lines', 'margin', 'numbers', 'ruled'])
  assert.equal((await classOf('why')).match(/m-(\w+)/)[1], seen[0], 'by turns: it is where it began')
  await page.keyboard.press('Shift+F8')
  await page.waitForFunction(
    (name) =>
      document.querySelector('iframe[title="Desktop proof"]').contentDocument.querySelector('#band-why').classList.contains(`m-${name}`),
    seen[3],
  )
})

test('a little picture sets a manner, says so, and is taken back', async () => {
  await page.locator('#band-voices .band-menu summary').click()
  const menu = page.locator('#band-voices .manners')
  assert.ok((await menu.locator('svg').count()) >= 3)
  await accessible(page)
  await menu.locator('[data-manner=row]').click()
  await page.waitForFunction(() =>
    document.querySelector('iframe[title="Desktop proof"]').contentDocument.querySelector('#band-voices').classList.contains('m-row'),
  )
  assert.equal(await page.locator('#band-voices [data-manner=row]').getAttribute('aria-pressed'), 'true')
  await page.locator('[data-undo]').first().click()
  await page.waitForFunction(() =>
    document.querySelector('iframe[title="Desktop proof"]').contentDocument.querySelector('#band-voices').classList.contains('m-voice'),
  )
})

test('a scene is chosen by sight, and only those are offered on which the words are read', async () => {
  await page.goto(program.studio('/pages/night-flight'))
  await page.locator('#band-opening .band-menu summary').click()
  await page.locator('#band-opening [data-dress]').click()
  const scenes = page.locator('#band-opening .scenes')
  await scenes.locator('summary').click()
  const offered = await scenes.locator('[data-value]').evaluateAll((all) => all.map((el) => el.dataset.value))
  assert.ok(offered.includes('north-mole') && !offered.includes('morning-flight'), 'the band is dark')
  await scenes.locator('[data-value=north-mole]').click()
  await page.waitForFunction(() =>
    /north-mole\.wide/.test(
      getComputedStyle(document.querySelector('iframe[title="Desktop proof"]').contentDocument.querySelector('#band-opening'))
        .backgroundImage,
    ),
  )
  const small = await page.evaluate(
    () =>
      getComputedStyle(document.querySelector('iframe[title="Phone proof"]').contentDocument.querySelector('#band-opening'))
        .backgroundImage,
  )
  assert.match(small, /north-mole\.phone/)
  const path = small.match(/\/scenes\/[^"]+/)[0]
  const visitor = await program.open()
  const answer = await visitor.goto(program.shop(path))
  assert.equal(answer.headers()['content-type'], 'image/svg+xml')
  await visitor.context().close()
})

test('one key gives the proofs the whole width, at their own size, where one writes', async () => {
  await page.setViewportSize({ width: 1440, height: 900 })
  await page.goto(program.studio('/pages/night-flight'))
  await page.locator('#band-why .ed').first().click()
  await page.keyboard.press('F9')
  assert(await page.locator('#sheet').isHidden())
  await page.keyboard.press('F9')
  await page.waitForFunction(() => document.querySelector('iframe[title="Desktop proof"]').style.transform === 'scale(1)')
  const there = await page.waitForFunction(() => {
    const frame = document.querySelector('iframe[title="Desktop proof"]')
    const box = frame.contentDocument.querySelector('#band-why').getBoundingClientRect()
    return frame.clientWidth > 1300 && box.top < frame.clientHeight && box.bottom > 0
  })
  assert.ok(await there.jsonValue())
  await page.keyboard.press('F9')
  await page.waitForFunction(() => document.querySelector('iframe[title="Phone proof"]').clientWidth === 390)
  assert(await page.locator('iframe[title="Desktop proof"]').isHidden())
  await page.keyboard.press('Escape')
  assert(await page.locator('#sheet').isVisible())
  await page.setViewportSize(desktop)
})

test('a house is begun from, turned by a word that says what it moved, and made from a picture', async () => {
  await page.goto(program.studio('/house'))
  await page.click('.made button:has-text("Midnight kiosk")')
  await page.waitForSelector('.made [aria-pressed=true]:has-text("Midnight kiosk")')
  await page.click('button.tiny:text-is("calmer")')
  await page.waitForSelector('.moved')
  assert.match(await page.textContent('.moved'), /weight of the headings|size of the headings/)
  assert.equal(await page.locator('.contrasts .bad').count(), 0, 'all of it is read')
  const before = await page.inputValue('[name=c-action]')
  await page.locator('.choice', { hasText: 'like a picture' }).locator('summary').click()
  await page.locator('.chooser[open] [data-pick=dunes]').click()
  await page.waitForFunction((was) => document.querySelector('[name=c-action]').value !== was, before)
  assert.equal(await page.locator('.contrasts .bad').count(), 0)
  await accessible(page)
  assert.deepEqual(page.troubles, [])
  const visitor = await program.open({ viewport: phone })
  await visitor.goto(program.shop('/night-flight'))
  assert.match(
    await visitor.evaluate(() => getComputedStyle(document.documentElement).getPropertyValue('--action')),
    /#c8951a/,
    'trying changes nothing',
  )
})
