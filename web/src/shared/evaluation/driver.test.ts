import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { api } from '../api/client'
import type { Recipe } from '../design/recipe'
import { useDesign } from '../design/store'
import { recipeOf, tern } from '../testing'
import { startEvaluating, stopWorking } from './driver'
import { useEvaluations } from './store'

/** What the server says of one piece of lettering, in short. */
const outlineOf = (text: string) => ({
  box: { x: 0, y: 0, width: 10, height: 10 },
  films: [{ colour: '#2B5674', clusters: [text] }],
  parts: [],
  bridges: [],
  cut_length_mm: 1,
  nodes: 3,
  loose_marks: 0,
  unmet: [],
  display_name: text,
  clusters: [{ key: text, pieces: [] }],
  built: [],
  marks: [],
  forms: [],
})

/** A question on its way. */
interface Asked {
  path: string
  text: string
  signal: AbortSignal
  answers: (body: unknown, status?: number) => Promise<void>
  isAway: () => Promise<void>
}

/** A server that answers when the test says so. */
let asked: Asked[]
const outlines = () => asked.filter(({ path }) => path === '/api/evaluate')
const paths = () => asked.map(({ path }) => path)
const settle = () => vi.advanceTimersByTimeAsync(0)
const pause = (ms: number) => vi.advanceTimersByTimeAsync(ms)

function serve(path: string, { body, signal }: { body: { recipe: Recipe }; signal: AbortSignal }) {
  const part = body.recipe.parts[0]
  return new Promise((resolve, reject) => {
    signal.addEventListener('abort', () => reject(new DOMException('let go', 'AbortError')))
    asked.push({
      path,
      text: part?.kind === 'lettering' ? part.text : '',
      signal,
      answers: async (said, status = 200) => {
        const response = new Response(null, { status })
        resolve(response.ok ? { data: said, response } : { error: said, response })
        await settle()
      },
      isAway: async () => {
        reject(new TypeError('no connection'))
        await settle()
      },
    })
  })
}

const open = (id: string, text: string) =>
  useDesign.getState().open({ id, name: '', recipe: recipeOf([tern({ text })]) })
const type = async (text: string) => {
  useDesign.getState().edit({ text })
  await settle()
}
const shown = () => useEvaluations.getState().evaluation?.called
const trouble = () => useEvaluations.getState().troubles[0]?.problem.kind

let stop: () => void
beforeEach(async () => {
  vi.useFakeTimers()
  asked = []
  vi.spyOn(api, 'POST').mockImplementation(serve as unknown as typeof api.POST)
  open('A', 'T')
  stop = startEvaluating()
  await settle()
})
afterEach(() => {
  stop()
  vi.restoreAllMocks()
  vi.useRealTimers()
})

describe('the outline', () => {
  it('is asked for at once; of what is typed meanwhile, the newest only', async () => {
    expect(outlines().map(({ text }) => text)).toEqual(['T'])
    await type('Te')
    await type('Ter')
    await type('Tern')
    expect(outlines()).toHaveLength(1)
    await outlines()[0]?.answers(outlineOf('T'))
    expect(shown()).toBe('T')
    expect(outlines().map(({ text }) => text)).toEqual(['T', 'Tern'])
    await outlines()[1]?.answers(outlineOf('Tern'))
    expect(shown()).toBe('Tern')
    expect(outlines()).toHaveLength(2)
  })

  it('of an earlier recipe is let go of once it takes long', async () => {
    await pause(600)
    await type('Te')
    expect(outlines()[0]?.signal.aborted).toBe(true)
    expect(outlines().map(({ text }) => text)).toEqual(['T', 'Te'])
    expect(trouble()).toBeUndefined()
  })

  it('of a design that is not open any more is dropped', async () => {
    const [first] = outlines()
    open('B', 'Sedge')
    await settle()
    await first?.answers(outlineOf('T'))
    expect(shown()).toBeUndefined()
    await outlines().at(-1)?.answers(outlineOf('Sedge'))
    expect(shown()).toBe('Sedge')
  })

  it('says that it takes long, and can be stopped: what was drawn stays', async () => {
    await outlines()[0]?.answers(outlineOf('T'))
    await type('Te')
    await pause(1600)
    expect(useEvaluations.getState().working).toBe(true)
    stopWorking()
    await settle()
    expect(useEvaluations.getState().working).toBe(false)
    expect([shown(), trouble()]).toEqual(['T', 'stopped'])
    await type('Ter')
    await outlines().at(-1)?.answers(outlineOf('Ter'))
    expect([shown(), trouble()]).toEqual(['Ter', undefined])
  })

  it('is asked for again by itself while the server is away, but not when it was refused', async () => {
    await outlines()[0]?.isAway()
    expect(trouble()).toBe('away')
    await pause(1600)
    expect(outlines()).toHaveLength(2)
    await outlines()[1]?.answers({ kind: 'too-crossed', what: 'No.', todo: '', faces: [] }, 422)
    expect(trouble()).toBe('too-crossed')
    await pause(10_000)
    expect(outlines()).toHaveLength(2)
  })
})

describe('seams and findings', () => {
  it('are asked for when the outline is there and the maker pauses', async () => {
    await outlines()[0]?.answers(outlineOf('T'))
    await pause(90)
    expect(paths()).toEqual(['/api/evaluate'])
    await pause(20)
    expect(paths()).toEqual(['/api/evaluate', '/api/seams'])
    await pause(150)
    expect(paths()).toEqual(['/api/evaluate', '/api/seams', '/api/findings'])
  })

  it('wait while letters are typed one after the other', async () => {
    await outlines()[0]?.answers(outlineOf('T'))
    for (const text of ['Te', 'Ter', 'Tern']) {
      await pause(80)
      await type(text)
      await outlines().at(-1)?.answers(outlineOf(text))
    }
    expect(paths().filter((path) => path !== '/api/evaluate')).toEqual([])
    await pause(300)
    expect(asked.filter(({ path }) => path !== '/api/evaluate').map(({ text }) => text)).toEqual([
      'Tern',
      'Tern',
    ])
  })

  it('say so where the check has failed, and the outline stays', async () => {
    await outlines()[0]?.answers(outlineOf('T'))
    await pause(300)
    const failed = { kind: 'server', what: 'Oh.', todo: '', faces: [] }
    await asked.find(({ path }) => path === '/api/findings')?.answers(failed, 500)
    expect(useEvaluations.getState().unchecked?.kind).toBe('server')
    expect([shown(), trouble()]).toEqual(['T', undefined])
  })
})

it('words that are cleared show nothing, and nothing is asked', async () => {
  await outlines()[0]?.answers(outlineOf('T'))
  await type('')
  await pause(500)
  expect(shown()).toBeUndefined()
  expect(paths()).toEqual(['/api/evaluate'])
})
