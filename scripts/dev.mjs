// Builds and begins the demo anew whenever a source changes; open pages of the studio load
// again by themselves. Ctrl+C stops all of it.
import { spawn, spawnSync } from 'node:child_process'
import { watch } from 'node:fs'

const sources = ['app', 'cmd', 'core', 'demo', 'gateway', 'internal', 'pieces', 'render', 'shopfront', 'standin', 'store', 'studio', 'web']
const read = /\.(go|html|sql|scss|js|mjs|svg)$/

let program = null
let wanted = true
let busy = false

function begin() {
  const run = spawn('bin/chrysagon', ['demo', '--reload'], { stdio: 'inherit' })
  run.on('exit', (code) => {
    if (program === run) {
      program = null
      if (code) console.error(`The demo ended with ${code}; it is begun anew at the next change.`)
    }
  })
  program = run
}

async function anew() {
  if (busy) return
  busy = true
  while (wanted) {
    wanted = false
    if (spawnSync('make', ['-s', 'build'], { stdio: 'inherit' }).status !== 0) continue // what is running goes on until it builds
    if (program) await new Promise((done) => program.once('exit', done) && program.kill('SIGINT'))
    begin()
  }
  busy = false
}

let resting
for (const folder of sources)
  watch(folder, { recursive: true }, (_, name) => {
    if (!name || !read.test(name) || name.startsWith('dist/')) return
    clearTimeout(resting)
    resting = setTimeout(() => {
      wanted = true
      anew()
    }, 150)
  })
process.on('SIGINT', () => {
  if (!program) process.exit(0)
  program.once('exit', () => process.exit(0))
})
anew()
