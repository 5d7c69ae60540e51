// An order as the browser holds it: rows by their numbers, and pure questions about them.

import type { Schemas } from '../../shared/api/client'
import { counted } from '../../shared/design/counted'
import { plainly } from '../../shared/design/plainly'
import type { FaceOut, Unit } from '../../shared/design/recipe'
import { showNumber } from '../../shared/design/units'

export type Order = Schemas['OrderOut']
export type OrderPlan = Schemas['OrderPlan']
export type GiveWay = Schemas['GiveWay']
export type Row = Schemas['RowOut']
export type RowsTold = Schemas['RowsOut']
export type Field = Schemas['FieldOut']
export type Sheets = Schemas['OrderSheetsOut']
export type Sheet = Schemas['OrderSheetOut']
export type CutSheet = Schemas['CutSheetOut']

/** The rows of an order, in their order, with how far all of it is. */
export interface Rows extends Omit<RowsTold, 'rows'> {
  rows: readonly Row[]
}

/** The rows with what was told since. What was told of some rows only (`whole` is not set) says nothing of how far
 * the others are: they are asked for again. */
export function merged(before: Rows | undefined, told: RowsTold, whole = true): Rows {
  const rows = new Map(before?.rows.map((row) => [row.number, row]))
  for (const row of told.rows) {
    if (row.removed) rows.delete(row.number)
    else rows.set(row.number, row)
  }
  const change = whole || !before ? told.change : before.change
  return { ...told, change, rows: [...rows.values()].toSorted((a, b) => a.number - b.number) }
}

/** What the words of a row are, in one line. */
export const wordsOf = (row: Row) =>
  Object.entries(row.values)
    .filter(([key]) => key.startsWith('words:'))
    .map(([, value]) => value.replaceAll('\n', ' '))
    .filter(Boolean)
    .join(' ')

/** How many of a row are cut, as the list says it. */
export const copiesOf = (row: Row) => Number.parseInt(row.values['copies:'] ?? '1', 10) || 1

export const SHOWN = [
  { value: 'all', label: 'All' },
  { value: 'gave-way', label: 'Gave way' },
  { value: 'cannot-be-made', label: 'Cannot be made' },
  { value: 'look-again', label: 'Changed since seen' },
] as const
export type Shown = (typeof SHOWN)[number]['value']

export const SORTED = [
  { value: 'list', label: 'As the list' },
  { value: 'words', label: 'By name' },
  { value: 'trouble', label: 'Trouble first' },
] as const
export type Sorted = (typeof SORTED)[number]['value']

const isShown: Record<Shown, (row: Row) => boolean> = {
  all: () => true,
  'gave-way': (row) => row.state === 'gave-way',
  'cannot-be-made': (row) => row.state === 'cannot-be-made' || row.state === 'empty',
  'look-again': (row) => row.look_again,
}

const TROUBLE: Record<Row['state'], number> = {
  'cannot-be-made': 0,
  empty: 1,
  'gave-way': 2,
  '': 3,
  'as-designed': 4,
}

/** The rows that are asked for, in the order that is asked for. */
export function rowsShown(rows: readonly Row[], shown: Shown, sorted: Sorted, typed: string): Row[] {
  const wanted = plainly(typed.trim())
  const found = rows.filter(
    (row) =>
      isShown[shown](row) &&
      (wanted === '' || plainly(wordsOf(row)).includes(wanted) || String(row.number) === wanted),
  )
  if (sorted === 'words')
    return found.toSorted((a, b) => wordsOf(a).localeCompare(wordsOf(b), undefined, { numeric: true }))
  if (sorted === 'trouble')
    return found.toSorted((a, b) => TROUBLE[a.state] - TROUBLE[b.state] || a.number - b.number)
  return found
}

/** What is to be said below a row's name: what gave way or is wrong with it, else its size and pieces. */
export function told(row: Row, unit: Unit): string {
  if (row.state === '') return 'Being worked out…'
  const said = [...row.notes, ...row.reasons]
  if (said.length > 0) return [...said, cutOf(row, 'Cut', '.')].filter(Boolean).join(' ')
  return [sizeOf(row, unit), cutOf(row, 'cut')].filter(Boolean).join(', ')
}

/** How many of a row are cut, in words. */
function cutOf(row: Row, all: string, end = ''): string {
  const copies = copiesOf(row)
  if (row.cut === 0) return ''
  return `${row.cut >= copies ? all : `${row.cut} of ${copies} cut`}${end}`
}

export function sizeOf(row: Row, unit: Unit): string {
  if (row.pieces === 0) return ''
  const size = `${showNumber(row.width_mm, unit)} × ${showNumber(row.height_mm, unit)} ${unit}`
  return `${size}, ${counted(row.pieces, 'piece')}`
}

/** Rows from a list, by what each of its columns is said to say ("" for nothing). */
export const rowsFrom = (cells: readonly (readonly string[])[], fields: readonly string[]) =>
  cells.map((row) =>
    Object.fromEntries(
      fields.flatMap((field, n) => (field === '' ? [] : [[field, row[n]?.replaceAll('\\n', '\n') ?? '']])),
    ),
  )

/** How many copies of rows that can be made are not cut yet. */
export const copiesToCut = (rows: readonly Row[]) =>
  rows.reduce((sum, row) => sum + (row.pieces > 0 ? Math.max(0, copiesOf(row) - row.cut) : 0), 0)

/** The faces that rows may be made in instead: those that write what cannot be written now first. `inUse` is among
 * them also where it is on the list no more. */
export function facesInstead(
  faces: readonly FaceOut[],
  able: ReadonlySet<string>,
  inUse: string | undefined,
) {
  const groupOf = ({ slug, kind, favourite }: FaceOut) =>
    able.has(slug) ? ABLE : kind === 'own' ? OWN : favourite ? FAVOURITES : OTHERS
  const listed = faces.map((face) => ({ value: face.slug, label: face.name, group: groupOf(face) }))
  const gone = inUse && !faces.some((face) => face.slug === inUse)
  return [
    { value: '', label: 'never' },
    ...(gone ? [{ value: inUse, label: 'one that was taken off the list' }] : []),
    ...[ABLE, OWN, FAVOURITES, OTHERS].flatMap((group) => listed.filter((face) => face.group === group)),
  ]
}

const ABLE = 'With the letters that are missing'
const OWN = 'Your own'
const FAVOURITES = 'Favourites'
const OTHERS = 'All others'

/** The words that cannot be made, in one text. */
export const wordsNotMade = (rows: readonly Row[]) =>
  rows
    .filter((row) => row.state === 'cannot-be-made')
    .map(wordsOf)
    .join(' ')
