// All that can be done at the bench: what it is called, where, its key, why it cannot be done now, and how it is
// done. The finder lists it, and keys are looked up here.

import { asProblem } from '../../shared/api/client'
import { OPERATION_WORDS, type Operation } from '../../shared/design/partNames'
import {
  findPart,
  type JoinOptions,
  joinOf,
  type Lettering,
  type SizeMeasure,
} from '../../shared/design/recipe'
import { selectionNow, useSelection } from '../../shared/design/selection'
import { editOnce, editRecipeOnce, redo, undo, useDesign } from '../../shared/design/store'
import { evaluationNow, isShown } from '../../shared/evaluation/store'
import { readied, take } from '../../shared/ready/ready'
import { useFacePicking } from '../../shared/view/askForWords'
import { type Stage, useView } from '../../shared/view/view'
import {
  addBacking,
  addLettering,
  align,
  anotherName,
  bind,
  chosenNow,
  combine,
  copy,
  makeFrame,
  middleOfView,
  order,
  put,
  release,
  remove,
  splitLines,
  turnTogether,
  typeWordsOf,
} from '../../stages/build/actions'
import type { AlignEdge } from '../../stages/build/alignment'
import { groundOf } from '../../stages/build/ground'
import { letteringsIn, newPart } from '../../stages/build/parts'
import { saveProof } from '../../stages/build/photo'
import { buildNow, type Picker } from '../../stages/build/store'
import { editPlan } from '../../stages/cut/useSheets'
import { type JoinWay, waysFor } from '../../stages/join/ways'
import { goTo } from './goTo'
import { saveSvg, useSavingFile } from './saving'

export interface Action {
  does: string
  /** Other words that it is looked for by. */
  also?: string
  where: 'Work' | 'Look' | 'Letter' | 'Join' | 'Build' | 'Check' | 'Cut'
  /** Its key, as it is shown. */
  keys?: string
  /** The keys that do it anywhere at the bench, as the browser names them. */
  press?: readonly string[]
  /** Why it cannot be done now; null where it can. */
  whyNot?: () => string | null
  run: () => void
}

// --- what an action is done to ----------------------------------------------------------------------------

const recipeNow = () => useDesign.getState().recipe

/** The lettering that is chosen, in what is chosen, or the only one there is. */
function letteringNow(): Lettering | undefined {
  const recipe = recipeNow()
  const all = recipe.parts.filter((p): p is Lettering => p.kind === 'lettering')
  const chosen = letteringsIn(recipe, selectionNow().part)
  return chosen[0] ?? (all.length === 1 ? all[0] : undefined)
}

const needsWords = () =>
  letteringNow() ? (letteringNow()?.text.trim() ? null : 'Type a word first.') : 'Choose a lettering first.'
const needsLettering = () => (letteringNow() ? null : 'Choose a lettering first.')
const needsParts = (least: number) => () => {
  if (chosenNow().length >= least) return null
  return least === 1 ? 'Choose a part first.' : `Choose ${least} parts first, with Shift in Build.`
}
const needsShown = (id: string) =>
  isShown(evaluationNow(), id) ? null : 'It is being worked out. Try again in a moment.'
const needsWork = () => (evaluationNow() ? null : 'There is nothing to cut yet.')

/** Chooses the lettering an action is for, and opens its stage there. */
function atLettering(stage: Stage, field?: string) {
  const part = letteringNow()
  if (part) useSelection.getState().choosePart(part.id)
  goTo(stage, field)
}

function editLettering(change: (part: Lettering) => Partial<Lettering>) {
  const part = letteringNow()
  if (!part) return
  editOnce(change(part), part.id)
}

const withJoin = (join: Partial<JoinOptions>) =>
  editLettering((part) => ({ join: { ...joinOf(part.join), ...join } }))

const inBuild = (run: () => void) => () => {
  goTo('build')
  run()
}

// --- the actions -------------------------------------------------------------------------------------------

const field = (where: 'Letter' | 'Join', name: string, does: string, also = ''): Action => ({
  does,
  also,
  where,
  whyNot: needsLettering,
  run: () => atLettering(where === 'Letter' ? 'letter' : 'join', name),
})

const cutField = (name: string, does: string, also = ''): Action => ({
  does,
  also,
  where: 'Cut',
  whyNot: needsWork,
  run: () => goTo('cut', name),
})

const STAGES: readonly { stage: Stage; does: string; also: string }[] = [
  { stage: 'letter', does: 'Go to Letter', also: 'words face size' },
  { stage: 'join', does: 'Go to Join', also: 'seams letters' },
  { stage: 'build', does: 'Go to Build', also: 'parts shapes' },
  { stage: 'check', does: 'Go to Check', also: 'faults repair findings' },
  { stage: 'cut', does: 'Go to Cut', also: 'sheets files machine' },
]

const WORK: readonly Action[] = [
  { does: 'Undo', also: 'back step', where: 'Work', keys: 'Ctrl Z', run: undo },
  { does: 'Redo', also: 'again step', where: 'Work', keys: 'Ctrl Shift Z', run: redo },
  { does: 'Save as SVG', also: 'file download export', where: 'Work', run: () => void saveSvg() },
  ...STAGES.map(({ stage, does, also }): Action => ({ does, also, where: 'Work', run: () => goTo(stage) })),
  {
    does: 'Measure in millimetres',
    also: 'unit mm metric',
    where: 'Work',
    run: () => useDesign.getState().editRecipe({ unit: 'mm' }),
  },
  {
    does: 'Measure in inches',
    also: 'unit in imperial',
    where: 'Work',
    run: () => useDesign.getState().editRecipe({ unit: 'in' }),
  },
  {
    does: 'Mirror the work, or turn it back',
    also: 'flip iron-on reverse back',
    where: 'Work',
    run: () => {
      editRecipeOnce({ mirror: !recipeNow().mirror })
    },
  },
]

const view = () => useView.getState()

const LOOK: readonly Action[] = [
  { does: 'Look at it as film', also: 'colour fill', where: 'Look', run: () => view().setLook('film') },
  {
    does: 'Look at what the knife cuts',
    also: 'outline lines',
    where: 'Look',
    run: () => view().setLook('knife'),
  },
  { does: 'Look at the pieces', also: 'count', where: 'Look', run: () => view().setLook('pieces') },
  {
    does: 'Next look: film, knife, pieces',
    where: 'Look',
    keys: 'V',
    press: ['v'],
    run: () => view().nextLook(),
  },
  {
    does: 'Fit the work in the window',
    also: 'zoom all',
    where: 'Look',
    keys: 'F',
    press: ['f'],
    run: () => view().keepFitted(),
  },
  {
    does: 'True size on this screen',
    also: 'zoom 100 actual',
    where: 'Look',
    keys: '1',
    press: ['1'],
    run: () => view().trueSize(),
  },
  {
    does: 'Nearer',
    also: 'zoom in',
    where: 'Look',
    keys: '+',
    press: ['+', '='],
    run: () => view().zoom(1.25),
  },
  {
    does: 'Further away',
    also: 'zoom out',
    where: 'Look',
    keys: '−',
    press: ['-'],
    run: () => view().zoom(0.8),
  },
]

const SIZES: readonly { measure: SizeMeasure; does: string; name: string }[] = [
  { measure: 'width', does: 'Size by overall width', name: 'Overall width' },
  { measure: 'height', does: 'Size by overall height', name: 'Overall height' },
  { measure: 'capitals', does: 'Size by the height of a capital', name: 'Height of a capital' },
  { measure: 'face', does: 'Size by points of the face', name: 'Size of the face' },
]

/** The lettering measured otherwise, as large as it is. */
function measureBy(measure: SizeMeasure) {
  const part = letteringNow()
  const made = evaluationNow()?.parts.find((p) => p.id === part?.id)?.made
  if (!made) return
  const now = {
    width: made.width_mm,
    height: made.height_mm,
    capitals: made.capital_height_mm,
    face: made.size_mm,
  }
  editLettering(() => ({ size: { measure, mm: Math.round(now[measure] * 1e4) / 1e4 } }))
}

const LETTER: readonly Action[] = [
  {
    does: 'Type the words',
    also: 'text name change',
    where: 'Letter',
    whyNot: needsLettering,
    run: () => typeWordsOf(letteringNow()?.id ?? ''),
  },
  {
    does: 'Choose another face',
    also: 'font typeface style',
    where: 'Letter',
    whyNot: needsLettering,
    run: () => {
      atLettering('letter')
      useFacePicking.setState({ open: true })
    },
  },
  ...SIZES.map(
    ({ measure, does, name }): Action => ({
      does,
      also: 'large small mm height width pt',
      where: 'Letter',
      whyNot: needsWords,
      run: () => {
        measureBy(measure)
        atLettering('letter', name)
      },
    }),
  ),
  field(
    'Letter',
    'Between letters, a length or % of the size',
    'Space between letters',
    'kerning tracking wider tighter',
  ),
  {
    ...field('Letter', 'Between lines, in % of the size', 'Space between lines', 'leading height'),
    whyNot: () =>
      needsLettering() ?? (letteringNow()?.text.includes('\n') ? null : 'Its words are on one line.'),
  },
  field('Letter', 'Thicker all around', 'Make letters thicker or thinner', 'bold weight offset grow'),
  field('Letter', 'Thinnest stroke to be', 'Set the thinnest stroke', 'hairline minimum weight'),
  field('Letter', 'Width of the letters', 'Stretch the letters', 'wide narrow condensed'),
  field('Letter', 'Slant to the right', 'Slant the letters', 'italic oblique lean degrees'),
  field(
    'Letter',
    'What it runs along',
    'Set the words along a circle, an arc or a wave',
    'curve round path bend',
  ),
  field('Letter', 'Colour of the film', 'Colour of the film', 'vinyl swatch'),
  {
    does: 'Make each line a part of its own',
    also: 'split separate lines',
    where: 'Letter',
    whyNot: () => {
      const part = letteringNow()
      if (!part) return 'Choose a lettering first.'
      return part.text.trim().includes('\n') ? needsShown(part.id) : 'Its words are on one line.'
    },
    run: inBuild(() => splitLines(letteringNow()?.id ?? '')),
  },
]

const joinWay = (name: string, does: string, also: string): Action => ({
  does,
  also,
  where: 'Join',
  whyNot: () => needsWords() ?? (wayNow(name) ? null : 'This face or these words do not have that.'),
  run: () => {
    const way = wayNow(name)
    if (way) editLettering(way.take)
    atLettering('join')
  },
})

function wayNow(name: string): JoinWay | undefined {
  const part = letteringNow()
  return part && waysFor(part, undefined).find((way) => way.name === name)
}

const JOIN: readonly Action[] = [
  joinWay('Evenly', 'Join all letters', 'weld connect script one piece'),
  joinWay('Tightly', 'Join the letters tightly', 'close'),
  joinWay('As drawn, joined', 'Join the letters as they are drawn', 'loose wide'),
  joinWay('As the face sets it', 'Back to how the face sets the letters', 'apart unjoin reset'),
  {
    does: 'Keep dots and accents apart',
    also: 'i j marks',
    where: 'Join',
    whyNot: needsWords,
    run: () => withJoin({ marks: 'keep' }),
  },
  {
    does: 'Lower dots and accents into their letters',
    also: 'i j marks merge one piece',
    where: 'Join',
    whyNot: needsWords,
    run: () => withJoin({ marks: 'lower' }),
  },
  {
    does: 'Tie dots and accents by a bar',
    also: 'i j marks bridge',
    where: 'Join',
    whyNot: needsWords,
    run: () => withJoin({ marks: 'bridge' }),
  },
  {
    does: 'Tie all that is loose',
    also: 'one piece bridges connect pieces',
    where: 'Join',
    whyNot: needsWords,
    run: () => withJoin({ tie: true }),
  },
  {
    does: 'Lay a bridge',
    also: 'bar tie stroke',
    where: 'Join',
    whyNot: needsWords,
    run: () => {
      atLettering('join')
      useSelection.getState().use({ kind: 'bridge' })
    },
  },
  field('Join', 'Neck at least', 'How wide a neck has to be', 'strong joint width'),
  field('Join', 'Smooth seams by', 'Smooth the seams', 'round notch fillet corners'),
]

const adds = (does: string, also: string, run: () => void): Action => ({
  does,
  also,
  where: 'Build',
  run: inBuild(run),
})

const picks = (does: string, also: string, picker: Picker): Action =>
  adds(does, also, () => buildNow().pick(picker))

const ALIGN: readonly { does: string; edge: AlignEdge }[] = [
  { does: 'Align left edges', edge: { across: 'left' } },
  { does: 'Centre one under the other', edge: { across: 'centre' } },
  { does: 'Align right edges', edge: { across: 'right' } },
  { does: 'Align top edges', edge: { down: 'top' } },
  { does: 'Centre side by side', edge: { down: 'middle' } },
  { does: 'Align bottom edges', edge: { down: 'bottom' } },
]

const onGround = () => {
  const ids = chosenNow()
  const ground = groundOf(evaluationNow(), ids, buildNow().ground)
  return { ground, ordered: [ground, ...ids.filter((id) => id !== ground)] }
}

const puts = (how: Operation, also: string): Action => ({
  does: OPERATION_WORDS[how],
  also: `put together ${also}`,
  where: 'Build',
  whyNot: needsParts(2),
  run: inBuild(() => combine(onGround().ordered, how, how === 'halo' ? buildNow().halo : undefined)),
})

/** Chosen parts turned over or turned about their middle. */
const turned = (turn: number, flip: boolean) => turnTogether(chosenNow(), turn, flip)

const BUILD: readonly Action[] = [
  { does: 'Add lettering', also: 'new text words name', where: 'Build', run: addLettering },
  picks('Put it in a frame', 'ring plate initial monogram add', 'frames'),
  picks('Add a shape', 'heart star circle disc square', 'shapes'),
  picks('Add an ornament', 'flourish swash', 'ornaments'),
  picks('Add a drawing', 'svg pdf dxf import open file', 'drawing'),
  adds('Add a line', 'stroke band arc wave', () =>
    put(newPart(recipeNow(), 'line', { course: 'straight' }, middleOfView())),
  ),
  {
    does: 'Add a backing',
    also: 'shadow offset outline behind',
    where: 'Build',
    whyNot: needsParts(1),
    run: inBuild(() => addBacking(selectionNow().part)),
  },
  {
    does: 'Lay a photograph under it',
    also: 'picture image background mock up',
    where: 'Build',
    run: () => goTo('build', 'Choose a photograph'),
  },
  {
    does: 'Save a proof',
    also: 'picture image customer photograph mock up png',
    where: 'Build',
    whyNot: needsWork,
    run: () => {
      saveProof().catch((error) => useSavingFile.setState({ problem: asProblem(error) }))
    },
  },
  {
    does: 'Another name like this',
    also: 'copy duplicate next customer same',
    where: 'Letter',
    keys: 'Ctrl Enter',
    whyNot: needsWords,
    run: () => anotherName(letteringNow()?.id ?? ''),
  },
  {
    does: 'Copy it beside itself',
    also: 'duplicate again',
    where: 'Build',
    keys: 'Ctrl D',
    whyNot: needsParts(1),
    run: inBuild(() => void copy(chosenNow())),
  },
  {
    does: 'Take it out',
    also: 'delete remove',
    where: 'Build',
    keys: 'Delete',
    whyNot: needsParts(1),
    run: inBuild(() => remove(chosenNow())),
  },
  puts('weld', 'union merge join'),
  puts('cut', 'subtract knock out'),
  puts('overlap', 'intersect'),
  puts('divide', 'split'),
  puts('halo', 'outline gap around'),
  puts('edges', 'point'),
  {
    does: 'Take it apart',
    also: 'release ungroup separate',
    where: 'Build',
    whyNot: () => {
      const kind = findPart(recipeNow(), selectionNow().part)?.kind
      return kind === 'combination' || kind === 'frame' ? null : 'Choose parts that are put together.'
    },
    run: inBuild(() => release(selectionNow().part)),
  },
  {
    does: 'Move them together',
    also: 'group bind',
    where: 'Build',
    whyNot: needsParts(2),
    run: inBuild(() => bind(chosenNow(), true)),
  },
  {
    does: 'Make it a frame for a name',
    also: 'band window',
    where: 'Build',
    whyNot: () => needsParts(1)() ?? needsShown(selectionNow().part),
    run: inBuild(() => makeFrame(selectionNow().part)),
  },
  ...ALIGN.map(
    ({ does, edge }): Action => ({
      does,
      also: 'align line up',
      where: 'Build',
      whyNot: needsParts(2),
      run: inBuild(() => {
        const { ground, ordered } = onGround()
        align(ordered, ground, edge)
      }),
    }),
  ),
  {
    does: 'Flip left and right',
    also: 'mirror turn over',
    where: 'Build',
    whyNot: needsParts(1),
    run: inBuild(() => turned(0, true)),
  },
  {
    does: 'Flip top and bottom',
    also: 'mirror turn over',
    where: 'Build',
    whyNot: needsParts(1),
    run: inBuild(() => turned(180, true)),
  },
  {
    does: 'Turn by a quarter',
    also: 'rotate 90',
    where: 'Build',
    whyNot: needsParts(1),
    run: inBuild(() => turned(90, false)),
  },
  {
    does: 'To the front by one',
    also: 'above order raise',
    where: 'Build',
    whyNot: needsParts(1),
    run: inBuild(() => order(selectionNow().part, 1)),
  },
  {
    does: 'To the back by one',
    also: 'below order lower',
    where: 'Build',
    whyNot: needsParts(1),
    run: inBuild(() => order(selectionNow().part, -1)),
  },
]

const CHECK: readonly Action[] = [
  {
    does: 'Make it ready to cut',
    also: 'repair mend fix thin strokes',
    where: 'Check',
    whyNot: () => needsWork() ?? (recipeNow().ready ? 'It is made ready already.' : null),
    run: () => {
      goTo('check')
      take(readied)
    },
  },
  {
    does: 'Move points and curves of the outline',
    also: 'node handle mend edit vertex smooth touch up',
    where: 'Check',
    keys: 'P',
    press: ['p'],
    whyNot: needsWork,
    run: () => {
      goTo('check', 'Points and curves (P)')
      useSelection.getState().use({ kind: 'points' })
    },
  },
  {
    does: 'Choose the material',
    also: 'film vinyl card wood limits',
    where: 'Check',
    run: () => goTo('check', 'Material'),
  },
]

const CUT: readonly Action[] = [
  cutField('Copies', 'How many copies', 'count pieces times'),
  cutField('Room between', 'Room between copies', 'spacing gap'),
  cutField('May be turned', 'Whether copies may be turned', 'rotate grain'),
  {
    does: 'Lay copies in rows',
    also: 'arrange sheet',
    where: 'Cut',
    whyNot: needsWork,
    run: () => {
      goTo('cut')
      editPlan({ laid: [] })
    },
  },
  cutField('Closely, less film', 'Lay copies closely', 'nest save film'),
  cutField('Machine', 'Choose the machine', 'cutter plotter laser knife'),
  cutField('Files of', 'Files for the machine', 'svg dxf pdf eps hpgl png download export'),
  cutField('Paper', 'Print a pattern on paper', 'pdf template'),
]

/** Every action, in the order of the work. */
export const ACTIONS: readonly Action[] = [...WORK, ...LETTER, ...JOIN, ...BUILD, ...CHECK, ...CUT, ...LOOK]

/** The action of a key that is pressed anywhere at the bench. */
export const actionOf = (key: string): Action | undefined =>
  ACTIONS.find(({ press }) => press?.includes(key) || press?.includes(key.toLowerCase()))
