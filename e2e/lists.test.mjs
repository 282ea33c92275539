// Lists from which goods are put into one order, while the page lies open.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { signIn, start } from './program.mjs'

let program, studio
before(async () => {
  program = await start()
  studio = await signIn(program)
})
after(() => program.stop())

test('what was put in stays when the list is drawn anew, and so does what is typed', async () => {
  const page = await program.open()
  await page.goto(program.shop('/spares'))
  const put = (id) => page.locator(`[name="put:${id}"]`)
  const has = (sum) => page.waitForFunction((sum) => document.querySelector('[data-total]')?.textContent === sum, sum)
  await put('spar-kit').fill('2')
  await put('tern').fill('3')
  await put('tern').press('Tab')
  await has('€89.00')
  await page.fill('[name=name]', 'Inês')
  await put('reel').focus()

  const cell = (id, column, value) =>
    studio.evaluate(
      ([id, column, value]) =>
        fetch(`/goods/${id}/cell`, {
          method: 'POST',
          body: new URLSearchParams({ column, value }),
          headers: { 'X-Csrf-Token': document.body.dataset.csrf, Accept: 'application/json' },
        }).then((answer) => answer.status),
      [id, column, value],
    )
  assert.equal(await cell('repair', 'price', '12.50'), 200)
  const fresh = page.waitForResponse((r) => new URL(r.url()).pathname === '/spares' && r.request().resourceType() === 'fetch')
  await page.context().setOffline(true)
  await page.context().setOffline(false) // it was cut off, and is there again
  await fresh
  await page.waitForSelector('.shelf :text("€12.50")')
  assert.equal(await put('spar-kit').inputValue(), '2')
  assert.equal(await put('tern').inputValue(), '3')
  assert.equal(await page.inputValue('[name=name]'), 'Inês')
  assert.equal(await page.evaluate(() => document.activeElement.name), 'put:reel', 'the focus stays')
  await put('reel').fill('1')
  await put('reel').press('Tab')
  await has('€111.00')
  assert.equal(await cell('repair', 'price', '11.00'), 200)
  assert.deepEqual(page.troubles, [])
})
