// Every place of the studio on three screens: nothing runs over the edge, and the head takes
// one line.
import assert from 'node:assert/strict'
import { after, before, test } from 'node:test'
import { signIn, start } from './program.mjs'

let program
before(async () => (program = await start()))
after(() => program.stop())

const places = [
  '/pages',
  '/pages/new',
  '/pages/night-flight',
  '/season',
  '/goods',
  '/goods/ember',
  '/shelves',
  '/offers',
  '/routes',
  '/orders',
  '/results',
  '/audience',
  '/audience/people',
  '/audience/people/reader-03',
  '/audience/lists/the-guide',
  '/audience/sending',
  '/audience/broadcasts/new',
  '/relays',
  '/pages/two-bridles',
  '/house',
  '/store',
  '/pictures',
  '/publish',
  '/rates',
  '/account',
]

for (const [width, height] of [
  [1280, 800],
  [1920, 1080],
  [390, 844],
])
  test(`every place fits ${width} by ${height}`, async () => {
    const page = await signIn(program)
    await page.setViewportSize({ width, height })
    for (const place of places) {
      const answer = await page.goto(program.studio(place))
      assert.equal(answer.status(), 200, place)
      const seen = await page.evaluate(() => ({
        head: document.querySelector('.top').offsetHeight,
        over: document.documentElement.scrollWidth - innerWidth,
        tabs: [...document.querySelectorAll('.top nav a')].filter((a) => a.getBoundingClientRect().right > innerWidth + 1).length,
      }))
      assert.ok(seen.head <= 56, `${place}: the head is ${seen.head} high`)
      assert.ok(seen.over <= 0, `${place}: it runs over by ${seen.over}`)
      assert.equal(seen.tabs, 0, `${place}: every place can be reached`)
    }
  })
