// Whatever the slip of a piece or a band offers changes what is drawn, for every
// kind of piece: judged by pixels, and by place where room or order is meant.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { command, desktop, phone, post, signIn, start } from './program.mjs'

let program, page, id
before(async () => {
  program = await start()
  page = await signIn(program)
  const made = await post(page, '/pages', { name: 'One of each', template: 'bridge', layout: 'bare', purpose: '', address: '' })
  id = made.url.split('/').pop()
  await page.goto(program.studio(`/pages/${id}`))
})
after(() => program.stop())

// What each kind shows. A video needs a film, and none ships.
const link = 'page:night-flight'
const kinds = {
  answer: { product: 'lantern-cell', accept: 'Yes', decline: 'No' },
  appointment: {},
  aside: { title: 'Know this', text: 'Words beside it' },
  badges: { items: [{ icon: 'check', text: 'Mended free' }] },
  bullets: { items: [{ text: 'One point' }, { text: 'And another one' }] },
  button: { label: 'To the kites', target: link, second: 'Or home', second_target: link, icon: 'star' },
  checkout: { product: 'ember', button: 'Buy' },
  code: { code: 'FROST', text: 'Type it below' },
  compare: { first: 'Ours', second: 'Others', items: [{ what: 'Line', first: 'yes', second: 'no' }] },
  details: { product: 'ember' },
  divider: {},
  embed: { title: 'Own', html: '<p>Own</p>' },
  faq: { items: [{ question: 'Is it late?', answer: 'No.' }] },
  form: {},
  gallery: {
    items: [
      { picture: 'dunes', caption: 'Dunes' },
      { picture: 'bag', caption: 'Bag' },
    ],
  },
  groups: { items: [{ group: 'group-light-wind', text: 'For evenings' }] },
  heading: { text: 'A heading', level: '2' },
  hours: {},
  way: { items: [{ what: 'Harbour', side: 'n', far: '5 minutes' }] },
  icon: {},
  legal: { text: 'Sold by us' },
  menu: { home: 'First page' },
  perks: { items: [{ icon: 'check', title: 'Mended', text: 'For ever' }] },
  phone: { text: 'Ring us', number: '+351 210 000 000' },
  picture: { picture: 'dunes' },
  price: { product: 'ember' },
  product: { product: 'ember', text: 'It flies', label: 'See it', target: link },
  quote: { text: 'It flew', who: 'Rui' },
  rating: { average: '4.8', count: '212', source: 'our counter' },
  receipt: {},
  rotate: {
    items: [
      { title: 'A first try', text: 'For an hour' },
      { title: 'Your own', text: 'We mend it' },
    ],
  },
  shelf: { shelf: 'to-begin' },
  social: { items: [{ picture: 'dunes', text: 'Dunes' }] },
  stock: { product: 'ember', from: '100000' },
  announcement: { text: 'Lanterns fly', icon: 'flame' },
  summary: { product: 'ember', title: 'Your order' },
  testimonials: { items: [{ words: 'It flew', who: 'Rui', where: 'Faro' }] },
  text: { text: 'Some words of copy' },
  timer: { caption: 'Until then', deadline: 'lantern-friday', then: 'hide' },
}

// Values of each property of which at least one is not what the house has.
const values = {
  align: ['end', 'center'],
  size: ['160'],
  weight: ['300', '900'],
  line: ['240'],
  colour: ['#0a7d55', '#c2185b'],
  effect: ['caps', 'italic', 'lift'],
  family: ['bitter', 'rubik'],
  breadth: ['40'],
  cut: ['leaf', 'slant'],
  tint: ['duotone', 'night'],
  mark_size: ['200'],
  mark_colour: ['#0a7d55', '#c2185b'],
  room_in: ['220'],
  rim: ['slope', 'hill'],
  aside: ['60'],
  rise: ['40'],
  sink: ['40'],
  now_size: ['160'],
  now_weight: ['300', '900'],
  now_colour: ['#0a7d55', '#c2185b'],
  struck_size: ['160'],
  struck_weight: ['300', '900'],
  struck_colour: ['#0a7d55', '#c2185b'],
  ground: ['#d5b8ff', '#0d3a66'],
  above: ['96'],
  below: ['96'],
  inside: ['40'],
  edge: ['6'],
  edge_in: ['#c2185b'],
  corner: ['pill', 'none'],
  shadow: ['firm'],
  seen: ['phone'],
  order: ['5'],
  width: ['narrow', 'full'],
  picture: ['dunes'],
  scene: ['town-by-day', 'town-by-night'],
  fit: ['contain'],
  focus_x: ['0'],
  focus_y: ['0'],
  veil: ['60'],
  veil_of: ['light'],
}
// What can be seen only on what another property draws.
const beside = {
  edge_in: { edge: '6' },
  corner: { edge: '6', ground: '#d5b8ff' },
  order: {},
  fit: { picture: 'dunes' },
  focus_x: { picture: 'dunes', fit: 'contain' },
  focus_y: { picture: 'dunes' },
  veil: { picture: 'dunes' },
  veil_of: { picture: 'dunes', veil: '60' },
}
const placed = ['above', 'below', 'seen', 'order', 'aside', 'rise', 'sink']
// What is seen only under a pointer: e2e/hand.test.mjs.
const pointed = ['hover']

const send = async (body) => {
  const told = await command(page, id, body)
  assert.equal(told.status, 200, told.detail)
  return told
}
const dress = (targets, set) => send({ command: { op: 'dress', looks: targets.map((t) => ({ id: t.target, set })) } })
const offered = (target) =>
  page.evaluate(
    async ([id, target]) => {
      const html = await (await fetch(`/pages/${id}/look/${target}`)).text()
      const at = new DOMParser().parseFromString(html, 'text/html').querySelectorAll('[data-look-set]')
      return [...new Set([...at].map((el) => el.dataset.lookSet))]
    },
    [id, target],
  )

// drawn is each target as a proof draws it: its picture with what lies around it,
// and where it stands.
const now = Math.floor(Date.now() / 1000)
async function drawn(proof, targets, placed) {
  await proof.goto(program.studio(`/pages/${id}/proof?as_of=${now}`))
  await proof.evaluate(() => document.fonts.ready)
  const out = {}
  for (const { target, at } of targets) {
    if (placed) {
      out[target] = await proof.locator(at).evaluate((el) => {
        const s = getComputedStyle(el)
        return [s.display, s.order, s.left, s.marginTop, s.marginBottom, s.paddingTop, s.paddingBottom].join()
      })
      continue
    }
    const box = await proof.locator(at).evaluate((el) => {
      const b = el.getBoundingClientRect()
      return {
        x: Math.max(0, b.x - 20),
        y: Math.max(0, b.y - 20),
        width: Math.min(innerWidth, b.width + 40),
        height: Math.min(b.height + 40, 900),
      }
    })
    out[target] = (await proof.screenshot({ clip: box })).toString('base64')
  }
  return out
}

// idle are the properties that a target is offered and that change nothing of it.
async function idle(targets) {
  const proof = await page.context().newPage()
  const found = []
  for (const t of targets) {
    t.offers = await offered(t.target)
    t.offers = t.offers.filter((p) => !pointed.includes(p))
    for (const p of t.offers) assert.ok(values[p], `${p} is offered and has no values here`)
  }
  for (const property of Object.keys(values)) {
    const left = new Set(targets.filter((t) => t.offers.includes(property)))
    if (!left.size) continue
    // A place of its own is taken on a phone only.
    await proof.setViewportSize({ ...(property === 'order' ? phone : desktop), height: 16_000 })
    const first = beside[property] ?? {}
    await dress([...left], first)
    const plain = await drawn(proof, left, placed.includes(property))
    const all = [...left]
    for (const value of values[property]) {
      await dress(all, { [property]: value })
      const worn = await drawn(proof, left, placed.includes(property))
      for (const t of left) if (worn[t.target] !== plain[t.target]) left.delete(t)
      if (!left.size) break
    }
    await dress(all, Object.fromEntries([property, ...Object.keys(first)].map((p) => [p, null])))
    for (const t of left) found.push(`${property} on ${t.kind}`)
  }
  await proof.close()
  return found
}

test('every property that a piece offers changes its drawing, for every kind', async () => {
  const offers = new Set(await page.$$eval('[data-new]', (all) => all.map((el) => el.dataset.new)))
  offers.delete('video')
  assert.deepEqual(
    [...offers].filter((kind) => !kinds[kind]),
    [],
    'kinds that have no content here',
  )
  const band = await page.getAttribute('.band-row', 'data-band')
  const targets = []
  for (const [kind, fields] of Object.entries(kinds)) {
    const { added } = await send({ piece: kind, command: { op: 'add_piece', id: band, column: 0, index: 1000 } })
    for (const [field, value] of Object.entries(fields)) await send({ command: { op: 'set', piece: added, field, value } })
    targets.push({ kind, target: added, at: `#p-${added}` })
  }
  await page.goto(program.studio(`/pages/${id}/proof?as_of=${now}`))
  for (const t of targets) {
    const box = (await page.locator(t.at).count()) && (await page.locator(t.at).boundingBox())
    assert.ok(box && box.height > 1, `${t.kind} is drawn`)
  }
  await page.goto(program.studio(`/pages/${id}`))
  assert.deepEqual(await idle(targets), [])
})

test('every property that a band offers changes its drawing', async () => {
  await page.goto(program.studio(`/pages/${id}`))
  const target = await page.locator('.band-row').nth(1).getAttribute('data-band')
  assert.deepEqual(await idle([{ kind: 'band', target, at: `#band-${target}` }]), [])
})
