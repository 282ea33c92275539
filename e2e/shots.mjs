// Takes the pictures in docs/screenshots: one of each main view.
import { mkdirSync } from 'node:fs'
import { cards, desktop, fillIn, pay, phone, signIn, start, typeCard } from './program.mjs'

const folder = 'docs/screenshots'
mkdirSync(folder, { recursive: true })
const program = await start()
const shoot = (page, name, options) => page.screenshot({ path: `${folder}/${name}.png`, ...options })
const drawn = (page) =>
  page.evaluate(async () => {
    await document.fonts.ready
    await Promise.all([...document.images].map((i) => i.decode().catch(() => {})))
  })

try {
  const visitor = await program.open({ viewport: phone })
  await visitor.goto(program.shop('/night-flight'))
  await visitor.waitForFunction(() => document.querySelector('[data-timer] b').textContent !== '–')
  await drawn(visitor)
  await shoot(visitor, 'sales-page-phone')
  await fillIn(visitor)
  await visitor.check('[name=bump]')
  await visitor.waitForFunction(() => document.querySelector('[data-total]').textContent === '€58.00')
  await typeCard(visitor, cards.declines)
  await pay(visitor)
  await visitor.waitForSelector('[data-notice]:not([hidden])')
  await visitor.locator('#checkout').scrollIntoViewIfNeeded()
  await visitor.evaluate(() => document.querySelector('#p-order-head').scrollIntoView())
  await shoot(visitor, 'checkout-declined-phone')
  await typeCard(visitor, cards.approves)
  await pay(visitor)
  await visitor.waitForURL('**/quiver-bag?order=*')
  await drawn(visitor)
  await shoot(visitor, 'upsell-phone')
  await visitor.click('text=Yes, add')
  await visitor.waitForURL('**/thank-you?order=*')
  await drawn(visitor)
  await shoot(visitor, 'thank-you-phone')

  const wide = await program.open({ viewport: desktop })
  await wide.goto(program.shop('/night-flight'))
  await wide.waitForFunction(() => document.querySelector('[data-timer] b').textContent !== '–')
  await drawn(wide)
  await shoot(wide, 'sales-page')

  const page = await signIn(program)
  await page.waitForLoadState('networkidle')
  await shoot(page, 'pages')
  await page.goto(program.studio('/pages/night-flight'))
  await page.waitForLoadState('networkidle')
  await shoot(page, 'manuscript')
  await page.fill('[data-piece=headline] [data-field=text]', 'Fly the dark. A lantern on one steady line')
  await page.click('[data-piece=timer] .telling')
  await page.waitForSelector('.deadline-form')
  await page.locator('.mark-button', { hasText: 'Lantern week ends' }).click()
  await page.waitForFunction(() => document.querySelector('[data-says]').textContent.includes('timer gone'))
  await page.click('text=Publish…')
  await page.waitForSelector('#panel[open] h3')
  await shoot(page, 'publish')
  for (const [place, path] of [
    ['house', '/house'],
    ['pictures', '/pictures'],
    ['offers', '/offers'],
    ['results', '/results'],
    ['goods', '/goods'],
    ['product', '/goods/ember'],
    ['audience', '/audience'],
    ['season', '/season'],
    ['routes', '/routes?days=7&step=seven-knots'],
    ['orders', '/orders?standing=to_pack'],
    ['order', '/orders/past-1060'],
  ]) {
    await page.goto(program.studio(path))
    await page.waitForLoadState('domcontentloaded')
    await drawn(page)
    await shoot(page, place)
  }
} finally {
  await program.stop()
}
