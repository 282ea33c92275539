// A store of one's own, without the demo: made, signed in to, and open to nobody else.
import assert from 'node:assert/strict'
import { spawn } from 'node:child_process'
import { rm, writeFile } from 'node:fs/promises'
import { after, before, test } from 'node:test'
import { accessible, desktop, freePort, run, start } from './program.mjs'

const owner = { email: 'ines@dune-post.example', password: 'four words over dunes' }
let other, port, env, served
// init runs to its end and gives its code and what it said.
function init(...flags) {
  const child = spawn('bin/chrysagon', ['init', ...flags], {
    env: { ...process.env, DATABASE_URL: '', ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  let said = ''
  for (const from of [child.stdout, child.stderr]) from.on('data', (text) => (said += text))
  return new Promise((resolve) => child.on('exit', (code) => resolve({ code, said })))
}
const flags = [
  '--store',
  'Dune Post',
  '--currency',
  'EUR',
  '--country',
  'PT',
  '--zone',
  'Europe/Lisbon',
  '--owner',
  'Ines Prado',
  '--email',
  owner.email,
]

before(async () => {
  other = await start() // its browser
  port = await freePort()
  env = { PORT: String(port), CHRYSAGON_DATA: `.data/e2e-${port}` }
})
after(async () => {
  served?.child.kill('SIGTERM')
  await served?.ended
  await run('reset', env).ended
  await rm(env.CHRYSAGON_DATA, { recursive: true, force: true })
  await other.stop()
})

test('a store is made with a password that is nobody’s default', async () => {
  const file = `.data/password-${port}`
  const none = await init(...flags)
  assert.equal(none.code, 2)
  assert.match(none.said, /name a file that holds it with --password-file/)
  await writeFile(file, 'password1234\n')
  const weak = await init(...flags, '--password-file', file)
  assert.equal(weak.code, 2)
  assert.match(weak.said, /easy to guess/)
  await writeFile(file, owner.password + '\n')
  const made = await init(...flags, '--password-file', file)
  assert.equal(made.code, 0, made.said)
  const again = await init(...flags, '--password-file', file)
  assert.equal(again.code, 1)
  assert.match(again.said, /holds a store already/)
  await rm(file)
})

test('it is served alone, says what it runs with, and tells its owner what to do first', async () => {
  served = run('serve', env)
  assert.ok(await served.ready, served.said())
  assert.match(served.said(), /Payments +none/)
  assert.match(served.said(), /Mail +none/)
  assert.doesNotMatch(served.said(), /password/)
  const page = await other.open({ viewport: desktop })
  for (const host of ['till', 'letterbox', 'book']) assert.equal((await page.goto(`http://${host}.localhost:${port}/`)).status(), 421, host)
  await page.goto(`http://localhost:${port}/`)
  assert.doesNotMatch(await page.textContent('body'), /demo|lantern/)
  await page.fill('[name=email]', owner.email)
  await page.fill('[name=password]', owner.password)
  await page.click('text=Sign in')
  await page.waitForURL('**/pages')
  assert.match(await page.textContent('.first'), /Say who you are.*Bring your goods in.*Let buyers pay/s)
  await accessible(page)
  await page.goto(`http://localhost:${port}/orders`)
  assert.match(await page.textContent('.empty'), /No order yet/)
  await accessible(page)
  await page.goto(`http://localhost:${port}/account`)
  await accessible(page)
  assert.match(await page.textContent('.sessions'), /this one/)
  const shop = await page.goto(`http://shop.localhost:${port}/`)
  assert.ok(shop.status() < 500)
})
