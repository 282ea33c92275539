// From a form to a letter that sells, as a newcomer makes it and as a visitor meets it: a list,
// a letter of a template, a line, the press that confirms, the gift, the order by the letter.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { accessible, cards, desktop, fillIn, lands, pay, phone, publish, saved, signIn, start, typeCard } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

const reader = 'ines.prado@readers.example'

// newest waits for a mail to the reader and opens it in the letterbox.
async function mail(page, subject) {
  const found = page.locator('a, tr', { hasText: subject }).first()
  for (let i = 0; i < 60; i++) {
    await page.goto(program.letterbox('/'))
    if (await found.count()) break
    await page.waitForLoadState('networkidle')
  }
  await page.locator('a', { hasText: subject }).first().click()
  await page.waitForURL('**/letters/*')
  return page.locator('body').innerText()
}

test('a newcomer makes a list, letters and a line, and a reader buys by the second letter', async () => {
  const page = await signIn(program)
  let presses = 0
  const press = async (what) => {
    presses++
    await page.click(what)
  }
  // The list, which hands out the guide.
  await page.goto(program.studio('/audience'))
  await press('.beside >> text=A new list')
  await page.fill('[name=name]', 'Night watch')
  await page.fill('[name=why]', 'You get this because you asked for our night kite notes.')
  await page.selectOption('[name=gives]', { label: 'Read the wind in seven knots.txt' })
  await press('text=Keep the list')
  await page.waitForSelector('text=A form says beside its button')
  await accessible(page)

  // Two letters of templates, in own words.
  for (const [name, template, subject] of [
    ['Dusk', 'mail-useful', 'How to fly at dusk'],
    ['The kite', 'mail-offer', 'The kite for it'],
  ]) {
    await page.goto(program.studio('/audience'))
    if (!(await page.locator('details.make[open]').count())) await press('details.make summary')
    await page.fill('details.make [name=name]', name)
    await page.selectOption('[name=template]', template)
    await press('text=Write it')
    await page.waitForSelector('#sheet .naming')
    await page.click('.naming summary')
    await page.fill('[data-of-page=title]', subject)
    for (const text of await page.locator('#sheet .ed[data-field=text]').all())
      if ((await text.getAttribute('data-type')) !== 'list') {
        await text.click()
        await page.keyboard.press('Control+a')
        await page.keyboard.type(`{name|Friend}, our own words for ${name.toLowerCase()}.`)
      }
    await saved(page)
  }
  await accessible(page)
  const proof = page.frameLocator('iframe[title="Phone proof"]')
  await proof.locator('h1', { hasText: 'Friend, our own words' }).waitFor()

  // The form of the opt-in page puts people on it.
  await page.goto(program.studio('/pages/seven-knots'))
  await press('[data-piece=k-form] .telling')
  await page.waitForSelector('[data-set=list]')
  await page.selectOption('[data-set=list]', { label: 'Night watch' })
  await saved(page)
  await publish(page)

  // The line: both letters, at once.
  await page.goto(program.studio('/audience?followup=new'))
  await page.fill('.sentence-form [name=name]', 'Into the dark')
  await page.selectOption('[name=list]', { label: 'Night watch' })
  await page.locator('[name=letter]').nth(0).selectOption({ label: 'Dusk' })
  await page.locator('[name=letter]').nth(1).selectOption({ label: 'The kite' })
  await press('text=Keep it')
  await page.waitForSelector('.followup-line')
  await press('text=Let it begin')
  await page.waitForSelector('text=It begins for who joins Night watch')
  await accessible(page)
  assert.ok(presses <= 14, `${presses} presses`)

  // The visitor, on a phone.
  const visitor = await program.open({ viewport: phone })
  await visitor.goto(program.shop('/seven-knots'))
  const form = visitor.locator('#p-k-form form')
  assert.match(await form.innerText(), /We send one mail first/)
  await form.locator('[name=email]').fill(reader)
  await form.locator('[name=consent]').check()
  await form.locator('button.act').click()
  await visitor.waitForURL((url) => !url.pathname.startsWith('/seven-knots'))
  const inbox = await program.open({ viewport: desktop })
  const asks = await mail(inbox, 'Please confirm')
  const link = /http:\S+\/letters\/\S+\/confirm/.exec(asks)[0]
  await visitor.goto(link)
  await accessible(visitor)
  await visitor.click('text=Yes, write to me')
  await visitor.waitForSelector('text=It is confirmed')
  await accessible(visitor)
  await mail(inbox, 'Read the wind in seven knots')
  await mail(inbox, 'How to fly at dusk')
  await mail(inbox, 'The kite for it')
  const body = inbox.frameLocator('iframe')
  const href = await body.locator('a', { hasText: 'See it and order' }).getAttribute('href')
  assert.match(href, /letter=/)
  assert.match(await body.locator('body').innerText(), /You get this because you asked for our night kite notes/)

  // They buy by it; the order names it.
  await visitor.goto(href)
  if (!(await visitor.locator('[data-checkout]').count())) await visitor.goto(program.shop('/night-flight'))
  await fillIn(visitor)
  await visitor.fill('[name=email]', reader)
  await typeCard(visitor, cards.approves)
  await pay(visitor)
  await lands(visitor, '**/quiver-bag?order=*')
  await page.goto(program.studio('/audience/people?q=ines.prado'))
  await page.click(`text=${reader}`)
  await page.waitForSelector('text=by the letter “The kite for it”')
  await accessible(page)
  await page.locator('.happened a', { hasText: /^order \d+/ }).click()
  await page.waitForSelector('text=by the second letter of Into the dark, “The kite for it”')
  await page.goto(program.studio('/audience'))
  await page.click('.beside >> text=Into the dark')
  await page.waitForSelector('text=1 orders')
  assert.deepEqual(page.troubles, [])
  assert.deepEqual(visitor.troubles, [])
})

test('all of it by keys on a phone: wishes are said, and hold', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/audience/people?q=ines.prado'))
  await page.click(`text=${reader}`)
  const wishes = await page.locator('a', { hasText: 'Their own page' }).getAttribute('href')
  const visitor = await program.open({ viewport: phone })
  await visitor.goto(wishes)
  await accessible(visitor)
  const box = visitor.locator('[name="all_off"]')
  await box.focus()
  await visitor.keyboard.press('Space')
  await visitor.locator('button.act', { hasText: 'Save' }).focus()
  await visitor.keyboard.press('Enter')
  await visitor.waitForSelector('text=It is done, and holds at once.')
  await page.reload()
  await page.waitForSelector('text=They asked never to be written to.')
})

test('a browser that is new and quick is asked for its press once more, and nothing is lost', async () => {
  const page = await program.open({ viewport: phone, fresh: true })
  await page.goto(program.shop('/seven-knots'))
  const form = page.locator('form.ask').first()
  await form.locator('[name=email]').fill('quick@readers.example')
  for (const tick of await form.locator('[name=consent]').all()) await tick.check()
  await form.locator('button.act').click()
  const said = page.locator('.notice', { hasText: 'That was quick. Press once more' })
  await said.waitFor()
  // The form stands on night, over a picture, where no rule of axe can tell.
  assert.equal(await said.evaluate((el) => getComputedStyle(el).backgroundColor), 'rgb(251, 238, 234)')
  await accessible(page)
  assert.equal(await form.locator('[name=email]').inputValue(), 'quick@readers.example')
  await page.waitForFunction(() => performance.now() > 2500)
  await form.locator('button.act').click()
  await lands(page, (at) => !at.pathname.includes('/forms/'))
  await page.context().close()
})
