/** Changes closer together than this are one step of undo: a word typed, a slider dragged. */
export const ONE_STEP_MS = 450

/** Decides which changes begin a step of undo, and which belong to the step before them. */
export class UndoSteps {
  #lastChange = Number.NEGATIVE_INFINITY
  #held = false
  #heldOne = false

  /** Whether the change made now begins a step: undo then goes back to before it. */
  begins(now: number): boolean {
    const begins = this.#held ? !this.#heldOne : now - this.#lastChange > ONE_STEP_MS
    this.#heldOne = this.#held
    this.#lastChange = now
    return begins
  }

  /** The next change is a step of its own, however soon it comes. */
  end() {
    this.#lastChange = Number.NEGATIVE_INFINITY
  }

  /** While held, all changes are one step, however long they take. */
  hold(held: boolean) {
    this.#held = held
    this.#heldOne = false
    this.end()
  }

  /** All changes made by `work` are one step, and no others. Within a held step they are part of that. */
  asOne(work: () => void) {
    if (this.#held) {
      work()
      return
    }
    this.hold(true)
    try {
      work()
    } finally {
      this.hold(false)
    }
  }
}
