// Connects the design that is open with its keeper: opening finds unsaved work of this browser again, every change
// goes to the keeper, and one that is left goes on saving by itself.

import { create } from 'zustand'
import { aboutDesign, answer, api, type Schemas } from '../api/client'
import { type Draft, Drafts, Windows, type Work } from './drafts'
import { keepSteps, keptSteps } from './keptSteps'
import type { Recipe } from './recipe'
import { remember } from './rememberedChoices'
import { SaveQueue, type SaveState, type Send } from './saveQueue'
import { useDesign } from './store'

interface Saving {
  state: SaveState
  /** Copies made of unsaved work that windows, closed since, had left behind. */
  copies: readonly { id: string; name: string }[]
}

export const useSaving = create<Saving>()(() => ({ state: { kind: 'saving' }, copies: [] }))

const drafts = new Drafts(localStorage)
const windows = new Windows(navigator.locks, sessionStorage)

/** Keepers by their designs: of those this page has opened. One that was left may be saving still, or know more than
 *  an answer that was on its way. */
const keepers = new Map<string, SaveQueue>()

/** The design asked for last, and its keeper once it is open. */
const now: { wanted: string; open: SaveQueue | null } = { wanted: '', open: null }

/** What may be sent along when the page goes; the browser allows 64 kB (Fetch, section 4.6). */
const LEAVING_LETTERS = 40_000

const send: Send = async (design, save, leaving) => {
  const keepalive = leaving && JSON.stringify(save).length < LEAVING_LETTERS
  return answer(
    api.PUT('/api/designs/{design_id}', { params: { path: { design_id: design } }, body: save, keepalive }),
  )
}

/** Opens a design in the workbench: the server's version, with unsaved work of this browser on top. */
export async function openDesign(design: Schemas['DesignOut']) {
  left()
  now.wanted = design.id
  const keeper = known(design) ?? (await fresh(design))
  keepers.set(design.id, keeper)
  if (now.wanted !== design.id) return
  now.open = keeper
  aboutDesign.id = design.id
  useDesign.getState().open({ id: design.id, ...keeper.work })
  const steps = keptSteps(sessionStorage, design.id, keeper.work)
  if (steps) useDesign.temporal.setState({ pastStates: [...steps.past], futureStates: [...steps.future] })
  keeper.tell((state) => useSaving.setState({ state }))
}

/** The keeper this page has of the design already, if it knows more than the server's answer did. */
function known(design: Schemas['DesignOut']): SaveQueue | undefined {
  const keeper = keepers.get(design.id)
  return keeper && (keeper.isUnsaved || keeper.revision >= design.revision) ? keeper : undefined
}

async function fresh(design: Schemas['DesignOut']): Promise<SaveQueue> {
  const own = await windows.name()
  const left = await claimed(design)
  const draft = left.find(({ window }) => window === own) ?? left[0]
  const saved = { name: design.name, recipe: design.recipe }
  const at = new Date(design.changed)
  const keeper = new SaveQueue(
    { design: design.id, window: draft?.window ?? own, revision: design.revision, saved, at },
    drafts,
    send,
  )
  if (draft) keeper.resume({ name: draft.name, recipe: draft.recipe }, draft.edit, draft.basedOn)
  // Those that cannot be copied now are drafts still, and are found at the next opening.
  copyAll(left.filter((other) => other !== draft)).catch(() => undefined)
  return keeper
}

/** Drafts of the design that are this window's, or of windows that are gone. */
async function claimed(design: Schemas['DesignOut']): Promise<Draft[]> {
  const found: Draft[] = []
  for (const draft of drafts.of(design.id)) {
    if (!(await windows.claim(draft.window))) continue
    if (JSON.stringify([draft.name, draft.recipe]) === JSON.stringify([design.name, design.recipe]))
      drafts.drop(draft)
    else found.push(draft)
  }
  return found
}

/** Several windows left unsaved work of one design: one goes on here, the others become designs of their own. */
async function copyAll(left: readonly Draft[]) {
  useSaving.setState({ copies: [] })
  for (const draft of left) {
    const { id, name } = await made(labelled(draft.name, 'another window'), draft.recipe)
    drafts.drop(draft)
    useSaving.setState(({ copies }) => ({ copies: [...copies, { id, name }] }))
  }
}

/** A name with a word about which of two it is; a design without a name gets no more than that word. */
const labelled = (name: string, word: string) => (name ? `${name} (${word})` : word)

const made = (name: string, recipe: Recipe) => answer(api.POST('/api/designs', { body: { name, recipe } }))

/** Has every change kept. Returns the way to stop: the design is left. */
export function startAutosave(): () => void {
  const stop = useDesign.subscribe(({ id, name, recipe }) => {
    if (now.open && id === now.open.design) now.open.change({ name, recipe })
  })
  const hide = () => {
    const { id, name, recipe } = useDesign.getState()
    const { pastStates, futureStates } = useDesign.temporal.getState()
    const steps = { past: pastStates as Work[], future: futureStates as Work[] }
    if (id) keepSteps(sessionStorage, id, { name, recipe }, steps)
    remember(useDesign.getState().recipe)
    now.open?.flush(true)
  }
  const back = () => now.open?.flush()
  const warn = (event: BeforeUnloadEvent) => {
    if ([...keepers.values()].some((keeper) => keeper.isAtRisk)) event.preventDefault()
  }
  window.addEventListener('pagehide', hide)
  window.addEventListener('online', back)
  window.addEventListener('beforeunload', warn)
  return () => {
    stop()
    left()
    window.removeEventListener('pagehide', hide)
    window.removeEventListener('online', back)
    window.removeEventListener('beforeunload', warn)
  }
}

/** The design that was open goes on saving what is unsaved, and tells nobody. */
function left() {
  remember(useDesign.getState().recipe)
  now.open?.tell(() => undefined)
  now.open?.flush()
  now.open = null
  now.wanted = ''
  aboutDesign.id = ''
  useSaving.setState({ state: { kind: 'saving' }, copies: [] })
}

/** In a conflict: take the version that was saved elsewhere; this window's work is dropped. */
export async function takeTheirs() {
  const keeper = now.open
  if (keeper === null) return
  const path = { design_id: keeper.design }
  const design = await answer(api.GET('/api/designs/{design_id}', { params: { path } }))
  keeper.end()
  keepers.delete(keeper.design)
  if (now.open === keeper) await openDesign(design)
}

/** Waits until the design that is open is kept as it is, or cannot be just now. */
export function whenSaved(): Promise<void> {
  const waits = () => useSaving.getState().state.kind === 'saving'
  if (!waits()) return Promise.resolve()
  return new Promise((resolve) => {
    const stop = useSaving.subscribe(() => {
      if (waits()) return
      stop()
      resolve()
    })
  })
}

/** In a conflict: keep this window's work as a design of its own. Returns the new design's id. */
export async function keepMineAsCopy(): Promise<string> {
  const keeper = now.open
  const { name, recipe } = keeper?.work ?? useDesign.getState()
  const design = await made(labelled(name, 'mine'), recipe)
  if (keeper) {
    keeper.end()
    keepers.delete(keeper.design)
  }
  return design.id
}
