// The path of somebody new, counted by the keystroke-level model.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { person } from './person.mjs'
import { accessible, inOwnWords, saved, signIn, start } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

test('three rule-driven pages, each with its shelf, title and proof, are live in under two minutes of work', async () => {
  const page = await signIn(program)
  const she = person(page)
  const line = (n, name) => page.locator('.clause').nth(n).locator(`[name=${name}]`)
  const begin = async (name) => {
    await she.click(page.locator('nav >> text=Pages'))
    await she.click(page.locator('text=A page of goods by a rule'))
    await page.waitForSelector('.clause')
    await she.typeHere(page.locator('#shelf-form [name=name]'), name)
  }
  const another = async () => {
    await she.click(page.locator('text=and something else'))
    await page.waitForFunction(() => document.querySelectorAll('.clause').length === 2)
  }
  const make = async (title) => {
    await she.click(page.locator('text=Keep it and make a page of it'))
    await page.waitForURL(/\/pages\/(?!new)[a-z0-9]+$/)
    const proof = page.frameLocator('iframe[title="Phone proof"]')
    await proof.locator('h1', { hasText: title }).waitFor()
    assert.ok((await proof.locator('.shelf .card').count()) > 0, 'its goods stand in the proof')
    she.look()
    return page.url().split('/').pop()
  }

  await begin('Back from a fair')
  await she.choose(line(0, 'c_field'), 'condition')
  await she.type(line(0, 'c_is'), 'returned, ex-demo')
  await another()
  await she.choose(line(1, 'c_field'), 'price')
  await she.type(line(1, 'c_max'), '80')
  await page.waitForFunction(() => document.querySelector('.says b')?.textContent === '3 now.')
  await make('Back from a fair')

  await begin('Light wind')
  await she.choose(line(0, 'c_field'), 'attribute')
  await she.choose(line(0, 'c_name'), 'lines')
  await she.type(line(0, 'c_is'), '2, 4')
  await another()
  await she.choose(line(1, 'c_field'), 'attribute')
  await she.choose(line(1, 'c_name'), 'wind_min')
  await she.type(line(1, 'c_max'), '1')
  await page.waitForFunction(() => document.querySelector('.says b')?.textContent === '3 now.')
  await make('Light wind')

  await begin('Stood long')
  await she.choose(line(0, 'c_field'), 'days_in_stock')
  await she.type(line(0, 'c_min'), '91')
  await make('Stood long')

  await she.click(page.locator('text=Publish…'))
  await she.click(page.locator('#panel >> button:has-text("Publish")').first())
  await page.waitForSelector('text=/Edition 3 (is )?live/')
  const visitor = await program.open()
  for (const [address, title] of [
    ['back-from-a-fair', 'Back from a fair'],
    ['light-wind', 'Light wind'],
    ['stood-long', 'Stood long'],
  ]) {
    await visitor.goto(program.shop(`/${address}`))
    assert.equal(await visitor.textContent('h1'), title)
    assert.ok((await visitor.locator('.shelf .card').count()) > 0)
  }
  console.log(`three pages: ${she.seconds.toFixed(0)} s by the keystroke-level model`)
  assert.ok(she.seconds < 120, `${she.seconds} s`)
  assert.deepEqual(page.troubles, [])
})

test('a page begins from a template, is planned, and its pieces come, move and go', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/new'))
  await accessible(page)
  await page.fill('[name=find]', 'bridge')
  await page.waitForFunction(() => document.querySelectorAll('.template').length === 2)
  await page.check('[name=template][value=bridge]', { force: true })
  await page.fill('[name=name]', 'Before the kite')
  await page.click('text=Make the page')
  await page.waitForSelector('#sheet .band-row')
  await accessible(page)
  const names = () => page.$$eval('.band-name', (all) => all.map((n) => n.textContent))
  assert.deepEqual(await names(), ['Opening', 'The thing to know', 'On', 'Legal footer'])

  // The plan is the same page, one line a band.
  await page.click('[data-depth]')
  await page.fill('[data-line]', 'what buyers said')
  await page.keyboard.press('Enter')
  await page.waitForFunction(() => document.querySelectorAll('.band-row').length === 5)
  await page.click('[data-depth]')
  const band = page.locator('.band-row').last()
  assert.equal(await band.locator('.ed').first().textContent(), 'what buyers said')

  const kinds = () => band.locator('.piece').evaluateAll((all) => all.map((p) => p.dataset.kind).join(' '))
  const is = (want) =>
    page.waitForFunction(
      (want) =>
        [...[...document.querySelectorAll('.band-row')].at(-1).querySelectorAll('.piece')].map((p) => p.dataset.kind).join(' ') === want,
      want,
    )
  assert.equal(await kinds(), 'heading rating testimonials')
  await band.hover()
  await band.locator('.add-piece summary').click()
  await band.locator('.add-piece [data-new=button]').click()
  await is('heading rating testimonials button')
  await band.locator('.piece').last().hover()
  await band.locator('.piece').last().locator('.piece-menu summary').click()
  await band.locator('.piece').last().locator('[data-seat=up]').click()
  await is('heading rating button testimonials')
  await saved(page)
  await page.keyboard.press('Escape')
  await band.locator('.piece[data-kind=rating]').hover()
  await band.locator('.piece[data-kind=rating] .piece-menu summary').click()
  await band.locator('.piece[data-kind=rating] [data-drop]').click()
  await is('heading button testimonials')
  await band.locator('.band-menu summary').click()
  await band.locator('[data-widths][aria-label="two columns"]').click()
  await saved(page)
  await page.waitForFunction(() => [...document.querySelectorAll('.band-row')].at(-1).querySelector('[data-seat=over]'))
  for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z')
  await is('heading rating testimonials')

  // A link leads to what was chosen.
  const action = page.locator('.piece[data-kind=button]').first()
  await action.locator('.telling').click()
  await action.locator('.chooser[data-set=target] summary').click()
  await action.locator('.chooser[data-set=target] input').fill('opening')
  await action.locator('.chooser[data-set=target] [data-pick^="band:"]', { hasText: 'Opening' }).click()
  await saved(page)
  await page.waitForFunction(() => document.querySelector('.piece[data-kind=button] .telling').textContent.includes('Opening'))
  // A headline of the template would keep the season from being published.
  await inOwnWords(page, program, page.url().split('/').pop())
  assert.deepEqual(page.troubles, [])
})

// A full landing page: hero over a picture, timer, perks, shelf, groups,
// testimonials, badges, opt-in. Every word of it is typed and counted.
test('a full landing page is live in under ten minutes of work', async () => {
  const page = await signIn(program)
  const she = person(page)
  const band = (name) => page.locator('.band-row', { has: page.locator(`.band-name:text-is("${name}")`) })
  const write = async (target, text) => {
    await she.type(target, text)
    await saved(page)
  }
  await she.click(page.locator('nav >> text=Pages'))
  await she.click(page.locator('text=A new page'))
  await she.typeHere(page.locator('#new-page [name=name]'), 'First frost')
  await she.choose(page.locator('#new-page [name=purpose]'), 'bridge')
  await she.click(page.locator('text=Make the page'))
  await page.waitForSelector('[data-line]')
  const line = page.locator('[data-line]')
  await she.click(line)
  for (const [i, text] of [
    'hero',
    'timer',
    'Why people come back to us: benefits',
    'shelf',
    'Groups to look through',
    'What flyers said',
    'badges',
    'The sheet for the first hour: optin',
  ].entries()) {
    await she.typeHere(line, text)
    await page.keyboard.press('Enter')
    await page.waitForFunction((n) => document.querySelectorAll('.band-row').length === n, i + 1)
    await page.waitForFunction(() => document.activeElement.matches('[data-line]'))
  }
  await saved(page)

  await write(band('hero').locator('[data-kind=heading] .ed'), 'Before the first frost, one more flight')
  await write(band('hero').locator('[data-kind=text] .ed'), 'Lanterns, light wind and warm hands: everything for evenings on the dunes.')
  await write(band('hero').locator('[data-kind=button] .ed').first(), 'Show me the kites')
  await she.click(band('hero').locator('[data-kind=button] .telling'))
  await she.pick(page.locator('.slip .chooser[data-set=target]'), 'shelf')
  await saved(page)
  await she.click(band('hero').locator('.band-menu summary'))
  await she.click(band('hero').locator('.band-menu [data-dress]'))
  await she.pick(page.locator('.look .chooser[data-look-set=picture]'), 'Dunes')
  await saved(page)
  // The picture's words must stand out: the launch check lays the veil.
  await she.click(page.locator('.gauge.findings summary').first())
  const mend = page.locator('.gauge.findings li', { hasText: 'picture' }).locator('text=Mend it').first()
  if (await mend.count()) await she.click(mend)
  await saved(page)

  await she.click(band('timer').locator('[data-kind=timer] .telling'))
  await she.choose(page.locator('.slip [data-set=deadline]'), { label: 'Lantern Friday' })
  await saved(page)
  await write(band('timer').locator('[data-kind=timer] .ed').first(), 'Lanterns until Friday')
  // At zero something changes: the band goes. A timer to nothing is not published.
  await she.click(band('timer').locator('.band-menu summary'))
  await she.choose(band('timer').locator('[data-band-field=deadline]'), { label: 'Lantern Friday' })
  await saved(page)
  await she.choose(band('timer').locator('[data-band-field=at_zero]'), 'hide')
  await saved(page)

  const perks = page.locator('[data-kind=perks] li[data-item]')
  for (const [i, [title, text]] of [
    ['Mended free', 'For as long as you fly it.'],
    ['Sent tomorrow', 'Ordered today, out of the door tomorrow.'],
    ['Thirty days', 'Send it back for any reason.'],
  ].entries()) {
    await write(perks.nth(i).locator('.ed').nth(0), title)
    await write(perks.nth(i).locator('.ed').nth(1), text)
  }
  await she.click(band('shelf').locator('[data-kind=shelf] .telling'))
  await she.choose(page.locator('.slip [data-set=shelf]'), { index: 1 })
  await saved(page)
  await write(band('shelf').locator('[data-kind=heading] .ed'), 'For light evenings')
  const cards = page.locator('[data-kind=groups] li[data-item]')
  for (const i of [0, 1]) {
    await she.choose(cards.nth(i).locator('select').first(), { index: i + 1 })
    await saved(page)
  }
  for (let i = (await cards.count()) - 1; i > 1; i--) {
    await she.click(cards.nth(i).locator('[data-item-remove]'))
    await saved(page)
  }
  const said = page.locator('[data-kind=testimonials] li[data-item]')
  for (const [i, [words, who]] of [
    ['We stayed out until the lantern was the only light.', 'Inês, Gustwell'],
    ['It came back from the pine, and from you, like new.', 'Rui, Faro'],
  ].entries()) {
    await write(said.nth(i).locator('.ed').nth(0), words)
    await write(said.nth(i).locator('.ed').nth(1), who)
  }
  const badges = page.locator('[data-kind=badges] li[data-item]')
  for (const [i, text] of ['Paid by card, safely', 'Sewn in Gustwell', 'Mended for life'].entries())
    await write(badges.nth(i).locator('.ed').first(), text)
  await write(page.locator('[data-kind=form] [data-field=label]'), 'Put me on the list')

  await she.click(page.locator('text=Publish…'))
  await she.click(page.locator('#panel >> button:has-text("Publish")').first())
  await page.waitForSelector('#panel .said >> text=/Edition [0-9]+ is live/')
  const visitor = await program.open()
  await visitor.goto(program.shop('/first-frost'))
  for (const part of [
    'h1 >> text=Before the first frost',
    '[data-timer]',
    '.perks',
    '.shelf .card',
    '.groups',
    '.said',
    '.badges',
    'form.ask',
  ])
    assert.ok((await visitor.locator(part).count()) > 0, part)
  assert.match(await visitor.evaluate(() => getComputedStyle(document.querySelector('.band')).backgroundImage), /url\(/)
  await accessible(visitor)
  console.log(`a landing page: ${she.seconds.toFixed(0)} s by the keystroke-level model`)
  assert.ok(she.seconds < 600, `${she.seconds} s`)
  assert.deepEqual(page.troubles, [])
})
