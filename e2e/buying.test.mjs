import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { accessible, cards, desktop, fillIn, pay, phone, signIn, start, typeCard } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

for (const [size, viewport] of Object.entries({ phone, desktop }))
  for (const answer of ['Yes, add the quiver bag', 'No, thank you, only my order'])
    test(`buying on a ${size}, ${answer}`, async () => {
      const page = await program.open({ viewport })
      await page.goto(program.shop('/night-flight'))
      await page.waitForFunction(() => document.querySelector('[data-timer] b').textContent !== '–')
      await accessible(page)
      await page.click('text=Send me my lantern kite')
      assert.equal(await page.isChecked('[name=bump]'), false, 'the bump is never ticked beforehand')
      await page.check('[name=bump]')
      await page.waitForFunction(() => document.querySelector('[data-total]').textContent === '€58.00')
      assert.match(await page.textContent('button.act'), /€58\.00/, 'the button follows')

      await pay(page) // nothing filled in
      await page.waitForSelector('[aria-invalid=true]')
      assert.match(await page.textContent('[data-error=name]'), /Write your name/)
      assert.match(await page.textContent('[data-error=card]'), /Write the card number/)
      await accessible(page)

      await fillIn(page)
      await typeCard(page, cards.declines)
      await pay(page)
      await page.waitForSelector('[data-notice]:not([hidden])')
      assert.match(await page.textContent('[data-notice]'), /declined the payment\. Nothing was charged/)
      assert.equal(await page.inputValue('[name=street]'), '7 Lee Lane', 'nothing is lost')
      await typeCard(page, cards.approves)
      await pay(page)

      await page.waitForURL('**/quiver-bag?order=*')
      await accessible(page)
      await page.click(`text=${answer}`)
      if (answer.startsWith('No')) {
        await page.waitForURL('**/one-kite-sleeve?order=*')
        await page.click('text=No, only my order')
      }
      await page.waitForURL('**/thank-you?order=*')
      await accessible(page)
      const total = answer.startsWith('Yes') ? '€81.80' : '€58.00'
      assert.match(await page.textContent('.receipt tfoot'), new RegExp(total.replace('.', '\\.')))
      assert.match(await page.textContent('.receipt'), /Spare lantern cell/)
      assert.match(await page.textContent('.mails'), /Gustwell Kiteworks <hello@gustwell\.example>/)

      await page.goBack() // the back button leads nowhere else
      await page.goto(program.shop('/night-flight'))
      await fillIn(page)
      await typeCard(page, cards.approves)
      await pay(page)
      await page.waitForSelector('[data-notice]:not([hidden])')
      assert.match(await page.textContent('[data-notice]'), /You have already ordered this.*Nothing was charged again/s)
      assert.deepEqual(page.troubles, [])
      await page.context().close()
    })

test('the confirmation can be read in the letterbox', async () => {
  const page = await program.open({ viewport: phone })
  const number = await buyOnce(page)
  await waitFor(async () => {
    await page.goto(program.letterbox('/'))
    return page.locator(`text=Your order ${number} at Gustwell Kiteworks`).count()
  })
  await accessible(page)
  await page.click(`text=Your order ${number} at Gustwell Kiteworks`)
  assert.match(await page.frameLocator('iframe').locator('body').textContent(), /Thank you, Ines Falk/)
  await accessible(page)
  await page.goto(program.till('/'))
  assert.match(await page.textContent('table'), /charged/)
  await accessible(page)
})

async function buyOnce(page) {
  await page.goto(program.shop('/night-flight'))
  await fillIn(page)
  await typeCard(page, cards.approves)
  await pay(page)
  await page.waitForURL('**/quiver-bag?order=*')
  await page.click('text=No, thank you')
  await page.waitForURL('**/one-kite-sleeve?order=*')
  await page.click('text=No, only my order')
  await page.waitForURL('**/thank-you?order=*')
  return (await page.textContent('.receipt h2')).match(/\d+/)[0]
}

// waitFor asks until something holds; what it asks takes its time.
async function waitFor(holds) {
  for (let i = 0; i < 100; i++) if (await holds()) return
  assert.fail('it never came')
}

test('a card that must be confirmed', async () => {
  const page = await program.open({ viewport: phone })
  await page.goto(program.shop('/night-flight'))
  await fillIn(page)
  await typeCard(page, cards.confirms)
  await pay(page)
  await page.waitForURL('**/confirm/*')
  await accessible(page)
  await page.click('text=Confirm the payment')
  await page.waitForURL('**/quiver-bag?order=*')
})

test('buying without script', async () => {
  const page = await program.open({ viewport: phone, javaScriptEnabled: false })
  await page.goto(program.shop('/night-flight'))
  assert.match(await page.textContent('.written'), /Until \w+day \d+ \w+ \d{4}, 23:59/, 'the timer is a written moment')
  assert.equal(await page.isVisible('.clock'), false)
  await pay(page)
  assert.match(await page.textContent('[data-error=name]'), /Write your name/)
  await fillIn(page)
  await page.check('[name=bump]')
  await pay(page)
  await page.waitForURL('**/card?return=*')
  await page.fill('[name=number]', cards.approves)
  await page.fill('[name=expiry]', '08/31')
  await page.fill('[name=code]', '123')
  await page.click('text=Go on')
  await page.waitForURL('**/quiver-bag?order=*')
  await page.click('text=Yes, add')
  await page.waitForURL('**/thank-you?order=*')
  assert.match(await page.textContent('.receipt tfoot'), /€81\.80/)
})

test('at the deadline the open page changes by itself and keeps what was typed', async () => {
  const studio = await signIn(program)
  const page = await program.open({ viewport: phone })
  await moveDeadline(studio, 9000)
  await page.goto(program.shop('/night-flight'))
  assert.match(await page.textContent('.price'), /€51\.00/)
  await page.fill('[name=name]', 'Typed before')
  await page.waitForFunction(() => document.querySelector('.price strong').textContent === '€68.00')
  await page.waitForFunction(() => document.querySelector('[data-total]').textContent === '€68.00')
  assert.equal(await page.isVisible('.timer'), false, 'the timer is gone')
  assert.equal(await page.inputValue('[name=name]'), 'Typed before')
  await moveDeadline(studio, 96 * 3600 * 1000)
})

async function moveDeadline(studio, ms) {
  const at = new Intl.DateTimeFormat('sv-SE', { timeZone: 'Europe/Lisbon', dateStyle: 'short', timeStyle: 'medium' })
    .format(new Date(Date.now() + ms))
    .replace(' ', 'T')
  await studio.evaluate(async (at) => {
    const form = new URLSearchParams({ csrf: document.body.dataset.csrf, id: 'lantern-friday', name: 'Lantern Friday', at })
    await fetch('/deadlines', { method: 'POST', body: form })
  }, at)
}

test('buying with the keyboard alone', async () => {
  const page = await program.open({ viewport: desktop })
  await page.goto(program.shop('/night-flight'))
  await page.locator('iframe[title^="Card details"]').waitFor()
  await page.focus('[name=name]')
  for (const text of ['Ines Falk', 'ines@example.org', 'Portugal', '7 Lee Lane', '1200-109', 'Lisbon', cards.approves, '0831', '123']) {
    await page.keyboard.type(text)
    await page.keyboard.press('Tab')
  }
  await page.keyboard.press('Tab') // past the till's hint, to the button
  await page.waitForFunction(() => document.activeElement.matches('button.act'))
  await page.keyboard.press('Enter')
  await page.waitForURL('**/quiver-bag?order=*')
  await page.focus('text=No, thank you, only my order')
  await page.keyboard.press('Enter')
  await page.waitForURL('**/one-kite-sleeve?order=*')
  await page.focus('text=No, only my order')
  await page.keyboard.press('Enter')
  await page.waitForURL('**/thank-you?order=*')
})

test('an address that looks mistyped is asked about at its field, and never corrected', async () => {
  const page = await program.open({ viewport: phone })
  await page.goto(program.shop('/night-flight'))
  await fillIn(page)
  await page.fill('[name=email]', 'ines@gmial.com')
  await page.keyboard.press('Tab')
  const asked = page.locator('[data-meant]')
  await asked.filter({ hasText: 'Did you mean ines@gmail.com?' }).waitFor()
  await accessible(page)
  await asked.locator('button').press('Enter')
  assert.equal(await page.inputValue('[name=email]'), 'ines@gmail.com')
  assert.equal(await asked.isVisible(), false)
  // Typed so that nobody could see the question before the press: held once.
  await page.fill('[name=email]', 'ines@gmial.com')
  await typeCard(page, cards.approves)
  await page.evaluate(() => {
    document.querySelector('[name=email]').value = 'ines@gmal.com'
  })
  await pay(page)
  await page.locator('[data-error=email]').filter({ hasText: 'Look at this once more' }).waitFor()
  await asked.filter({ hasText: 'Did you mean ines@gmail.com?' }).waitFor()
  await pay(page)
  await page.waitForURL(/order=/)
})
