// Made-up recipes for the tests of what the browser decides by itself.

import { type Lettering, NO_RECIPE, newLettering, type Part, type Recipe } from './design/recipe'

export const tern = (more: Partial<Lettering> = {}): Lettering =>
  newLettering({ id: 'one', text: 'Tern', ...more })

export const recipeOf = (parts: Part[], more: Partial<Recipe> = {}): Recipe => ({
  ...NO_RECIPE,
  parts,
  ...more,
})

/** A storage as the browser has it: its keys are those of what it holds. */
export function fakeStorage(): Storage {
  const held: Record<string, string> = {}
  const methods: Record<string, (...args: string[]) => unknown> = {
    getItem: (key = '') => held[key] ?? null,
    setItem: (key = '', value = '') => {
      held[key] = value
    },
    removeItem: (key = '') => {
      delete held[key]
    },
  }
  return new Proxy(held, {
    get: (_target, name) => methods[String(name)] ?? held[String(name)],
  }) as unknown as Storage
}
