import { beforeEach, expect, test } from 'vitest'
import { fakeStorage } from '../testing'
import { keepSteps, keptSteps } from './keptSteps'
import { NO_RECIPE } from './recipe'

const work = (name: string) => ({ name, recipe: { ...NO_RECIPE } })
let store: Storage

beforeEach(() => {
  store = fakeStorage()
})

test('steps are there again for the design as it was', () => {
  const steps = { past: [work('Tern'), work('Heron')], future: [work('Wren')] }
  keepSteps(store, 'one', work('Reed'), steps)
  expect(keptSteps(store, 'one', work('Reed'))).toEqual(steps)
})

test('the order of fields does not matter, for the server writes them in its own', () => {
  const now = work('Reed')
  keepSteps(store, 'one', now, { past: [work('Tern')], future: [] })
  const turned = { recipe: Object.fromEntries(Object.entries(now.recipe).toReversed()), name: 'Reed' }
  expect(keptSteps(store, 'one', turned as never)?.past).toHaveLength(1)
})

test('a design that was changed elsewhere has no steps', () => {
  keepSteps(store, 'one', work('Reed'), { past: [work('Tern')], future: [] })
  expect(keptSteps(store, 'one', work('Sedge'))).toBeNull()
  expect(keptSteps(store, 'two', work('Reed'))).toBeNull()
})

test('what is too long is kept by its last steps', () => {
  const long = (name: string) => work(name + 'x'.repeat(150_000))
  keepSteps(store, 'one', work('Reed'), {
    past: Array.from({ length: 60 }, (_, n) => long(`${n}`)),
    future: [],
  })
  const kept = keptSteps(store, 'one', work('Reed'))
  expect(kept?.past.length).toBeGreaterThan(5)
  expect(kept?.past.at(-1)?.name.startsWith('59')).toBe(true)
})
