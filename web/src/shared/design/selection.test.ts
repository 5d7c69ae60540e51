import { beforeEach, expect, test } from 'vitest'
import { recipeOf, tern } from '../testing'
import { isOpen, isUnchanged, scopeNow } from './requestScope'
import { chooseNodes, closeShape, lettersOf, openShape, selectionNow, useSelection } from './selection'
import { partNow, useDesign } from './store'

const { choosePart, chooseLetter, select, clear, use } = useSelection.getState()

beforeEach(() => {
  const parts = [tern({ id: 'one' }), tern({ id: 'two', text: 'Heron' })]
  useDesign.getState().open({ id: 'design', name: 'Test', recipe: recipeOf(parts) })
})

test('choosing another part lets go of the letters of the first', () => {
  chooseLetter('one', 2, false)
  chooseLetter('one', 3, true)
  expect(lettersOf(selectionNow())).toEqual([2, 3])
  choosePart('two')
  expect(selectionNow()).toEqual({ kind: 'part', part: 'two' })
  expect(partNow().text).toBe('Heron')
})

test('a letter of another part is chosen alone, also when more are asked for', () => {
  chooseLetter('one', 2, false)
  chooseLetter('two', 2, true)
  expect(selectionNow()).toEqual({ kind: 'letters', part: 'two', letters: [2] })
})

test('choosing the part that is chosen keeps what is chosen of it', () => {
  chooseLetter('one', 2, false)
  choosePart('one')
  expect(lettersOf(selectionNow())).toEqual([2])
})

test('a letter chosen again is let go of', () => {
  chooseLetter('one', 2, false)
  chooseLetter('one', 2, true)
  expect(selectionNow()).toEqual({ kind: 'part', part: 'one' })
})

test('of a seam the right letter is what is moved', () => {
  select({ kind: 'seam', part: 'one', left: 1, right: 2 })
  expect(lettersOf(selectionNow())).toEqual([2])
  clear()
  expect(selectionNow()).toEqual({ kind: 'part', part: 'one' })
})

test('an open shape puts the tool down, and leaves its letter chosen', () => {
  use({ kind: 'bridge' })
  openShape('two', 4)
  expect(useSelection.getState().tool).toBeNull()
  chooseNodes([3, 5])
  expect(selectionNow()).toMatchObject({ kind: 'shape', part: 'two', letter: 4, nodes: [3, 5] })
  closeShape()
  expect(selectionNow()).toEqual({ kind: 'letters', part: 'two', letters: [4] })
})

test('another design opened chooses its first part and nothing of it', () => {
  chooseLetter('two', 2, false)
  useDesign.getState().open({ id: 'other', name: '', recipe: recipeOf([tern({ id: 'name' })]) })
  expect(selectionNow()).toEqual({ kind: 'part', part: 'name' })
})

test('an answer knows whether its design is still the one that is open', () => {
  const asked = scopeNow()
  expect([isOpen(asked), isUnchanged(asked)]).toEqual([true, true])
  useDesign.getState().edit({ text: 'Egret' }, 'one')
  expect([isOpen(asked), isUnchanged(asked)]).toEqual([true, false])
  useDesign.getState().open({ id: 'other', name: '', recipe: asked.recipe })
  expect([isOpen(asked), isUnchanged(asked)]).toEqual([false, false])
})
