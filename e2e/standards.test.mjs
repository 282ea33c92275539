// What pages say to machines, against what was published about how to say it.
import assert from 'node:assert/strict'
import { execFileSync } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { after, before, test } from 'node:test'
import { everyTemplate, ofOrder, signIn, start } from './program.mjs'

let program, made
before(async () => {
  program = await start()
  made = await everyTemplate(program, await signIn(program))
})
after(() => program.stop())

// The schema is that of sitemaps.org, last modified 2008-03-26, as it was
// published (Attribution-ShareAlike).
test('the sitemap keeps to its published schema', async () => {
  const page = await program.open()
  await page.goto(program.shop('/night-flight'))
  const xml = await page.evaluate(async () => (await fetch('/sitemap.xml')).text())
  const file = join(tmpdir(), `sitemap-${program.port}.xml`)
  writeFileSync(file, xml)
  execFileSync('xmllint', ['--noout', '--nonet', '--schema', 'e2e/schemas/sitemap.xsd', file], { stdio: 'pipe' })
  for (const { name, path } of made) assert.equal(xml.includes(`${path}</loc>`), !ofOrder.includes(name), name)
})

// schema-dts holds the vocabulary of schema.org as types, made from what
// schema.org publishes.
test('JSON-LD speaks in terms of schema.org', async () => {
  const vocabulary = readFileSync('node_modules/schema-dts/dist/schema.d.ts', 'utf8')
  const members = (type) => {
    // A type has its own members and those of what it extends.
    const found = new RegExp(`interface ${type}(Base|Leaf)?( extends ([^{]+))? \\{([^]*?)\\n\\}`, 'g')
    const all = new Set()
    for (const m of vocabulary.matchAll(found)) {
      for (const [, name] of m[4].matchAll(/"([A-Za-z]+)"\??:/g)) all.add(name)
      for (const parent of (m[3] ?? '').matchAll(/([A-Za-z]+?)(Base|Leaf)\b/g))
        if (parent[1] !== type) for (const name of members(parent[1])) all.add(name)
    }
    return all
  }
  const page = await program.open()
  let nodes = 0
  function check(node, where) {
    if (Array.isArray(node)) return node.forEach((one) => check(one, where))
    if (typeof node !== 'object' || node === null) return
    const type = node['@type']
    assert.ok(vocabulary.includes(`"@type": "${type}"`), `${where}: ${type} is no type of schema.org`)
    const known = members(type)
    assert.ok(known.size > 0, type)
    nodes++
    for (const [name, value] of Object.entries(node)) {
      if (name.startsWith('@')) continue
      assert.ok(known.has(name), `${where}: a ${type} has no “${name}” by schema.org`)
      check(value, where)
    }
  }
  for (const { name, path } of [...made.filter((m) => !ofOrder.includes(m.name)), { name: 'night-flight', path: '/night-flight' }]) {
    await page.goto(program.shop(path))
    for (const text of await page.$$eval('script[type="application/ld+json"]', (all) => all.map((el) => el.textContent))) {
      const data = JSON.parse(text)
      assert.equal(data['@context'], 'https://schema.org')
      check(data['@graph'], name)
      for (const p of data['@graph'].filter((n) => n['@type'] === 'Product')) {
        assert.match(p.offers.price, /^\d+(\.\d+)?$/, 'a number with a point, without the currency’s sign (schema.org/price)')
        assert.match(p.offers.priceCurrency, /^[A-Z]{3}$/)
      }
    }
  }
  assert.ok(nodes >= 6, `${nodes} nodes were checked`)
})
