// Publishing at a moment and until one, what each screen sees, and words that
// would break a page if they could.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { accessible, command, desktop, phone, post, publish, saved, signIn, start } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

test('an edition is planned for a moment and until one, told of, forgotten, and taken down for a successor', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  await page.fill('[data-piece=headline] [data-field=text]', 'Only for an evening')
  await saved(page)
  await page.click('text=Publish…')
  await page.click('.plan > summary')
  // Local times of the store, a day and two days on.
  const local = (days) => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 16)
  await page.fill('.plan [name=from]', local(2))
  await page.fill('.plan [name=until]', local(1))
  await page.click('.plan button')
  await page.waitForFunction(() => document.getElementById('toast').textContent !== '')
  assert.match(await page.textContent('#toast'), /end|before|after|later/i, 'an end before its beginning is refused with its cause')
  await page.fill('.plan [name=from]', local(1))
  await page.fill('.plan [name=until]', local(2))
  await page.click('.plan button')
  await page.waitForSelector('h3:text-is("Planned")')
  assert.equal(await page.locator('h3:text-is("Planned") + ul li').count(), 2, 'its beginning and its end')
  await accessible(page)
  const visitor = await program.open({ viewport: phone })
  await visitor.goto(program.shop('/night-flight'))
  assert.match(await visitor.textContent('h1'), /Fly the dark/, 'nothing happens before its moment')
  for (let left = 2; left > 0; left--) {
    await page.locator('h3:text-is("Planned") + ul li button').first().click()
    await page.waitForFunction((n) => document.querySelectorAll('#panel-body h3 + ul li button[hx-post*="forget"]').length === n, left - 1)
  }
  await page.locator('#panel-body details:has-text("Take the pages down") > summary').click()
  await page.locator('#panel-body details:has-text("Take the pages down") button').click()
  await page.waitForSelector('#panel-body .said >> text=taken down')
  const answer = await visitor.goto(program.shop('/night-flight'))
  assert.equal(answer.status(), 404)
  await accessible(visitor)
  await page.locator('#panel-body button:has-text("Put back")').first().click()
  await page.waitForSelector('#panel-body .said >> text=live again')
  assert.equal((await visitor.goto(program.shop('/night-flight'))).status(), 200)
})

test('a look holds on the screens it is meant for, and a phone has an order of its own', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  const looks = (id, set) => command(page, 'night-flight', { command: { op: 'dress', looks: [{ id, set }] } })
  const ids = await page.evaluate(() =>
    [...document.querySelectorAll('.band-row')]
      .slice(0, 3)
      .map((row) => ({ band: row.dataset.band, pieces: [...row.querySelectorAll('[data-piece]')].map((p) => p.dataset.piece) })),
  )
  const [opening, kite, timer] = ids
  assert.equal((await looks(timer.band, { seen: 'wide' })).status, 200)
  assert.equal((await looks(kite.pieces.at(-1), { order: '-1' })).status, 200)
  assert.equal((await looks(opening.pieces[0], { seen: 'phone' })).status, 200)
  await publish(page)
  for (const viewport of [phone, desktop]) {
    const visitor = await program.open({ viewport })
    await visitor.goto(program.shop('/night-flight'))
    const there = (selector) => visitor.locator(selector).isVisible()
    const narrow = viewport === phone
    assert.equal(await there(`#band-${timer.band}`), !narrow)
    assert.equal(await there(`#p-${opening.pieces[0]}`), narrow)
    const tops = await visitor.evaluate(
      (pieces) => pieces.map((id) => document.getElementById(`p-${id}`).getBoundingClientRect().top),
      kite.pieces,
    )
    assert.equal(
      tops.at(-1) === Math.min(...tops) && tops.indexOf(Math.min(...tops)) === tops.length - 1,
      narrow,
      'the price comes first on a phone alone',
    )
  }
})

test('words that would break a page do not: ten thousand signs, right to left, emoji, code', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  const set = (piece, field, value) => command(page, 'night-flight', { command: { op: 'set', piece, field, value } })
  const kinds = {
    'a headline of ten thousand signs': 'W'.repeat(10_000),
    'ten thousand signs in words': 'Lantern '.repeat(1250),
    'right to left': 'עפיפונים של לילה עם פנס — طائرات ورقية ليلية',
    'emoji joined and flagged': '👩‍👩‍👧‍👦🏴󠁧󠁢󠁷󠁬󠁳󠁿🪁'.repeat(40),
    code: '</h1></main></body><script>document.title="broken"</script><img src=x onerror=alert(1)>',
    'signs that turn text round': '\u202Eright\u202C and \u0000\u0007 bells',
    'marks piled up': 'k' + '\u0301'.repeat(400),
  }
  const visitor = await program.open({ viewport: phone })
  for (const [what, words] of Object.entries(kinds)) {
    const told = await set('headline', 'text', words)
    assert.equal(told.status, 200, what)
    await page.reload()
    await page.locator('.band-row').first().waitFor()
    assert.ok((await page.evaluate(() => document.documentElement.scrollWidth - innerWidth)) <= 0, `${what}: the studio stays in its frame`)
    await publish(page)
    await visitor.goto(program.shop('/night-flight'))
    const seen = await visitor.evaluate(() => ({
      wide: document.documentElement.scrollWidth - innerWidth,
      heading: document.querySelector('h1').textContent,
      title: document.title,
      bands: document.querySelectorAll('main > .band, body > .band').length,
    }))
    assert.ok(seen.wide <= 0, `${what}: ${seen.wide} pixels too wide`)
    assert.notEqual(seen.title, 'broken')
    assert.ok(seen.bands >= 5, `${what}: every band is there`)
    assert.ok(seen.heading.startsWith(words.slice(0, 5).replaceAll('\u0000', '')), `${what}: “${seen.heading.slice(0, 40)}”`)
  }
  const much = await set('headline', 'text', 'x'.repeat(20_001))
  assert.equal(much.status, 422)
  assert.match(much.detail, /at most 20000 characters/)
  for (const hostile of [
    '<p onclick="x()">a</p>',
    '<p><a href="javascript:alert(1)">a</a></p>',
    '<svg onload=alert(1)>',
    '<p>' + '<b>'.repeat(5000),
  ]) {
    const rich = await page.evaluate(() => document.querySelector('.ed[data-type=rich]').closest('[data-piece]').dataset.piece)
    const told = await set(rich, 'text', hostile)
    assert.ok([200, 422].includes(told.status))
    if (told.status === 200) assert.doesNotMatch(JSON.stringify(told.taken), /onclick|javascript:|onload|<svg/)
  }
  await visitor.goto(program.shop('/night-flight'))
  await accessible(visitor)
  assert.deepEqual(visitor.troubles, [])
  await post(page, '/sign-out', {})
})
