import assert from 'node:assert/strict'
import { test } from 'node:test'
import { cards, command, fillIn, freePort, pay, phone, publish, run, saved, signIn, start, typeCard } from './program.mjs'

// The forms of a checkout in which a buyer can be when the program dies: how it is set up,
// how it is filled in, what it charges, and where it leads.
const forms = {
  'a plain checkout': { at: 'night-flight', total: '€51.00', fill: fillIn, after: ['quiver-bag', 'one-kite-sleeve', 'thank-you'] },
  'a checkout in three parts with three bumps': {
    at: 'night-flight',
    piece: 'order-form',
    fields: { parts: '3', bumps: ['lantern-cell', 'reel', 'plans'].map((product) => ({ product, text: 'Take it along.' })) },
    total: '€92.00',
    after: ['quiver-bag', 'one-kite-sleeve', 'thank-you'],
    async fill(page) {
      await page.fill('[name=name]', 'Ines Falk')
      await page.fill('[name=email]', 'ines.parts@example.org')
      await page.click('[data-next]:visible')
      await page.waitForSelector('[data-part="2"]:not([hidden])')
      for (const [name, value] of Object.entries({ street: '7 Lee Lane', postcode: '1200-109', town: 'Lisbon' }))
        await page.fill(`[name=${name}]`, value)
      await page.click('[data-next]:visible')
      await page.waitForSelector('[data-part="3"]:not([hidden])')
      for (const name of ['bump', 'bump2', 'bump3']) await page.check(`[name=${name}]`)
      await page.waitForFunction(() => document.querySelector('[data-total]')?.textContent === '€92.00')
    },
  },
  'goods of two lists': {
    at: 'spares',
    total: '€69.00',
    after: ['thank-you-all-year'],
    async fill(page) {
      await page.fill('[name="put:tern"]', '3')
      await page.fill('[name="put:plans"]', '1')
      await page.press('[name="put:plans"]', 'Tab')
      await page.waitForFunction(() => document.querySelector('[data-total]')?.textContent === '€69.00')
      await fillIn(page)
    },
  },
}

// The card of this test is charged, and then the till is silent for longer than
// the program's patience: in that time the program is killed.
for (const [name, form] of Object.entries(forms))
  test(`killed between charge and confirmation of ${name}, the order is there and charged once`, async () => {
    const program = await start()
    try {
      if (form.fields) {
        const studio = await signIn(program)
        const steps = Object.entries(form.fields).map(([field, value]) => ({ op: 'set', piece: form.piece, field, value }))
        const told = await command(studio, form.at, { command: { op: 'several', steps } })
        assert.equal(told.status, 200, JSON.stringify(told))
        await publish(studio)
        await studio.context().close()
      }
      const page = await program.open({ viewport: phone })
      await page.goto(program.shop(`/${form.at}`))
      await form.fill(page)
      await typeCard(page, cards.timesOut)
      await pay(page)
      const ledger = await program.open({ viewport: phone })
      const charged = async () => {
        await ledger.goto(program.till('/'))
        return ledger.locator('tr', { hasText: form.total }).filter({ hasNotText: 'order past-' }).count() // the demo has a past
      }
      while ((await charged()) === 0);
      await program.kill()
      await page.waitForSelector('[data-notice]:not([hidden])')
      assert.match(await page.textContent('[data-notice]'), /did not answer.*never charged twice/s)
      await program.restart()
      await typeCard(page, cards.approves).catch(() => {})
      await pay(page) // the buyer presses again; the first order is met, not doubled
      // By now the till's webhook may have settled it, or the buyer's page will.
      const found = page.getByRole('link', { name: 'See your order' })
      await Promise.race([found.waitFor({ timeout: 60_000 }), page.waitForURL(/orders|\?order=/)])
      if (await found.count()) {
        assert.match(await page.textContent('[data-notice]'), /You have already ordered this.*Nothing was charged again/s)
        await found.press('Enter')
      }
      for (const [i, address] of form.after.entries()) {
        await page.waitForURL(`**/${address}?order=*`, { timeout: 60_000 })
        if (i === 0) assert.equal(await charged(), 1)
        if (i < form.after.length - 1) await page.click('text=/^No,/')
      }
      assert.ok((await page.textContent('.receipt tfoot')).includes(form.total))
    } finally {
      await program.stop()
    }
  })

// The same at each offer behind it: the card that was kept is charged, the till is
// silent, and the program is killed before it hears.
for (const [place, address, yes, amount, has] of [
  ['the upsell', 'quiver-bag', 'Yes, add the quiver bag', '€23.80', /Quiver bag/],
  ['the downsell', 'one-kite-sleeve', 'Yes, add the sleeve', '€11.90', /One-kite sleeve/],
])
  test(`killed between charge and confirmation at ${place}, it is added and charged once`, async () => {
    const program = await start()
    try {
      const page = await program.open({ viewport: phone })
      await page.goto(program.shop('/night-flight'))
      await fillIn(page)
      await typeCard(page, cards.timesOut)
      await pay(page)
      await page.waitForURL('**/quiver-bag?order=*', { timeout: 60_000 }) // once the program has asked the till again
      if (address !== 'quiver-bag') await page.click('text=No, thank you')
      await page.waitForURL(`**/${address}?order=*`)
      const order = new URL(page.url()).search
      const ledger = await program.open({ viewport: phone })
      const charged = async () => {
        await ledger.goto(program.till('/'))
        return ledger.locator('tr', { hasText: amount }).filter({ hasNotText: 'order past-' }).count()
      }
      const pressed = page.locator('button', { hasText: yes }).click({ noWaitAfter: true })
      while ((await charged()) === 0);
      await program.kill()
      await pressed.catch(() => {})
      await program.restart()
      // In another window of the same browser: the first one is still on its way to an error.
      const later = await page.context().newPage()
      for (let again = 0; again < 2; again++) {
        await later.goto(program.shop(`/${address}${order}`))
        await later.waitForURL('**/thank-you?order=*', { timeout: 60_000 })
      }
      // The till's news comes again, or the reconciling job asks: then the receipt has it.
      for (let i = 0; i < 200 && !(await later.textContent('.receipt')).includes(amount); i++) await later.reload()
      assert.match(await later.textContent('.receipt'), has)
      assert.equal(await charged(), 1)
    } finally {
      await program.stop()
    }
  })

test('what keeps the program from starting is said in one sentence', async () => {
  const program = await start()
  try {
    const twice = run('demo', { PORT: program.env.PORT, CHRYSAGON_DATA: '.data/e2e-none' })
    assert.equal(await twice.ended, 1)
    assert.match(twice.said(), /^chrysagon: port \d+ is in use by another program; .*PORT\n$/)
    const same = run('demo', { PORT: String(await freePort()), CHRYSAGON_DATA: program.env.CHRYSAGON_DATA })
    assert.equal(await same.ended, 1)
    assert.match(same.said(), /^chrysagon: another copy of Chrysagon is using the data folder .*\n$/)
    const away = run('demo', { PORT: String(await freePort()), DATABASE_URL: 'postgres://x:y@127.0.0.1:1/x' })
    assert.equal(await away.ended, 1)
    assert.match(away.said(), /^chrysagon: the database at 127\.0\.0\.1:1 cannot be reached .*\n$/)
    const wrong = run('demo', { PORT: 'eighty' })
    assert.equal(await wrong.ended, 1)
    assert.match(wrong.said(), /^chrysagon: PORT is "eighty"/)
  } finally {
    await program.stop()
  }
})

// The program and the browser both die while somebody types: what was typed up
// to a second before is there afterwards.
test('killed while typing, at most the last second is lost', async () => {
  const program = await start()
  try {
    for (const after of [40, 75, 110]) {
      const page = await signIn(program)
      await page.goto(program.studio('/pages/night-flight'))
      const headline = page.locator('[data-piece=headline] [data-field=text]')
      await headline.fill('')
      await saved(page)
      await headline.click()
      const typed = [] // what stood there, and when
      let text = ''
      for (let i = 0; i < after; i++) {
        const sign = String.fromCharCode(97 + (i % 26))
        await page.keyboard.type(sign)
        text += sign
        typed.push([performance.now(), text])
      }
      // A second, or three answers of a machine that is slower than that.
      const slow = await page.evaluate(() =>
        Math.max(
          ...performance
            .getEntriesByType('resource')
            .filter((e) => e.name.includes('/commands'))
            .map((e) => e.duration),
        ),
      )
      const killed = performance.now() - Math.max(0, 3 * slow - 1000)
      await program.kill()
      await page.context().close()
      await program.restart()
      const again = await signIn(program)
      await again.goto(program.studio('/pages/night-flight'))
      const kept = await again.locator('[data-piece=headline] [data-field=text]').innerText()
      const must = typed.findLast(([at]) => at <= killed - 1000)?.[1] ?? ''
      assert.ok(text.startsWith(kept.trim()), `“${kept}” is the beginning of what was typed`)
      assert.ok(kept.trim().length >= must.length, `“${kept}” was kept of “${must}”`)
      await again.context().close()
    }
  } finally {
    await program.stop()
  }
})
