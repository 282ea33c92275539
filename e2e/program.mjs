// Starts the program as an owner does, with data and a port of its own, and
// opens browsers on it.
import { spawn } from 'node:child_process'
import { rm } from 'node:fs/promises'
import { createServer } from 'node:net'
import { readFileSync } from 'node:fs'
import { chromium } from 'playwright-core'

export const cards = {
  approves: '9200000000000017',
  declines: '9200000000000025',
  timesOut: '9200000000000041',
  confirms: '9200000000000058',
}
// A browser without a window calls itself a robot, and robots are no visitors.
export const person = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/130.0.0.0 Safari/537.36'
export const phone = { width: 390, height: 844 }
export const desktop = { width: 1280, height: 800 }
export const owner = { email: 'owner@gustwell.example', password: 'lantern-kite-demo' }

const secret = () => Array.from({ length: 26 }, () => 'abcdefghijklmnopqrstuvwxyz'[Math.floor(Math.random() * 26)]).join('')

export function freePort() {
  return new Promise((resolve) => {
    const s = createServer().listen(0, '127.0.0.1', () => {
      const { port } = s.address()
      s.close(() => resolve(port))
    })
  })
}

// run starts the binary and resolves once it is ready, or with what it said
// when it ended instead.
export function run(command, env) {
  const child = spawn('bin/chrysagon', [command], { env: { ...process.env, DATABASE_URL: '', ...env } })
  let said = ''
  const ended = new Promise((resolve) => child.on('exit', (code) => resolve(code)))
  const ready = new Promise((resolve) => {
    const hear = (text) => {
      said += text
      if (said.includes('Ctrl+C stops everything')) resolve(true)
    }
    child.stdout.on('data', hear)
    child.stderr.on('data', hear)
    ended.then(() => resolve(false))
  })
  return { child, ready, ended, said: () => said }
}

export async function start() {
  const port = await freePort()
  const data = `.data/e2e-${port}`
  const env = { PORT: String(port), CHRYSAGON_DATA: data }
  let program = run('demo', env)
  if (!(await program.ready)) throw new Error(program.said())
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--disable-quic',
      '--host-resolver-rules=MAP harbour-lamps.example 127.0.0.1',
      `--user-agent=${person}`,
    ],
  })
  const at = (host, path = '/') => `http://${host}:${port}${path}`
  return {
    port,
    env,
    browser,
    studio: (path) => at('localhost', path),
    shop: (path) => at('shop.localhost', path),
    till: (path) => at('till.localhost', path),
    letterbox: (path) => at('letterbox.localhost', path),
    // A test fills in forms faster than anybody could: its browsers have been here before.
    async open({ fresh = false, ...options } = {}) {
      const context = await browser.newContext({ reducedMotion: 'reduce', ...options })
      if (!fresh) await context.addCookies([{ name: 'visitor', value: secret(), url: at('shop.localhost') }])
      context.setDefaultTimeout(30_000) // a bound for a busy machine, nothing is measured by it
      const page = await context.newPage()
      page.troubles = []
      page.on('pageerror', (e) => page.troubles.push(e.message))
      page.on('console', (m) => m.type() === 'error' && page.troubles.push(m.text()))
      return page
    },
    async kill() {
      program.child.kill('SIGKILL')
      await program.ended
    },
    async restart() {
      program = run('demo', env)
      if (!(await program.ready)) throw new Error(program.said())
    },
    async stop() {
      await browser.close()
      program.child.kill('SIGTERM')
      await program.ended
      // What went wrong inside is told with the test that met it.
      for (const line of program.said().split('\n')) if (/level=(ERROR|WARN)|panic/.test(line)) console.error(line)
      const reset = run('reset', env)
      await reset.ended
      await rm(data, { recursive: true, force: true })
    },
  }
}

const axe = readFileSync(new URL('../node_modules/axe-core/axe.min.js', import.meta.url), 'utf8')

// accessible fails with what axe finds on a page, and in the till's card frame.
// Proofs and letters run no script, not even axe's; proofs are checked as the
// pages they are.
export async function accessible(page) {
  for (const frame of [page.mainFrame(), ...page.frames().filter((f) => f.url().includes('//till.') && f !== page.mainFrame())]) {
    await frame.evaluate(axe)
    // Two rules are about whole pages, not about what stands in a frame.
    const whole = frame === page.mainFrame()
    const found = await frame.evaluate(
      (whole) =>
        globalThis.axe.run(document, {
          iframes: false,
          rules: { 'landmark-one-main': { enabled: whole }, 'page-has-heading-one': { enabled: whole } },
        }),
      whole,
    )
    const said = found.violations.map(
      (v) => `${v.id}: ${v.help}\n${v.nodes.map((n) => `  ${n.target.join(' ')} ${n.failureSummary}`).join('\n')}`,
    )
    if (said.length) throw new Error(`${frame.url()}\n${said.join('\n')}`)
  }
}

export async function signIn(program) {
  const page = await program.open({ viewport: desktop })
  await page.goto(program.studio('/'))
  await page.fill('[name=email]', owner.email)
  await page.fill('[name=password]', owner.password)
  await page.click('text=Sign in')
  await page.waitForURL('**/pages')
  return page
}

const buyer = { name: 'Ines Falk', street: '7 Lee Lane', postcode: '1200-109', town: 'Lisbon' }

// Each browser's buyer has an email of their own: who has bought before under the same
// one may be led otherwise.
const emails = new WeakMap()
let buyers = 0

export async function fillIn(page) {
  if (!emails.has(page.context())) emails.set(page.context(), `ines.${++buyers}@example.org`)
  for (const [name, value] of Object.entries({ ...buyer, email: emails.get(page.context()) })) await page.fill(`[name=${name}]`, value)
  await page.selectOption('[name=country]', 'Portugal')
}

export async function typeCard(page, number) {
  const frame = page.frameLocator('iframe[title^="Card details"]')
  await frame.locator('[name=number]').fill(number)
  await frame.locator('[name=expiry]').fill('08/31')
  await frame.locator('[name=code]').fill('123')
}

// fieldReady waits until the till's frame has said how tall it is, and so takes keys. It does
// once it is seen: a browser spares the work of a frame of another origin that is out of sight.
export async function fieldReady(page) {
  await page.locator('iframe[title^="Card details"]').scrollIntoViewIfNeeded()
  await page.locator('iframe[title^="Card details"][style*=height]').waitFor()
}

// lands waits until the page has gone to an address, and tells what the form said if it does not.
export async function lands(page, address) {
  try {
    await page.waitForURL(address)
  } catch (e) {
    const said = await page.evaluate(() =>
      [...document.querySelectorAll('[data-notice], [data-error], [aria-busy=true]')].map((el) => el.textContent.trim()).filter(Boolean),
    )
    throw new Error(`${e.message}at ${page.url()}, which says ${JSON.stringify(said)}; in trouble by ${JSON.stringify(page.troubles)}`, {
      cause: e,
    })
  }
}

export const pay = (page) => page.click('[data-checkout] button.act:not([data-next])')

// saved waits until the manuscript's desk has nothing left to send, and its
// gauges tell of what was sent.
export const saved = (page) =>
  page.waitForFunction(
    () => document.querySelector('[data-saved]').textContent === 'Saved' && !document.querySelector('#gauges[data-behind]'),
  )

// post sends a form as a page of the studio does, and answers with what came of it.
export const post = (page, path, body) =>
  page.evaluate(
    async ([path, body]) => {
      const answer = await fetch(path, {
        method: 'POST',
        headers: { 'X-Csrf-Token': document.body.dataset.csrf },
        body: new URLSearchParams(body),
      })
      return { url: answer.url, status: answer.status, text: await answer.text() }
    },
    [path, body],
  )

export async function publish(page) {
  const answer = await post(page, '/publish', {})
  if (!/Edition \d+ is live/.test(answer.text))
    throw new Error(`it was not published: ${/<h1>(.*?)<.h1>/.exec(answer.text)?.[1] ?? answer.text.slice(0, 600)}`)
}

// command sends a change of a page as its desk does, and answers with what came of it.
export const command = (page, id, body) =>
  page.evaluate(
    async ([id, body]) => {
      const answer = await fetch(`/pages/${id}/commands`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', 'X-Csrf-Token': document.body.dataset.csrf },
        body: JSON.stringify(body),
      })
      return { status: answer.status, ...(await answer.json()) }
    },
    [id, body],
  )

// inOwnWords says what a template left to say: nobody publishes its words as
// they came, and publishing is stopped by headlines and legal pages that are.
export async function inOwnWords(page, program, id, legal) {
  await page.goto(program.studio(`/pages/${id}`))
  const steps = await page.$$eval(legal ? '[data-piece] [data-field=text]' : '[data-piece] .ed-h1[data-field=text]', (texts) =>
    texts.map((text) => ({
      op: 'set',
      piece: text.closest('[data-piece]').dataset.piece,
      field: 'text',
      value: `In our own words: ${text.textContent}`,
    })),
  )
  const told = await command(page, id, { command: { op: 'several', steps } })
  if (told.status !== 200) throw new Error(JSON.stringify(told))
}

// Templates whose pages are shown to whom has paid.
export const ofOrder = ['upsell', 'downsell', 'thank-you']

// everyTemplate makes a page of each template that ships, bare, and publishes them.
export async function everyTemplate(program, page) {
  await page.goto(program.studio('/pages/new'))
  const names = await page.$$eval('.template input', (all) =>
    all.map((input) => input.value).filter((value) => value && !value.startsWith('kept:')),
  )
  const made = []
  for (const name of names) {
    if (name === 'thank-you') {
      // A funnel has one; the demo's takes the template's bands.
      await post(page, '/pages/thank-you/retake', { template: name })
      made.push({ name, id: 'thank-you', path: '/thank-you' })
      continue
    }
    const answer = await post(page, '/pages', { name: `Look at ${name}`, template: name, layout: 'bare', purpose: '', address: '' })
    if (!/\/pages\/[a-z0-9]+$/.test(answer.url)) throw new Error(`${name}: ${answer.text.slice(0, 300)}`)
    // The page of a product stands at the addresses of goods.
    made.push({ name, id: answer.url.split('/').pop(), path: name === 'product' ? '/goods/beech-reel' : `/look-at-${name}` })
  }
  for (const { name, id } of made) await inOwnWords(page, program, id, name === 'legal')
  if (made.length < 16) throw new Error(`only ${made.length} templates`)
  await publish(page)
  return made
}

// bought is the token of an order of this browser.
export async function bought(program, visitor) {
  await visitor.goto(program.shop('/night-flight'))
  await fillIn(visitor)
  await typeCard(visitor, cards.approves)
  await pay(visitor)
  await visitor.waitForURL('**?order=*')
  return new URL(visitor.url()).searchParams.get('order')
}
