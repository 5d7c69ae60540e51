// Keeps the design: a draft in this browser at once, a revision on the server a moment later.
//
// The draft outlives a reload, a crash and a server that is away; it goes once the server has the
// same. Saving always says which revision it was made from, so two windows never overwrite each other.

import { create } from 'zustand'
import { answer, api, asProblem, type Problem, type Schemas } from '../api/client'
import type { Recipe } from './recipe'
import { useDesign } from './store'

export type SaveState =
  | { kind: 'saved'; at: Date }
  | { kind: 'saving' }
  | { kind: 'away' }
  | { kind: 'refused'; problem: Problem }
  | { kind: 'conflict' }

export const useSaveState = create<{ state: SaveState; set: (state: SaveState) => void }>((set) => ({
  state: { kind: 'saving' },
  set: (state) => set({ state }),
}))

interface Draft {
  name: string
  recipe: Recipe
  basedOn: number
}

const PAUSE_MS = 500
const RETRY_MS = 2000
const draftKey = (id: string) => `fulgen-draft-${id}`

function readDraft(id: string): Draft | null {
  try {
    return JSON.parse(localStorage.getItem(draftKey(id)) ?? 'null') as Draft | null
  } catch {
    return null
  }
}

function keepDraft(id: string, draft: Draft) {
  try {
    localStorage.setItem(draftKey(id), JSON.stringify(draft))
  } catch {
    // No room in this browser: the server's copy is then the only one.
  }
}

const dropDraft = (id: string) => localStorage.removeItem(draftKey(id))

let revision = 0
let lastSaved: { name: string; recipe: Recipe } | null = null
let timer: ReturnType<typeof setTimeout> | undefined
let inFlight = false

const { set: show } = useSaveState.getState()

/** Opens a design in the workbench: the server's version, with unsaved work of this browser on top. */
export function openDesign(design: Schemas['DesignOut']) {
  clearTimeout(timer)
  revision = design.revision
  lastSaved = { name: design.name, recipe: design.recipe }
  const draft = readDraft(design.id)
  useDesign.getState().open(draft ? { ...design, name: draft.name, recipe: draft.recipe } : design)
  if (!draft) {
    lastSaved = { name: design.name, recipe: useDesign.getState().recipe }
    show({ kind: 'saved', at: new Date(design.changed) })
  } else if (draft.basedOn === design.revision) {
    show({ kind: 'saving' })
    saveSoon(0)
  } else {
    show({ kind: 'conflict' })
  }
}

function saveSoon(after = PAUSE_MS) {
  clearTimeout(timer)
  timer = setTimeout(save, after)
}

async function save() {
  if (inFlight) return saveSoon()
  const { id, name, recipe } = useDesign.getState()
  if (!id || useSaveState.getState().state.kind === 'conflict') return
  inFlight = true
  show({ kind: 'saving' })
  try {
    const saved = await answer(
      api.PUT('/api/designs/{design_id}', {
        params: { path: { design_id: id } },
        body: { name, recipe, based_on: revision },
      }),
    )
    if (useDesign.getState().id !== id) {
      dropDraft(id)
      return
    }
    revision = saved.revision
    lastSaved = { name, recipe }
    const now = useDesign.getState()
    if (now.name === name && now.recipe === recipe) {
      dropDraft(id)
      show({ kind: 'saved', at: new Date(saved.changed) })
    } else {
      keepDraft(id, { name: now.name, recipe: now.recipe, basedOn: revision })
      saveSoon()
    }
  } catch (error) {
    const problem = asProblem(error)
    if (problem.kind === 'changed-elsewhere') show({ kind: 'conflict' })
    else if (problem.away || problem.kind === 'server') {
      show({ kind: 'away' })
      saveSoon(RETRY_MS)
    } else show({ kind: 'refused', problem })
  } finally {
    inFlight = false
  }
}

/** Saves a draft and soon a revision after every change. Returns the way to stop. */
export function startAutosave(): () => void {
  const stop = useDesign.subscribe((now, before) => {
    if (!now.id || now.id !== before.id) return
    if (now.name === lastSaved?.name && now.recipe === lastSaved.recipe && !inFlight) {
      // Undone back to what the server has.
      clearTimeout(timer)
      dropDraft(now.id)
      if (useSaveState.getState().state.kind !== 'conflict') show({ kind: 'saved', at: new Date() })
      return
    }
    if (now.name === before.name && now.recipe === before.recipe) return
    keepDraft(now.id, { name: now.name, recipe: now.recipe, basedOn: revision })
    if (useSaveState.getState().state.kind !== 'conflict') {
      if (useSaveState.getState().state.kind !== 'away') show({ kind: 'saving' })
      saveSoon()
    }
  })
  const leave = () => {
    if (useSaveState.getState().state.kind === 'saving') void save()
  }
  window.addEventListener('pagehide', leave)
  window.addEventListener('online', leave)
  return () => {
    stop()
    leave()
    window.removeEventListener('pagehide', leave)
    window.removeEventListener('online', leave)
  }
}

/** In a conflict: take the version that was saved elsewhere; this window's work is dropped. */
export async function takeTheirs() {
  const { id } = useDesign.getState()
  const design = await answer(api.GET('/api/designs/{design_id}', { params: { path: { design_id: id } } }))
  dropDraft(id)
  openDesign(design)
}

/** In a conflict: keep this window's work as a design of its own. Returns the new design's id. */
export async function keepMineAsCopy(): Promise<string> {
  const { id, name, recipe } = useDesign.getState()
  const design = await answer(api.POST('/api/designs', { body: { name: `${name} (mine)`, recipe } }))
  dropDraft(id)
  return design.id
}
