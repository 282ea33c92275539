// The line of commands, by itself.
import assert from 'node:assert/strict'
import { test } from 'node:test'
import { persist, queue } from '../scripts/desk/queue.js'

// A post that is answered when the test says so.
function slow() {
  const sent = []
  const answers = []
  return {
    sent,
    post: (body, of) => new Promise((done, fail) => (sent.push(structuredClone(body)), answers.push({ done: () => done(of), fail }))),
    async answer(n = 0) {
      answers.splice(n, 1)[0].done()
      await new Promise(setImmediate)
    },
    async fail() {
      answers.shift().fail(new Error('no'))
      await new Promise(setImmediate)
    },
  }
}
const set = (value) => ({ command: { op: 'set', value } })
const turn = () => new Promise(setImmediate)

test('commands go out one after the other', async () => {
  const till = slow()
  let idle = 0
  const line = queue({ post: till.post, busy() {}, idle: () => idle++ })
  const all = [line.send(set('a')), line.send(set('b')), line.send(set('c'))]
  await turn()
  assert.deepEqual(till.sent, [set('a')], 'the next waits for its turn')
  await till.answer()
  await till.answer()
  assert.equal(idle, 0)
  await till.answer()
  await Promise.all(all)
  assert.deepEqual(till.sent, [set('a'), set('b'), set('c')])
  assert.equal(idle, 1)
  assert.equal(line.waits(), false)
})

test('keys typed while one waits go together, and only in one field', async () => {
  const till = slow()
  const line = queue({ post: till.post, busy() {}, idle() {} })
  line.send(set('T'), 'title', 'title') // on its way
  await turn()
  line.send(set('Th'), 'title', 'title')
  line.send(set('Thi'), 'title', 'title')
  line.send(set('x'), 'other', 'other')
  line.send(set('This'), 'title', 'title')
  for (let i = 0; i < 4; i++) await till.answer()
  assert.deepEqual(
    till.sent.map((b) => b.command.value),
    ['T', 'Thi', 'x', 'This'],
    'the order of fields stays',
  )
})

test('what is on its way is awaited until it has come back', async () => {
  const till = slow()
  const line = queue({ post: till.post, busy() {}, idle() {} })
  line.send(set('a'), 'title')
  line.send(set('b'), 'title')
  line.came('title')
  assert.equal(line.awaits('title'), true, 'another is on its way')
  line.came('title')
  assert.equal(line.awaits('title'), false)
  assert.equal(line.awaits('other'), false)
})

test('a refused command keeps none of the others', async () => {
  const till = slow()
  let idle = 0
  const line = queue({ post: till.post, busy() {}, idle: () => idle++ })
  const first = line.send(set('a'))
  first.catch(() => {})
  const then = line.later(() => 'renewed')
  line.send(set('b'))
  await turn()
  await till.fail()
  await assert.rejects(first, /no/, 'who sent it is told')
  assert.equal(await then, 'renewed', 'what is done later is done in its turn')
  await till.answer()
  assert.deepEqual(till.sent, [set('a'), set('b')])
  assert.equal(idle, 1)
})

test('who does not answer is asked again, later each time', async () => {
  const waits = []
  let tries = 0
  let away = 0
  const answer = await persist(
    async () => {
      if (++tries < 7) throw new Error('away')
      return 'yes'
    },
    () => away++,
    async (ms) => waits.push(ms),
  )
  assert.equal(answer, 'yes')
  assert.deepEqual(waits, [1000, 2000, 4000, 8000, 15000, 15000])
  assert.equal(away, 6)
})
