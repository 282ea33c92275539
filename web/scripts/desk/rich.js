// Copy with structure, written in place. A field becomes an editor when it is
// entered and plain content again when it is left; what may be written is what
// core/rich keeps, and what is pasted comes in by the same rules.
import { baseKeymap, chainCommands, exitCode, setBlockType, toggleMark } from 'prosemirror-commands'
import { history, redo, undo } from 'prosemirror-history'
import { inputRules, textblockTypeInputRule, wrappingInputRule } from 'prosemirror-inputrules'
import { keymap } from 'prosemirror-keymap'
import { DOMParser, DOMSerializer, Schema } from 'prosemirror-model'
import { liftListItem, sinkListItem, splitListItem, wrapInList } from 'prosemirror-schema-list'
import { EditorState, TextSelection } from 'prosemirror-state'
import { EditorView } from 'prosemirror-view'

const schema = new Schema({
  nodes: {
    doc: { content: 'block+' },
    paragraph: { group: 'block', content: 'inline*', parseDOM: [{ tag: 'p' }], toDOM: () => ['p', 0] },
    heading: {
      group: 'block',
      content: 'inline*',
      parseDOM: ['h1', 'h2', 'h3', 'h4', 'h5', 'h6'].map((tag) => ({ tag })),
      toDOM: () => ['h2', 0],
    },
    bullets: { group: 'block', content: 'item+', parseDOM: [{ tag: 'ul' }], toDOM: () => ['ul', 0] },
    numbers: { group: 'block', content: 'item+', parseDOM: [{ tag: 'ol' }], toDOM: () => ['ol', 0] },
    item: { content: 'paragraph', parseDOM: [{ tag: 'li' }], toDOM: () => ['li', 0], defining: true },
    text: { group: 'inline' },
    br: { group: 'inline', inline: true, selectable: false, parseDOM: [{ tag: 'br' }], toDOM: () => ['br'] },
  },
  marks: {
    link: {
      attrs: { href: {} },
      inclusive: false,
      parseDOM: [{ tag: 'a[href]', getAttrs: (el) => ({ href: el.getAttribute('href') }) }],
      toDOM: (mark) => ['a', { href: mark.attrs.href }, 0],
    },
    b: {
      parseDOM: [{ tag: 'strong' }, { tag: 'b' }],
      toDOM: () => ['b', 0],
    },
    i: { parseDOM: [{ tag: 'em' }, { tag: 'i' }], toDOM: () => ['i', 0] },
  },
})
const { paragraph, heading, bullets, numbers, item, br } = schema.nodes
const { b, i, link } = schema.marks
const parser = DOMParser.fromSchema(schema)
const serializer = DOMSerializer.fromSchema(schema)

const theirs = 'theirs' // marks what was not typed here

function html(doc) {
  const box = document.createElement('div')
  box.append(serializer.serializeFragment(doc.content))
  for (const p of box.querySelectorAll('li > p')) p.replaceWith(...p.childNodes)
  return doc.textContent.trim() === '' ? '' : box.innerHTML
}

// A word processor writes list items as paragraphs that say in their style
// which list and depth they belong to, with the bullet as text.
export function tidy(text) {
  const doc = new window.DOMParser().parseFromString(text.replace(/<!\[if[^>]*>|<!\[endif\]>/gi, ''), 'text/html')
  lists(doc)
  weights(doc)
  return doc.body.innerHTML
}

// What styles say of weight and slope becomes elements: the studio's policy
// keeps styles of such documents from being read otherwise.
function weights(doc) {
  for (const el of [...doc.querySelectorAll('[style]')]) {
    const style = el.getAttribute('style')
    const weight = /(?:^|[;\s])font-weight\s*:\s*([a-z0-9]+)/i.exec(style)?.[1]
    if (el.localName === 'b' && weight === 'normal') el.replaceWith(...el.childNodes) // some editors wrap all they copy in such a one
    if (/^(bold|bolder|[6-9]\d\d)$/.test(weight)) wrap(el, 'b')
    if (/font-style\s*:\s*italic/i.test(style)) wrap(el, 'i')
  }
}
function wrap(el, name) {
  const mark = el.ownerDocument.createElement(name)
  mark.append(...el.childNodes)
  el.append(mark)
}

function lists(doc) {
  let list = null
  for (const p of [...doc.querySelectorAll('p, h1, h2, h3')]) {
    if (!/mso-list\s*:\s*(?!none)/i.test(p.getAttribute('style') ?? '')) {
      list = null
      continue
    }
    const bullet = p.querySelector('[style*="mso-list:Ignore" i], [style*="mso-list: ignore" i]')
    const numbered = /^\s*\(?[0-9a-z]{1,3}[.)]/i.test(bullet?.textContent ?? '')
    bullet?.remove()
    if (!list || list.previousElementSibling === p) p.before((list = doc.createElement(numbered ? 'ol' : 'ul')))
    const li = doc.createElement('li')
    li.append(...p.childNodes)
    list.append(li)
    p.remove()
  }
}

// what the clipboard holds: its plain words, and its HTML where there is some
export function pasted(e) {
  const plain = e.clipboardData?.getData('text/plain') ?? ''
  return { plain, text: e.clipboardData?.getData('text/html') || plain }
}

// whether what is pasted may be more than copy: a title, a quotation, a box, a long letter.
// The studio reads it and says; most of what is pasted is copy, and nobody is asked.
export function isMore(text, plain) {
  const long = plain.split(/\s+/).length >= 150
  return (
    long ||
    /<(h1|blockquote|aside)\b|Mso(Title|Subtitle|Quote|IntenseQuote)|<(div|table|p|td)[^>]*(border|background)[^>]*(solid|#|rgb)/i.test(
      text,
    )
  )
}

export function rich({ sheet, page, typed, left, letter }) {
  const editors = new Map()
  let going = false

  function enter(el) {
    if (editors.has(el)) return editors.get(el)
    const content = document.createElement('div')
    content.append(...[...el.childNodes].map((n) => n.cloneNode(true)))
    const state = EditorState.create({
      doc: parser.parse(content),
      plugins: [
        history(),
        inputRules({
          rules: [
            wrappingInputRule(/^\s*[-*•]\s$/, bullets),
            wrappingInputRule(/^1[.)]\s$/, numbers),
            textblockTypeInputRule(/^##?#?\s$/, heading),
          ],
        }),
        keymap({
          'Mod-b': toggleMark(b),
          'Mod-i': toggleMark(i),
          'Mod-k': () => (linking(el), true),
          'Mod-z': undo,
          'Mod-Shift-z': redo,
          'Mod-y': redo,
          'Alt-F10': () => (bar.querySelector('button').focus(), true),
          'Shift-Enter': chainCommands(exitCode, (s, go) => (go?.(s.tr.replaceSelectionWith(br.create()).scrollIntoView()), true)),
          Enter: splitListItem(item),
          Tab: sinkListItem(item),
          'Shift-Tab': liftListItem(item),
        }),
        keymap(baseKeymap),
      ],
    })
    el.classList.add('written')
    const view = new EditorView(
      { mount: el },
      {
        state,
        transformPastedHTML: tidy,
        handlePaste(editor, e) {
          const { plain, text } = pasted(e)
          if (!letter || going || !isMore(text, plain)) return false
          left(el)
          letter(el, text).then((taken) => {
            if (taken) return
            going = true // it is copy: it goes in as any
            if (text === plain) editor.pasteText(plain)
            else editor.pasteHTML(text)
            going = false
          })
          return true
        },
        dispatchTransaction(tr) {
          view.updateState(view.state.apply(tr))
          show(view)
          if (tr.docChanged && !tr.getMeta(theirs)) typed(el)
        },
      },
    )
    editors.set(el, view)
    bar.el = el
    bar.hidden = false
    show(view)
    return view
  }

  function leave(el) {
    const view = editors.get(el)
    if (!view) return
    left(el) // what is still to be sent is sent while it can be read
    editors.delete(el)
    const words = html(view.state.doc)
    view.destroy()
    el.classList.remove('written', 'ProseMirror', 'ProseMirror-focused')
    el.contentEditable = 'true'
    el.innerHTML = words // made by our own serializer from our own schema
    bar.hidden = true
  }

  // ---- the bar at the foot of the paper, where it covers nothing that is written
  const bar = document.createElement('div')
  bar.className = 'rich-bar'
  bar.hidden = true
  bar.setAttribute('role', 'toolbar')
  bar.setAttribute('aria-label', 'Copy')
  const tools = [
    ['B', 'Strong, Ctrl+B', () => toggleMark(b), (s) => holds(s, b)],
    ['I', 'Emphatic, Ctrl+I', () => toggleMark(i), (s) => holds(s, i)],
    [
      'Sub-heading',
      'Sub-heading, ## and a space',
      (s) => setBlockType(within(s, heading) ? paragraph : heading),
      (s) => within(s, heading),
    ],
    ['• List', 'List, - and a space', (s) => (within(s, bullets) ? liftListItem(item) : wrapInList(bullets)), (s) => within(s, bullets)],
    [
      '1. List',
      'Numbered list, 1. and a space',
      (s) => (within(s, numbers) ? liftListItem(item) : wrapInList(numbers)),
      (s) => within(s, numbers),
    ],
    ['Link', 'Link, Ctrl+K', null, (s) => holds(s, link)],
  ]
  for (const [name, title, command] of tools) {
    const button = document.createElement('button')
    button.type = 'button'
    button.textContent = name
    button.title = title
    button.addEventListener('mousedown', (e) => e.preventDefault()) // the words keep the focus
    button.addEventListener('click', () => {
      const view = editors.get(bar.el)
      if (!view) return
      command ? command(view.state)(view.state, view.dispatch, view) : linking(bar.el)
      if (command) view.focus()
    })
    bar.append(button)
  }
  // Where a link leads is found by a word, or typed as an address.
  const where = document.createElement('div')
  where.className = 'rich-where'
  where.hidden = true
  const word0 = document.createElement('input')
  word0.className = 'input is-small'
  word0.placeholder = page ? 'A page, a product, a band, or https://…' : 'https://…, mailto:… or tel:…'
  word0.setAttribute('aria-label', 'Where the link leads')
  const found = document.createElement('div')
  found.className = 'candidates'
  where.append(word0, found)
  bar.append(where)
  sheet.after(bar)
  let asked = 0
  async function look() {
    if (!page) return // addresses alone
    const mine = ++asked
    const answer = await fetch(`/choose/link?page=${page}&q=${encodeURIComponent(word0.value)}`)
    const html = answer.ok ? await answer.text() : ''
    if (mine === asked) found.innerHTML = html // a fragment of the studio's own
  }
  word0.addEventListener('input', look)
  found.addEventListener('click', (e) => e.target.closest('[data-pick]') && put(e.target.closest('[data-pick]').dataset.pick))

  const holds = (s, mark) =>
    s.selection.empty
      ? !!mark.isInSet(s.storedMarks ?? s.selection.$from.marks())
      : s.doc.rangeHasMark(s.selection.from, s.selection.to, mark)
  const within = (s, type) => {
    const at = s.selection.$from
    for (let d = at.depth; d > 0; d--) if (at.node(d).type === type) return true
    return false
  }
  function show(view) {
    tools.forEach(([, , , on], n) => bar.children[n].setAttribute('aria-pressed', on(view.state)))
  }

  // A link is put on the words that are marked, or on the word at the caret.
  function linking(el) {
    const view = editors.get(el)
    if (view.state.selection.empty) word(view)
    if (view.state.selection.empty) return
    if (holds(view.state, link)) return toggleMark(link)(view.state, view.dispatch)
    word0.value = ''
    where.hidden = false
    word0.focus()
    look()
  }
  function word(view) {
    const { $from } = view.state.selection
    const text = $from.parent.textContent
    let from = $from.parentOffset
    let to = from
    while (from > 0 && /\S/.test(text[from - 1])) from--
    while (to < text.length && /\S/.test(text[to])) to++
    const start = $from.start()
    view.dispatch(view.state.tr.setSelection(TextSelection.create(view.state.doc, start + from, start + to)))
  }
  function put(target) {
    const view = editors.get(bar.el)
    where.hidden = true
    if (view && target) toggleMark(link, { href: target })(view.state, view.dispatch)
    view?.focus()
  }
  bar.addEventListener('keydown', (e) => {
    if (e.key === 'Escape') put('') // back to the words
    if (e.key === 'Enter' && e.target === word0) {
      e.preventDefault()
      const only = found.querySelectorAll('[data-pick]')
      put(/^[a-z]+:/.test(word0.value.trim()) ? word0.value.trim() : only[0]?.dataset.pick)
    }
  })

  function place(view, pos) {
    view.focus()
    view.dispatch(view.state.tr.setSelection(TextSelection.near(view.state.doc.resolve(pos))).scrollIntoView())
  }

  // ---- in and out
  const field = (el) => el.closest?.('.ed[data-type=rich]')
  // The words under a press are drawn anew by it, so the caret is put there by us:
  // the browser would do so only after the first keys had gone nowhere.
  sheet.addEventListener(
    'pointerdown',
    (e) => {
      const el = field(e.target)
      if (!el || editors.has(el)) return
      const view = enter(el)
      const at = view.posAtCoords({ left: e.clientX, top: e.clientY })
      if (at) place(view, at.pos)
    },
    true,
  )
  sheet.addEventListener('focusin', (e) => {
    const el = field(e.target)
    if (el) enter(el)
    for (const other of [...editors.keys()]) if (other !== el && !bar.contains(e.target)) leave(other)
  })
  document.addEventListener('focusout', (e) => {
    const el = field(e.target)
    const to = e.relatedTarget
    if (el && !(to && (el.contains(to) || bar.contains(to))))
      requestAnimationFrame(
        () => !el.contains(document.activeElement) && !bar.contains(document.activeElement) && document.hasFocus() && leave(el),
      )
  })
  sheet.addEventListener('click', (e) => field(e.target) && e.target.closest('a') && e.preventDefault())

  return {
    bar,
    value: (el) => (editors.has(el) ? html(editors.get(el).state.doc) : el.dataset.value),
    written: (el) => editors.has(el),
    // what somebody else wrote, or undo brought back: only what differs is
    // replaced, so that the caret and one's own steps back stay
    set(el, words) {
      const view = editors.get(el)
      const content = document.createElement('div')
      content.innerHTML = words
      const doc = parser.parse(content)
      let tr = view.state.tr
      // What is kept ends without a space; who is about to write the next word
      // has one. It is put aside, so that it does not count as a difference.
      const { $head } = tr.selection
      const space = $head.parentOffset === $head.parent.content.size ? /\s*$/.exec($head.parent.textContent)[0].length : 0
      if (space) tr.delete($head.pos - space, $head.pos)
      const now = tr.doc
      const from = now.content.findDiffStart(doc.content)
      if (from === null) return
      let { a, b } = now.content.findDiffEnd(doc.content)
      const both = from - Math.min(a, b)
      if (both > 0) [a, b] = [a + both, b + both]
      tr.replace(from, a, doc.slice(from, b))
      if (!tr.doc.eq(doc)) tr = view.state.tr.replaceWith(0, view.state.doc.content.size, doc.content)
      const at = tr.doc.resolve(tr.mapping.map($head.pos, -1))
      if (space && at.parent.isTextblock && at.parentOffset === at.parent.content.size && /\S$/.test(at.parent.textContent))
        tr.insertText(' ', at.pos)
      view.dispatch(tr.setMeta(theirs, true).setMeta('addToHistory', false))
    },
    // the caret goes before a sign of the words
    caret(el, offset) {
      const view = enter(el)
      let left = offset
      let at = null
      view.state.doc.descendants((node, pos) => {
        if (at !== null) return false
        if (node.isText) {
          if (left <= node.text.length) at = pos + left
          left -= node.text.length
        }
        return true
      })
      place(view, at ?? view.state.doc.content.size - 1)
    },
  }
}
