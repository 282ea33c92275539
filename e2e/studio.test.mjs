import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { accessible, cards, desktop, fillIn, pay, phone, signIn, start, typeCard, saved } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

const proof = (page, which) => page.frameLocator(`iframe[title="${which} proof"]`)
const headline = '[data-piece=headline] [data-field=text]'

test('every place of the studio is accessible', async () => {
  const door = await program.open({ viewport: desktop })
  await door.goto(program.studio('/sign-in'))
  await accessible(door)
  const page = await signIn(program)
  for (const path of ['/pages', '/pages/night-flight', '/offers', '/results']) {
    await page.goto(program.studio(path))
    await accessible(page)
  }
  await page.click('text=Publish…')
  await page.waitForSelector('#panel[open] h3')
  await accessible(page)
  assert.deepEqual(page.troubles, [])
})

test('change a page, publish it, buy from it elsewhere, see the sale arrive', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  await page.fill(headline, 'A lantern on the wind')
  for (const which of ['Phone', 'Desktop']) await proof(page, which).locator('h1', { hasText: 'A lantern on the wind' }).waitFor()
  await saved(page)
  assert.match(await page.textContent('#live'), /Edition 1 live · draft differs in 1 place/)
  await page.click('text=Publish…')
  await page.click('text=Publish now')
  await page.waitForSelector('text=Edition 2 is live.')
  await page.click('#panel .close')
  await page.waitForFunction(() => document.getElementById('live').textContent.includes('Edition 2 live'))

  await page.goto(program.studio('/results'))
  const orders = async () => Number(await page.textContent('.figures > div:nth-child(2) dd'))
  const before = await orders()
  const visitor = await program.open({ viewport: phone })
  await visitor.goto(program.shop('/night-flight'))
  assert.equal(await visitor.textContent('h1'), 'A lantern on the wind')
  await fillIn(visitor)
  await typeCard(visitor, cards.approves)
  await pay(visitor)
  await visitor.waitForURL('**/quiver-bag?order=*')
  await page.waitForFunction((n) => Number(document.querySelector('.figures > div:nth-child(2) dd').textContent) === n, before + 1)

  await page.click('text=Publish…')
  await page.click('text=Put back')
  await page.waitForSelector('text=Edition 1 is live again')
  await visitor.goto(program.shop('/night-flight'))
  assert.match(await visitor.textContent('h1'), /Fly the dark/)
  assert.deepEqual(page.troubles, [])
})

test('bands are added, moved by keyboard and by drag, removed, and it is all undone', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  const names = () => page.$$eval('.band-name', (all) => all.map((n) => n.textContent).join(', '))
  const order = (text) => page.waitForFunction((t) => [...document.querySelectorAll('.band-name')].map((n) => n.textContent).join(', ') === t, text)
  const first = await names()
  await page.focus('[data-band=hurry] .handle')
  await page.keyboard.press('Alt+ArrowUp')
  await order('Opening, Timer, The kite, Why, Checkout, Legal footer')
  assert.equal(await page.evaluate(() => document.activeElement.closest('[data-band]')?.dataset.band), 'hurry', 'the focus goes along')
  await page.keyboard.press('Alt+ArrowDown')
  await order(first)

  const handle = await page.locator('[data-band=kite] .handle').boundingBox()
  await page.mouse.move(handle.x + 8, handle.y + 8)
  await page.mouse.down()
  await page.mouse.move(handle.x + 8, 160, { steps: 12 })
  await page.mouse.move(handle.x + 8, 120, { steps: 6 })
  // The answer comes while the next menu is already open: it stays open.
  let answer
  await page.route('**/commands?*', async (route) => {
    await new Promise((go) => (answer = go))
    await route.continue()
  })
  const [asked] = await Promise.all([page.waitForRequest('**/commands?*'), page.mouse.up()])
  await order('The kite, Opening, Timer, Why, Checkout, Legal footer')
  await page.locator('.add-row summary').last().click()
  answer()
  await asked.response()
  await page.unroute('**/commands?*')
  await saved(page)
  await page.locator('.add-row [data-add=perks]').last().click()
  await order('The kite, Opening, Timer, Why, Checkout, Legal footer, Perks')
  await page.locator('.band-row').last().locator('.band-menu summary').click()
  await page.locator('.band-row').last().locator('[data-remove]').click()
  await order('The kite, Opening, Timer, Why, Checkout, Legal footer')
  await saved(page)
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z')
  await order(first)
  await page.keyboard.press('Control+Shift+z')
  await order('The kite, Opening, Timer, Why, Checkout, Legal footer')
  await page.keyboard.press('Control+z')
  await order(first)
  assert.deepEqual(page.troubles, [])
})

test('slips, the as-of slider, and clicking in a proof', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  await page.click('[data-piece=kite-price] .telling')
  await page.waitForSelector('.slip')
  await accessible(page)
  await page.selectOption('.slip [data-set=saving]', 'percent')
  await proof(page, 'Phone').locator('.saving', { hasText: /^You save 25%$/ }).waitFor()
  await saved(page)

  await page.click('[data-piece=timer] .telling')
  await page.waitForSelector('.deadline-form')
  assert.match(await page.textContent('.deadline-form'), /Shared by the offer\s+Lantern week/)

  await page.locator('.mark-button', { hasText: 'Lantern week ends' }).click()
  await page.waitForFunction(() => document.querySelector('[data-says]').textContent === '€68.00 · timer gone · checkout open')
  assert.equal(await proof(page, 'Desktop').locator('.timer').count(), 0)
  await page.focus('#asof')
  await page.keyboard.press('ArrowLeft') // one second before
  await page.waitForFunction(() => document.querySelector('[data-says]').textContent === '€51.00 · timer shown · checkout open')
  await page.click('.mark-button >> text=Now')

  await proof(page, 'Phone').locator('[data-piece=why-head]').click()
  await page.waitForFunction(() => document.activeElement.closest('[data-piece]')?.dataset.piece === 'why-head')
  await page.keyboard.press('Control+z')
  assert.deepEqual(page.troubles, [])
})

test('an offer is written by its receipt', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/offers?offer=lantern-week'))
  await page.fill('[name=value]', '40')
  await page.waitForFunction(() => document.querySelector('#receipt tfoot').textContent.includes('€40.80'))
  await page.fill('[name=value]', '400')
  await page.waitForSelector('#receipt .bad')
  await page.click('text=Keep the change')
  await page.waitForSelector('#offer-form [role=alert]')
  assert.equal(await page.inputValue('[name=value]'), '400', 'what was typed is kept')
  await page.fill('[name=value]', '25')
  await page.click('text=Keep the change')
  await page.waitForSelector('text=Every page, price and checkout that shows it follows.')
})

test('typing survives a studio that is away for a moment', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/thank-you'))
  await program.kill()
  await page.fill('[data-piece=t-head] [data-field=text]', 'Thank you, and fair winds')
  await page.waitForFunction(() => document.querySelector('[data-saved]').textContent.startsWith('Not saved yet'))
  await program.restart()
  await saved(page)
  await page.reload()
  assert.equal(await page.textContent('[data-piece=t-head] [data-field=text]'), 'Thank you, and fair winds')
})

test('two people in one page: each sees what the other wrote', async () => {
  const one = await signIn(program)
  const two = await signIn(program)
  for (const page of [one, two]) await page.goto(program.studio('/pages/quiver-bag'))
  const head = '[data-piece=u-head] [data-field=text]'
  const copy = '[data-piece=u-text] [data-field=text]'
  await one.fill(head, 'One hand, three kites')
  await saved(one)
  await two.fill(copy, 'Pockets for line and cells.')
  await saved(two)
  await two.waitForFunction((s) => document.querySelector(s).textContent === 'One hand, three kites', head)
  assert.equal(await two.textContent(copy), 'Pockets for line and cells.')

  // Both change the same words: the second is told, and nothing is overwritten.
  await one.reload()
  await one.fill(copy, 'Pockets for everything.')
  await saved(one)
  await two.fill(copy, 'Three pockets.')
  await two.waitForFunction(() => document.getElementById('toast').textContent.includes('theirs were kept'))
  await two.waitForFunction((s) => document.querySelector(s).textContent === 'Pockets for everything.', copy)
})
