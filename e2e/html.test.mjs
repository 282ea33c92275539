// Every view of the studio, of the shop and of the stand-ins, against an HTML
// validator: html-validate 9, with its standard rules.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { HtmlValidate } from 'html-validate'
import { bought, everyTemplate, signIn, start } from './program.mjs'

const validator = new HtmlValidate({
  extends: ['html-validate:standard'],
  rules: {
    // “plaintext-only” is in the HTML standard since 2024, and not yet in the validator.
    'attribute-allowed-values': 'off',
    // A proof in small has no bars to scroll by; no style of ours reaches into its frame.
    'no-deprecated-attr': 'off',
  },
})
let program, desk, made
before(async () => {
  program = await start()
  desk = await signIn(program)
  made = await everyTemplate(program, desk)
})
after(() => program.stop())

async function valid(page, path, part) {
  await judged(await page.evaluate(async (p) => (await fetch(p, { headers: { Accept: 'text/html' } })).text(), path), path, part)
}

// opened is for pages that fetch nothing themselves.
async function opened(page, address) {
  await judged(await (await page.goto(address)).text(), address)
}

async function judged(html, path, part) {
  const whole = part ? `<!doctype html><html lang="en"><head><title>x</title></head><body>${html}</body></html>` : html
  const report = await validator.validateString(whole)
  const found = report.results.flatMap((r) => r.messages).map((m) => `${m.line}:${m.column} ${m.ruleId}: ${m.message}`)
  assert.deepEqual(found, [], path)
}

test('the places of the studio are valid HTML', async () => {
  const orders = await desk.evaluate(async () =>
    [...(await (await fetch('/orders')).text()).matchAll(/href="\/orders\/([^"?]+)"/g)].map((m) => m[1]),
  )
  const order = orders.find((id) => id.startsWith('past-'))
  for (const path of [
    '/pages',
    '/pages/night-flight',
    '/pages/new',
    '/goods',
    '/goods/ember',
    '/offers',
    '/offers?product=gull',
    '/season',
    '/results',
    '/orders',
    '/orders?q=nobody',
    '/orders/packing',
    `/orders/${order}`,
    '/buyers',
    '/shelves',
    '/shelves?shelf=new',
    '/rates',
    '/store',
    '/house',
    '/pictures',
    '/account',
    '/publish',
    '/sign-in',
  ])
    await valid(desk, path)
  for (const path of [
    `/orders/${order}/refund`,
    '/find?q=e',
    '/choose/picture?page=night-flight',
    '/choose/link?page=night-flight',
    '/pages/night-flight/history',
    '/pages/night-flight/look/page',
  ])
    await valid(desk, path, true)
})

test('the slip of every piece is valid HTML', async () => {
  for (const { id } of [...made, { id: 'night-flight' }]) {
    const pieces = await desk.evaluate(
      async (p) => [...new Set([...(await (await fetch(`/pages/${p}`)).text()).matchAll(/data-piece="([^"]+)"/g)].map((m) => m[1]))],
      id,
    )
    for (const piece of pieces.slice(0, 40)) await valid(desk, `/pages/${id}/slip/${piece}`, true)
  }
})

test('the pages of the shop are valid HTML', async () => {
  const page = await program.open()
  await page.goto(program.shop('/night-flight'))
  for (const { path } of made) await valid(page, path)
  for (const path of ['/night-flight', '/terms', '/privacy', '/contact', '/nowhere-at-all']) await valid(page, path)
  const token = await bought(program, page)
  for (const path of ['/quiver-bag', '/thank-you']) await opened(page, program.shop(`${path}?order=${token}`))
})

test('the stand-ins are valid HTML', async () => {
  const page = await program.open()
  for (const at of [program.till('/'), program.till('/field'), program.till('/nowhere'), program.letterbox('/')]) await opened(page, at)
})
