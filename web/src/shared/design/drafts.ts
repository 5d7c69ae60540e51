// Drafts: unsaved work, kept in this browser at once, so that a reload, a crash or a server that is away loses
// nothing. A draft belongs to one window and one design; another window's draft is never touched while that window
// is open. A window owns its drafts by a lock that the browser lets go of when the window is gone, however it went.

import type { Recipe } from './recipe'

export interface Work {
  name: string
  recipe: Recipe
}

export interface Draft extends Work {
  design: string
  /** The window it was made in. */
  window: string
  /** The number of the edit: it grows with every edit of a window. */
  edit: number
  /** The revision of the design it was made from. */
  basedOn: number
}

type Store = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>

const PREFIX = 'fulgen-draft-'
const keyOf = ({ design, window }: Pick<Draft, 'design' | 'window'>) => `${PREFIX}${design}/${window}`

export class Drafts {
  constructor(private readonly store: Store) {}

  /** Keeps a draft. False when this browser has no room for it; an older one of the same stays then. */
  keep(draft: Draft): boolean {
    try {
      this.store.setItem(keyOf(draft), written(draft))
      return true
    } catch {
      return false
    }
  }

  /** Lets go of a window's draft, unless it holds a later edit than that. */
  drop(draft: Pick<Draft, 'design' | 'window' | 'edit'>) {
    const kept = editOf(this.store.getItem(keyOf(draft)) ?? '')
    if (kept === null || kept <= draft.edit) this.store.removeItem(keyOf(draft))
  }

  /** All drafts of a design, the newest first. */
  of(design: string): Draft[] {
    this.takeOver(design)
    const keys = Array.from({ length: this.store.length }, (_, n) => this.store.key(n) ?? '')
    return keys
      .filter((key) => key.startsWith(`${PREFIX}${design}/`))
      .map((key) => this.read(key))
      .filter((draft): draft is Draft => draft !== null)
      .sort((a, b) => b.edit - a.edit)
  }

  /** Drafts were once of a design only, whatever the window. */
  private takeOver(design: string) {
    const key = `${PREFIX}${design}`
    try {
      const draft = JSON.parse(this.store.getItem(key) ?? 'null') as (Work & { basedOn: number }) | null
      if (draft?.recipe && !this.keep({ design, window: 'before', edit: 1, ...draft })) return
      this.store.removeItem(key)
    } catch {
      // What cannot be read is no draft.
    }
  }

  private read(key: string): Draft | null {
    try {
      const draft = JSON.parse(this.store.getItem(key) ?? 'null') as Draft | null
      return draft?.recipe && draft.window && draft.edit ? draft : null
    } catch {
      return null
    }
  }
}

const LONG_PART = 10_000

/** Parts that are long when they are written, such as drawings: one that is not changed is not written anew. */
const writtenParts = new WeakMap<object, string>()

function writtenPart(part: object): string {
  const before = writtenParts.get(part)
  if (before !== undefined) return before
  const json = JSON.stringify(part)
  if (json.length > LONG_PART) writtenParts.set(part, json)
  return json
}

/** An object as JSON, with one more field that is JSON already. */
function withField(object: object, name: string, json: string): string {
  const others = JSON.stringify(object)
  return others === '{}' ? `{"${name}":${json}}` : `${others.slice(0, -1)},"${name}":${json}}`
}

/** A draft as JSON: its edit near the front, its parts last. */
export function written({ design, window, edit, recipe, ...about }: Draft): string {
  const { parts, ...others } = recipe
  const whole = withField(others, 'parts', `[${parts.map(writtenPart).join(',')}]`)
  return withField({ design, window, edit, ...about }, 'recipe', whole)
}

/** The edit that a kept draft holds, without reading all of it. */
function editOf(json: string): number | null {
  const found = /^\{"design":"[^"]*","window":"[^"]*","edit":(\d+)/.exec(json)
  return found ? Number(found[1]) : null
}

const WINDOW = 'fulgen-window'

/** The names under which this window keeps drafts, held by a lock for as long as it lives. */
export class Windows {
  private readonly held = new Set<string>()
  private own: Promise<string> | undefined
  private named: string | undefined

  constructor(
    private readonly locks: LockManager | undefined,
    private readonly session: Pick<Storage, 'getItem' | 'setItem'>,
  ) {}

  /** This window's name: the same after a reload, another one in a window that was copied from it. */
  name(): Promise<string> {
    this.own ??= this.findName()
    return this.own
  }

  private async findName(): Promise<string> {
    const before = this.kept()
    if (before && (await this.claim(before))) return before
    const fresh = crypto.randomUUID()
    this.named = fresh
    try {
      this.session.setItem(WINDOW, fresh)
    } catch {
      // The store is full or refused: after a reload this window has another name, and goes on all the same.
    }
    await this.claim(fresh)
    return fresh
  }

  private kept(): string | null {
    try {
      return this.session.getItem(WINDOW)
    } catch {
      return null
    }
  }

  /** Takes a window's name over. False while the window lives. */
  async claim(window: string): Promise<boolean> {
    if (this.held.has(window)) return true
    if (!this.locks) return window === (this.named ?? this.kept())
    const locks = this.locks
    const free = await new Promise<boolean>((resolve) => {
      void locks.request(`${WINDOW}-${window}`, { ifAvailable: true }, (lock) => {
        resolve(lock !== null)
        // Held until the window is gone.
        return lock === null ? undefined : new Promise(() => undefined)
      })
    })
    if (free) this.held.add(window)
    return free
  }
}
