// The design being worked on. Every change of it can be undone; nothing else is in here.

import { type TemporalState, temporal } from 'zundo'
import { create, useStore } from 'zustand'
import { useShallow } from 'zustand/react/shallow'
import type { Schemas } from '../api/client'
import {
  findPart,
  type Lettering,
  letteringOf,
  NO_RECIPE,
  type Part,
  type PartChange,
  type Recipe,
  withPart,
} from './recipe'
import { withStocksAsLast } from './rememberedChoices'
import { selectionNow, useSelection } from './selection'
import { asBegun } from './shopDefaults'

interface DesignState {
  id: string
  name: string
  recipe: Recipe
  open: (design: Pick<Schemas['DesignOut'], 'id' | 'name' | 'recipe'>) => void
  rename: (name: string) => void
  /** Changes a part: the one that is chosen, unless another is named. */
  edit: (change: PartChange, part?: string) => void
  editRecipe: (change: Partial<Recipe>) => void
}

type Undoable = Pick<DesignState, 'name' | 'recipe'>

/** Changes closer together than this are one step of undo: a word typed, a slider dragged. */
const ONE_STEP_MS = 450

let lastChange = 0
let holding = false
let heldOne = false

/** What begins by a change begins as it is done in this shop. */
const begun = (before: Recipe, after: Recipe) => withStocksAsLast(before, asBegun(before, after))

export const useDesign = create<DesignState>()(
  temporal(
    (set) => ({
      id: '',
      name: '',
      recipe: NO_RECIPE,
      open: ({ id, name, recipe }) => {
        set({ id, name, recipe })
        useSelection.setState({
          selection: { kind: 'part', part: recipe.parts[0]?.id ?? '' },
          tool: null,
          problem: null,
        })
        useDesign.temporal.getState().clear()
        lastChange = 0
      },
      rename: (name) => set({ name }),
      edit: (change, part = selectionNow().part) =>
        set((s) => ({ recipe: begun(s.recipe, withPart(s.recipe, part, change)) })),
      editRecipe: (change) => set((s) => ({ recipe: begun(s.recipe, { ...s.recipe, ...change }) })),
    }),
    {
      limit: 300,
      partialize: ({ name, recipe }): Undoable => ({ name, recipe }),
      equality: (a, b) => a.name === b.name && a.recipe === b.recipe,
      handleSet: (remember) => {
        // zundo calls this with the states before and after, which its type does not say.
        const rememberStep = remember as (...states: unknown[]) => void
        return (...states) => {
          const now = performance.now()
          // The first of a burst is remembered: undo goes back to before all of it.
          if (holding ? !heldOne : now - lastChange > ONE_STEP_MS) rememberStep(...states)
          heldOne = holding
          lastChange = now
        }
      },
    },
  ),
)

/** Takes a whole recipe as one step: a remedy. */
export function takeRecipe(recipe: Recipe) {
  endStep()
  useDesign.getState().editRecipe(recipe)
  endStep()
}

/** The next change is a step of its own, however soon it comes. */
export function endStep() {
  lastChange = 0
}

/** While held, all changes are one step, however long they take: a drag. */
export function holdStep(hold: boolean) {
  holding = hold
  heldOne = false
  lastChange = 0
}

/** What a component needs of the lettering being edited; it is drawn again only when that changes. */
export function usePart<T>(needed: (part: Lettering) => T): T {
  const id = useSelection((s) => s.selection.part)
  return useDesign(useShallow((s) => needed(letteringOf(s.recipe, id))))
}

/** The lettering being edited, as it is at this moment. */
export function partNow(): Lettering {
  return letteringOf(useDesign.getState().recipe, selectionNow().part)
}

/** The part that is chosen, of whatever kind. */
export function useChosenPart(): Part | undefined {
  const id = useSelection((s) => s.selection.part)
  return useDesign((s) => findPart(s.recipe, id))
}

export function useHistory<T>(selector: (history: TemporalState<Undoable>) => T): T {
  return useStore(useDesign.temporal, selector)
}

export function undo() {
  endStep()
  useDesign.temporal.getState().undo()
}

export function redo() {
  endStep()
  useDesign.temporal.getState().redo()
}
