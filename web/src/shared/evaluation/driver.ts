// Asks what the design comes to, whenever it changes: the outline first and at once, its seams next, its
// findings when the maker pauses. One question of a kind is on its way at a time, and always about the newest
// recipe; an answer about a design that is no longer open is dropped. A question that takes long is
// let go of when the recipe has changed meanwhile, or when the maker stops it: the server then ends the work.

import { answer, api, asProblem, Problem } from '../api/client'
import { isBlank, type Recipe } from '../design/recipe'
import { isOpen, isUnchanged, scopeNow } from '../design/requestScope'
import { useDesign } from '../design/store'
import { Delayed } from './delayed'
import { assembled, Held, type Measured, type Seam, type Trouble } from './evaluation'
import { EMPTY, evaluationNow, useEvaluations } from './store'

const SEAMS_MS = 100
const QUIET_MS = 250
const AWAY_MS = 1500
const LATE_MS = 500
const WORKING_MS = 1500

const held = new Held()
const heldSeams = new Map<string, Seam>()
const MOST_SEAMS = 400

interface Question {
  /** The recipe last asked about. */
  asked: Recipe | null
  busy: boolean
  since: number
  /** Lets go of the question that is on its way. */
  letGo: AbortController
}

const unasked = (): Question => ({ asked: null, busy: false, since: 0, letGo: new AbortController() })
const outline = unasked()
const seams = unasked()
const findings = unasked()
const questions = [outline, seams, findings]

const working = new Delayed(WORKING_MS, () => useEvaluations.setState({ working: outline.busy }))
const seamsNext = new Delayed(SEAMS_MS, () => void ask(seams, newSeams))
const findingsNext = new Delayed(QUIET_MS, () => void ask(findings, newFindings))
const retry = new Delayed(AWAY_MS, () => void askAgain())
const delayed = [working, seamsNext, findingsNext, retry]

/** Follows the design that is open. Returns the way to stop. */
export function startEvaluating(): () => void {
  const stop = useDesign.subscribe((now, before) => {
    if (now.id !== before.id) forget()
    if (now.recipe === before.recipe && now.id === before.id) return
    seamsNext.cancel()
    findingsNext.cancel()
    for (const question of questions)
      if (question.busy && performance.now() - question.since > LATE_MS) question.letGo.abort()
    void askOutline()
  })
  void askOutline()
  return () => {
    stop()
    forget()
  }
}

function forget() {
  for (const work of delayed) work.cancel()
  for (const question of questions) {
    question.asked = null
    question.letGo.abort()
  }
  useEvaluations.setState(EMPTY)
}

const nothingYet = (recipe: Recipe) => recipe.parts.every(isBlank)

/** One question about the newest recipe; when it has changed meanwhile, one more. */
async function ask(question: Question, about: (recipe: Recipe, signal: AbortSignal) => Promise<void>) {
  const asked = scopeNow()
  if (question.busy || !asked.design || question.asked === asked.recipe) return
  question.busy = true
  question.asked = asked.recipe
  question.since = performance.now()
  question.letGo = new AbortController()
  const { signal } = question.letGo
  try {
    await about(asked.recipe, signal)
  } catch (error) {
    if (isOpen(asked) && !signal.aborted) failed(question, asProblem(error))
  } finally {
    question.busy = false
  }
  if (!isUnchanged(asked)) void ask(question, about)
}

function failed(question: Question, problem: Problem) {
  if (question === outline) useEvaluations.setState({ working: false, troubles: [{ part: null, problem }] })
  if (question === findings) useEvaluations.setState({ findings: undefined, unchecked: problem })
  if (!problem.away && problem.kind !== 'busy') return
  // Only a server that is away or busy is worth asking again: it may be back any moment.
  question.asked = null
  retry.restart()
}

function askOutline() {
  working.restart()
  return ask(outline, newOutline)
}

/** Asks what was not answered: what was is not asked about again. */
async function askAgain() {
  await askOutline()
  seamsNext.restart()
  findingsNext.restart()
}

/** The maker does not want to wait: what was drawn before stays until the next change. */
export function stopWorking() {
  outline.letGo.abort()
  useEvaluations.setState({ working: false, troubles: [{ part: null, problem: new Problem(STOPPED) }] })
}

const STOPPED = {
  kind: 'stopped',
  what: 'Working it out was stopped: the outline is still that of before.',
  todo: 'Undo the last change, or change something to go on.',
  faces: [],
}

/** What a recipe comes to: what is held here is not sent again, unless it was let go of meanwhile. */
export async function evaluationOf(recipe: Recipe, signal: AbortSignal | null = null) {
  const told = await answer(api.POST('/api/evaluate', { body: { recipe, have: held.keys() }, signal }))
  const before = evaluationNow()?.parts
  const evaluation = assembled(recipe, told, held, before)
  if (evaluation !== null) return { told, evaluation }
  const all = await answer(api.POST('/api/evaluate', { body: { recipe, have: [] }, signal }))
  return { told: all, evaluation: assembled(recipe, all, held, before) }
}

async function newOutline(recipe: Recipe, signal: AbortSignal) {
  const asked = scopeNow()
  if (nothingYet(recipe)) {
    useEvaluations.setState({ ...EMPTY, before: useEvaluations.getState().before })
    return
  }
  const { told, evaluation } = await evaluationOf(recipe, signal)
  working.cancel()
  if (useEvaluations.getState().working) useEvaluations.setState({ working: false })
  if (!isOpen(asked) || evaluation === null) return
  const troubles = told.parts
    .filter((part) => part.problem !== null)
    .map(({ id, problem }): Trouble => ({ part: id, problem: new Problem(problem ?? NOTHING) }))
  // Where nothing can be drawn, what was there before stays in sight.
  const drawn = evaluation.films.length > 0 || evaluation.parts.some((part) => part.marks.length > 0)
  if (drawn) useEvaluations.setState({ evaluation, troubles })
  else useEvaluations.setState({ troubles })
  // While changes follow each other closely, only the outline keeps up with them.
  seamsNext.restart()
  findingsNext.restart()
}

const NOTHING = { kind: '', what: '', todo: '', faces: [] }

async function newSeams(recipe: Recipe, signal: AbortSignal) {
  const asked = scopeNow()
  const have = [...heldSeams.keys()]
  const told = await answer(api.POST('/api/seams', { body: { recipe, have }, signal }))
  const measured: Map<string, Seam[]> & Measured = new Map()
  for (const { part, keys, seams: news } of told) {
    for (const { key, seam } of news) heldSeams.set(key, seam)
    const own = keys.map((key) => heldSeams.get(key)).filter((seam) => seam !== undefined)
    // What is used stays longest: a Map keeps the order in which it was filled.
    for (const key of keys) {
      const seam = heldSeams.get(key)
      if (heldSeams.delete(key) && seam) heldSeams.set(key, seam)
    }
    measured.set(part, own)
  }
  for (const key of heldSeams.keys()) if (heldSeams.size > MOST_SEAMS) heldSeams.delete(key)
  if (isOpen(asked)) useEvaluations.setState({ measured })
}

async function newFindings(recipe: Recipe, signal: AbortSignal) {
  const asked = scopeNow()
  if (nothingYet(recipe)) return
  const told = await answer(api.POST('/api/findings', { body: { recipe }, signal }))
  if (isOpen(asked)) useEvaluations.setState({ findings: told, unchecked: null })
}
