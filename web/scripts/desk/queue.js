// @ts-check
// The line in which a page's commands wait: they go out one after the other, in the
// order in which they were made.

/**
 * @typedef {{ command?: { value?: unknown } & Record<string, unknown> } & Record<string, unknown>} Body
 * @typedef {{ key: unknown, body: Body }} Waiting
 */

/**
 * Makes a line.
 *
 * What is typed on in one field (key) while its last command waits for its turn goes
 * with that command, so that a slow studio is never far behind. What a command is on its
 * way for, a field or a list (of), is awaited until it has come back.
 *
 * @template Told
 * @param {object} on
 * @param {(body: Body, of: unknown) => Promise<Told>} on.post sends one command, and gives what it came to
 * @param {() => void} on.busy a command was put in line
 * @param {() => void} on.idle the last one in line has come back
 */
export function queue({ post, busy, idle }) {
  /** @type {Promise<any>} */
  let line = Promise.resolve()
  let waiting = 0
  /** @type {Waiting | null} the command that was put in line last, while it waits */
  let last = null
  /** @type {Map<unknown, number>} */
  const pending = new Map()

  return {
    /**
     * @param {Body} body
     * @param {unknown} [of]
     * @param {unknown} [key]
     * @returns {Promise<Told>}
     */
    send(body, of, key) {
      if (key && last?.key === key && last.body.command && body.command) {
        last.body.command.value = body.command.value
        return line
      }
      const mine = { key, body }
      last = mine
      waiting++
      if (of) pending.set(of, (pending.get(of) ?? 0) + 1)
      busy()
      line = line
        .catch(() => {}) // what went wrong with one is told to who sent it, and keeps none of the others
        .then(() => {
          if (last === mine) last = null
          return post(body, of)
        })
        .finally(() => {
          if (--waiting === 0) idle()
        })
      return line
    },
    /**
     * Does something once everything that waits now has come back.
     * @param {() => any} then
     */
    later(then) {
      line = line.catch(() => {}).then(then)
      return line
    },
    /** @param {unknown} of */
    came(of) {
      const n = (pending.get(of) ?? 0) - 1
      if (n > 0) pending.set(of, n)
      else pending.delete(of)
    },
    /** @param {unknown} of */
    awaits: (of) => pending.has(of),
    waits: () => waiting > 0,
  }
}

/**
 * Asks until there is an answer: where there is none, again after a second, then after
 * twice as long each time, up to a quarter of a minute.
 *
 * @template Answer
 * @param {() => Promise<Answer>} ask
 * @param {() => void} away there was no answer
 * @param {(ms: number) => Promise<unknown>} [pause]
 * @returns {Promise<Answer>}
 */
export async function persist(ask, away, pause = (ms) => new Promise((again) => setTimeout(again, ms))) {
  for (let wait = 1000; ; wait = Math.min(wait * 2, 15000)) {
    try {
      return await ask()
    } catch {
      away()
      await pause(wait)
    }
  }
}
