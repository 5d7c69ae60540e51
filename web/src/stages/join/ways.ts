// Ways to join a whole word, each with one click: what they make of a lettering.

import { changeOf, idsOf, type LetterChange, NO_SEAM, withLetters } from '../../shared/design/letters'
import { type FaceOut, type JoinOptions, joinOf, type Lettering } from '../../shared/design/recipe'

export interface JoinWay {
  name: string
  take: (part: Lettering) => Partial<Lettering>
}

const APART = { seam: { ...NO_SEAM, way: 'apart' } } as const

/** The last letter of each word, for a face that has swashes for it. */
const SWASH = 'fina'

/** What was decided for single seams gives way, and swashes; letters moved by hand stay where they are. */
function joined(part: Lettering, join: Partial<JoinOptions>): Partial<Lettering> {
  const decided = Object.keys(part.letters ?? {}).map(Number)
  const freed = withLetters(part, decided, ({ alternates }) => {
    const { [SWASH]: _, ...others } = alternates ?? {}
    return { seam: NO_SEAM, alternates: others }
  })
  return { ...freed, join: { ...joinOf(part.join), ...join } }
}

/** The ids of the capitals that begin a word, and of the letters that end one. */
export function wordEnds(part: Lettering): { capitals: number[]; lasts: number[] } {
  const signs = Array.from(part.text)
  const ids = idsOf(part)
  const isLetter = (sign: string | undefined) => /\p{L}/u.test(sign ?? '')
  const at = (found: (n: number) => boolean) => ids.filter((_, n) => isLetter(signs[n]) && found(n))
  return {
    capitals: at((n) => !isLetter(signs[n - 1]) && isLetter(signs[n + 1]) && /\p{Lu}/u.test(signs[n] ?? '')),
    lasts: at((n) => !isLetter(signs[n + 1])),
  }
}

const evenly = (part: Lettering) => joined(part, { how: 'auto', tight: 0.5 })

/** Joined evenly, with something done to some of the letters. */
function evenlyWith(
  part: Lettering,
  ids: readonly number[],
  change: (now: LetterChange) => Partial<LetterChange>,
) {
  const even = evenly(part)
  return { ...even, ...withLetters({ ...part, ...even }, ids, change) }
}

/** The ways that make sense for a lettering, plain ones first. */
export function waysFor(part: Lettering, face: FaceOut | undefined): JoinWay[] {
  const { capitals, lasts } = wordEnds(part)
  const ways: JoinWay[] = [
    { name: 'As the face sets it', take: (now) => joined(now, { how: 'set' }) },
    { name: 'As drawn, joined', take: (now) => joined(now, { how: 'auto', tight: 0 }) },
    { name: 'Evenly', take: evenly },
    { name: 'Tightly', take: (now) => joined(now, { how: 'auto', tight: 1 }) },
  ]
  if (capitals.length > 0)
    ways.push({
      name: capitals.length > 1 ? 'Capitals apart' : 'Capital apart',
      take: (now) => evenlyWith(now, capitals, () => APART),
    })
  const hasForms = /\p{Script=Arabic}/u.test(part.text) // every word has its last form there
  if (face?.features.some(({ tag }) => tag === SWASH) && lasts.length > 0 && !hasForms)
    ways.push({
      name: 'With a swash',
      take: (now) =>
        evenlyWith(now, lasts, ({ alternates }) => ({ alternates: { ...alternates, [SWASH]: 1 } })),
    })
  return ways
}

/** Whether a lettering is joined in a way already. */
export function isJoinedSo(part: Lettering, way: JoinWay): boolean {
  const taken = { ...part, ...way.take(part) }
  const [now, then] = [joinOf(part.join), joinOf(taken.join)]
  const alike = (id: number) => {
    const [one, other] = [changeOf(part, id), changeOf(taken, id)]
    return (
      (one.seam?.way ?? null) === (other.seam?.way ?? null) &&
      (one.alternates?.[SWASH] ?? 0) === (other.alternates?.[SWASH] ?? 0)
    )
  }
  const isTight = now.how === 'set' || (now.tight ?? 0.5) === (then.tight ?? 0.5)
  return now.how === then.how && isTight && idsOf(part).every(alike)
}
