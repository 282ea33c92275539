// Every template as visitors see it: published, in each frame, on a phone and on
// a desktop, with script and without, those after a payment with a paid order.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { accessible, bought, desktop, everyTemplate, ofOrder, phone, post, publish, signIn, start } from './program.mjs'

let program, page, made, order

before(async () => {
  program = await start()
  page = await signIn(program)
  made = await everyTemplate(program, page)
})
after(() => program.stop())

// moved adds up how far things moved by themselves (Layout Instability API).
const watching = () => {
  globalThis.moved = 0
  new PerformanceObserver((list) => {
    for (const entry of list.getEntries()) if (!entry.hadRecentInput) globalThis.moved += entry.value
  }).observe({ type: 'layout-shift', buffered: true })
}

for (const layout of ['bare', 'header', 'full'])
  test(`every template, ${layout}: sound on a phone and on a desktop, with script and without`, { timeout: 600_000 }, async () => {
    if (layout !== 'bare') {
      for (const one of made) await post(page, `/pages/${one.id}/dress`, { layout })
      await publish(page)
    }
    for (const viewport of [phone, desktop]) {
      const visitor = await program.open({ viewport })
      order = await bought(program, visitor)
      await visitor.addInitScript(watching)
      const plain = await program.browser.newContext({ viewport, javaScriptEnabled: false })
      const silent = await plain.newPage()
      for (const { name, path } of made) {
        const personal = ofOrder.includes(name)
        const answer = await visitor.goto(program.shop(path + (personal ? `?order=${order}` : '')))
        assert.equal(answer.status(), 200, name)
        await visitor.evaluate(() => document.fonts.ready)
        await accessible(visitor)
        const said = await visitor.evaluate(() => ({
          wide: document.documentElement.scrollWidth - innerWidth,
          moved: globalThis.moved,
          words: document.querySelector('main').innerText.split(/\s+/).length,
          small: [...document.querySelectorAll('main a, main button, main summary, main input:not([type=hidden])')]
            .filter((el) => el.getClientRects().length && !el.closest('p:not(.acts):not(.phone), .slot'))
            .map((el) => el.getBoundingClientRect())
            .filter((box) => box.width < 24 || box.height < 24).length,
        }))
        assert.ok(said.wide <= 0, `${name} is ${said.wide} pixels too wide at ${viewport.width}`)
        assert.ok(said.moved < 0.01, `${name} moves by itself: ${said.moved}`)
        assert.equal(said.small, 0, `${name} has targets under 24 by 24 (WCAG 2.2, 2.5.8)`)
        if (personal) continue
        const { responseBodySize } = await answer.request().sizes()
        assert.ok(responseBodySize <= 14 * 1024, `the first view of ${name} is ${responseBodySize} bytes (RFC 6928: 14 KB arrive at once)`)
        await silent.goto(program.shop(path))
        const words = await silent.evaluate(() => document.querySelector('main').innerText.split(/\s+/).length)
        assert.ok(words > said.words * 0.8, `${name} says ${words} of ${said.words} words without script`)
      }
      assert.deepEqual(visitor.troubles, [])
      await plain.close()
      await visitor.context().close()
    }
  })
