import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { Problem } from '../api/client'
import { recipeOf, tern } from '../testing'
import { Drafts, Windows, type Work } from './drafts'
import type { Recipe } from './recipe'
import { type Save, type Saved, SaveQueue, type SaveState } from './saveQueue'

const work = (text: string): Work => ({ name: text, recipe: recipeOf([tern({ text })]) })
const problem = (kind: string) => new Problem({ kind, what: kind, todo: '', faces: [] })

/** A browser's store, with as much room as is said. */
class Room implements Storage {
  private readonly kept = new Map<string, string>()
  constructor(public room = Number.POSITIVE_INFINITY) {}
  get length() {
    return this.kept.size
  }
  key(n: number) {
    return [...this.kept.keys()][n] ?? null
  }
  getItem(key: string) {
    return this.kept.get(key) ?? null
  }
  setItem(key: string, value: string) {
    if (value.length > this.room) throw new DOMException('full', 'QuotaExceededError')
    this.kept.set(key, value)
  }
  removeItem(key: string) {
    this.kept.delete(key)
  }
  clear() {
    this.kept.clear()
  }
}

/** A server whose answers come when the test says so; it holds what it was sent, as the real one does. */
class Server {
  readonly saves: Save[] = []
  private waiting: { resolve: (saved: Saved) => void; reject: (error: unknown) => void }[] = []
  send = (_design: string, save: Save): Promise<Saved> => {
    this.saves.push(save)
    return new Promise((resolve, reject) => this.waiting.push({ resolve, reject }))
  }
  async answers() {
    this.waiting.shift()?.resolve({ revision: this.saves.length + 1, changed: '2026-11-26T10:00:00Z' })
    await vi.advanceTimersByTimeAsync(0)
  }
  async fails(kind: string) {
    this.waiting.shift()?.reject(kind === 'page' ? new TypeError('oh') : problem(kind))
    await vi.advanceTimersByTimeAsync(0)
  }
  get last() {
    return this.saves.at(-1)?.name
  }
}

let store: Room
let drafts: Drafts
let server: Server
let states: SaveState['kind'][]

function opened(window = 'w', design = 'A') {
  const at = new Date()
  const keeper = new SaveQueue({ design, window, revision: 1, saved: work('Tern'), at }, drafts, server.send)
  keeper.tell((state) => states.push(state.kind))
  return keeper
}
const drafted = (design = 'A') => drafts.of(design).map((draft) => draft.name)
const pause = (ms = 500) => vi.advanceTimersByTimeAsync(ms)

beforeEach(() => {
  vi.useFakeTimers()
  store = new Room()
  drafts = new Drafts(store)
  server = new Server()
  states = []
})
afterEach(() => vi.useRealTimers())

describe('an edit', () => {
  it('is a draft at once, a revision a moment later, and then no draft', async () => {
    const keeper = opened()
    keeper.change(work('Tern II'))
    expect(drafted()).toEqual(['Tern II'])
    expect(server.saves).toHaveLength(0)
    await pause()
    expect(server.last).toBe('Tern II')
    await server.answers()
    expect(drafted()).toEqual([])
    expect(keeper.state.kind).toBe('saved')
    expect(keeper.revision).toBe(2)
  })

  it('made while a save is unanswered is saved after it', async () => {
    const keeper = opened()
    keeper.change(work('one'))
    await pause()
    keeper.change(work('two'))
    await server.answers()
    expect(drafted()).toEqual(['two'])
    await pause()
    expect(server.last).toBe('two')
    expect(server.saves[1]?.based_on).toBe(2)
    await server.answers()
    expect(drafted()).toEqual([])
  })

  it('made while a save is unanswered is saved after it also when the design was left meanwhile', async () => {
    const keeper = opened()
    keeper.change(work('one'))
    await pause()
    keeper.change(work('two'))
    keeper.tell(() => undefined)
    keeper.flush()
    await server.answers()
    await pause()
    expect(server.last).toBe('two')
    await server.answers()
    expect(drafted()).toEqual([])
  })

  it('that is undone while its save is on its way is undone on the server too', async () => {
    const keeper = opened()
    const before = keeper.work
    keeper.change(work('one'))
    await pause()
    keeper.change(before)
    await server.answers()
    await pause()
    expect(server.last).toBe('Tern')
  })

  it('that is undone before it was sent leaves nothing to send', async () => {
    const keeper = opened()
    const before = keeper.work
    keeper.change(work('one'))
    keeper.change(before)
    await pause(5000)
    expect(server.saves).toHaveLength(0)
    expect(drafted()).toEqual([])
    expect(keeper.state.kind).toBe('saved')
  })

  it('has a higher number than the one before, also within a millisecond', async () => {
    const keeper = opened()
    for (const text of ['one', 'two', 'three']) {
      keeper.change(work(text))
      keeper.flush()
      await server.answers()
    }
    const edits = server.saves.map((save) => save.edit)
    expect(edits).toEqual([...edits].sort((a, b) => a - b))
    expect(new Set(edits).size).toBe(3)
  })
})

describe('a server in trouble', () => {
  it.each([
    ['away', 'away'],
    ['server', 'failed'],
    ['busy', 'failed'],
    ['page', 'failed'],
  ])('that is %s is told as %s, and asked again until it has the edit', async (kind, told) => {
    const keeper = opened()
    keeper.change(work('one'))
    await pause()
    for (let n = 0; n < 4; n++) {
      await server.fails(kind)
      expect(keeper.state.kind).toBe(told)
      await pause(16_000)
    }
    keeper.change(work('two'))
    expect(keeper.state.kind).toBe(told)
    await server.answers()
    await pause()
    expect(server.last).toBe('two')
    await server.answers()
    expect(keeper.state.kind).toBe('saved')
    expect(drafted()).toEqual([])
  })

  it('that did not answer may have the edit all the same: undoing it is sent', async () => {
    const keeper = opened()
    const before = keeper.work
    keeper.change(work('one'))
    await pause()
    await server.fails('away')
    keeper.change(before)
    await pause(1000)
    expect(server.last).toBe('Tern')
  })

  it('that refuses the work is asked again only when it has changed', async () => {
    const keeper = opened()
    keeper.change(work('one'))
    await pause()
    await server.fails('recipe-too-large')
    expect(keeper.state).toMatchObject({ kind: 'refused', drafted: true })
    await pause(60_000)
    expect(server.saves).toHaveLength(1)
    expect(drafted()).toEqual(['one'])
    keeper.change(work('two'))
    await pause()
    expect(server.last).toBe('two')
  })

  it('is told apart from a browser without room', async () => {
    const keeper = opened()
    store.room = 10
    keeper.change(work('one'))
    expect(keeper.isAtRisk).toBe(true)
    await pause()
    await server.fails('away')
    expect(keeper.state).toEqual({ kind: 'away', drafted: false })
    await pause(1000)
    await server.answers()
    expect(keeper.state.kind).toBe('saved')
    expect(keeper.isAtRisk).toBe(false)
  })
})

describe('another window', () => {
  it('that saved first is a conflict of this design only, and the draft stays', async () => {
    const one = opened('w', 'A')
    one.change(work('one'))
    await pause()
    one.tell(() => undefined)
    const other = opened('w', 'B')
    states = []
    await server.fails('changed-elsewhere')
    expect(one.state.kind).toBe('conflict')
    expect(states).toEqual([])
    other.change(work('two'))
    await pause()
    await server.answers()
    expect(other.state.kind).toBe('saved')
    expect(drafted('A')).toEqual(['one'])
  })

  it('has drafts of its own: saving or undoing here leaves them alone', async () => {
    const here = opened('here')
    const there = opened('there')
    there.change(work('theirs'))
    here.change(work('ours'))
    await pause()
    await server.answers()
    await server.answers()
    there.change(work('theirs II'))
    const before = here.work
    here.change(work('ours II'))
    here.change(before)
    expect(drafted()).toContain('theirs II')
  })
})

describe('a draft', () => {
  it('is gone on from after a reload, under its own number and from its own revision', async () => {
    const before = opened()
    before.change(work('one'))
    const [draft] = drafts.of('A')
    const after = opened()
    after.resume(work('one'), draft?.edit ?? 0, draft?.basedOn ?? 0)
    await pause(0)
    expect(server.saves[0]).toMatchObject({ name: 'one', based_on: 1, window: 'w', edit: draft?.edit })
  })

  it('is let go of only by a save of the same edit or a later one', () => {
    const keep = (edit: number) =>
      drafts.keep({ design: 'A', window: 'w', edit, basedOn: 1, ...work(`${edit}`) })
    keep(7)
    drafts.drop({ design: 'A', window: 'w', edit: 6 })
    expect(drafted()).toEqual(['7'])
    drafts.drop({ design: 'A', window: 'w', edit: 7 })
    expect(drafted()).toEqual([])
  })

  it('reads back as it was, and a drawing in it that did not change is not written anew', () => {
    let times = 0
    const d = 'M0 0L1 1'.repeat(5_000)
    const drawing = {
      id: 'art',
      d,
      toJSON() {
        times += 1
        return { id: 'art', d }
      },
    }
    const recipe = { ...work('x').recipe, parts: [drawing] } as unknown as Recipe
    for (const name of ['one “"edit":9”', 'two']) {
      const draft = { design: 'A', window: 'w', edit: 3, basedOn: 1, name, recipe }
      drafts.keep(draft)
      expect(drafts.of('A')).toEqual([
        JSON.parse(JSON.stringify({ ...draft, recipe: { ...recipe, parts: [{ id: 'art', d }] } })),
      ])
    }
    expect(times).toBe(1)
    drafts.drop({ design: 'A', window: 'w', edit: 2 })
    expect(drafted()).toEqual(['two'])
  })

  it('of a design only, as drafts once were, is found', () => {
    store.setItem('fulgen-draft-A', JSON.stringify({ ...work('of old'), basedOn: 3 }))
    expect(drafts.of('A')).toMatchObject([{ name: 'of old', basedOn: 3, window: 'before' }])
    expect(drafts.of('A')).toHaveLength(1)
  })

  it('that cannot be read is none, and harms no other', () => {
    store.setItem('fulgen-draft-A/x', '{"recipe":')
    store.setItem('fulgen-draft-A/y', 'null')
    opened().change(work('one'))
    expect(drafted()).toEqual(['one'])
  })
})

it('an end drops the draft and sends nothing more', async () => {
  const keeper = opened()
  keeper.change(work('one'))
  keeper.end()
  await pause(60_000)
  expect(server.saves).toHaveLength(0)
  expect(drafted()).toEqual([])
})

describe('a session store that is full or refused', () => {
  const full = {
    getItem: () => {
      throw new DOMException('refused')
    },
    setItem: () => {
      throw new DOMException('full', 'QuotaExceededError')
    },
  }

  it('gives a window a name all the same, which it keeps', async () => {
    const windows = new Windows(undefined, full)
    const name = await windows.name()
    expect(name).toMatch(/^[0-9a-f-]{36}$/)
    expect(await windows.name()).toBe(name)
    expect(await windows.claim(name)).toBe(true)
    expect(await windows.claim('another')).toBe(false)
  })
})
