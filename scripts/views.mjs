// Holds views to a form that can be read: no line is longer than 160 signs, and lines
// begin with two spaces for each step, without tabs, and end without any.
import { readFileSync } from 'node:fs'

const most = 160
let bad = 0
const say = (file, n, words) => {
  bad++
  console.error(`${file}:${n}: ${words}`)
}
for (const file of process.argv.slice(2)) {
  const text = readFileSync(file, 'utf8')
  if (!text.endsWith('\n') || text.endsWith('\n\n')) say(file, text.split('\n').length, 'ends with one line break')
  for (const [i, line] of text.split('\n').entries()) {
    const begins = /^\s*/.exec(line)[0]
    if ([...line].length > most) say(file, i + 1, `has ${[...line].length} signs; at most ${most} can be read at once`)
    if (begins.includes('\t')) say(file, i + 1, 'begins with a tab; two spaces are a step')
    else if (begins.length % 2 === 1) say(file, i + 1, 'begins with half a step; two spaces are one')
    if (/\s$/.test(line)) say(file, i + 1, 'ends with spaces')
  }
}
if (bad > 0) {
  console.error(`${bad} lines of views are hard to read`)
  process.exit(1)
}
