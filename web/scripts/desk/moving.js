// @ts-check
// Bands and pieces are moved by buttons, by keys and by hand.
import Sortable from 'sortablejs'
import { around, bandOf, named, one, pieceOf } from './dom.js'

/**
 * @param {HTMLElement} sheet
 * @param {(body: import('./queue.js').Body) => Promise<any>} send
 * @param {() => void} flush what is typed is sent first
 */
export function moving(sheet, send, flush) {
  /**
   * @param {Element} el in the band
   * @param {number} by how far, in bands
   */
  function move(el, by) {
    const row = around(el, '[data-band]')
    const to = Number(row.dataset.index) + by
    if (to < 0 || to >= sheet.querySelectorAll('.band-row').length) return
    flush()
    send({ command: { op: 'move_band', id: row.dataset.band, index: to } }).then(() => {
      named(sheet, 'band', row.dataset.band ?? '')?.scrollIntoView({ block: 'nearest' })
    })
  }

  /**
   * A piece moves within its column, or on to the next one.
   * @param {HTMLElement} el
   */
  function reseat(el) {
    const to = { column: Number(el.dataset.column), index: Number(el.dataset.index) }
    if (el.dataset.seat === 'up') to.index--
    if (el.dataset.seat === 'down') to.index++
    if (el.dataset.seat === 'over') Object.assign(to, { column: (to.column + 1) % Number(el.dataset.columns), index: 1000 })
    if (to.index < 0) return
    send({
      command: { op: 'move_piece', piece: pieceOf(el), id: bandOf(el), ...to },
    })
  }

  // dragged lets bands be dragged by their handles.
  function dragged() {
    const bands = one(sheet, '.bands')
    if (Sortable.get(bands)) return
    Sortable.create(bands, {
      handle: '.handle',
      draggable: '.band-row',
      animation: matchMedia('(prefers-reduced-motion: reduce)').matches ? 0 : 120,
      onEnd: (e) => {
        if (e.oldDraggableIndex !== e.newDraggableIndex)
          send({ command: { op: 'move_band', id: e.item.dataset.band, index: e.newDraggableIndex } })
      },
    })
  }

  return { move, reseat, dragged }
}
