// What an owner does with what was sold: pack it, send it, take it back, give money
// back, find it again; on a phone too, and after a kill.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { accessible, bought, owner, phone, post, signIn, start } from './program.mjs'

let program, desk
before(async () => {
  program = await start()
  desk = await signIn(program)
})
after(() => program.stop())

const letters = async (page, subject) => {
  await page.goto(program.letterbox('/'))
  return page.locator('.letters li', { hasText: subject }).count()
}
// until looks again and again; the bound is of the runner.
const until = async (look) => {
  while (!(await look()));
}

test('an order is packed, sent and refunded, and its buyer is told', async () => {
  await bought(program, await program.open())
  await desk.goto(program.studio('/orders?standing=to_pack'))
  await accessible(desk)
  const [number] = (await desk.textContent('.order-list .no')).match(/\d+/)
  assert.match(await desk.textContent('.picks'), /To fetch for \d+ orders.*Ember 180/s)
  await desk.click('.order-list a >> nth=0')
  await desk.waitForSelector('.order-whole')
  await accessible(desk)
  assert.match(await desk.textContent('.order-lines'), /Ember 180.*€68\.00.*Lantern week −€17\.00/s, 'each price with its reason')
  await desk.fill('[name=carrier]', 'Coast Parcel')
  await desk.fill('[name=number]', 'CP77PT')
  await Promise.all([desk.waitForLoadState('load'), desk.click('text=It is sent')])
  await desk.waitForSelector('.timeline >> text=Handed over to Coast Parcel, CP77PT.')
  const mail = await program.open()
  await until(() => letters(mail, `Your order ${number} is on its way`))
  assert.equal(await letters(mail, `Order ${number}: €51.00`), 1, 'the owner was told when it came in')

  await desk.click('summary:has-text("Give money back")')
  await desk.check('[name=way][value=amount]')
  await desk.fill('[name=amount]', '9000')
  await desk.waitForSelector('#refund >> text=At most €51.00 can still be given back')
  await desk.fill('[name=amount]', '10')
  await desk.waitForSelector('button:has-text("Give €10.00 back")')
  await accessible(desk)
  await desk.click('button:has-text("Give €10.00 back")')
  await desk.waitForSelector('.timeline >> text=€10.00 went back to the buyer.')
  assert.match(await desk.textContent('.order-lines tfoot'), /Kept€41\.00/)
  await until(() => letters(mail, `Money back for your order ${number}`))
  await desk.goto(program.studio('/results'))
  assert.match(await desk.textContent('.figures'), /charged, less €10\.00 given back/)

  await desk.keyboard.press('Control+k')
  await desk.fill('#finder input', number)
  await desk.waitForSelector(`#finder a:has-text("${number}")`)
  const chosen = await desk.getAttribute('#finder input', 'aria-activedescendant')
  assert.match(await desk.textContent(`[id="${chosen}"]`), new RegExp(number), 'what is chosen is told to who hears the screen')
  await desk.press('#finder input', 'Enter')
  await desk.waitForURL('**/orders/*')
  assert.equal(await desk.textContent('h1'), `Order ${number}`)
  await desk.click('text=Pack it after all')
  await desk.waitForSelector('.timeline >> text=Put back among those to pack.')
})

test('many are sent at once, on a phone', async () => {
  const page = await program.open({ viewport: phone, hasTouch: true })
  await page.goto(program.studio('/sign-in'))
  await page.fill('[name=email]', owner.email)
  await page.fill('[name=password]', owner.password)
  await page.click('text=Sign in')
  await page.waitForURL('**/pages')
  await page.goto(program.studio('/orders?standing=to_pack'))
  await accessible(page)
  const count = async () => Number((await page.textContent('.tabs-row [aria-current] b')).trim())
  const all = await count()
  assert.equal(await page.isVisible('.deeds'), false, 'nothing is in the way while nothing is ticked')
  await page.check('.order-list input >> nth=0')
  await page.check('.order-list input >> nth=1')
  for (const box of await page.$$('.deeds .button')) assert.ok((await box.boundingBox()).height >= 44, 'large enough for a thumb')
  await page.fill('.deeds [name=carrier]', 'Coast Parcel')
  await page.click('text=They are sent')
  await page.waitForSelector('text=2 orders changed.')
  assert.equal(await count(), all - 2)
  const wide = await page.evaluate(() => document.documentElement.scrollWidth)
  assert.ok(wide <= phone.width, `nothing stands beside the screen: ${wide}`)
  await page.goto(program.studio('/orders/packing'))
  assert.equal(await page.locator('.packet').count(), all - 2)
  assert.deepEqual(page.troubles, [])
})

// Killed while mails are being sent, every one is there within a minute of the
// restart, and no more often than those that were in flight.
test('killed while mails go out, nobody is left out', async () => {
  await desk.goto(program.studio('/orders?standing=to_pack'))
  const ids = await desk.$$eval('.order-list input', (all) => all.slice(0, 18).map((box) => box.value))
  const due = await desk.$$eval('.order-list .no', (all) => all.slice(0, 18).map((no) => `Your order ${no.textContent} is on its way`))
  const told = await post(desk, '/orders/move', [
    ['deed', 'send'],
    ['mail', '1'],
    ['carrier', 'Night Parcel'],
    ...ids.map((id) => ['ids', id]),
  ])
  assert.match(told.text, new RegExp(`${ids.length} orders changed`))
  await program.kill()
  await program.restart()
  const mail = await program.open()
  const began = Date.now()
  const sent = async () => {
    await mail.goto(program.letterbox('/'))
    return mail.$$eval('.letters b', (all, due) => all.map((one) => one.textContent).filter((subject) => due.includes(subject)), due)
  }
  await until(async () => {
    assert.ok(Date.now() - began < 60_000, 'within a minute')
    return new Set(await sent()).size === due.length
  })
  const list = await sent()
  assert.ok(list.length - new Set(list).size <= 8, 'repeated are at most those that were in flight')
})
