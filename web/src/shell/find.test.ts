import { describe, expect, it } from 'vitest'
import { type Card, found, tagsOf } from './shelf/find'
import { ranked } from './workbench/find'

const card = (name: string, more: Partial<Card> = {}) =>
  ({ name, words: [], faces: [], tags: [], changed: '2026-06-01T10:00:00Z', ...more }) as unknown as Card

const SHELF = [
  card('Tag 10', { words: ['Zoë'], tags: ['crew'], width_mm: 50, height_mm: 20 }),
  card('tag 9', { words: ['Jago'], faces: ['Anton'], changed: '2026-06-03T10:00:00Z' }),
  card('Bow', { words: ['Tern & Thistle'], tags: ['crew', 'boats'], width_mm: 400, height_mm: 90 }),
]
const names = (typed: string, tag: string | null = null, order: Parameters<typeof found>[3] = 'name') =>
  found(SHELF, typed, tag, order).map(({ name }) => name)

describe('designs on the shelf', () => {
  it('are found by each word that is typed, without accents and whatever the case', () => {
    expect(names('zoe')).toEqual(['Tag 10'])
    expect(names('anton tag')).toEqual(['tag 9'])
    expect(names('tern anton')).toEqual([])
  })

  it('stand by name as people count, by size, or by when they were changed', () => {
    expect(names('')).toEqual(['Bow', 'tag 9', 'Tag 10'])
    expect(names('', null, 'size')[0]).toBe('Bow')
    expect(names('', null, 'changed')[0]).toBe('tag 9')
  })

  it('are those with the tag that is chosen', () => {
    expect(names('', 'crew')).toEqual(['Bow', 'Tag 10'])
    expect(tagsOf(SHELF)).toEqual(['boats', 'crew'])
  })
})

describe('actions', () => {
  const ACTIONS = [
    { does: 'Save as SVG', also: 'export file' },
    { does: 'Mirror the work', also: 'flip' },
    { does: 'Make it ready to cut' },
    { does: 'Cut a letter out' },
  ]
  const best = (typed: string) => ranked(ACTIONS, typed).map(({ does }) => does)

  it('are all there while nothing is typed, in their own order', () => {
    expect(best('')).toEqual(ACTIONS.map(({ does }) => does))
  })

  it('come by the beginnings of their words, the first word first', () => {
    expect(best('cut')).toEqual(['Cut a letter out', 'Make it ready to cut'])
    expect(best('m r')).toEqual(['Make it ready to cut'])
  })

  it('come by other names, too, and by a part of a word that is long enough', () => {
    expect(best('flip')).toEqual(['Mirror the work'])
    expect(best('port')).toEqual(['Save as SVG'])
    expect(best('or')).toEqual([])
  })
})
