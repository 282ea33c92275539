// Routes: a funnel built from nothing, walked by sixty browsers; offers after paying;
// a page outside, on another registrable domain; the map by keys and by pulling.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { person } from './person.mjs'
import { accessible, bought, cards, desktop, fillIn, phone, post, publish, saved, signIn, start } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

const figures = (page) =>
  page.$$eval('[data-step]', (steps) =>
    Object.fromEntries(
      steps.map((s) => [s.querySelector('.name').textContent.trim(), Number(s.querySelector('.count').textContent.replace(/,/g, ''))]),
    ),
  )

test('an opt-in, two bridges ten to five and an offer stand in under four minutes of work, and sixty walk them', async () => {
  const page = await signIn(program)
  const she = person(page)
  await she.click(page.locator('nav >> text=Season'))
  await she.type(page.locator('#season-body [name=name]'), 'First Winds')
  await she.click(page.locator('text=Put it into the year'))
  await page.waitForSelector('.bar:has-text("First Winds")')
  await she.click(page.locator('.switch summary'))
  await she.click(page.locator('button[name=campaign]', { hasText: 'First Winds' }))
  await she.click(page.locator('nav >> text=Routes'))
  await page.waitForSelector('.plan-card')
  await accessible(page)
  const plan = page.locator('.plan-card', { hasText: 'Two bridges to one offer' })
  she.look()
  await she.click(plan.locator('summary'))
  for (const [step, name] of Object.entries({
    'opt-in': 'Spring signs',
    bridge: 'The first way out',
    other: 'The second way out',
    sales: 'A kite for spring',
  }))
    await she.type(plan.locator(`[name="name_${step}"]`), name)
  await she.click(plan.locator('button'))
  await page.waitForSelector('[data-step]')
  await accessible(page)
  const headlines = {
    'Spring signs': 'Read the spring wind',
    'The first way out': 'Out before breakfast',
    'The second way out': 'Out after supper',
    'A kite for spring': 'Light as a leaf',
    'Thank you': 'It is on its way',
  }
  for (const [name, words] of Object.entries(headlines)) {
    await she.click(page.locator('[data-step]', { has: page.locator(`.name:text("${name}")`) }))
    await page.locator('#step-head', { hasText: name }).waitFor()
    await she.click(page.locator('text=Write its page'))
    await page.waitForURL(/\/pages\/[a-z0-9]+$/)
    await she.type(page.locator('.ed-h1[data-field=text]').first(), words)
    await saved(page)
    await she.click(page.locator('nav >> text=Routes'))
    await page.waitForSelector('[data-step]')
  }
  await she.click(page.locator('text=Publish…'))
  await she.click(page.locator('#panel >> button:has-text("Publish")').first())
  await page.waitForSelector('text=/Edition 1 (is )?live/')
  console.log(`a funnel with two bridges: ${she.seconds.toFixed(0)} s by the keystroke-level model`)
  assert.ok(she.seconds < 240, `${she.seconds} s`)

  // Sixty browsers without script, each a visitor of its own; every third goes on to the
  // offer, every tenth comes back and does it all again.
  const walked = { 'Spring signs': 60, 'The first way out': 0, 'The second way out': 0, 'A kite for spring': 0 }
  const walk = async (i) => {
    const visitor = await program.open({ viewport: i % 2 ? phone : desktop, javaScriptEnabled: false })
    // Its identity is seeded: a browser's secret has 26 letters and digits.
    await visitor.context().addCookies([{ name: 'visitor', value: `walker${String(i).padStart(20, '0')}`, url: program.shop('/') }])
    for (const again of i % 10 ? [false] : [false, true]) {
      await visitor.goto(program.shop('/spring-signs'))
      await visitor.locator('[name=email]').first().fill(`walker-${i}@example.org`)
      await visitor.locator('[name=consent]').first().check()
      await visitor.locator('form button').first().click()
      await visitor.waitForURL(/way-out/)
      const bridge = /first/.test(visitor.url()) ? 'The first way out' : 'The second way out'
      if (!again) walked[bridge]++
      if (i % 3) continue
      await visitor.locator('a[href$="/on/yes"]').click()
      await visitor.waitForURL(/a-kite-for-spring/)
      if (!again) walked['A kite for spring']++
    }
    await visitor.context().close()
  }
  for (let i = 0; i < 60; i += 6) await Promise.all([0, 1, 2, 3, 4, 5].map((n) => walk(i + n)))
  // The numbers on the map follow by themselves.
  await page.goto(program.studio('/routes?days=7'))
  await page.waitForFunction(
    (want) => [...document.querySelectorAll('[data-step] .count')].reduce((sum, c) => sum + Number(c.textContent), 0) === want,
    Object.values(walked).reduce((sum, n) => sum + n),
  )
  const shown = await figures(page)
  for (const [name, n] of Object.entries(walked)) {
    const key = Object.keys(shown).find((k) => name.replace(/ /g, '').startsWith(k.replace(/ /g, '').slice(0, 14)))
    assert.equal(shown[key], n, `${name}: ${JSON.stringify(shown)}`)
  }
  assert.ok(walked['The first way out'] > walked['The second way out'], 'ten against five')
  assert.deepEqual(page.troubles, [])
})

for (const [size, viewport] of Object.entries({ phone, desktop }))
  for (const javaScriptEnabled of [true, false])
    test(`the bag declined and the sleeve taken, on a ${size} ${javaScriptEnabled ? 'with' : 'without'} script, by keys`, async () => {
      const visitor = await program.open({ viewport, javaScriptEnabled })
      if (javaScriptEnabled) await bought(program, visitor)
      else {
        await visitor.goto(program.shop('/night-flight'))
        await fillIn(visitor)
        await visitor.locator('[data-checkout] button.act, form[action$="/checkout"] button.act').first().click()
        await visitor.waitForURL(/till\./)
        await visitor.fill('[name=number]', cards.approves)
        await visitor.fill('[name=expiry]', '08/31')
        await visitor.fill('[name=code]', '123')
        await visitor.locator('button').first().click()
      }
      await visitor.waitForURL('**/quiver-bag?order=*')
      const press = async (words) => {
        const button = visitor.locator('button', { hasText: words })
        await button.focus()
        await visitor.keyboard.press('Enter')
      }
      await press('No, thank you')
      await visitor.waitForURL('**/one-kite-sleeve?order=*')
      if (javaScriptEnabled) await accessible(visitor)
      await press('Yes, add the sleeve')
      await visitor.waitForURL('**/thank-you?order=*')
      assert.match(await visitor.textContent('.receipt'), /One-kite sleeve/)
      assert.doesNotMatch(await visitor.textContent('.receipt'), /Quiver bag/)
      await visitor.goBack()
      assert.match(visitor.url(), /thank-you|one-kite-sleeve|quiver-bag/)
      assert.deepEqual(visitor.troubles, [])
      await visitor.context().close()
    })

test('a page outside, on another registrable domain, is joined by one line and leads back', async () => {
  const page = await signIn(program)
  await post(page, '/campaign', { campaign: 'frost-lanterns' })
  await page.goto(program.studio('/routes?step=harbour-lamps'))
  const before = await figures(page)
  await page.fill('form[hx-post="/routes/step"] [name=address]', `http://harbour-lamps.example:${program.port}/`)
  await page.keyboard.press('Tab')
  await page.waitForSelector('[data-undo]:not([disabled])')
  await publish(page)
  const visitor = await program.open({ viewport: phone })
  await visitor.goto(program.shop('/ask-the-wind'))
  await visitor.click('text=See our neighbours’ harbour lamps')
  await visitor.waitForURL(/^http:\/\/harbour-lamps\.example.*walk=/)
  const reported = visitor.waitForResponse((r) => r.url().endsWith('/outside/harbour-lamps/seen')).catch(() => null)
  await visitor.reload()
  await reported
  await visitor.click('text=Back to the kites')
  await visitor.waitForURL(program.shop('/night-flight'))
  await page.goto(program.studio('/routes?step=harbour-lamps&days=7'))
  await page.waitForFunction(
    (want) =>
      [...document.querySelectorAll('[data-step]')].some(
        (s) => s.dataset.step === 'harbour-lamps' && s.querySelector('.count').textContent === want,
      ),
    String(before['Harbour lamps'] + 1),
  )
  assert.deepEqual(visitor.troubles, [])
  await visitor.context().close()
})

test('the map by keys, by pulling a line, and taken back', async () => {
  const page = await signIn(program)
  await post(page, '/campaign', { campaign: 'frost-lanterns' })
  await page.goto(program.studio('/routes?days=7&step=seven-knots'))
  await accessible(page)
  const step = (id) => page.locator(`[data-step="${id}"]`)
  await step('seven-knots').focus()
  await page.keyboard.press('ArrowRight')
  assert.equal(await page.evaluate(() => document.activeElement.dataset.step), 'first-gust')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowLeft')
  assert.equal(await page.evaluate(() => document.activeElement.dataset.step), 'seven-knots')
  await page.keyboard.press('Enter')
  await page.waitForSelector('#step-head:text("Seven knots")')

  // Moved by Alt and an arrow, and back by Ctrl+Z.
  await step('first-gust').focus()
  const at = () => step('first-gust').locator('.sheet').getAttribute('y')
  const was = await at()
  await page.keyboard.press('Alt+ArrowDown')
  await page.waitForFunction((was) => document.querySelector('[data-step="first-gust"] .sheet')?.getAttribute('y') !== was, was)
  assert.equal(await page.evaluate(() => document.activeElement.dataset.step), 'first-gust', 'the focus stays')
  await page.keyboard.press('Control+z')
  await page.waitForFunction((was) => document.querySelector('[data-step="first-gust"] .sheet')?.getAttribute('y') === was, was)

  // A line's end is pulled from the offer to the other bridge.
  const end = page.locator('[data-end][data-from="first-gust"]')
  const from = await end.boundingBox()
  const to = await step('ask-the-wind').boundingBox()
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2)
  await page.mouse.down()
  await page.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 8 })
  await page.mouse.up()
  await page.waitForSelector('[data-end][data-from="first-gust"][data-was="ask-the-wind"]', { state: 'attached' })
  await page.click('[data-undo]')
  await page.waitForSelector('[data-end][data-from="first-gust"][data-was="night-flight"]', { state: 'attached' })

  // Written in the sentence, with a share that is no number first.
  await step('seven-knots').click()
  await page.waitForSelector('#step-head:text("Seven knots")')
  await page.locator('[name=w0_share]').first().fill('ten')
  await page.keyboard.press('Tab')
  await page.waitForSelector('#toast:has-text("A share is a whole number"), [role=alert]:has-text("A share is a whole number")')
  await page.locator('[name=w0_share]').first().fill('7')
  await page.keyboard.press('Tab')
  await page.waitForFunction(() => document.querySelector('.fork .share').textContent === '7')
  await page.click('[data-undo]')
  await page.waitForFunction(() => document.querySelector('.fork .share').textContent === '10')

  // Rehearsed, and a list of sentences on a phone.
  await page.click('[data-rehearse]')
  await page.waitForSelector('text=They agree within four standard errors.')
  await accessible(page)
  await page.setViewportSize(phone)
  await page.goto(program.studio('/routes'))
  await page.waitForSelector('.routes-list')
  assert.match(await page.textContent('.routes-list'), /Who signs up goes to The first gust, 10, or Ask the wind, 5\./)
  await accessible(page)
  const wide = await page.evaluate(() => document.documentElement.scrollWidth)
  assert.ok(wide <= 392, `nothing scrolls sideways: ${wide}`)
  // The refusal of a share is the one thing that the browser notes.
  assert.deepEqual(
    page.troubles.filter((t) => !/422/.test(t)),
    [],
  )
})
