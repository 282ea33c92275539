// What somebody new makes that sells, counted by the keystroke-level model.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { person } from './person.mjs'
import { accessible, saved, signIn, start } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

// begin makes a page from a template, as its owner does.
async function begin(page, she, name, template) {
  await she.click(page.locator('nav >> text=Pages'))
  await she.click(page.locator('text=A new page'))
  await she.typeHere(page.locator('#new-page [name=name]'), name)
  await she.click(page.locator('.template', { hasText: template }))
  await she.click(page.locator('text=Make the page'))
  await page.waitForSelector('#sheet .band-row')
  she.look()
}

// writer replaces words in place.
const writer = (page, she) => async (target, text) => {
  await she.type(target, text)
  await saved(page)
}

// drop takes a band away.
async function drop(page, she, name) {
  const band = page.locator('.band-row', { has: page.locator(`.band-name:text-is("${name}")`) })
  await she.click(band.locator('.band-menu summary'))
  await she.click(band.locator('.band-menu [data-remove]').first())
  await saved(page)
}

// A page that sells by itself: her words, her product, its checkout and one order bump.
test('a checkout page with a bump is live in under six minutes of work', async () => {
  const page = await signIn(program)
  const she = person(page)
  const piece = (kind, n = 0) => page.locator(`.piece[data-kind=${kind}]`).nth(n)
  const write = writer(page, she)
  await begin(page, she, 'Petrel', 'Sales page with checkout')
  await write(piece('heading').locator('.ed'), 'The kite that waits for you')
  await write(piece('text').locator('.ed'), 'Two lines, one afternoon, and it turns on its tip.')
  await write(piece('heading', 1).locator('.ed'), 'What makes it turn')
  await write(piece('text', 1).locator('.ed'), 'A stiff edge and a slack bridle. It comes rigged, with two lines of 25 m and straps.')
  const why = page.locator('[data-kind=perks] li[data-item]')
  for (const [i, [title, text]] of [
    ['Rigged', 'You unroll it and fly.'],
    ['Mended for life', 'Send it back; we see to it.'],
    ['Tried first', 'Each flew before it left.'],
  ].entries()) {
    await write(why.nth(i).locator('.ed').nth(0), title)
    await write(why.nth(i).locator('.ed').nth(1), text)
  }
  await write(piece('heading', 2).locator('.ed'), 'Order your Petrel')
  // The timer of the template has nothing to count to here, and nobody has said anything yet.
  await drop(page, she, 'Timer')
  await drop(page, she, 'Voices')
  const checkout = piece('checkout')
  await she.click(checkout.locator('.telling').last())
  await she.pick(checkout.locator('.slip .chooser[data-set=product]'), 'Petrel 160, dual line')
  await saved(page)
  await she.click(checkout.locator('[data-list=bumps] [data-item-add]'))
  await saved(page)
  const bump = checkout.locator('[data-list=bumps] li[data-item]').first()
  await she.pick(bump.locator('.chooser'), 'Quiver bag')
  await saved(page)
  await write(bump.locator('.ed').first(), 'It keeps sand out, and two more kites in.')
  she.look()
  await she.click(page.locator('text=Publish…'))
  await she.click(page.locator('#panel >> button:has-text("Publish")').first())
  await page.waitForSelector('#panel .said >> text=/Edition [0-9]+ is live/')

  const visitor = await program.open()
  await visitor.goto(program.shop('/petrel'))
  assert.equal(await visitor.textContent('h1'), 'The kite that waits for you')
  assert.match(await visitor.textContent('[data-totals]'), /89\.00/)
  await visitor.locator('label', { hasText: 'Quiver bag' }).first().click()
  await visitor.waitForFunction(() => /123\.00/.test(document.querySelector('[data-totals]').textContent))
  await accessible(visitor)
  console.log(`a checkout page with a bump: ${she.seconds.toFixed(0)} s by the keystroke-level model`)
  assert.ok(she.seconds < 360, `${she.seconds} s`)
  assert.deepEqual([...page.troubles, ...visitor.troubles], [])
})

// One page for all goods, in the words of the store.
test('the page of a product is live in under five minutes of work', async () => {
  const page = await signIn(program)
  const she = person(page)
  const write = writer(page, she)
  await begin(page, she, 'Every kite', 'Page of a product')
  const headings = page.locator('.piece[data-kind=heading] .ed')
  await write(headings.nth(1), 'What is in it')
  await write(headings.nth(2), 'Order yours on this page')
  await drop(page, she, 'Timer')
  await she.click(page.locator('.naming > summary'))
  await she.type(page.locator('[data-of-page=title]').first(), '{name}, sewn in Gustwell')
  await saved(page)
  she.look()
  await she.click(page.locator('text=Publish…'))
  await page.waitForSelector('#panel .over-goods h3') // the launch check has gone over all goods
  she.look()
  await she.click(page.locator('#panel >> button:has-text("Publish")').first())
  await page.waitForSelector('#panel .said >> text=/Edition [0-9]+ is live/')

  const visitor = await program.open()
  for (const [address, name] of [
    ['gull-90-single-line', 'Gull 90, single line'],
    ['beech-reel', 'Beech reel'],
    ['seven-kite-plans-to-print', 'Seven kite plans to print'],
  ]) {
    await visitor.goto(program.shop(`/goods/${address}`))
    assert.equal(await visitor.title(), `${name}, sewn in Gustwell`)
    assert.equal(await visitor.textContent('h1'), name)
    assert.ok(await visitor.locator('form#order').count(), 'it can be ordered')
  }
  await accessible(visitor)
  console.log(`the page of a product: ${she.seconds.toFixed(0)} s by the keystroke-level model`)
  assert.ok(she.seconds < 300, `${she.seconds} s`)
  assert.deepEqual([...page.troubles, ...visitor.troubles], [])
})

// A list of at most so many goods, each of which leads to where it is ordered.
test('a bounded list page that sells is live in under a minute of work', async () => {
  const page = await signIn(program)
  const she = person(page)
  await she.click(page.locator('nav >> text=Pages'))
  await she.click(page.locator('text=A page of goods by a rule'))
  await page.waitForSelector('.clause')
  await she.typeHere(page.locator('#shelf-form [name=name]'), 'Under thirty')
  const line = (name) => page.locator('.clause').first().locator(`[name=${name}]`)
  await she.choose(line('c_field'), 'price')
  await she.type(line('c_max'), '30')
  await she.type(page.locator('#shelf-form [name=limit]'), '6')
  await page.waitForFunction(() => /now\./.test(document.querySelector('.says b')?.textContent))
  await she.click(page.locator('text=Keep it and make a page of it'))
  await page.waitForURL(/\/pages\/(?!new)[a-z0-9]+$/)
  await she.click(page.locator('text=Publish…'))
  await she.click(page.locator('#panel >> button:has-text("Publish")').first())
  await page.waitForSelector('#panel .said >> text=/Edition [0-9]+ is live/')

  const visitor = await program.open()
  await visitor.goto(program.shop('/under-thirty'))
  assert.equal(await visitor.locator('.shelf .card').count(), 6)
  const to = await visitor.$$eval('.shelf .card a', (all) => all.map((a) => a.href))
  assert.equal(to.length, 6, 'each leads to where it is ordered')
  await visitor.goto(to[0])
  assert.ok(await visitor.locator('form#order').count())
  console.log(`a bounded list page that sells: ${she.seconds.toFixed(0)} s by the keystroke-level model`)
  assert.ok(she.seconds < 60, `${she.seconds} s`)
  assert.deepEqual([...page.troubles, ...visitor.troubles], [])
})
