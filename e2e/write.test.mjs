// Writing: copy with structure, what is pasted, links within copy, and writing
// by a click in the proof.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { accessible, saved, signIn, start } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

const desk = async () => {
  const page = await signIn(program)
  await page.goto(program.studio('/pages/night-flight'))
  await page.frameLocator('iframe[title="Desktop proof"]').locator('h1').waitFor()
  return page
}
const copy = (page) => page.locator('[data-kind=text] .ed[data-type=rich]').nth(1)
const inProof = async (page) => {
  const id = await copy(page).evaluate((el) => el.closest('[data-piece]').dataset.piece)
  return page.frameLocator('iframe[title="Desktop proof"]').locator(`[data-piece="${id}"] .rich`)
}
const paste = (page, html) =>
  copy(page).evaluate((el, text) => {
    const data = new DataTransfer()
    data.setData('text/html', text)
    data.setData('text/plain', 'plain')
    el.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
  }, html)

test('copy is written with sub-headings, lists, strong words and links, and stands so in the proof', async () => {
  const page = await desk()
  await copy(page).click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('It ')
  await page.keyboard.press('Control+b')
  await page.keyboard.type('glows')
  await page.keyboard.press('Control+b')
  await page.keyboard.type(' by night.')
  await page.keyboard.press('Enter')
  await page.keyboard.type('## In the bag')
  await page.keyboard.press('Enter')
  await page.keyboard.type('- the kite')
  await page.keyboard.press('Enter')
  await page.keyboard.type('the lantern')
  await saved(page)
  const shown = await inProof(page)
  assert.equal(await shown.innerHTML(), '<p>It <b>glows</b> by night.</p><h3>In the bag</h3><ul><li>the kite</li><li>the lantern</li></ul>')
  await accessible(page)

  await page.keyboard.press('Control+k')
  await page.locator('.rich-where input').fill('checkout')
  await page.click('.rich-where [data-pick=checkout]')
  await saved(page)
  assert.match(await shown.innerHTML(), /<a href="#checkout">lantern<\/a>/)

  // Leaving and coming back changes nothing; undo of the page brings the rest back.
  const before = await shown.innerHTML()
  await page.locator('.ed-h1').first().click()
  await page.locator('.rich-bar').waitFor({ state: 'hidden' })
  await copy(page).click()
  await saved(page)
  assert.equal(await shown.innerHTML(), before)
  await page.reload()
  await (await inProof(page)).waitFor()
  assert.equal(await (await inProof(page)).innerHTML(), before, 'it was kept')
  await page.close()
})

test('what is pasted from a word processor or a web page keeps its structure and nothing else', async () => {
  const page = await desk()
  await copy(page).click()
  await page.keyboard.press('Control+a')
  await paste(
    page,
    `<html xmlns:o="urn:schemas-microsoft-com:office:office"><head><style>p.MsoNormal{margin:0}</style></head><body lang=EN>
    <!--StartFragment--><h1 style='color:#2F5496'>Why it flies<o:p></o:p></h1><p class=MsoNormal style='mso-margin-top-alt:auto'><b style='mso-bidi-font-weight:normal'>Ripstop</b>, sewn&nbsp;twice.<o:p></o:p></p>
    <p class=MsoListParagraphCxSpFirst style='text-indent:-18.0pt;mso-list:l0 level1 lfo1'><![if !supportLists]><span style='font-family:Symbol'><span style='mso-list:Ignore'>·<span style='font:7.0pt "Times New Roman"'>&nbsp;&nbsp;</span></span></span><![endif]>light<o:p></o:p></p>
    <p class=MsoListParagraphCxSpLast style='text-indent:-18.0pt;mso-list:l0 level1 lfo1'><![if !supportLists]><span style='mso-list:Ignore'>·</span><![endif]>strong<o:p></o:p></p><!--EndFragment--></body></html>`,
  )
  await saved(page)
  const shown = await inProof(page)
  assert.equal(await shown.innerHTML(), '<h3>Why it flies</h3><p><b>Ripstop</b>, sewn twice.</p><ul><li>light</li><li>strong</li></ul>')

  await copy(page).click()
  await page.keyboard.press('Control+a')
  await paste(
    page,
    `<meta charset="utf-8"><b style="font-weight:normal" id="docs-internal"><p dir="ltr" style="line-height:1.38"><span style="font-weight:700">Bold</span> <span style="font-style:italic">lean</span></p>
    <script>window.hit = 1</script><p onclick="window.hit=1">x<img src=x onerror="window.hit=1"> <a href="javascript:window.hit=1">bad</a> <a href="https://wind.example/map">good</a></p></b>`,
  )
  await saved(page)
  assert.equal(await shown.innerHTML(), '<p><b>Bold</b> <i>lean</i></p><p>x bad <a href="https://wind.example/map">good</a></p>')
  assert.equal(await page.evaluate(() => window.hit), undefined)
  await page.close()
})

test('a click on a word in the proof writes there', async () => {
  const page = await desk()
  const word = page.frameLocator('iframe[title="Phone proof"]').locator('h1')
  const box = await word.boundingBox()
  await page.mouse.click(box.x + 3, box.y + 8)
  await page.waitForFunction(() => document.activeElement.classList.contains('ed-h1'))
  await page.keyboard.type('Now ')
  await saved(page)
  assert.match(await word.innerText(), /^Now /)
  const second = page.frameLocator('iframe[title="Phone proof"]').locator('.rich p').first()
  const at = await second.boundingBox()
  await page.mouse.click(at.x + 2, at.y + 5)
  await page.locator('.written').waitFor()
  await page.keyboard.type('Yes: ')
  await saved(page)
  assert.match(await second.innerText(), /^Yes: /)
  await page.close()
})

test('two people write one page: neither loses words, each sees the other’s', async () => {
  const one = await desk()
  const two = await desk()
  await copy(one).click()
  await one.keyboard.press('Control+End')
  await one.keyboard.type(' From one.')
  await saved(one)
  await two.locator('.ed-h1').first().click()
  await two.keyboard.press('Control+End')
  await two.keyboard.type(' Two!')
  await saved(two)
  assert.match(await copy(two).innerText(), /From one\.$/, 'two sees what one wrote')
  await one.keyboard.type(' Again.')
  await saved(one)
  assert.match(await one.locator('.ed-h1').first().innerText(), /Two!$/)
  assert.match(await (await inProof(one)).innerText(), /From one\. Again\.$/)

  // One leaves the copy, two writes there, and one comes back to it.
  await one.locator('.ed-h1').first().click()
  await two.keyboard.type('!')
  await saved(two)
  assert.match(await copy(two).innerText(), /Again\.$/)
  await copy(two).click()
  await two.keyboard.press('Control+End')
  await two.keyboard.type(' And two.')
  await saved(two)
  await one.locator('.ed-h2').first().press('Control+End') // where nobody else writes
  await one.keyboard.type(' Yes')
  await saved(one)
  await copy(one).click()
  await one.keyboard.press('Control+End')
  await one.keyboard.type(' Back.')
  await saved(one)
  assert.match(await (await inProof(one)).innerText(), /Again\. And two\. Back\.$/)
  await one.locator('.naming > summary').click()
  await one.click('text=History')
  await one.locator('.past >> text=/Marta Venn.*wrote “.*From one/s').first().waitFor()
  await accessible(one)
  await one.close()
  await two.close()
})
