import { describe, expect, it } from 'vitest'
import type { FaceOut } from '../../shared/design/recipe'
import { ANY, facesToShow, joinsIn, systemsOf } from './faceChoice'

function face(slug: string, more: Partial<FaceOut> = {}): FaceOut {
  return {
    slug,
    name: slug,
    kind: 'script',
    weights: [],
    axes: [],
    features: [],
    licence: '',
    systems: ['Latin'],
    looks: [],
    written: true,
    joins: [joins('Latin', 'joins by itself')],
    favourite: false,
    rated_share: 1,
    rating_failed: false,
    ...more,
  }
}

const joins = (system: string, words: string) => ({
  system,
  words,
  small: 1,
  capital: 0,
  thinnest: 0.05,
  counter: 0.1,
})

const FACES = [
  face('alder'),
  face('birch', { kind: 'slab', looks: ['thick', 'upright'], written: false }),
  face('cedar', { favourite: true, looks: ['thick', 'slanted'] }),
  face('damson', {
    systems: ['Latin', 'Arabic'],
    joins: [joins('Latin', 'needs joining'), joins('Arabic', 'joins by itself')],
  }),
]
const PLAIN = { recent: [], able: undefined, like: undefined, system: 'Latin' }
const slugs = (filter = {}, order = {}) =>
  facesToShow(FACES, { ...ANY, ...filter }, { ...PLAIN, ...order }).map(({ slug }) => slug)

describe('which faces are shown', () => {
  it.each([
    [{}, ['cedar', 'alder', 'birch', 'damson']],
    [{ search: ' BIR' }, ['birch']],
    [{ search: 'arab' }, ['damson']],
    [{ search: 'thick' }, ['cedar', 'birch']],
    [{ kind: 'slab' as const }, ['birch']],
    [{ kind: 'favourite' as const }, ['cedar']],
    [{ looks: ['thick'] }, ['cedar', 'birch']],
    [{ looks: ['thick', 'slanted'] }, ['cedar']],
    [{ system: 'Arabic' }, ['damson']],
    [{ joins: 'needs joining' }, ['damson']],
  ])('by %o', (filter, found) => expect(slugs(filter)).toEqual(found))

  it('puts those used lately first, and favourites next', () =>
    expect(slugs({}, { recent: ['damson', 'birch'] })).toEqual(['damson', 'birch', 'cedar', 'alder']))

  it('puts those that lack letters last, whatever they are', () =>
    expect(slugs({}, { able: new Set(['birch', 'damson']), recent: ['cedar'] })).toEqual([
      'birch',
      'damson',
      'cedar',
      'alder',
    ]))

  it('orders by likeness where one is asked for, and leaves out what was not compared', () =>
    expect(slugs({}, { like: ['birch', 'damson', 'alder'] })).toEqual(['birch', 'damson', 'alder']))

  it('judges how they join by the letters of the words', () =>
    expect(slugs({ joins: 'joins by itself' }, { system: 'Arabic' })).toContain('damson'))
})

it('tells how a face joins in a writing system, or in its own', () => {
  const [, , , damson] = FACES
  expect(damson && joinsIn(damson, 'Arabic')?.words).toBe('joins by itself')
  expect(damson && joinsIn(damson, 'Thai')?.system).toBe('Latin')
})

it('lists writing systems, those of most faces first', () =>
  expect(systemsOf(FACES)).toEqual(['Latin', 'Arabic']))
