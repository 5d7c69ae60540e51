import { expect, test } from 'vitest'
import type { FaceOut } from '../../shared/design/recipe'
import {
  copiesToCut,
  facesInstead,
  merged,
  type Row,
  type RowsTold,
  rowsFrom,
  rowsShown,
  told,
  wordsNotMade,
  wordsOf,
} from './order'

const row = (number: number, words: string, more: Partial<Row> = {}): Row => ({
  number,
  values: { 'words:name': words },
  notes: [],
  state: 'as-designed',
  reasons: [],
  width_mm: 70,
  height_mm: 77.6,
  pieces: 1,
  films: ['#2B5674'],
  picture: '',
  by_hand: false,
  cut: 0,
  looked: false,
  look_again: false,
  removed: false,
  change: number,
  ...more,
})

const counts = {
  rows: 0,
  waiting: 0,
  as_designed: 0,
  gave_way: 0,
  cannot_be_made: 0,
  empty: 0,
  look_again: 0,
}
const answer = (change: number, rows: Row[]): RowsTold => ({
  change,
  edit: 1,
  counts,
  working: false,
  stopped: false,
  workers: 2,
  rows,
})

test('rows that came since take the place of those before, and those taken out are gone', () => {
  const first = merged(undefined, answer(3, [row(2, 'Maud'), row(1, 'Piers'), row(3, 'Jago')]))
  expect(first.rows.map(wordsOf)).toEqual(['Piers', 'Maud', 'Jago'])
  const next = merged(first, answer(5, [row(2, 'Maude'), row(3, 'Jago', { removed: true })]))
  expect(next.rows.map(wordsOf)).toEqual(['Piers', 'Maude'])
  expect(next.change).toBe(5)
})

test('an answer about some rows does not claim to know of the others', () => {
  const first = merged(undefined, answer(3, [row(1, 'Piers')]))
  expect(merged(first, answer(9, [row(2, 'Maud')]), false).change).toBe(3)
})

test('rows are found by words without accents, by number and by how they stand', () => {
  const rows = [row(1, 'Zoë'), row(2, 'Maud', { state: 'gave-way' }), row(12, 'Ansel', { look_again: true })]
  const names = (...asked: Parameters<typeof rowsShown> extends [unknown, ...infer T] ? T : never) =>
    rowsShown(rows, ...asked).map(wordsOf)
  expect(names('all', 'list', 'zoe')).toEqual(['Zoë'])
  expect(names('all', 'list', '12')).toEqual(['Ansel'])
  expect(names('gave-way', 'list', '')).toEqual(['Maud'])
  expect(names('look-again', 'list', '')).toEqual(['Ansel'])
  expect(names('all', 'words', '')).toEqual(['Ansel', 'Maud', 'Zoë'])
  expect(names('all', 'trouble', '')).toEqual(['Maud', 'Zoë', 'Ansel'])
})

test('a row says what gave way, else its size', () => {
  expect(told(row(1, 'Maud'), 'mm')).toBe('70 × 77.6 mm, 1 piece')
  expect(told(row(1, 'Maud', { cut: 1 }), 'mm')).toBe('70 × 77.6 mm, 1 piece, cut')
  const twice = { values: { 'words:name': 'Maud', 'copies:': '2' }, cut: 1, notes: ['The same as row 2.'] }
  expect(told(row(1, 'Maud', twice), 'mm')).toBe('The same as row 2. 1 of 2 cut.')
  expect(told(row(1, 'Maud', { reasons: ['Letters narrower by 9 %.'] }), 'mm')).toBe(
    'Letters narrower by 9 %.',
  )
  expect(told(row(1, 'Maud', { state: '', pieces: 0 }), 'mm')).toBe('Being worked out…')
})

test('cells become rows by what their columns say', () => {
  const cells = [
    ['Ann\\nMarie', 'x', '2'],
    ['Maud', '', ''],
  ]
  expect(rowsFrom(cells, ['words:name', '', 'copies:'])).toEqual([
    { 'words:name': 'Ann\nMarie', 'copies:': '2' },
    { 'words:name': 'Maud', 'copies:': '' },
  ])
})

test('what is cut are the copies of rows that can be made', () => {
  const rows = [
    row(1, 'Piers', { values: { 'words:name': 'Piers', 'copies:': '3' } }),
    row(2, 'Maud'),
    row(3, 'X', { pieces: 0 }),
    row(4, 'Jago', { cut: 1 }),
  ]
  expect(copiesToCut(rows)).toBe(4)
})

test('faces with the letters that are missing come first, then own ones and favourites', () => {
  const face = (slug: string, kind = 'script', favourite = false) =>
    ({ slug, name: slug.toUpperCase(), kind, favourite }) as FaceOut
  const faces = [face('mine', 'own'), face('a'), face('b', 'slab', true), face('c')]
  const rows = [row(1, 'Piers'), row(2, 'Денис', { state: 'cannot-be-made' })]
  expect(wordsNotMade(rows)).toBe('Денис')
  const shown = facesInstead(faces, new Set(['c']), 'gone')
  expect(shown.map((one) => one.value)).toEqual(['', 'gone', 'c', 'mine', 'b', 'a'])
  expect(shown[1]?.label).toBe('one that was taken off the list')
  expect(facesInstead(faces, new Set(), 'a').map((one) => one.value)).toEqual(['', 'mine', 'b', 'a', 'c'])
})
