// Where the caret goes when words change around it.
import assert from 'node:assert/strict'
import { test } from 'node:test'
import { follow } from '../scripts/desk/caret.js'

test('the caret stays by the words it stood at', () => {
  for (const [old, text, caret, want, why] of [
    ['night flight', 'night flight', 5, 5, 'nothing changed'],
    ['night flight', 'night flights', 5, 5, 'added behind it'],
    ['night flight', 'a night flight', 5, 7, 'added before it'],
    ['night flight', 'flight', 12, 6, 'taken away before it'],
    ['night flight', 'night', 12, 5, 'taken away where it stood'],
    ['night flight', '', 3, 0, 'all taken away'],
    ['', 'night', 0, 0, 'nothing was there'],
    ['abc', 'xabc', 0, 0, 'at the very beginning it stays there'],
    ['kite kite', 'kite and kite', 9, 13, 'words that repeat'],
  ])
    assert.equal(follow(old, text, caret), want, why)
})

test('wherever it was, it is within the words', () => {
  const words = ['', 'a', 'ab', 'lantern', 'a lantern kite', 'kite lantern a']
  for (const old of words)
    for (const text of words)
      for (let caret = 0; caret <= old.length; caret++) {
        const to = follow(old, text, caret)
        assert.ok(to >= 0, `${old} → ${text} at ${caret}: ${to}`)
        if (old === text) assert.equal(to, caret)
      }
})
