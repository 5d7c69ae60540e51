// Asks what the design comes to, whenever it changes: the outline first and at once, its seams next, its
// findings when the maker pauses. One question of a kind is on its way at a time, and always about the newest
// recipe; an answer about a design that is no longer open is dropped.

import { answer, api, asProblem, Problem } from '../api/client'
import { askedNow, isOpen, isUnchanged } from '../design/asked'
import type { Recipe } from '../design/recipe'
import { useDesign } from '../design/store'
import { assembled, Held, type Measured, type Seam, type Trouble } from './evaluation'
import { EMPTY, useEvaluations } from './store'

const SEAMS_MS = 100
const QUIET_MS = 250
const AWAY_MS = 1500

const held = new Held()
const heldSeams = new Map<string, Seam[]>()
const MOST_SEAM_KEYS = 60

interface Question {
  /** The recipe last asked about. */
  asked: Recipe | null
  busy: boolean
}

const outline: Question = { asked: null, busy: false }
const seams: Question = { asked: null, busy: false }
const findings: Question = { asked: null, busy: false }
let nearlyQuiet: ReturnType<typeof setTimeout> | undefined
let quiet: ReturnType<typeof setTimeout> | undefined
let retry: ReturnType<typeof setTimeout> | undefined

/** Follows the design that is open. Returns the way to stop. */
export function startEvaluating(): () => void {
  const stop = useDesign.subscribe((now, before) => {
    if (now.id !== before.id) forget()
    if (now.recipe === before.recipe && now.id === before.id) return
    clearTimeout(nearlyQuiet)
    clearTimeout(quiet)
    void askOutline()
  })
  void askOutline()
  return () => {
    stop()
    forget()
  }
}

function forget() {
  clearTimeout(nearlyQuiet)
  clearTimeout(quiet)
  clearTimeout(retry)
  for (const question of [outline, seams, findings]) question.asked = null
  useEvaluations.setState(EMPTY)
}

const isBlank = (recipe: Recipe) => recipe.parts.every((part) => part.text.trim() === '')

/** One question about the newest recipe; when it has changed meanwhile, one more. */
async function ask(question: Question, about: (recipe: Recipe) => Promise<void>) {
  const asked = askedNow()
  if (question.busy || !asked.design || question.asked === asked.recipe) return
  question.busy = true
  question.asked = asked.recipe
  try {
    await about(asked.recipe)
  } catch (error) {
    const problem = asProblem(error)
    if (isOpen(asked)) failed(question, problem)
  } finally {
    question.busy = false
  }
  if (!isUnchanged(asked)) void ask(question, about)
}

function failed(question: Question, problem: Problem) {
  if (question === outline) useEvaluations.setState({ troubles: [{ part: null, problem }] })
  if (!problem.away) return
  // Only a server that is away is worth asking again: it may be back any moment.
  question.asked = null
  clearTimeout(retry)
  retry = setTimeout(() => void askOutline(), AWAY_MS)
}

const askOutline = () => ask(outline, newOutline)

/** What a recipe comes to: what is held here is not sent again, unless it was let go of meanwhile. */
export async function evaluationOf(recipe: Recipe) {
  const told = await answer(api.POST('/api/evaluate', { body: { recipe, have: held.keys() } }))
  const evaluation = assembled(recipe, told, held)
  if (evaluation !== null) return { told, evaluation }
  const all = await answer(api.POST('/api/evaluate', { body: { recipe, have: [] } }))
  return { told: all, evaluation: assembled(recipe, all, held) }
}

async function newOutline(recipe: Recipe) {
  const asked = askedNow()
  if (isBlank(recipe)) {
    useEvaluations.setState({ ...EMPTY, before: useEvaluations.getState().before })
    return
  }
  const { told, evaluation } = await evaluationOf(recipe)
  if (!isOpen(asked) || evaluation === null) return
  const troubles = told.parts
    .filter((part) => part.problem !== null)
    .map(({ id, problem }): Trouble => ({ part: id, problem: new Problem(problem ?? NOTHING) }))
  // Where nothing can be drawn, what was there before stays in sight.
  if (evaluation.films.length > 0) useEvaluations.setState({ evaluation, troubles })
  else useEvaluations.setState({ troubles })
  // While changes follow each other closely, only the outline keeps up with them.
  clearTimeout(nearlyQuiet)
  nearlyQuiet = setTimeout(() => void ask(seams, newSeams), SEAMS_MS)
  clearTimeout(quiet)
  quiet = setTimeout(() => void ask(findings, newFindings), QUIET_MS)
}

const NOTHING = { kind: '', what: '', todo: '', faces: [] }

async function newSeams(recipe: Recipe) {
  const asked = askedNow()
  const have = [...heldSeams.keys()]
  const told = await answer(api.POST('/api/seams', { body: { recipe, have } }))
  const measured: Map<string, Seam[]> & Measured = new Map()
  for (const { part, key, seams: measuredNow } of told) {
    const known = measuredNow ?? heldSeams.get(key) ?? []
    heldSeams.delete(key)
    heldSeams.set(key, known)
    measured.set(part, known)
  }
  for (const key of heldSeams.keys()) if (heldSeams.size > MOST_SEAM_KEYS) heldSeams.delete(key)
  if (isOpen(asked)) useEvaluations.setState({ measured })
}

async function newFindings(recipe: Recipe) {
  const asked = askedNow()
  if (isBlank(recipe)) return
  const told = await answer(api.POST('/api/findings', { body: { recipe } }))
  if (isOpen(asked)) useEvaluations.setState({ findings: told })
}
