// A proof in a window of its own follows what is written, and leads back to the sheet.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { saved, signIn, start } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

test('a proof in its own window follows along', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  await page.frameLocator('iframe[title="Desktop proof"]').locator('h1').waitFor()
  const [own] = await Promise.all([page.waitForEvent('popup'), page.click('[data-apart]')])
  await own.locator('h1').waitFor()
  await own.waitForLoadState('load')
  const title = page.locator('#sheet .ed-h1').first()
  await title.click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Fly where it is dark')
  await saved(page)
  await own.locator('h1', { hasText: 'Fly where it is dark' }).waitFor()
  await own.locator('h1').click()
  assert.match(await page.evaluate(() => document.activeElement?.textContent ?? ''), /Fly where it is dark/, 'a press leads to the words')
  await own.close()
  await title.click()
  await page.keyboard.type('!')
  await saved(page)
  await page.frameLocator('iframe[title="Desktop proof"]').locator('h1', { hasText: '!' }).waitFor()
})
