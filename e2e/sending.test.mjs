// How letters go out: signed so that an independent verifier believes it, to a segment of a
// list that was brought in from a file, once to each through kills of program and database;
// and what comes back.
import assert from 'node:assert/strict'
import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { after, before, test } from 'node:test'
import { dkimVerify } from 'mailauth/lib/dkim/verify.js'
import { accessible, desktop, signIn, start } from './program.mjs'

let program
let studio
before(async () => {
  program = await start()
  studio = await signIn(program)
})
after(() => program.stop())

// table reads the letterbox's ledger in the browser, which knows the host; null while the
// database begins anew.
async function table(page) {
  await page.goto(program.letterbox('/ledger.json'))
  const said = await page.locator('body').innerText()
  return said.startsWith('[') ? JSON.parse(said) : null
}

test('letters are signed by the key that is made here', async () => {
  await studio.goto(program.studio('/audience'))
  await studio.click('text=How letters go out')
  await accessible(studio)
  await studio.click('text=Make the key')
  await studio.waitForSelector('.record textarea')
  await accessible(studio)
  const name = await studio.locator('.record code').first().innerText()
  const text = await studio.locator('.record textarea').first().inputValue()
  assert.match(name, /^shop\d{6}\._domainkey\.gustwell\.example$/)

  // A letter to oneself, as the letterbox took it from the wire.
  await studio.goto(program.studio('/audience/people'))
  const status = await studio.evaluate(async () => {
    const answer = await fetch('/audience/letters/until-midnight/trial', {
      method: 'POST',
      headers: { 'X-Csrf-Token': document.body.dataset.csrf },
    })
    return answer.status
  })
  assert.equal(status, 200)
  const inbox = await program.open({ viewport: desktop })
  await inbox.goto(program.letterbox('/'))
  await accessible(inbox)
  await inbox.locator('a', { hasText: 'Lantern Friday ends at midnight' }).first().click()
  const source = await inbox.locator('a', { hasText: 'As it came over the wire' }).getAttribute('href')
  const [download] = await Promise.all([inbox.waitForResponse((r) => r.url().endsWith('/source')), inbox.goto(program.letterbox(source))])
  const raw = await download.body()
  const resolver = async (asked, type) => {
    assert.equal(type, 'TXT')
    return asked === name ? [[text]] : []
  }
  const found = await dkimVerify(raw, { resolver })
  assert.equal(found.results.length, 1)
  assert.equal(found.results[0].status.result, 'pass', JSON.stringify(found.results[0].status))
  assert.equal(found.results[0].signingDomain, 'gustwell.example')

  // One changed letter in it, and nobody believes it.
  const forged = Buffer.from(raw.toString('latin1').replace('Subject: ', 'Subject: x'), 'latin1')
  const other = await dkimVerify(forged, { resolver })
  assert.notEqual(other.results[0].status.result, 'pass')
  await inbox.context().close()
})

test('a file of people, a sentence, and a letter to all of them, once to each, through kills', { timeout: 600_000 }, async () => {
  const many = 400
  await studio.goto(program.studio('/audience'))
  await studio.click('a[href="/audience/lists/the-guide"]')
  await studio.click('text=Bring people in from a file')
  const lines = [
    'email,name',
    ...Array.from({ length: many }, (_, i) => `fair-${i}@readers.example,Reader ${i}`),
    'no address,Nobody',
    'fair-1@readers.example,Twice',
  ]
  await studio.setInputFiles('[name=file]', { name: 'fair.csv', mimeType: 'text/csv', buffer: Buffer.from(lines.join('\n')) })
  await studio.fill('[name=consent]', 'On paper at the harbour fair, June 2026')
  await studio.click('text=See what would come of it')
  await studio.waitForSelector(`text=It would bring ${many} new people`)
  await studio.waitForSelector('text=Line 402, “no address”')
  await studio.click('text=Bring them in')
  await studio.waitForSelector(`text=It brought ${many} new people`)
  await accessible(studio)

  // The sentence, by keys: everybody who was not sent anything.
  await studio.goto(program.studio('/audience/people'))
  await studio.selectOption('[name=did]', { label: 'were not sent' })
  await studio.waitForSelector('text=Keep this sentence')
  await studio.fill('#people-q', 'fair-')
  await studio.waitForSelector(`text=${many} people`)
  await studio.fill('#people-q', '')
  await studio.waitForFunction((n) => !document.querySelector('[role=status]').textContent.startsWith(`${n} people`), many)
  await studio.locator('form[action="/audience/segments"] [name=name]').fill('Sent nothing yet')
  await studio.click('text=Keep this sentence')
  await studio.waitForSelector('text=It is kept')
  await accessible(studio)

  // The letter to all of those on the list.
  await studio.goto(program.studio('/audience/broadcasts/new'))
  await studio.selectOption('[name=letter]', { label: 'Until midnight' })
  await studio.selectOption('[name=list]', { label: 'The guide' })
  await studio.selectOption('[name=segment]', { label: 'only “Sent nothing yet”' })
  await studio.fill('[name=pace]', '20')
  await studio.click('text=Keep it, and see whom it reaches')
  const send = studio.locator('button', { hasText: 'Send it to' })
  await send.waitFor()
  const reached = Number(/\d+/.exec(await send.innerText())[0])
  assert.ok(reached >= many, `${reached} reached`)
  await accessible(studio)
  const at = studio.url()
  await send.click()
  await studio.waitForSelector('text=Stop it')

  const inbox = await program.open({ viewport: desktop })
  const got = async () => ((await table(inbox)) ?? []).filter((l) => l.receiver.startsWith('fair-'))
  const until = async (n) => {
    while ((await got()).length < n) await inbox.waitForTimeout(200)
  }
  await until(60)
  await program.kill()
  await program.restart()
  await until(140)
  // The database loses a process, and begins all of its others anew from its log.
  const postmaster = () => Number(readFileSync(`${program.env.CHRYSAGON_DATA}/postgres/postmaster.pid`, 'utf8').split('\n')[0])
  const backends = execFileSync('ps', ['-o', 'pid=,args=', '--ppid', postmaster()], { encoding: 'utf8' })
    .split('\n')
    .filter((l) => /127\.0\.0\.1|\[local\]/.test(l))
  process.kill(Number(backends[0].trim().split(' ')[0]), 'SIGKILL')
  await until(200)
  // The whole server is gone, and is started again.
  const gone = postmaster()
  process.kill(gone, 'SIGKILL')
  await until(260)
  assert.notEqual(postmaster(), gone)
  // Stopped and taken up again.
  await studio.goto(at)
  await studio.click('text=Stop it')
  await studio.waitForSelector('text=Go on with the')
  const held = (await got()).length
  await studio.click('text=Go on with the')
  await studio.waitForSelector('text=Stop it')
  assert.ok(held < many)
  await until(many)

  const all = await got()
  assert.equal(new Set(all.map((l) => l.receiver)).size, many, 'nobody is left out')
  assert.equal(all.length, many, 'one Message-ID for each')
  const repeats = all.reduce((n, l) => n + l.times - 1, 0)
  assert.ok(repeats <= 8 * 3, `${repeats} repeats: at most one for each connection in flight at each kill`)
  await studio.goto(at)
  await studio.waitForSelector('text=What came of it')
  await accessible(studio)
})

test('what comes back is told, and held against the address', async () => {
  await studio.goto(program.studio('/audience'))
  await studio.click('a[href="/audience/lists/news-of-the-coast"]')
  await studio.click('text=Bring people in from a file')
  const people = [
    'email',
    'ana+gone@readers.example',
    'bo+returns@readers.example',
    'cy+complains@readers.example',
    'di+full@readers.example',
    'ed@readers.example',
  ]
  await studio.setInputFiles('[name=file]', { name: 'coast.csv', mimeType: 'text/csv', buffer: Buffer.from(people.join('\n')) })
  await studio.fill('[name=consent]', 'In the shop, October 2026')
  await studio.click('text=Bring them in')
  await studio.waitForSelector('text=It brought 5 new people')
  await studio.goto(program.studio('/audience/broadcasts/new'))
  await studio.selectOption('[name=letter]', { label: 'Two bridles, one sky' })
  await studio.selectOption('[name=list]', { label: 'News of the coast' })
  await studio.fill('[name=pace]', '100')
  await studio.click('text=Keep it, and see whom it reaches')
  await studio.locator('button', { hasText: 'Send it to' }).click()
  await studio.waitForSelector('text=What came of it')
  for (const said of ['ana+gone', 'bo+returns', 'cy+complains', 'di+full']) {
    const row = studio.locator('.happened li', { hasText: said })
    do {
      await studio.goto(program.studio('/audience/sending'))
      await studio.waitForLoadState('networkidle')
    } while (!(await row.count()))
  }
  await accessible(studio)
  assert.match(await studio.locator('.happened li', { hasText: 'di+full' }).innerText(), /could not take it then; it is sent once more/)
  await studio.click('text=bo+returns@readers.example')
  await studio.waitForSelector('text=Letters came back: this address does not exist')
  await studio.click('text=Write to it again')
  await studio.waitForFunction(() => !document.body.textContent.includes('Letters came back: this'))
  await accessible(studio)
})

test('another program is told of a lead once they agreed, as its own form would have sent it', async () => {
  await studio.goto(program.studio('/audience'))
  await studio.click('text=Other programs')
  await accessible(studio)
  await studio.fill('#main [name=name]', 'The team')
  await studio.fill('#main [name=url]', program.studio('/leads').replace('localhost', 'receiver.localhost'))
  await studio.selectOption('[name=shape]', 'form')
  await studio.locator('[name=theirs]').nth(0).fill('EMAIL')
  await studio.locator('[name=ours]').nth(0).selectOption('email')
  await studio.locator('[name=theirs]').nth(1).fill('tag')
  await studio.locator('[name=words]').nth(1).fill('kites')
  await studio.click('text=Tell it from now on')
  await studio.waitForSelector('text=told of what happens from now on')
  await accessible(studio)
  const at = studio.url()

  const visitor = await program.open({ viewport: desktop })
  await visitor.goto(program.shop('/seven-knots'))
  const form = visitor.locator('#p-k-form form')
  await form.locator('[name=email]').fill('fay@readers.example')
  await form.locator('[name=consent]').check()
  await form.locator('button.act').click()
  await visitor.waitForURL((url) => !url.pathname.startsWith('/seven-knots'))
  const inbox = await program.open({ viewport: desktop })
  const asks = inbox.locator('a', { hasText: 'Please confirm' }).filter({ hasText: 'fay@readers.example' }).first() // the form hands a file out too
  while (!(await asks.count())) await inbox.goto(program.letterbox('/'))
  await asks.click()
  await inbox.waitForURL('**/letters/*')
  const link = /http:\S+\/letters\/\S+\/confirm/.exec(await inbox.locator('body').innerText())[0]
  await studio.goto(at)
  await studio.waitForSelector('text=Nothing yet.') // they have not agreed to it
  await visitor.goto(link)
  await visitor.click('text=Yes, write to me')
  const told = studio.locator('summary', { hasText: 'lead.created' })
  while (!(await told.locator('text=taken').count())) await studio.goto(at)
  await told.click()
  await studio.waitForSelector('text=EMAIL=fay%40readers.example')
  await accessible(studio)
  const receiver = await program.open({ viewport: desktop })
  await receiver.goto(program.studio('/').replace('localhost', 'receiver.localhost'))
  await receiver.waitForSelector('text=tag=kites')
  await accessible(receiver)
})
