// Builds what the program embeds: styles by Sass, scripts by esbuild, fonts and
// icons copied from their packages. Everything served gets its content's hash
// in its name; manifest.json joins the plain names to the hashed ones.
import { createHash } from 'node:crypto'
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'
import { build } from 'esbuild'
import { list } from 'isbot'
import * as sass from 'sass'

const root = new URL('..', import.meta.url).pathname
const dist = join(root, 'web/dist')
for (const name of readdirSync(dist)) if (name !== '.keep') rmSync(join(dist, name), { recursive: true })
for (const folder of ['served', 'pieces', 'icons', 'compose', 'past']) mkdirSync(join(dist, folder))

const manifest = {}
function serve(name, content) {
  const dot = name.lastIndexOf('.')
  const hash = createHash('sha256').update(content).digest('hex').slice(0, 12)
  const file = `${name.slice(0, dot)}-${hash}${name.slice(dot)}`
  writeFileSync(join(dist, 'served', file), content)
  // What is text is compressed once, here, as hard as can be.
  if (/\.(css|js|svg)$/.test(file)) {
    writeFileSync(join(dist, 'served', `${file}.br`), brotliCompressSync(content, { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } }))
    writeFileSync(join(dist, 'served', `${file}.gz`), gzipSync(content, { level: 9 }))
  }
  manifest[name] = `/assets/${file}`
}

const packages = join(root, 'node_modules')
// Every type family that is installed; core/style lists the same.
for (const name of readdirSync(join(packages, '@fontsource-variable')))
  for (const [to, from] of [
    [name, 'latin'],
    [`${name}-ext`, 'latin-ext'],
  ])
    serve(`${to}.woff2`, readFileSync(join(packages, `@fontsource-variable/${name}/files/${name}-${from}-wght-normal.woff2`)))

serve('mark.svg', readFileSync(join(root, 'web/mark.svg')))

// Styles may name a served file as url(asset:NAME).
const style = (path) =>
  sass
    .compile(path, { style: 'compressed', loadPaths: [packages, join(root, 'web/styles')], quietDeps: true, charset: false })
    .css.replace(/url\(asset:([a-z0-9.-]+)\)/g, (_, name) => `url(${manifest[name]})`)

for (const name of ['studio', 'standin']) serve(`${name}.css`, style(join(root, `web/styles/${name}.scss`)))
writeFileSync(join(dist, 'page.css'), style(join(root, 'web/styles/page.scss')))

const kinds = readdirSync(join(root, 'pieces'), { withFileTypes: true })
  .filter((e) => e.isDirectory())
  .map((e) => e.name)
for (const kind of kinds) {
  const path = join(root, 'pieces', kind, 'style.scss')
  if (existsSync(path)) writeFileSync(join(dist, 'pieces', `${kind}.css`), style(path))
}
// How bands are composed: a sheet for a family or a shape, and one for each of its manners.
const composing = join(root, 'web/styles/compose')
for (const file of readdirSync(composing, { recursive: true }))
  if (file.endsWith('.scss') && !file.includes('_'))
    writeFileSync(join(dist, 'compose', `${file.slice(0, -5).replace('/', '.')}.css`), style(join(composing, file)))
// What former compositions came to is kept as it was: what is live is still drawn with it.
for (const number of readdirSync(join(root, 'web/styles')).filter((name) => /^\d+$/.test(name)))
  cpSync(join(root, 'web/styles', number), join(dist, 'past', number), { recursive: true })

async function script(name, options) {
  const out = await build({ bundle: true, minify: true, write: false, format: 'iife', target: 'es2020', logLevel: 'warning', ...options })
  serve(name, out.outputFiles[0].contents)
}
const moving = kinds.map((kind) => `./pieces/${kind}/script.js`).filter((path) => existsSync(join(root, path)))
await script('page.js', {
  stdin: {
    contents: ['./web/scripts/page.js', './web/scripts/bar.js', ...moving].map((p) => `import ${JSON.stringify(p)}`).join('\n'),
    resolveDir: root,
  },
})
const outside = await build({
  entryPoints: [join(root, 'web/scripts/outside.js')],
  bundle: true,
  minify: true,
  write: false,
  target: 'es2020',
})
writeFileSync(join(dist, 'outside.js'), outside.outputFiles[0].contents)
for (const name of ['studio', 'cardfield']) await script(`${name}.js`, { entryPoints: [join(root, `web/scripts/${name}.js`)] })

// The studio's own signs, and the whole outline set for pages, a line each:
// name, words by which it is found, drawing.
const drawing = (name) =>
  readFileSync(join(packages, '@tabler/icons/icons/outline', `${name}.svg`), 'utf8')
    .replace(/<!--[\s\S]*?-->/g, '')
    .replace(/<svg[^>]*>/, '')
    .replace('</svg>', '')
    .replace(/\s*\n\s*/g, '')
    .trim()
for (const name of readFileSync(join(root, 'web/icons.txt'), 'utf8').trim().split('\n')) {
  const open =
    '<svg viewBox="0 0 24 24" width="24" height="24" fill="none" stroke="currentColor" stroke-width="1.75" stroke-linecap="round" stroke-linejoin="round" aria-hidden="true">'
  writeFileSync(join(dist, 'icons', `${name}.svg`), `${open}${drawing(name)}</svg>`)
}
const known = JSON.parse(readFileSync(join(packages, '@tabler/icons/icons.json'), 'utf8'))
const lines = Object.values(known)
  .filter((one) => one.styles.outline && one.category !== 'Brand') // brands are others' marks
  .map((one) =>
    [
      one.name,
      [one.category, ...one.tags]
        .join(' ')
        .toLowerCase()
        .replace(/[\t\n]/g, ' '),
      drawing(one.name),
    ].join('\t'),
  )
writeFileSync(join(dist, 'icons.tsv'), lines.sort().join('\n') + '\n')
// By which words robots name themselves, a pattern a line: the published list of isbot.
writeFileSync(join(dist, 'robots.list'), list.join('\n') + '\n')
writeFileSync(join(dist, 'manifest.json'), JSON.stringify(manifest, null, 1))
