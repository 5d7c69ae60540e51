import { describe, expect, it } from 'vitest'
import { ONE_STEP_MS, UndoSteps } from './undoSteps'

/** Which of the changes begin a step. */
const beginning = (steps: UndoSteps, ...times: number[]) => times.map((time) => steps.begins(time))

describe('a step of undo', () => {
  it('takes in what follows soon, and ends after a pause', () => {
    const later = 2 * ONE_STEP_MS
    expect(beginning(new UndoSteps(), 0, 100, 200, 200 + later)).toEqual([true, false, false, true])
  })

  it('ends when it is told to', () => {
    const steps = new UndoSteps()
    steps.begins(0)
    steps.end()
    expect(steps.begins(1)).toBe(true)
  })

  it('lasts as long as it is held', () => {
    const steps = new UndoSteps()
    steps.begins(0)
    steps.hold(true)
    expect(beginning(steps, 10, 10_000, 20_000)).toEqual([true, false, false])
    steps.hold(false)
    expect(steps.begins(20_001)).toBe(true)
  })

  it('is one piece of work, and no more', () => {
    const steps = new UndoSteps()
    steps.begins(0)
    let within: boolean[] = []
    steps.asOne(() => {
      within = beginning(steps, 1, 10_000)
      steps.asOne(() => within.push(steps.begins(10_001)))
    })
    expect(within).toEqual([true, false, false])
    expect(steps.begins(10_002)).toBe(true)
  })

  it('ends also when its work fails', () => {
    const steps = new UndoSteps()
    const fail = () => {
      steps.begins(0)
      throw new Error('no')
    }
    expect(() => steps.asOne(fail)).toThrow('no')
    expect(beginning(steps, 1, 2)).toEqual([true, false])
  })
})
