import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { accessible, cards, command, desktop, fieldReady, fillIn, lands, pay, phone, publish, signIn, start, typeCard } from './program.mjs'

let program, studio
before(async () => {
  program = await start()
  studio = await signIn(program)
})
after(() => program.stop())

// takes gives the demo's checkout a form, as its owner does, and publishes it. What an
// earlier form had is taken away.
const plain = {
  product: 'ember',
  parts: '1',
  options: [],
  bumps: [{ product: 'lantern-cell', text: 'Twelve more hours of light in your pocket.' }],
  questions: [],
  quantity: 'one',
  payer: 'absent',
  phone: 'absent',
  note: 'absent',
  summary: 'beside',
  consent: '',
  account: 'no',
  transfer: 'no',
  collection: 'no',
}
let taken = ''
async function takes(form) {
  if (taken === JSON.stringify(form)) return
  taken = JSON.stringify(form)
  const steps = Object.entries({ ...plain, ...form }).map(([field, value]) => ({ op: 'set', piece: 'order-form', field, value }))
  const told = await command(studio, 'night-flight', { command: { op: 'several', steps } })
  assert.equal(told.status, 200, JSON.stringify(told))
  await publish(studio)
}
const part = (page, n) => page.waitForSelector(`[data-part="${n}"]:not([hidden])`)

// byCard pays on the till's own page, where there is no script.
async function byCard(page) {
  await pay(page)
  await page.fill('[name=number]', cards.approves)
  await page.fill('[name=expiry]', '08/31')
  await page.fill('[name=code]', '123')
  await page.locator('button[type=submit], form button').first().click()
}

for (const [size, viewport] of Object.entries({ phone, desktop }))
  for (const script of [true, false])
    test(`three parts and three bumps on a ${size} ${script ? 'with' : 'without'} script`, async () => {
      await takes({
        parts: '3',
        note: 'shown',
        bumps: [...plain.bumps, { product: 'reel', text: '' }, { product: 'plans', text: '' }],
      })
      const page = await program.open({ viewport, javaScriptEnabled: script })
      const axe = () => script && accessible(page)
      await page.goto(program.shop('/night-flight'))
      await part(page, 1)
      await page.click('[data-next]:visible') // nothing is filled in
      await page.waitForSelector('[data-error=email]:has-text("Write your email address")')
      if (script) assert.equal(await page.evaluate(() => document.activeElement.name), 'name', 'the first faulty field has the focus')
      await axe()
      await page.fill('[name=name]', 'Ines Falk')
      await page.fill('[name=email]', `ines.${size}.${script}@example.org`)
      assert.match(await page.textContent('.kept'), /keeps your name and email address/)
      await page.click('[data-next]:visible')
      await part(page, 2)
      await axe()
      await page.fill('[name=street]', '7 Lee Lane')
      await page.click('[data-back]:visible')
      await part(page, 1)
      assert.equal(await page.inputValue('[name=street]'), '7 Lee Lane', 'back loses nothing')
      await page.goBack()
      await part(page, 2)

      // Left here, and come back to.
      await page.goto(program.shop('/seven-knots'))
      await page.goto(program.shop('/night-flight'))
      assert.equal(await page.inputValue('[name=email]'), `ines.${size}.${script}@example.org`)
      assert.equal(await page.inputValue('[name=street]'), '7 Lee Lane')
      if (await page.locator('[data-part="1"]').isVisible()) await page.click('[data-next]:visible')
      await part(page, 2)
      await page.fill('[name=postcode]', '1200109')
      await page.fill('[name=town]', 'Lisbon')
      await page.click('[data-next]:visible')
      await part(page, 3)
      for (const name of ['bump', 'bump2', 'bump3']) await page.check(`[name=${name}]`)
      if (script) {
        await page.waitForFunction(() => document.querySelector('[data-total]').textContent === '€92.00')
        await axe()
        await typeCard(page, cards.approves)
        await pay(page)
      } else await byCard(page)
      await lands(page, '**/quiver-bag?order=*')
      await page.click('text=No, thank you, only my order')
      await lands(page, '**/one-kite-sleeve?order=*')
      await page.click('text=No, only my order')
      await lands(page, '**/thank-you?order=*')
      const receipt = await page.textContent('.receipt')
      for (const has of ['Ember 180', 'Spare lantern cell', 'Beech reel', 'Seven kite plans', '€92.00'])
        assert.ok(receipt.includes(has), `${has} in ${receipt}`)
      // Without script a form with something to mend is answered by a page of that status.
      assert.deepEqual(
        page.troubles.filter((t) => script || !/status of 422/.test(t)),
        [],
      )
      await page.context().close()
    })

test('a digital sale asks for name and email only, and by keys', async () => {
  await takes({ product: 'plans', bumps: [] })
  const page = await program.open({ viewport: desktop })
  await page.goto(program.shop('/night-flight'))
  await fieldReady(page)
  assert.deepEqual(await page.$$eval('[data-checkout] input:not([type=hidden])', (all) => all.map((el) => el.name)), ['name', 'email'])
  await page.focus('[name=name]')
  for (const text of ['Ines Falk', 'ines.keys@example.org', cards.approves, '0831', '123']) {
    await page.keyboard.type(text, { delay: 20 }) // as fast as hands are: a frame takes the focus a little later
    await page.keyboard.press('Tab')
  }
  await page.keyboard.press('Tab')
  await page.waitForFunction(() => document.activeElement.matches('button.act'))
  await page.keyboard.press('Enter')
  await lands(page, /thank-you\?order=|one-kite|quiver-bag/)
  assert.deepEqual(page.troubles, [])
  await page.context().close()
})

test('one of several is chosen, in a number, and the sum follows', async () => {
  await takes({
    quantity: 'chosen',
    bumps: [],
    options: [
      { product: 'ember', count: '1', words: 'One kite' },
      { product: 'ember', count: '2', words: 'Two kites', text: 'One for whom you fly with.' },
      { product: 'tern', count: '1', with: 'reel', words: 'The small one, with a reel' },
    ],
  })
  for (const viewport of [phone, desktop]) {
    const page = await program.open({ viewport })
    await page.goto(program.shop('/night-flight'))
    await page.waitForSelector('.choices')
    await accessible(page)
    assert.ok(await page.isChecked('[name=option][value="1"]'), 'the first stands chosen')
    await page.check('[name=option][value="3"]')
    await page.waitForFunction(() => document.querySelector('[data-total]').textContent === '€41.00')
    await page.fill('[name=quantity]', '2')
    await page.press('[name=quantity]', 'Tab')
    await page.waitForFunction(() => document.querySelector('[data-total]').textContent === '€82.00')
    assert.match(await page.textContent('[data-cost="2"]'), /€204\.00/, 'what the others come to follows too')
    await fillIn(page)
    await typeCard(page, cards.approves)
    await pay(page)
    await lands(page, '**/quiver-bag?order=*')
    assert.deepEqual(page.troubles, [])
    await page.context().close()
  }
})

test('another country asks otherwise, whoever pays has their own address, and nothing typed meanwhile is lost', async () => {
  await takes({ payer: 'shown', phone: 'needed' })
  const page = await program.open({ viewport: desktop })
  await page.goto(program.shop('/night-flight'))
  await page.waitForSelector('[name=country]')
  assert.ok(await page.locator('[data-apart]').isHidden())
  await page.selectOption('[name=country]', 'Spain')
  await page.fill('[name=street]', 'Calle del Viento 3') // while the fields are drawn anew
  await page.waitForSelector('[name=region]')
  assert.equal(await page.inputValue('[name=street]'), 'Calle del Viento 3')
  await page.check('[name=apart]')
  await page.waitForSelector('[data-apart]:visible')
  await page.selectOption('[name=payer_country]', 'Germany')
  await page.waitForFunction(() => document.querySelector('[name=payer_postcode]').inputMode === 'numeric')
  await accessible(page)
  const write = { name: 'Ines Falk', email: 'ines.spain@example.org', phone: '+34 910 000 000', town: 'Madrid', postcode: '10117' }
  Object.assign(write, { payer_name: 'Falk GmbH', payer_street: 'Am Wind 4', payer_postcode: '10117', payer_town: 'Berlin' })
  for (const [name, value] of Object.entries(write)) await page.fill(`[name=${name}]`, value)
  await page.selectOption('[name=region]', 'Madrid')
  await typeCard(page, cards.approves)
  await pay(page)
  await page.waitForSelector('[data-error=postcode]:has-text("not one of Madrid")')
  await page.fill('[name=postcode]', '28013')
  await typeCard(page, cards.approves)
  await pay(page)
  await page.waitForSelector('[data-notice]:not([hidden]), body:has-text("quiver")')
  await lands(page, '**/quiver-bag?order=*')
  assert.deepEqual(page.troubles, [])
  await studio.goto(program.studio('/orders'))
  await studio.click('.order-list a >> nth=0')
  await studio.waitForSelector('text=Who and where')
  const whole = await studio.textContent('main')
  for (const has of ['Calle del Viento 3', '28013 Madrid', 'Falk GmbH', '10117 Berlin', '+34 910 000 000'])
    assert.ok(whole.includes(has), has)
  await page.context().close()
})

test('the checkout’s slip is a picture of its parts, switched and moved in it, and the proof walks through them', async () => {
  await takes({})
  const page = studio
  await page.goto(program.studio('/pages/night-flight'))
  await page.click('[data-piece=order-form] > .telling')
  await page.waitForSelector('.sketch')
  assert.equal(await page.locator('.sketch-sheet').count(), 1)
  await page.click('.sketch [data-set-to="3"]')
  await page.waitForFunction(() => document.querySelectorAll('.sketch-sheet').length === 3)
  assert.equal(await page.evaluate(() => document.activeElement.dataset.setTo), '3', 'the focus stays')
  const box = (field) => page.locator(`.sketch [data-set-field="${field}"]`)
  assert.match(await box('phone').getAttribute('class'), /absent/)
  await box('phone').focus()
  await page.keyboard.press('Enter')
  await page.waitForSelector('.sketch [data-set-field="phone"].needed')
  await page.waitForFunction(() => document.activeElement.dataset.setField === 'phone')
  await page.keyboard.press('Enter')
  await page.waitForSelector('.sketch [data-set-field="phone"].shown')
  await page.click('.sketch [aria-label="Where it goes: move down"]')
  await page.waitForFunction(() => document.querySelectorAll('.sketch-sheet')[1].querySelector('b').textContent === 'What else')
  await accessible(page)
  const proof = page.frameLocator('iframe[title="Desktop proof"]')
  await proof.locator('[data-next]:visible').click()
  await proof.locator('[data-part="2"]:visible').waitFor()
  await proof.locator('[data-back]:visible').click()
  await proof.locator('[data-part="1"]:visible').waitFor()
  assert.deepEqual(page.troubles, [])
})

for (const [size, viewport] of Object.entries({ phone, desktop }))
  for (const script of [true, false])
    test(`five goods from two lists in one order on a ${size} ${script ? 'with' : 'without'} script`, async () => {
      const page = await program.open({ viewport, javaScriptEnabled: script })
      await page.goto(program.shop('/spares'))
      if (script) await accessible(page)
      const many = (id) => page.locator(`[name="put:${id}"]`)
      if (script) {
        // Pressed, and by keys alone.
        for (const id of ['lantern-cell', 'spar-kit', 'plans'])
          await page
            .locator('.put', { has: page.locator(`[name="put:${id}"]`) })
            .locator('[data-put="1"]')
            .click()
        await many('tern').focus()
        await page.keyboard.press('ArrowUp')
        await page.keyboard.press('ArrowUp')
        await page.keyboard.press('Tab')
        await page.keyboard.press('Shift+Tab')
        await page.keyboard.press('Shift+Tab')
        await page.keyboard.press('Enter') // one fewer
        await many('repair').fill('99')
        await many('repair').press('Tab')
        await page.waitForFunction(() => document.querySelector('[data-total]')?.textContent === '€276.00')
        assert.equal(await many('repair').inputValue(), '20', 'as many as are sold at once')
        await many('repair').fill('1')
        await many('repair').press('Tab')
        await page.waitForSelector('.carry:has-text("5 pieces in your order"):has-text("€67.00")')
        await accessible(page)
        await page.click('.carry')
        await page.waitForSelector('.carry', { state: 'hidden' })
      } else {
        for (const id of ['lantern-cell', 'spar-kit', 'plans', 'tern', 'repair']) await many(id).fill('1')
        await page.locator('.put-in button').first().click()
        await page.waitForURL('**/spares/checkout#checkout')
      }
      assert.equal((await page.textContent('[data-total]')).trim(), '€67.00')
      await fillIn(page)
      if (script) {
        await typeCard(page, cards.approves)
        await pay(page)
      } else await byCard(page)
      await lands(page, '**/thank-you-all-year?order=*')
      const receipt = await page.textContent('.receipt')
      for (const has of ['Spare lantern cell', 'Spare spars, six', 'Seven kite plans', 'Tern 60', 'Repair kit', '€67.00'])
        assert.ok(receipt.includes(has), `${has} in ${receipt}`)
      assert.deepEqual(page.troubles, [])
      await page.context().close()
    })

for (const [size, viewport] of Object.entries({ phone, desktop }))
  for (const script of [true, false])
    test(`a transfer on a ${size} ${script ? 'with' : 'without'} script, confirmed by the owner`, async () => {
      await takes({ account: 'yes', transfer: 'yes', collection: 'yes' })
      const page = await program.open({ viewport, javaScriptEnabled: script })
      await page.goto(program.shop('/night-flight'))
      if (script) {
        // By keys: down to what is collected, where no address is asked, and up again.
        await page.focus('[name=way][value=card]')
        for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowDown')
        await page.waitForSelector('[data-totals]:has-text("you collect it")')
        await page.waitForSelector('[name=street]', { state: 'hidden' })
        assert.ok(await page.locator('[data-by-card]').isHidden())
        await accessible(page)
        await page.keyboard.press('ArrowUp')
        await page.waitForSelector('[name=street]:visible')
      } else await page.check('[name=way][value=transfer]')
      await fillIn(page)
      await pay(page)
      await lands(page, '**/orders/*')
      assert.match(await page.textContent('main'), /Please transfer €51\.00 to/)
      if (script) await accessible(page)
      const reference = await page.textContent('.reference')
      await studio.goto(program.studio(`/orders?q=${encodeURIComponent(reference)}`))
      await studio.click('.order-list a')
      await accessible(studio)
      await studio.click('text=The money came')
      await studio.waitForSelector('h1:has-text("Order 1")')
      await page.reload()
      await lands(page, '**/thank-you?order=*')
      assert.deepEqual(page.troubles, [])
      await page.context().close()
    })

test('whoever pays on the till’s own page is led there and back', async () => {
  await takes({ account: 'yes' })
  const page = await program.open({ viewport: phone })
  await page.goto(program.shop('/night-flight'))
  await page.check('[name=way][value=account]')
  await fillIn(page)
  await pay(page)
  await lands(page, '**/confirm/*')
  await accessible(page)
  // The page is closed, and the order is found again from the checkout.
  await page.goto(program.shop('/night-flight'))
  await page.check('[name=way][value=account]')
  await fillIn(page)
  await pay(page)
  await lands(page, '**/confirm/*')
  await page.click('text=Confirm the payment')
  await lands(page, '**/thank-you?order=*')
  assert.deepEqual(page.troubles, [])
  await page.context().close()
})

for (const [size, viewport] of Object.entries({ phone, desktop }))
  for (const script of [true, false])
    test(`a list is turned and narrowed on a ${size} ${script ? 'with' : 'without'} script`, async () => {
      const page = await program.open({ viewport, javaScriptEnabled: script })
      await page.goto(program.shop('/everything'))
      if (script) await accessible(page)
      const first = await page.locator('.card .what b').allTextContents()
      assert.equal(first.length, 8)
      await page.click('.list-pages >> text=2')
      await page.waitForURL('**/everything?page=2#e-shelf')
      assert.equal((await page.locator('.card .what b').allTextContents()).filter((name) => first.includes(name)).length, 0)
      await page.click('.list-facet:has-text("Lines") summary')
      await page.click('.list-facet[open] a[href*="in-lines=4"]')
      await page.waitForURL('**/everything?in-lines=4#e-shelf')
      assert.match(await page.textContent('.list-count'), /3 goods/)
      if (script) await accessible(page)
      await page.click('.list-sort summary')
      await page.click('text=the cheapest first')
      assert.match(await page.locator('.card .what b').first().textContent(), /Loom, four line, ex-demo/)
      await page.click('text=Show all')
      await page.waitForURL('**/everything?by=cheap#e-shelf')
      assert.deepEqual(page.troubles, [])
      await page.context().close()
    })

test('what is put in goes along to the next page of a list', async () => {
  const told = await command(studio, 'spares', {
    command: {
      op: 'several',
      steps: [
        { op: 'set', piece: 'd-parts-shelf', field: 'show', value: '4' },
        { op: 'set', piece: 'd-parts-shelf', field: 'rest', value: 'pages' },
      ],
    },
  })
  assert.equal(told.status, 200, JSON.stringify(told))
  await studio.goto(program.studio('/pages/spares'))
  await publish(studio)
  const page = await program.open({ viewport: desktop })
  await page.goto(program.shop('/spares'))
  await page.fill('[name="put:lantern-cell"]', '2')
  await page.fill('[name=name]', 'Ines Falk')
  await page.click('.list-pages >> text=2')
  await page.waitForURL('**/spares/checkout?page=2#d-parts-shelf')
  assert.equal(await page.inputValue('[name=name]'), 'Ines Falk')
  await page.fill('[name="put:reel"]', '1')
  await page.press('[name="put:reel"]', 'Tab')
  await page.waitForFunction(() => document.querySelector('[data-total]')?.textContent === '€40.00')
  await accessible(page)
  // Enter in a field means the order, not the next page of the list.
  await fillIn(page)
  await typeCard(page, cards.approves)
  await page.press('[name=town]', 'Enter')
  await lands(page, '**/thank-you-all-year?order=*')
  assert.match(await page.textContent('.receipt'), /Spare lantern cell[^]*2 ×[^]*Beech reel[^]*€40\.00/)
  assert.deepEqual(page.troubles, [])
  await page.context().close()
})
