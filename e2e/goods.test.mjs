import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { accessible, phone, signIn, start } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

const file = (name, text) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) })
const settled = (page) => page.waitForFunction(() => !document.querySelector('.htmx-request'))

test('goods, shelves, rates and season are accessible', async () => {
  const page = await signIn(program)
  for (const path of ['/goods', '/goods/ember', '/shelves', '/rates', '/season?year=2026', '/offers?offer=new']) {
    await page.goto(program.studio(path))
    await accessible(page)
  }
  assert.deepEqual(page.troubles, [])
})

test('a CSV with faults is mended, applied as a whole, and undone', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/goods'))
  const bad =
    'Artikel;SKU;Preis;Stock\nSkylark, pocket kite;GK-SKY;39,90;12\nHeron;GK-HER;fifty;3\nTern 60, pocket kite;GK-TER-60;21,00;88\n'
  await page.setInputFiles('[data-import]', file('spring.csv', bad))
  await page.waitForURL('**/goods/import/*')
  assert.match(await page.textContent('#mapping'), /separated by semicolons/)
  assert.match(await page.textContent('#dry-run'), /is new and has no name/, 'a column is not known yet')
  await page.locator('[name=map]').first().selectOption('name')
  await page.waitForSelector('.faults')
  await page.waitForFunction(() => document.querySelectorAll('.faults tbody tr').length === 1)
  assert.match(await page.textContent('.faults tbody'), /3\s*price\s*fifty\s*is not a number/)
  await accessible(page)
  assert.ok(await page.locator('#apply button').isDisabled(), 'nothing is applied while a line is faulty')

  await page.setInputFiles('#apply [data-import]', file('spring.csv', bad.replace('fifty', '50,00').replace('Artikel', 'name')))
  await page.waitForFunction(() => document.querySelector('.figures dd')?.textContent === '2' && !document.querySelector('.faults'))
  assert.match(await page.textContent('.changes'), /GK-TER-60.*price: 19\.00 → 21\.00/s)
  await page.click('text=Apply it as a whole')
  await page.waitForSelector('#apply >> text=Applied.')
  const goods = await signIn(program)
  await goods.goto(program.studio('/goods?find=GK-SKY'))
  assert.match(await goods.textContent('.goods-table tbody'), /Skylark, pocket kite.*39\.90/s)
  await page.click('text=Undo it all')
  await page.waitForSelector('text=Undone.')
  await goods.reload()
  assert.match(await goods.textContent('#goods-table'), /Nothing is found/)
  assert.deepEqual(page.troubles, [])
})

test('a price is changed in place, and many at once with every result shown', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/goods?find=reel'))
  const cell = page.locator('[data-id=reel] [data-column=price]')
  await cell.fill('23,50')
  await cell.press('Enter')
  await page.waitForSelector('#toast >> text=Kept.')
  await cell.fill('much')
  await cell.press('Enter')
  await page.waitForSelector('#toast >> text=is not a number')
  assert.equal(await cell.textContent(), '23,50', 'what was there stands again')
  await page.goto(program.studio('/goods'))
  await page.fill('#goods-filter [name=find]', 'gull')
  await page.waitForFunction(() => document.querySelectorAll('.goods-table tbody tr').length === 2)
  await page.check('[data-tick-all]')
  await page.fill('#bulk [name=change]', '-10%')
  await page.waitForSelector('.results-list')
  assert.match(await page.textContent('#bulk-preview'), /29\.00\s*26\.10/)
  await page.click('#bulk-preview >> text=Change them')
  await page.waitForSelector('#bulk-preview >> text=2 prices changed')
  await page.waitForFunction(() => document.querySelector('[data-id=gull] [data-column=price]').textContent === '26.10')
  await page.click('#bulk-preview [data-undo-batch]')
  await page.waitForFunction(() => document.querySelector('[data-id=gull] [data-column=price]').textContent === '29.00')
})

test('what is said of a product is written in place and kept, and its page says it', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/goods/wisp'))
  const said = page.locator('[aria-label=Description]')
  await said.click()
  await page.keyboard.press('Control+A')
  await page.keyboard.type('Light as a letter.')
  await page.keyboard.press('Enter')
  await page.keyboard.type('- Flies in a hall')
  await page.waitForSelector('#toast >> text=Kept.')
  await accessible(page)
  await page.keyboard.press('Enter')
  await page.keyboard.type('And <b>behind</b> a walk')
  await page.goto(program.studio('/goods')) // what was just typed goes along
  const told = /Light as a letter\..*Flies in a hall.*And <b>behind<\/b> a walk/s
  // It is on its way while the next page is read, and the shop hears of it a moment later.
  const says = async (where, path, what) => {
    for (let i = 0; i < 20; i++) {
      await where.goto(path)
      if (told.test(await where.textContent(what))) return
    }
    assert.match(await where.textContent(what), told)
  }
  await says(page, program.studio('/goods/wisp'), '[aria-label=Description]')
  const visitor = await program.open({})
  await says(visitor, program.shop('/goods/wisp-120-ultralight-dual-line'), '.details-both .rich')
  assert.equal(await visitor.locator('.details-both li').count(), 2)
  await accessible(visitor)
  assert.deepEqual([...page.troubles, ...visitor.troubles], [])
})

test('the three shelves of the job are made by filling a sentence', async () => {
  const page = await signIn(program)
  const begin = async (name) => {
    await page.goto(program.studio('/shelves?shelf=new'))
    await page.fill('#shelf-form [name=name]', name)
  }
  const line = (n) => page.locator('.clause').nth(n)
  const another = async () => {
    const n = await page.locator('.clause').count()
    await page.click('text=and something else')
    await page.waitForFunction((n) => document.querySelectorAll('.clause').length === n + 1, n)
  }
  const now = async (n) => page.waitForFunction((n) => document.querySelector('.says b')?.textContent === `${n} now.`, n)
  const keep = async () => {
    await page.click('text=Keep the shelf')
    await page.waitForURL((url) => url.pathname === '/shelves' && url.searchParams.get('shelf') !== 'new')
    await page.waitForSelector('.offer-list [aria-current=true]')
  }

  await begin('Back and shown')
  await line(0).locator('[name=c_field]').selectOption('condition')
  await line(0).locator('[name=c_is]').fill('returned, ex-demo')
  await now(5)
  await another()
  await line(1).locator('[name=c_field]').selectOption('price')
  await line(1).locator('[name=c_max]').fill('20')
  await page.waitForSelector('text=Nothing stands on this shelf')
  await page.click('text=/Make it .*€23.00/')
  await now(1)
  assert.equal(await line(1).locator('[name=c_max]').inputValue(), '23.00')
  await line(1).locator('[name=c_max]').fill('80')
  await now(3)
  await keep()
  assert.match(await page.textContent('.offer-list [aria-current=true]'), /returned or ex-demo and with a price of at most €80\.00/)

  await begin('Light wind')
  await line(0).locator('[name=c_field]').selectOption('attribute')
  await line(0).locator('[name=c_name]').selectOption('lines')
  await line(0).locator('[name=c_is]').fill('2, 4')
  await another()
  await line(1).locator('[name=c_field]').selectOption('attribute')
  await line(1).locator('[name=c_name]').selectOption('wind_min')
  await line(1).locator('[name=c_max]').fill('1')
  await now(3)
  await keep()

  await begin('Stood long')
  await line(0).locator('[name=c_field]').selectOption('days_in_stock')
  await line(0).locator('[name=c_min]').fill('91')
  await now(9)
  await keep()
  assert.deepEqual(page.troubles, [])
})

test('an offer is written by its receipt, and the shop follows', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/offers?offer=new'))
  const form = page.locator('#offer-form')
  await form.locator('[name=name]').fill('Two lanterns')
  await form.locator('[name=kind]').selectOption('steps')
  await form.locator('[name=steps]').fill('2: 40%')
  await form.locator('[data-cover=goods] > summary').click()
  await form.locator('[name=goods][value=ember]').check()
  await page.keyboard.press('Escape')
  await page
    .waitForFunction(() => document.querySelector('#receipt').textContent.includes('does not apply'), null, { timeout: 10000 })
    .catch(() => {})
  await page.selectOption('[name=add]', 'ember')
  await page.waitForFunction(() => document.querySelectorAll('.basket-row [name=item][value=ember]').length > 0)
  await page.locator('.basket-row:has([value=ember]) [name=qty]').last().fill('2')
  await page.locator('.basket-row:has([value=ember]) [name=qty]').last().press('Tab')
  await page.waitForFunction(() => document.querySelector('#receipt').textContent.includes('Two lanterns, up to 40% off from 2'))
  assert.match(await page.textContent('#receipt'), /−€27\.20/)
  assert.match(await page.textContent('#receipt'), /The store keeps/)
  assert.match(await page.textContent('#receipt .not'), /Lantern week/, 'and why the other does not apply')
  await page.click('text=Make the offer')
  await page.waitForSelector('text=Every page, price and checkout that shows it follows.')

  // An order-level offer with a code, typed oddly by a buyer on a phone.
  await page.goto(program.studio('/offers?offer=new'))
  await form.locator('[name=name]').fill('Frost code')
  await form.locator('[name=kind]').selectOption('order_amount_off')
  await form.locator('[name=amount]').fill('6')
  await form.locator('[name=covers]').selectOption('all')
  await form.locator('.more > summary').click()
  await form.locator('[name=code]').fill('FROST-10')
  await page.waitForFunction(() => document.querySelector('#receipt').textContent.includes('It needs a code'))
  await page.fill('[name=try_code]', 'frost 10')
  await page.press('[name=try_code]', 'Tab')
  await page.waitForFunction(() => document.querySelector('#receipt').textContent.includes('€6.00 off the order'))
  await page.click('text=Make the offer')
  await page.waitForSelector('text=Every page, price and checkout that shows it follows.')
  const visitor = await program.open({ viewport: phone })
  await visitor.goto(program.shop('/night-flight'))
  await visitor.fill('[name=code]', ' Frost 10')
  await visitor.click('.use')
  await visitor.waitForFunction(() => document.querySelector('[data-total]').textContent === '€45.00')
  assert.match(await visitor.textContent('[data-code-say]'), /€6\.00 off the order/)
  await accessible(visitor)

  await page.click('text=End it now')
  await page.waitForSelector('text=Ended.')
  await visitor.click('.use')
  await visitor.waitForFunction(() => document.querySelector('[data-total]').textContent === '€51.00')
  assert.deepEqual(page.troubles, [])
})

test('a campaign is dragged and moved by keys on the year line', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/season?year=2026'))
  await page.locator('[data-campaign=first-winds]').scrollIntoViewIfNeeded()
  const bar = page.locator('[data-campaign=first-winds]')
  const label = () => bar.getAttribute('aria-label')
  const before = await label()
  assert.match(before, /22 March to 12 April/)
  const box = await bar.boundingBox()
  await page.mouse.move(box.x + 60, box.y + 10)
  await page.mouse.down()
  await page.mouse.move(box.x + 60 + 45, box.y + 10, { steps: 5 })
  await page.mouse.up()
  await page.waitForFunction(() =>
    /27 March to 17 April/.test(document.querySelector('[data-campaign=first-winds]').getAttribute('aria-label')),
  )
  await bar.focus()
  await page.keyboard.press('ArrowLeft')
  await page.waitForFunction(() =>
    /26 March to 16 April/.test(document.querySelector('[data-campaign=first-winds]').getAttribute('aria-label')),
  )
  assert.equal(await page.evaluate(() => document.activeElement.dataset.campaign), 'first-winds', 'the focus stays on it')
  await page.keyboard.press('Shift+ArrowRight')
  await page.waitForFunction(() =>
    /26 March to 17 April/.test(document.querySelector('[data-campaign=first-winds]').getAttribute('aria-label')),
  )
  await page.keyboard.press('Enter')
  await page.waitForURL('**campaign=first-winds')
  await page.click('text=Copy, all dates moved')
  await page.waitForURL('**year=2027')
  assert.match(await page.textContent('.yearline'), /First Winds 2027/)
  await settled(page)
  assert.deepEqual(page.troubles, [])
})

test('pictures come in many at once, and bad ones are refused by content', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/goods/ember'))
  const png = Buffer.from(
    await page.evaluate(() => {
      const c = document.createElement('canvas')
      c.width = 700
      c.height = 500
      c.getContext('2d').fillRect(10, 10, 300, 200)
      return c.toDataURL('image/png').split(',')[1]
    }),
    'base64',
  )
  await page.setInputFiles('[data-pictures-input]', [
    { name: 'one.png', mimeType: 'image/png', buffer: png },
    { name: 'two.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('not a picture at all') },
    { name: 'three.png', mimeType: 'image/png', buffer: Buffer.concat([png, Buffer.from('x')]) },
  ])
  await page.waitForSelector('#toast >> text=2 of 3 pictures kept.')
  assert.match(await page.textContent('[data-uploads] .bad'), /two.* is not a picture that can be read/s)
  assert.equal(await page.locator('[data-pictures] img').count(), 3)
  assert.deepEqual(
    page.troubles.filter((t) => !t.includes('422')),
    [],
  )
})
