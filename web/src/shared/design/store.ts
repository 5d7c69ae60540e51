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
import { withShopDefaults } from './shopDefaults'
import { UndoSteps } from './undoSteps'

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

const steps = new UndoSteps()

/** What begins by a change begins as it is done in this shop. */
const begun = (before: Recipe, after: Recipe) => withStocksAsLast(before, withShopDefaults(before, after))

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
        steps.end()
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
          if (steps.begins(performance.now())) rememberStep(...states)
        }
      },
    },
  ),
)

/** What is done is one step of undo, and nothing else is part of it. */
export const asOneStep = (work: () => void) => steps.asOne(work)

/** Changes a part as one step: the one that is chosen, unless another is named. */
export const editOnce = (change: PartChange, part?: string) =>
  asOneStep(() => useDesign.getState().edit(change, part))

/** Changes the recipe as one step. */
export const editRecipeOnce = (change: Partial<Recipe>) =>
  asOneStep(() => useDesign.getState().editRecipe(change))

/** The next change is a step of its own, however soon it comes. */
export const endStep = () => steps.end()

/** While held, all changes are one step, however long they take: a drag. */
export const holdStep = (held: boolean) => steps.hold(held)

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
