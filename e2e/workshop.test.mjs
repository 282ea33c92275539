// The workshop around the manuscript: pictures, icons, what is shared, own code,
// slides and appointments, as an owner and a visitor meet them.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { accessible, desktop, inOwnWords, phone, post, publish, saved, signIn, start } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

// photograph makes a JPEG in the browser, with a mark at its right.
async function photograph(page, name, width, height) {
  const bytes = await page.evaluate(
    async ([w, h]) => {
      const canvas = document.createElement('canvas')
      Object.assign(canvas, { width: w, height: h })
      const ink = canvas.getContext('2d')
      ink.fillStyle = '#447'
      ink.fillRect(0, 0, w, h)
      ink.fillStyle = '#c33'
      ink.fillRect(w * 0.7, h * 0.2, w * 0.1, h * 0.3)
      const blob = await new Promise((done) => canvas.toBlob(done, 'image/jpeg', 0.9))
      return [...new Uint8Array(await blob.arrayBuffer())]
    },
    [width, height],
  )
  return { name: `${name}.jpg`, mimeType: 'image/jpeg', buffer: Buffer.from(bytes) }
}

test('pictures come many at once, are cut, looked at, replaced and found missing words', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pictures'))
  const bad = { name: 'letter.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('not a picture') }
  await page.setInputFiles('[data-pictures-input]', [
    await photograph(page, 'Dusk', 1600, 900),
    bad,
    await photograph(page, 'Harbour', 400, 300),
  ])
  await page.waitForSelector('[data-uploads] li.good >> text=Harbour.jpg: kept')
  assert.match(await page.textContent('[data-uploads] li.bad'), /“letter” is not a picture that can be read/)
  const dusk = page.locator('.picture-card', { has: page.locator('[value=Dusk]') })
  await dusk.locator('[data-cut]').click()
  await page.fill('.cutting [name=x]', '50')
  await page.fill('.cutting [name=w]', '50')
  await page.fill('.cutting [name=fx]', '80')
  await accessible(page)
  await page.click('.cutting [data-keep]')
  await dusk.getByText('800 × 900 · a part · focus 80, 50').waitFor()
  await dusk.locator('[name=alt]').fill('A red mark over blue water')
  await dusk.locator('[name=alt]').press('Tab')
  await page.waitForFunction(() => !document.querySelector('.picture-card [value=Dusk] ~ .wanted'))

  // What stands on a page is replaced there by pressing once; what is live stays
  // as it was published until it is published again, and that is said.
  const ember = page.locator('#picture-ember')
  await ember.locator('.replace-menu summary').click()
  await ember.locator('select[name=other]').selectOption({ label: 'Dusk' })
  await ember.getByText('Put it there').click()
  await page.waitForFunction(() => document.querySelector('#picture-ember [name=name]').value === 'Dusk')
  await ember.locator('text=the former one to visitors').waitFor()
  const visitor = await program.open({ viewport: phone })
  await visitor.goto(program.shop('/night-flight'))
  assert.match(await visitor.locator('.band img').first().getAttribute('alt'), /^The Ember 180/, 'an edition keeps its pictures')
  await publish(page)
  await visitor.reload()
  const shown = await visitor.evaluate(async () => {
    const img = document.querySelector('.band img')
    await img.decode()
    return [(await fetch(img.currentSrc)).headers.get('content-type'), img.alt]
  })
  assert.equal(shown[1], 'A red mark over blue water')
  assert.equal(shown[0], 'image/jpeg', 'what a script asks for, naming no format')
  await page.selectOption('select[name=only]', 'wordless')
  await page.waitForFunction(() => document.querySelectorAll('.picture-card').length === 1)
  await accessible(page)
  assert.deepEqual(page.troubles, [])
})

test('an icon is found among thousands by a word, what is shared is seen, own code keeps out of the studio', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  await page.locator('[data-kind=perks] .chooser summary').first().click()
  await page.locator('.chooser[open] input').fill('kayak')
  await page.locator('.chooser[open] [data-pick=kayak]').click()
  await page.waitForFunction(
    () => document.querySelector('[data-kind=perks] .chooser summary').getAttribute('aria-label') === 'Icon: kayak',
  )

  await page.click('.naming > summary')
  await page.fill('.naming [data-of-page=title]', 'A title that is typed')
  assert.equal(await page.textContent('.found [data-mirror=title]'), 'A title that is typed', 'the search result follows what is typed')
  await page.fill('[data-of-page=keywords]', 'night kites')
  await page.press('[data-of-page=keywords]', 'Tab')
  await saved(page)
  await page.click('.own-more > summary')
  await page.fill('.own-more [name=own_name]', 'Greeting')
  await page.selectOption('.own-more [name=own_kind]', 'foot')
  await page.fill('.own-more [name=own_text]', 'document.title = "</scr" + "ipt>"')
  await page.click('.own-more >> text=Keep the code')
  await page.waitForSelector('.own-more .bad >> text=belongs to HTML')
  await page.fill('.own-more [name=own_text] >> nth=0', 'document.documentElement.dataset.greeted = "yes"')
  await page.click('.own-more >> text=Keep the code')
  await page.waitForSelector('.own-more .good')
  await accessible(page)
  await page.reload()
  await page.click('.gauge.findings summary >> nth=0')
  await page.waitForSelector('text=Code of your own runs on this page: “Greeting” (a script at the foot).')
  assert.equal(await page.evaluate(() => document.documentElement.dataset.greeted), undefined)
  assert.equal(
    await page.evaluate(() => document.querySelector('iframe').contentDocument.documentElement.dataset.greeted),
    undefined,
    'nor in a proof',
  )
  const ran = await page.context().newPage()
  await ran.goto(program.studio('/pages/night-flight/ran'))
  assert.equal(await ran.evaluate(() => document.documentElement.dataset.greeted), 'yes', 'where it was asked for it runs')
  assert.equal(await ran.evaluate(() => origin), 'null', 'as somebody else')
  await ran.close()
})

test('an appointment is chosen, taken once and goes into the calendar; a shelf slides', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  const add = async (kind) => {
    const menu = page.locator('.band-row').nth(1).locator('.add-piece')
    await menu.locator('summary').click()
    await menu.locator(`[data-new=${kind}]`).click()
    await page.locator(`[data-kind=${kind}]`).waitFor()
    await saved(page)
  }
  await add('appointment')
  await add('shelf')
  await page.locator('[data-kind=shelf] .telling').click()
  await page.selectOption('.slip [data-set=shelf]', { label: 'Dual and four lines for light wind' })
  await saved(page)
  await page.click('.slip [data-set-field=as][data-set-to=slides]')
  await page.waitForFunction(() => document.querySelector('iframe').contentDocument.querySelector('.slides'))
  await page.click('[data-panel]')
  await page.click('text=Publish now')
  await page.waitForSelector('#panel-body .said')

  const visitor = await program.open({ viewport: desktop })
  await visitor.goto(program.shop('/night-flight'))
  await accessible(visitor)
  const track = visitor.locator('.slides .track')
  await visitor.setViewportSize(phone)
  await visitor.locator('.slide-moves [data-by="1"]').click()
  await visitor.waitForFunction(() => document.querySelector('.slides .track').scrollLeft > 40)
  assert.equal(
    await track.evaluate((el) => document.documentElement.scrollWidth <= innerWidth && el.scrollWidth > el.clientWidth),
    true,
    'the track scrolls and the page does not',
  )
  const time = await visitor.locator('.slot input').first().getAttribute('value')
  await visitor.locator('.slot').first().click()
  await visitor.fill('.slots [name=name]', 'Inês Faro')
  await visitor.fill('.slots [name=email]', 'ines@example.org')
  await visitor.click('.slots .act')
  await visitor.waitForSelector('a[href$=".ics"]')
  const file = await visitor.evaluate(async () => (await fetch(document.querySelector('a[href$=".ics"]').href)).text())
  assert.match(file, new RegExp(`DTSTART:${time.replace(/[-:]/g, '')}`))
  await accessible(visitor)
  await visitor.goto(program.shop('/').replace('shop.', 'book.'))
  await visitor.waitForSelector('text=ines@example.org')
  await accessible(visitor)
  await visitor.goto(program.letterbox('/'))
  for (let tries = 0; tries < 50 && !(await visitor.locator('text=Your appointment:').count()); tries++) await visitor.reload()
  await visitor.click('text=Your appointment:')
  assert.match(await visitor.textContent('pre'), /Your appointment stands/)
})

test('offers take turns, keep still when they are pointed at or stopped, and for whom asked for it', async () => {
  const page = await signIn(program)
  const { url } = await post(page, '/pages', { name: 'Come by', template: 'appointment', layout: 'bare', purpose: '', address: '' })
  await inOwnWords(page, program, url.split('/').pop())
  await publish(page)
  const visitor = await program.open({ viewport: phone, reducedMotion: 'no-preference' })
  await visitor.clock.install()
  await visitor.goto(program.shop('/come-by'))
  await accessible(visitor)
  const at = (title) =>
    visitor.waitForFunction(
      (title) => {
        const track = document.querySelector('.turns')
        const card = [...track.children].find((c) => c.textContent.includes(title))
        return Math.abs(card.getBoundingClientRect().left - track.getBoundingClientRect().left) < 2
      },
      title,
      { polling: 100 },
    )
  const second = 'Bring your own'
  await at('A first try')
  await visitor.clock.runFor(6100)
  await at(second)
  await visitor.clock.runFor(6100)
  await at('A first try')
  await visitor.click('[aria-label="Stop the turns"]')
  await visitor.clock.runFor(60_000)
  await at('A first try')
  await visitor.click('[aria-label="The next offer"]')
  await visitor.clock.runFor(1000)
  await at(second)
  await visitor.click('[aria-label="Let them take turns"]')
  await visitor.focus('.turns')
  await visitor.clock.runFor(60_000)
  await at(second) // who is in it with the keyboard reads on
  await visitor.evaluate(() => document.activeElement.blur())
  await visitor.mouse.move(5, 700)
  await visitor.clock.runFor(6100)
  await at('A first try')

  const calm = await program.open({ viewport: phone })
  await calm.clock.install()
  await calm.goto(program.shop('/come-by'))
  await calm.clock.runFor(60_000)
  assert.equal(await calm.locator('.turns').evaluate((el) => el.scrollLeft), 0)
  assert.equal(await calm.getAttribute('[data-still]', 'aria-label'), 'Let them take turns')
  assert.deepEqual([...visitor.troubles, ...calm.troubles], [])
})
