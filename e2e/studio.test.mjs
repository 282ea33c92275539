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

// 360 pixels is the narrowest phone; 640 is what 1280 come to at a zoom of 200 %
// (WCAG 2.2, 1.4.4 and 1.4.10).
test('every place fits a narrow phone, and a screen at twice the size', async () => {
  const page = await signIn(program)
  for (const viewport of [
    { width: 360, height: 740 },
    { width: 640, height: 400 },
  ]) {
    await page.setViewportSize(viewport)
    for (const path of [
      '/pages',
      '/pages/night-flight',
      '/pages/new',
      '/house',
      '/pictures',
      '/store',
      '/editions/frost-1',
      '/season',
      '/goods',
      '/goods/ember',
      '/shelves',
      '/rates',
      '/offers',
      '/results',
      '/orders',
      '/orders/past-1060',
      '/orders/packing',
      '/buyers',
      '/account',
      '/publish',
    ]) {
      await page.goto(program.studio(path))
      const wide = await page.evaluate(() => document.documentElement.scrollWidth)
      assert.ok(wide <= viewport.width, `${path} is ${wide} pixels wide at ${viewport.width}`)
    }
  }
  assert.deepEqual(page.troubles, [])
})

// Each gauge along the foot opens what it tells of, and leads there.
test('every gauge opens its list', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  for (const [name, holds] of [
    ['Ways out', 'Nothing leads away'],
    ['Calls to action', 'Send me my lantern kite'],
    ['Description', 'Search results cut'],
    ['First view', 'Styles'],
    ['Weakest contrast', 'Words of “Opening”'],
  ]) {
    const gauge = page.locator('.gauge', { has: page.locator(`summary:has-text("${name}")`) })
    await gauge.locator('summary').click()
    await gauge.locator('.float', { hasText: holds }).waitFor()
    const box = await gauge.locator('.float').boundingBox()
    assert.ok(box.x >= 0 && box.x + box.width <= desktop.width && box.y >= 0, `${name} opens within the screen`)
    if (name === 'Calls to action') {
      await gauge.locator('[data-goto]').first().click()
      await page.waitForFunction(() => document.activeElement.closest('[data-piece]')?.dataset.piece === 'go')
    }
  }
  await accessible(page)
})

test('change a page, publish it, buy from it elsewhere, see the sale arrive', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  await page.fill(headline, 'A lantern on the wind')
  for (const which of ['Phone', 'Desktop']) await proof(page, which).locator('h1', { hasText: 'A lantern on the wind' }).waitFor()
  await saved(page)
  assert.match(await page.textContent('#live'), /Edition 2 live · draft differs in 1 place/)
  await page.click('text=Publish…')
  await page.click('text=Publish now')
  await page.waitForSelector('text=Edition 3 is live.')
  await page.click('#panel .close')
  await page.waitForFunction(() => document.getElementById('live').textContent.includes('Edition 3 live'))

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
  await page.waitForSelector('text=Edition 2 is live again')
  await visitor.goto(program.shop('/night-flight'))
  assert.match(await visitor.textContent('h1'), /Fly the dark/)
  assert.deepEqual(page.troubles, [])
})

test('bands are added, moved by keyboard and by drag, removed, and it is all undone', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  const names = () => page.$$eval('.band-name', (all) => all.map((n) => n.textContent).join(', '))
  const order = (text) =>
    page.waitForFunction((t) => [...document.querySelectorAll('.band-name')].map((n) => n.textContent).join(', ') === t, text)
  const first = await names()
  await page.focus('[data-band=hurry] .handle')
  await page.keyboard.press('Alt+ArrowUp')
  await order('Opening, Timer, The kite, Why, Voices, Checkout, Legal footer')
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
  await order('The kite, Opening, Timer, Why, Voices, Checkout, Legal footer')
  await page.locator('.add-row summary').last().click()
  answer()
  await asked.response()
  await page.unroute('**/commands?*')
  await saved(page)
  await page.locator('.add-row [data-add=perks]').last().click()
  await order('The kite, Opening, Timer, Why, Voices, Checkout, Legal footer, Perks')
  await page.locator('.band-row').last().locator('.band-menu summary').click()
  await page.locator('.band-row').last().locator('[data-remove]').click()
  await order('The kite, Opening, Timer, Why, Voices, Checkout, Legal footer')
  await saved(page)
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z')
  await order(first)
  await page.keyboard.press('Control+Shift+z')
  await order('The kite, Opening, Timer, Why, Voices, Checkout, Legal footer')
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
  await proof(page, 'Phone')
    .locator('.saving', { hasText: /^You save 25%$/ })
    .waitFor()
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
  await page.fill('[name=percent]', '40')
  await page.waitForFunction(() => document.querySelector('#receipt tfoot').textContent.includes('€40.80'))
  await page.fill('[name=percent]', '400')
  await page.waitForSelector('#receipt .bad')
  await page.click('text=Keep the change')
  await page.waitForSelector('#offer-form [role=alert]')
  assert.equal(await page.inputValue('[name=percent]'), '400', 'what was typed is kept')
  await page.fill('[name=percent]', '25')
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

test('two people in one page: each sees what the other writes at once, and no word is lost', async () => {
  const one = await signIn(program)
  const two = await signIn(program)
  for (const page of [one, two]) await page.goto(program.studio('/pages/quiver-bag'))
  const head = '[data-piece=u-head] [data-field=text]'
  const copy = '[data-piece=u-text] [data-field=text]'
  const reads = (page, where, words) => page.waitForFunction(([s, w]) => document.querySelector(s).innerText.trim() === w, [where, words])
  await one.fill(head, 'One hand, three kites')
  await saved(one)
  await reads(two, head, 'One hand, three kites') // without doing anything
  const proof = two.frameLocator('iframe[title="Phone proof"]')
  await proof.locator('text=One hand, three kites').waitFor()

  // One stands in the words while two writes before them: the caret stays by its word.
  await one.locator(head).click()
  await one.keyboard.press('Home')
  for (let i = 0; i < 4; i++) await one.keyboard.press('ArrowRight')
  await two.locator(head).click()
  await two.keyboard.press('Home')
  await two.keyboard.type('Only ')
  await saved(two)
  await reads(one, head, 'Only One hand, three kites')
  await one.keyboard.type('small ')
  await saved(one)
  await reads(two, head, 'Only One small hand, three kites')

  // Both write at once, letter by letter, in the same words and in copy.
  for (const [field, start] of [
    [head, 'Home'],
    [copy, 'Control+Home'],
  ]) {
    await one.locator(field).click()
    await one.keyboard.press(start)
    await two.locator(field).click()
    await two.keyboard.press('Control+End')
    await Promise.all([one.keyboard.type('From one, first. ', { delay: 15 }), two.keyboard.type(' And from two, last.', { delay: 15 })])
    await saved(one)
    await saved(two)
    const whole = /^From one, first\. [\s\S]* And from two, last\.$/
    for (const page of [one, two])
      await page
        .waitForFunction(([s, w]) => new RegExp(w).test(document.querySelector(s).innerText.trim()), [field, whole.source], {
          timeout: 30_000,
        })
        .catch(async () => assert.fail(`${await one.innerText(field)} | ${await two.innerText(field)}`))
  }
  assert.equal(await one.innerText(copy), await two.innerText(copy))

  // A band that one adds comes to the other, and goes with one's own undo.
  const bands = await one.locator('.band-row').count()
  await one.locator('.add-row summary').last().click({ force: true })
  await one.locator('.add-row').last().locator('[data-add=perks]').click()
  await two.waitForFunction((n) => document.querySelectorAll('.band-row').length === n, bands + 1)
  await saved(one)
  assert.deepEqual(one.troubles, [])
  assert.deepEqual(two.troubles, [])
})

test('what cannot be kept stays where it was typed, with the reason beside it', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/quiver-bag'))
  const head = page.locator('[data-piece=u-head] [data-field=text]')
  const before = await head.innerText()
  await head.fill('wind '.repeat(4100))
  await page.locator('.refusal', { hasText: '20000 characters' }).waitFor()
  assert.match(await page.textContent('[data-saved]'), /Not saved/)
  assert.equal((await head.innerText()).trim().length, 5 * 4100 - 1, 'nothing of it is lost')
  await head.fill('wind and line')
  await saved(page)
  assert.equal(await page.locator('.refusal').count(), 0)
  await page.click('.naming > summary')
  const address = page.locator('[data-of-page=address]')
  await address.fill('night-flight')
  await address.press('Tab')
  await page.locator('.name-form .refusal', { hasText: 'Another page already has the address /night-flight' }).waitFor()
  await accessible(page)
  await address.fill('quiver')
  await address.press('Tab')
  await page.waitForFunction(() => document.querySelector('.naming summary').textContent.includes('/quiver'))
  await page.locator('[data-of-page=title]').fill('A bag for three kites')
  await saved(page)
  await page.reload()
  await page.click('.naming > summary')
  assert.equal(await page.inputValue('[data-of-page=title]'), 'A bag for three kites')
  for (let i = 0; i < 3; i++) {
    await page.click('[data-undo]')
    await saved(page)
  }
  await page
    .waitForFunction((words) => document.querySelector('[data-piece=u-head] [data-field=text]').innerText.trim() === words, before.trim(), {
      timeout: 30_000,
    })
    .catch(async () => assert.fail(`${await head.innerText()} | ${before}`))
  assert.equal(await page.inputValue('[data-of-page=address]'), 'quiver-bag')
})

test('every list takes one more', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/new'))
  await page.check('[name=template][value=""]', { force: true })
  await page.fill('[name=name]', 'Lists')
  await page.click('text=Make the page')
  await page.waitForSelector('[data-line]')
  const lines = ['points', 'perks', 'badges', 'faq', 'testimonials', 'compare', 'gallery', 'rotating', 'hours', 'groups', 'posts']
  for (const [i, line] of lines.entries()) {
    await page.fill('[data-line]', line)
    await page.keyboard.press('Enter')
    await page.waitForFunction((n) => document.querySelectorAll('.band-row').length === n, i + 1)
  }
  await saved(page)
  const lists = page.locator('[data-list]')
  assert.ok((await lists.count()) >= lines.length)
  for (let i = 0; i < (await lists.count()); i++) {
    const items = lists.nth(i).locator('li[data-item]')
    const n = await items.count()
    await lists.nth(i).locator('[data-item-add]').click()
    await items.nth(n).waitFor()
    await saved(page)
    assert.equal(await items.count(), n + 1)
  }
  assert.deepEqual(page.troubles, [])
})
