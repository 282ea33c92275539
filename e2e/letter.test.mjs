// A letter that is pasted whole becomes a page; a quotation or a box pasted into copy stays
// what it is; lines of a plan become its bands.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { accessible, saved, signIn, start } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

const paste = (field, text, plain) =>
  field.evaluate(
    (el, [html, words]) => {
      const data = new DataTransfer()
      if (html) data.setData('text/html', html)
      data.setData('text/plain', words)
      el.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
    },
    [text, plain ?? text.replace(/<[^>]+>/g, ' ')],
  )

const blank = async (name) => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/new'))
  await page.fill('[name=name]', name)
  await page.click('text=Make the page')
  await page.waitForSelector('[data-line]')
  return page
}

const words = (n) => Array.from({ length: n }, (_, i) => ['wind', 'lantern', 'line', 'dune', 'sailcloth'][i % 5]).join(' ')

test('a letter of three thousand words becomes a page with beats proposed, in one step', async () => {
  const page = await blank('The long letter')
  const headings = ['How it began', 'Why it glows', 'What buyers said', 'Questions we hear', 'Order yours']
  const html =
    '<h1>Fly the dark</h1><p>A letter from the mole.</p>' +
    headings.map((h) => `<h2>${h}</h2>${`<p>${words(140)}</p>`.repeat(4)}`).join('') +
    '<blockquote><p>“We stayed until March.”</p><p>— Rita Sol</p></blockquote><div style="border:1px solid #aaa"><p><b>Our word</b></p><p>Sewn again.</p></div>' +
    '<ul><li>kite</li><li>line</li><li>bag</li></ul>'
  await paste(page.locator('[data-line]'), html)
  await page.waitForFunction(() => document.querySelectorAll('#sheet [data-band]').length === 6)
  await saved(page)
  assert.match(await page.locator('#toast').textContent(), /letter of 28\d\d words became 6 bands/)
  const names = await page.locator('#sheet .band-name').allTextContents()
  assert.deepEqual(
    names.map((n) => n.trim()),
    ['Fly the dark', ...headings],
  )
  const beats = await page.locator('#sheet .beat').allTextContents()
  assert.equal(beats[0].trim(), 'A')
  assert.equal(beats.at(-1).trim(), 'A', 'what asks for the order is the action')
  assert.equal(await page.locator('[data-kind=quote]').count(), 1)
  assert.equal(await page.locator('[data-kind=aside]').count(), 1)
  assert.equal(await page.locator('[data-kind=bullets]').count(), 1)
  const proof = page.frameLocator('iframe[title="Desktop proof"]')
  await proof.locator('h1', { hasText: 'Fly the dark' }).waitFor()
  await accessible(page)
  await page.keyboard.press('Control+z')
  await page.waitForFunction(() => document.querySelectorAll('#sheet [data-band]').length === 0)
})

test('lines of a plan that are pasted become bands', async () => {
  const page = await blank('A plan pasted')
  await paste(page.locator('[data-line]'), '', 'Opening\nThree benefits\nThe checkout')
  await page.waitForFunction(() => document.querySelectorAll('#sheet [data-band]').length === 3)
  assert.equal(await page.locator('[data-kind=checkout]').count(), 1)
})

test('a quotation and a box pasted into copy are pieces after it; plain copy goes in as it is', async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  const copy = page.locator('[data-kind=text] .ed[data-type=rich]').nth(1)
  await copy.click()
  const before = (await copy.textContent()).trim()
  await paste(
    copy,
    '<blockquote><p>Until March.</p><footer>— Rita Sol</footer></blockquote><aside><h4>By hand</h4><p>Each of them.</p></aside>',
  )
  await page.locator('[data-kind=quote]').waitFor()
  assert.equal((await copy.textContent()).trim(), before, 'the copy keeps its words')
  assert.match(await page.locator('[data-kind=quote]').first().textContent(), /Until March\.[^]*Rita Sol/)
  assert.match(await page.locator('[data-kind=aside]').first().textContent(), /By hand[^]*Each of them\./)
  // A page has one headline: a title amid its copy is a sub-heading there.
  await paste(copy, '<h1>Not a second headline</h1><p>Words.</p>')
  await saved(page)
  assert.equal(await page.frameLocator('iframe[title="Desktop proof"]').locator('h1').count(), 1)
  await copy.click()
  await page.keyboard.press('Control+End')
  await paste(copy, `<p>${words(160)}</p>`)
  await page.waitForFunction(
    (n) => document.querySelectorAll('[data-kind=text] .ed[data-type=rich]')[1].textContent.length > n + 400,
    before.length,
  )
})
