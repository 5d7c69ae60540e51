// Keeps one design of one window: each edit as a draft at once, as a revision on the server a moment later.
// A keeper goes on until the server has the last edit, also when the maker has gone to another design meanwhile,
// and what it is told is about its own design only.

import { Problem } from '../api/client'
import type { Drafts, Work } from './drafts'

export type SaveState =
  | { kind: 'saved'; at: Date }
  | { kind: 'saving' }
  /** The server does not answer, or fails; it is tried again. */
  | { kind: 'away' | 'failed'; drafted: boolean }
  /** The server refuses the work as it is. */
  | { kind: 'refused'; problem: Problem; drafted: boolean }
  | { kind: 'conflict' }

/** What a save says: the revision it was made from, the window, and the edit. */
export interface Save extends Work {
  based_on: number
  window: string
  edit: number
}

export interface Saved {
  revision: number
  changed: string
}

/** Sends a save; throws a Problem. ``leaving``: the page may be gone before the answer. */
export type Send = (design: string, save: Save, leaving: boolean) => Promise<Saved>

const PAUSE_MS = 500
const RETRY_MS = [1000, 2000, 4000, 8000, 15000]

const same = (a: Work, b: Work) => a.name === b.name && a.recipe === b.recipe

export interface Opened {
  design: string
  window: string
  revision: number
  saved: Work
  at: Date
}

export class SaveQueue {
  readonly design: string
  readonly window: string
  revision: number
  work: Work
  state: SaveState
  /** What the server has; not known when a save was not answered, for it may have arrived all the same. */
  private saved: Work | null
  private edit = 0
  private drafted = true
  private busy = false
  private failures = 0
  private ended = false
  private timer: ReturnType<typeof setTimeout> | undefined
  private told: (state: SaveState) => void = () => undefined

  constructor(
    opened: Opened,
    private readonly drafts: Drafts,
    private readonly send: Send,
  ) {
    this.design = opened.design
    this.window = opened.window
    this.revision = opened.revision
    this.saved = opened.saved
    this.work = opened.saved
    this.state = { kind: 'saved', at: opened.at }
  }

  get isUnsaved(): boolean {
    return this.saved === null || !same(this.work, this.saved)
  }

  /** Whether closing the window now would lose something. */
  get isAtRisk(): boolean {
    return this.isUnsaved && !this.drafted
  }

  /** Tells the state, now and whenever it changes, to one listener. */
  tell(told: (state: SaveState) => void) {
    this.told = told
    told(this.state)
  }

  /** Goes on from a draft: unsaved work, its edit and the revision it was made from. */
  resume(work: Work, edit: number, basedOn: number) {
    this.work = work
    this.edit = edit
    this.revision = basedOn
    this.becomes({ kind: 'saving' })
    this.soon(0)
  }

  change(work: Work) {
    if (same(work, this.work)) return
    this.work = work
    this.edit = Math.max(this.edit + 1, Date.now())
    if (!this.isUnsaved && !this.busy && this.state.kind !== 'conflict') {
      // Undone back to what the server has.
      clearTimeout(this.timer)
      this.dropDraft()
      this.becomes({ kind: 'saved', at: new Date() })
      return
    }
    this.keepDraft()
    if (this.state.kind === 'conflict') return
    // While it is tried again and again, the note stays as it is.
    if (this.failures === 0) this.becomes({ kind: 'saving' })
    else this.becomes({ ...this.state, drafted: this.drafted } as SaveState)
    this.soon()
  }

  /** Saves at once what is unsaved. */
  flush(leaving = false) {
    if (this.isUnsaved) void this.save(leaving)
  }

  /** Nothing more is sent, and the draft goes: the maker has decided what becomes of it. */
  end() {
    this.ended = true
    clearTimeout(this.timer)
    this.dropDraft()
  }

  private soon(after = PAUSE_MS) {
    clearTimeout(this.timer)
    this.timer = setTimeout(() => void this.save(false), after)
  }

  private async save(leaving: boolean) {
    clearTimeout(this.timer)
    if (this.busy || this.ended || !this.isUnsaved || this.state.kind === 'conflict') return
    this.busy = true
    const { work, edit, window } = this
    let pause: number | null = null
    try {
      const saved = await this.send(this.design, { ...work, based_on: this.revision, window, edit }, leaving)
      this.revision = saved.revision
      this.saved = work
      this.failures = 0
      this.drafts.drop({ design: this.design, window, edit })
      if (this.isUnsaved) {
        this.keepDraft()
        pause = PAUSE_MS
      } else this.becomes({ kind: 'saved', at: new Date(saved.changed) })
    } catch (error) {
      pause = this.failed(error, same(work, this.work))
    } finally {
      this.busy = false
    }
    if (pause !== null && !this.ended) this.soon(pause)
  }

  /** What a failure means; after how long it is tried again, if at all. */
  private failed(error: unknown, unchanged: boolean): number | null {
    const { drafted } = this
    if (error instanceof Problem && error.kind === 'changed-elsewhere') {
      this.becomes({ kind: 'conflict' })
      return null
    }
    if (error instanceof Problem && !['away', 'server', 'busy'].includes(error.kind)) {
      this.becomes({ kind: 'refused', problem: error, drafted })
      return unchanged ? null : PAUSE_MS
    }
    this.saved = null
    this.becomes({ kind: error instanceof Problem && error.away ? 'away' : 'failed', drafted })
    this.failures += 1
    return RETRY_MS[Math.min(this.failures, RETRY_MS.length) - 1] ?? null
  }

  private keepDraft() {
    const { design, window, edit, work, revision } = this
    this.drafted = this.drafts.keep({ design, window, edit, ...work, basedOn: revision })
  }

  private dropDraft() {
    this.drafted = true
    this.drafts.drop({ design: this.design, window: this.window, edit: this.edit })
  }

  private becomes(state: SaveState) {
    this.state = state
    this.told(state)
  }
}
